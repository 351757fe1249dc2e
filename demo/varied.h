#pragma once
#include <filesystem>

#include "core/base/result.h"

namespace dusk::demo {

/// The gauge on the quay in five enamels and with two kinds of knobs: brackwater-colours.dusk, beside
/// brackwater.dusk.
Outcome writeColours(const std::filesystem::path& brackwater);
/// The sampling jar on plinths with a thrown pattern, without a photo: plinths.dusk, beside jar.dusk.
Outcome writePlinths(const std::filesystem::path& jar);

/// The gauge comes to rest on the quay, its lid opens, its pointer goes with the tide:
/// brackwater-settling.dusk.
Outcome writeSettling(const std::filesystem::path& brackwater);

}  // namespace dusk::demo
