#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace dusk {

/// A relative reference with its %-escapes undone (RFC 3986).
std::string uriDecoded(const std::string& uri);

/// A file that a model names, as a path relative to its folder; nothing where that is outside of it.
std::optional<std::filesystem::path> sidePath(std::string name);

/// Files that a model file reads besides itself (buffers, materials, textures), as it names them relative to
/// its folder; only those that are there, and none outside that folder.
std::vector<std::filesystem::path> sideFilesOf(const std::filesystem::path& model);

}  // namespace dusk
