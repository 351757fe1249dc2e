#pragma once
#include <QtTest>
#include <functional>
#include <nlohmann/json.hpp>

#include "batch/answers.h"
#include "core/base/json_text.h"

namespace dusk {

/// What a run of the headless program came to.
struct Headless {
  int code = -1;
  QByteArray out, words;  ///< standard output, and what is said beside it
  std::string verb;

  /// The answer as JSON; a failed test where it is not as the table of answers says.
  nlohmann::json told() const;
};

/// The longest verb that these words begin with, options aside.
inline std::string verbIn(const QStringList& words) {
  std::string verb = words.value(0).toStdString();
  for (const QString& word : words)
    for (const batch::AnswerTable& table : batch::answerTables())
      if (table.verb == words[0].toStdString() + " " + word.toStdString()) verb = table.verb;
  return verb;
}

/// Runs a program to its end, five minutes at most.
inline Headless runProgram(
    const QString& program, const QStringList& words,
    const QProcessEnvironment& environment = QProcessEnvironment::systemEnvironment()) {
  QProcess process;
  process.setProcessEnvironment(environment);
  process.start(program, words);
  if (!process.waitForFinished(300'000)) return {};
  return {process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError(), verbIn(words)};
}
inline Headless headless(const QStringList& words) { return runProgram(DUSK_BATCH, words); }

inline nlohmann::json Headless::told() const {
  using nlohmann::json;
  const auto keyOf = [&](const std::string& name) -> const batch::AnswerKey* {
    for (const batch::AnswerTable& table : batch::answerTables())
      for (const batch::AnswerKey& key : table.keys)
        if (table.verb == verb && key.name == name) return &key;
    return nullptr;
  };
  const auto isOf = [](const json& value, const std::string& kind) {
    return kind == "any" || (kind == "text" && value.is_string()) ||
           (kind == "number" && value.is_number()) || (kind == "whole number" && value.is_number_integer()) ||
           (kind == "yes or no" && value.is_boolean()) || (kind == "list" && value.is_array());
  };
  const std::function<void(const json&, const std::string&)> look = [&](const json& value,
                                                                        const std::string& at) {
    if (const batch::AnswerKey* key = keyOf(at)) {
      QVERIFY2(isOf(value, key->kind), (verb + ": " + at + " is no " + key->kind).c_str());
    } else if (value.is_array()) {
      for (const json& each : value) look(each, at + "[]");
    } else if (value.is_object()) {
      for (const auto& [name, inner] : value.items()) look(inner, at.empty() ? name : at + "." + name);
    } else {
      QVERIFY2(false, (verb + " answers with " + at + ", which no table tells of").c_str());
    }
  };
  const json answer = jsonFrom(out.toStdString());
  // Several of what it answers with lie in a list by one name.
  for (const char* many : {"shots", "films"})
    if (answer.is_object() && answer.size() == 1 && answer.contains(many)) {
      for (const json& one : answer[many]) look(one, "");
      return answer;
    }
  look(answer, "");
  return answer;
}

}  // namespace dusk
