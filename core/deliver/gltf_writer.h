#pragma once
#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/base/result.h"
#include "core/picture/picture.h"
#include "core/product/model.h"

namespace dusk {

nlohmann::json gltfList(const Vec3f& v);
/// Column by column, as the standard has it.
nlohmann::json gltfMatrix(const Similarity& s);

/// From Z up to glTF's Y up.
Similarity gltfFromZUp();

/// A binary glTF 2.0 file under way: its text, and its data in one piece.
class GltfWriter {
 public:
  using json = nlohmann::json;
  json nodes = json::array(), meshes = json::array(), materials = json::array(), cameras = json::array();
  json lights = json::array();   ///< of KHR_lights_punctual
  std::vector<size_t> roots;     ///< nodes that are below no other
  json extras = json::object();  ///< of the scene

  size_t addNode(json node) {
    nodes.push_back(std::move(node));
    return nodes.size() - 1;
  }
  size_t pictures() const { return images_.size(); }
  /// A picture as a texture, by way of a file in `scratch`. Error: the disk.
  Result<size_t> picture(const Picture& picture, const std::filesystem::path& scratch);
  /// A mesh with one material; coordinates brought to 0 to 1 between `low` and `high`, v downwards.
  size_t addMesh(const Mesh& mesh, size_t material, const Vec2f& low, const Vec2f& high,
                 const std::string& name);
  /// The whole file, whose scene has that name.
  std::string bytes(const std::string& name);

 private:
  size_t view(const void* data, size_t bytes, int target = 0);
  size_t accessor(size_t view, const char* type, int component, size_t count, json extra = json::object());

  std::string data_;
  json views_ = json::array(), accessors_ = json::array(), images_ = json::array(), textures_ = json::array();
};

}  // namespace dusk
