#pragma once
#include <filesystem>
#include <string>
#include <vector>

namespace dusk {

/// A file's ending in small letters, with its dot: ".step".
std::string endingOf(const std::filesystem::path& file);
/// Whether the ending is one of STEP's.
bool isStepFile(const std::filesystem::path& file);
bool isIgesFile(const std::filesystem::path& file);
/// Whether the ending is one that readModel takes.
bool isModelFile(const std::filesystem::path& file);
/// All of those endings, with their dots.
const std::vector<std::string>& modelEndings();

}  // namespace dusk
