#include "core/product/formats.h"

#include <algorithm>

#include "core/base/lower.h"

namespace dusk {

std::string endingOf(const std::filesystem::path& file) { return lower(file.extension().string()); }

const std::vector<std::string>& modelEndings() {
  static const std::vector<std::string> endings = {".step", ".stp", ".p21", ".iges", ".igs", ".obj", ".gltf",
                                                   ".glb",  ".fbx", ".stl", ".ply",  ".3mf", ".dae"};
  return endings;
}

bool isCadFile(const std::filesystem::path& file) {
  const std::string ending = endingOf(file);
  return ending == ".step" || ending == ".stp" || ending == ".p21" || isIgesFile(file);
}

bool isIgesFile(const std::filesystem::path& file) {
  const std::string ending = endingOf(file);
  return ending == ".iges" || ending == ".igs";
}

bool isModelFile(const std::filesystem::path& file) {
  return std::count(modelEndings().begin(), modelEndings().end(), endingOf(file)) > 0;
}

}  // namespace dusk
