#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/base/result.h"

namespace dusk {

constexpr int pyramidTile = 64;  ///< pixels to a side

/// Writes `file` as a tiled picture with all its halves, which the image library's cache of tiles reads piece
/// by piece: R, G, B and, where there is one, A. `colour`: 8- and 16-bit code values become light first (16
/// bits a value), so that the halves are means of light. The whole picture is never in memory, a half of it
/// is. Error: unreadable or too large (60,000 pixels a side), disk full, cancelled; then nothing is left.
Outcome writePyramid(const std::filesystem::path& file, const std::filesystem::path& to, bool colour,
                     Progress& progress);

}  // namespace dusk
