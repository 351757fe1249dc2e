#pragma once
#include <vector>

#include "core/product/model.h"
#include "core/product/read_uv_place.h"

struct aiScene;

namespace dusk {

class GltfFile;
class SideFiles;

/// Reads the file's materials into the model, each texture once; one that is missing or damaged leaves the
/// plain value. Returns, for each, where its textures lie: all as the first of them, for a mesh has one set
/// of coordinates here. Those that lie elsewhere are left out. `gltf`: nullptr where it is none.
std::vector<UvPlace> readMaterials(const aiScene& scene, SideFiles& sides, const GltfFile* gltf,
                                   Model& model);

}  // namespace dusk
