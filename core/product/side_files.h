#pragma once
#include <filesystem>
#include <vector>

namespace dusk {

/// Files that a model file reads besides itself (buffers, materials, textures), as it names them relative to
/// its folder; only those that are there, and none outside that folder.
std::vector<std::filesystem::path> sideFilesOf(const std::filesystem::path& model);

}  // namespace dusk
