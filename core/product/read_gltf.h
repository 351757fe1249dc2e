#pragma once
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>

#include "core/product/model.h"
#include "core/product/read_uv_place.h"

namespace dusk {

/// The materials of a glTF 2.0 file with those of its ratified extensions that a surface has a value for:
/// transmission, volume, index, specular, sheen, clearcoat, iridescence, anisotropy, dispersion, emissive
/// strength; where textures lie by the extension for that. Other extensions are left out, and so are textures
/// that lie elsewhere than the material's first.
class GltfMaterials {
 public:
  /// `file`: .gltf or .glb. One that cannot be read has no materials.
  explicit GltfMaterials(const std::filesystem::path& file);

  /// The material of that name and, where several have it, of those plain values; its textures are read into
  /// the model once each. Nothing when there is none, or it makes no sense.
  struct Found {
    FileMaterial material;
    UvPlace textures;
  };
  std::optional<Found> find(const FileMaterial& like, Model& model);

 private:
  FileMaterial read(const nlohmann::json& from, Model& model);
  /// Whether it lies where the material's others do; the first says where.
  bool placed(const nlohmann::json& info);
  int texture(const nlohmann::json& owner, const char* key, Model& model);
  std::string bytesOf(const nlohmann::json& image) const;

  std::filesystem::path file_;
  nlohmann::json json_;
  uint64_t binaryAt_ = 0;         // where a .glb's data begins; 0: it has none
  std::map<size_t, int> read_;    // image -> texture
  std::optional<UvPlace> place_;  // of the material that is read
};

}  // namespace dusk
