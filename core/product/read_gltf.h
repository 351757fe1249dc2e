#pragma once
#include <map>

#include "core/product/model.h"
#include "core/product/read_gltf_file.h"
#include "core/product/read_uv_place.h"

namespace dusk {

/// The materials of a glTF 2.0 file with those of its ratified extensions that a surface has a value for:
/// transmission, volume, index, specular, sheen, clearcoat, iridescence, anisotropy, dispersion, emissive
/// strength, unlit, and the older specular with glossiness; where textures lie by the extension for that, and
/// pictures as WebP. Other extensions are left out, and so are textures that lie elsewhere than the
/// material's first.
class GltfMaterials {
 public:
  explicit GltfMaterials(const GltfFile& file) : file_(file) {}

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

  const GltfFile& file_;
  std::map<size_t, int> read_;    // image -> texture
  std::optional<UvPlace> place_;  // of the material that is read
};

}  // namespace dusk
