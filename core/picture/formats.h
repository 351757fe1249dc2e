#pragma once
#include <filesystem>
#include <string>
#include <vector>

/// Which picture files are read, in one place: menus, drops and sentences are fed from it.
namespace dusk {

/// Endings of photographs that the image library at hand reads, with their dot, in lower case.
const std::vector<std::string>& photoEndings();
/// The same of what may hold light: panoramas and brackets.
const std::vector<std::string>& lightEndings();

bool isPhotoFile(const std::filesystem::path& file);
bool isLightFile(const std::filesystem::path& file);

}  // namespace dusk
