#pragma once
#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.h"

namespace dusk {

/// How a program ended that was run apart, and what it printed (standard output, its first 100 kB).
struct ProgramEnd {
  int status = 0;  ///< as waitpid tells it
  std::string said;
  bool tooLong = false, cancelled = false;
  bool broke() const;    ///< by a signal
  int exitCode() const;  ///< where it did not
};

/// Runs a program in a process of its own and waits for it; it is ended after `seconds`, or when `progress`
/// is cancelled. `heard` is called some fifty times a second with what was printed so far and may take from
/// it. Nothing when it could not be started.
std::optional<ProgramEnd> runProgram(const std::filesystem::path& program,
                                     const std::vector<std::string>& arguments, double seconds,
                                     const Progress& progress,
                                     const std::function<void(std::string&)>& heard = {});

}  // namespace dusk
