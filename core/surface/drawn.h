#pragma once
#include <filesystem>

#include "core/base/maths.h"
#include "core/base/progress.h"
#include "core/base/result.h"

namespace dusk {

/// Whether the ending is one of a drawing (SVG, PDF), which must be made pixels of first.
bool isDrawing(const std::filesystem::path& file);
/// The endings of files that surfaces can show: pictures and drawings.
std::vector<std::string> printEndings();
bool isPrintFile(const std::filesystem::path& file);

/// A page of a drawing as pixels, in a file of the user's cache.
struct Drawn {
  std::filesystem::path pixels;
  Vec2d sizeMm{0, 0};  ///< as the drawing says
};

/// Draws a page in a process of its own, with limits of memory and time: nothing is fetched and no script is
/// run. `hash` is that of the file; what was drawn once is used again. Error: not such a file, no such page,
/// too much for the limits, cancelled.
Result<Drawn> drawn(const std::filesystem::path& file, const std::string& hash, int page, Progress& progress);

/// Where the drawing program is: beside the import worker.
std::filesystem::path printWorkerProgram();

}  // namespace dusk
