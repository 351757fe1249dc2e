#pragma once
#include <filesystem>
#include <map>
#include <memory>

#include "core/base/result.h"
#include "core/trace/film.h"

namespace dusk {

/// What tells one trace from another, and which part of it this is.
struct TraceHead {
  std::string fingerprint;  ///< of everything the samples depend on
  int part = 1, parts = 1;
  std::string
      order{};  ///< what is traced, as text (see order.h); says nothing about whether two are the same
  bool isOf(const TraceHead& other) const {
    return fingerprint == other.fingerprint && part == other.part && parts == other.parts;
  }
};

/// What was traced so far, piece by piece, in a file that only grows: after a power cut it ends with the last
/// piece that is whole. A trace goes on from it, and the files of all parts of a trace make up the whole.
class TraceLog {
 public:
  /// Goes on with a file, or begins it where there is none. Error: the disk, the file of another trace or of
  /// something else, or one that another program is writing.
  static Result<std::unique_ptr<TraceLog>> open(const std::filesystem::path& file, const TraceHead& head);
  /// The order in the head of a file. Error: no such file.
  static Result<std::string> orderIn(const std::filesystem::path& file);
  /// All parts of a trace, to be read. Error: a part that is missing, there twice, or of another trace.
  static Result<std::unique_ptr<TraceLog>> gather(const std::vector<std::filesystem::path>& parts,
                                                  const std::string& fingerprint);
  ~TraceLog();

  bool isWritable() const;
  const TraceHead& head() const;
  /// Passes that are there of a piece; 0: none. `layer`: which of the films it is of.
  int passesOf(int layer, const Film::Window& piece) const;
  bool isComplete(int layer, const Film::Window& piece) const;
  /// Puts a piece into the film. Error: it cannot be read.
  Outcome load(int layer, const Film::Window& piece, Film& film) const;
  /// Adds a piece, with the passes it holds. Error: the disk.
  Outcome save(int layer, const Film::Window& piece, const Film& film, int passes, bool isComplete);
  /// Takes the file away: it is no longer needed.
  void remove();

 private:
  struct State;
  explicit TraceLog(std::unique_ptr<State> state);
  std::unique_ptr<State> state_;
};

}  // namespace dusk
