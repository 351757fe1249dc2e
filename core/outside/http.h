#pragma once
#include <cstdint>
#include <filesystem>
#include <string>

#include "core/base/progress.h"
#include "core/base/result.h"

namespace dusk {

/// How long another machine may keep silent before it is given up.
struct Patience {
  int connectSeconds = 8, silentSeconds = 20;
};

/// One file of another machine.
struct Remote {
  std::string base;                  ///< "http://host:port/folder/"
  std::string path;                  ///< below it, as plain words; escaped on the way
  int64_t bytes = -1;                ///< as it was promised; -1: not known
  int64_t limit = int64_t{1} << 32;  ///< at most so many are taken
};

/// Downloads into `to`. What is there already is taken as the file's beginning, from an earlier try that
/// broke off; what has come stays when this one does. Redirects are not followed. Errors (a sentence each):
/// nobody answers, silence, a status that is not success, more bytes than promised (then `to` is removed),
/// fewer, a disk that takes no more, cancelled.
Outcome download(const Remote& from, const std::filesystem::path& to, const Patience& patience,
                 Progress& progress);

/// SHA-256 of a file, as 64 lower-case hexadecimal digits. Error: it cannot be read.
Result<std::string> sha256Of(const std::filesystem::path& file);

}  // namespace dusk
