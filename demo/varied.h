#pragma once
#include <filesystem>

#include "core/base/result.h"

namespace dusk::demo {

/// The gauge on the quay in five enamels and with two kinds of knobs: brackwater-colours.dusk, beside
/// brackwater.dusk.
Outcome writeColours(const std::filesystem::path& brackwater);
/// The sampling jar on plinths with a thrown pattern, without a photo: plinths.dusk, beside jar.dusk.
Outcome writePlinths(const std::filesystem::path& jar);

}  // namespace dusk::demo
