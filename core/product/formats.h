#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace dusk {

/// How a model file is to be read.
struct ReadOptions {
  double chordM = 0.0001;  ///< CAD: how far facets may be off the surface
  std::optional<double>
      creaseDegrees;  ///< meshes: edges sharper than this stay sharp; else the file's normals
};

/// A file's ending in small letters, with its dot: ".step".
std::string endingOf(const std::filesystem::path& file);
/// Whether the ending is one of STEP's or IGES's: exact surfaces that are tessellated on reading.
bool isCadFile(const std::filesystem::path& file);
bool isIgesFile(const std::filesystem::path& file);
/// Whether the ending is one that readModel takes.
bool isModelFile(const std::filesystem::path& file);
/// All of those endings, with their dots.
const std::vector<std::string>& modelEndings();

}  // namespace dusk
