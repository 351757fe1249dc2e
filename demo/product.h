#pragma once
#include <filesystem>

#include "core/base/result.h"

namespace dusk::demo {

/// Writes the made-up *Brackwater* field tide gauge of the made-up Saltmarsh Instrument Works as a STEP AP214
/// assembly with names and colours, millimetres, Z up, front towards -Y, 340 mm tall.
Outcome writeGauge(const std::filesystem::path& file);

/// The same works' *Brackwater mini*: a dial of 92 mm on an angle bracket, to be hung on a wall or stood on
/// its foot, 150 mm tall.
Outcome writeMini(const std::filesystem::path& file);

}  // namespace dusk::demo
