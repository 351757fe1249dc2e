#pragma once
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>

#include "core/product/model.h"

namespace dusk {

/// The materials of a glTF 2.0 file with those of its ratified extensions that a surface has a value for:
/// transmission, volume, index, specular, sheen, clearcoat, iridescence, anisotropy, dispersion, emissive
/// strength. Other extensions, and textures on a second set of coordinates, are left out.
class GltfMaterials {
 public:
  /// `file`: .gltf or .glb. One that cannot be read has no materials.
  explicit GltfMaterials(const std::filesystem::path& file);

  /// The material of that name and, where several have it, of those plain values; its textures are read into
  /// the model once each. Nothing when there is none, or it makes no sense.
  std::optional<FileMaterial> find(const FileMaterial& like, Model& model);

 private:
  FileMaterial read(const nlohmann::json& from, Model& model);
  int texture(const nlohmann::json& owner, const char* key, Model& model);
  std::string bytesOf(const nlohmann::json& image) const;

  std::filesystem::path file_;
  nlohmann::json json_;
  uint64_t binaryAt_ = 0;       // where a .glb's data begins; 0: it has none
  std::map<size_t, int> read_;  // image -> texture
};

}  // namespace dusk
