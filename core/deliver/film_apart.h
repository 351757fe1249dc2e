#pragma once
#include <filesystem>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"

namespace dusk {

/// A film as numbered pictures.
struct FilmApart {
  std::vector<std::filesystem::path> files;
  double picturesPerSecond = 0;
};

/// Takes a film apart: each of its pictures as a PNG of 8 bits in a folder that is made, `wanted` or that
/// with a number; one that holds them already is used again. Error: no film, one that is too long, no room on
/// the disk, cancelled; then nothing was made.
Result<FilmApart> takeApart(const std::filesystem::path& film, const std::filesystem::path& wanted,
                            Progress& progress);

}  // namespace dusk
