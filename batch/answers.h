#pragma once
#include <span>
#include <string>

/// What the verbs answer with --json. From these tables come what `--help` says of it and the page in docs;
/// tests hold every answer to them.
namespace dusk::batch {

/// One key of an answer.
struct AnswerKey {
  const char* name;  ///< "shots[].id": of each thing in a list
  const char* kind;  ///< "text", "number", "whole number", "yes or no", "list" or "any"
  const char* what;  ///< unit and meaning
};

/// The answer of a verb. Keys that have nothing to say are left out.
struct AnswerTable {
  const char* verb;  ///< as typed: "panorama align"
  const char* of;    ///< which of several answers it gives, or empty
  std::span<const AnswerKey> keys;
};

std::span<const AnswerTable> answerTables();

/// The keys as lines for people, under what a verb's --help says; empty for a verb without an answer.
std::string answerHelp(const std::string& verb);

}  // namespace dusk::batch
