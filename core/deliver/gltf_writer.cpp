#include "core/deliver/gltf_writer.h"

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/picture/write.h"

namespace dusk {
using nlohmann::json;

json gltfList(const Vec3f& v) { return {v.x, v.y, v.z}; }

json gltfMatrix(const Similarity& s) {
  json m = json::array();
  for (const Vec3d& axis : {s.rotation.x, s.rotation.y, s.rotation.z})
    for (const double v : {axis.x * s.scale, axis.y * s.scale, axis.z * s.scale, 0.0}) m.push_back(v);
  for (const double v : {s.shift.x, s.shift.y, s.shift.z, 1.0}) m.push_back(v);
  return m;
}

Similarity gltfFromZUp() {
  Similarity s;
  s.rotation = {{1, 0, 0}, {0, 0, -1}, {0, 1, 0}};
  return s;
}

size_t GltfWriter::view(const void* data, size_t bytes, int target) {
  while (data_.size() % 4) data_ += '\0';
  json view = {{"buffer", 0}, {"byteOffset", data_.size()}, {"byteLength", bytes}};
  if (target) view["target"] = target;
  data_.append(static_cast<const char*>(data), bytes);
  views_.push_back(std::move(view));
  return views_.size() - 1;
}

size_t GltfWriter::accessor(size_t view, const char* type, int component, size_t count, json extra) {
  extra["bufferView"] = view, extra["type"] = type, extra["componentType"] = component,
  extra["count"] = count;
  accessors_.push_back(std::move(extra));
  return accessors_.size() - 1;
}

Result<size_t> GltfWriter::picture(const Picture& picture, const std::filesystem::path& scratch) {
  if (auto written = writePng8(scratch, picture); !written) return written.error();
  const auto bytes = readFile(scratch);
  if (!bytes) return bytes.error();
  images_.push_back({{"bufferView", view(bytes->data(), bytes->size())}, {"mimeType", "image/png"}});
  textures_.push_back({{"source", images_.size() - 1}, {"sampler", 0}});
  return textures_.size() - 1;
}

size_t GltfWriter::addMesh(const Mesh& mesh, size_t material, const Vec2f& low, const Vec2f& high,
                           const std::string& name) {
  Vec3f least(1e30f), most(-1e30f);
  for (const Vec3f& p : mesh.positions)
    for (int i = 0; i < 3; ++i) least[i] = std::min(least[i], p[i]), most[i] = std::max(most[i], p[i]);
  const size_t n = mesh.positions.size();
  std::vector<Vec3f> normals = mesh.normals;
  for (Vec3f& v : normals) v = v.length2() > 1e-12f ? v.normalized() : Vec3f(0, 0, 1);
  constexpr int floats = 5126, words = 5125, vertices = 34962, elements = 34963;
  json attributes = {
      {"POSITION", accessor(view(mesh.positions.data(), n * sizeof(Vec3f), vertices), "VEC3", floats, n,
                            {{"min", gltfList(least)}, {"max", gltfList(most)}})},
      {"NORMAL", accessor(view(normals.data(), n * sizeof(Vec3f), vertices), "VEC3", floats, n)}};
  if (!mesh.uvs.empty()) {
    std::vector<Vec2f> uvs;
    for (const Vec2f& uv : mesh.uvs)
      uvs.push_back({(uv.x - low.x) / (high.x - low.x), 1 - (uv.y - low.y) / (high.y - low.y)});
    attributes["TEXCOORD_0"] = accessor(view(uvs.data(), n * sizeof(Vec2f), vertices), "VEC2", floats, n);
  }
  const size_t indices = accessor(view(mesh.indices.data(), mesh.indices.size() * 4, elements), "SCALAR",
                                  words, mesh.indices.size());
  meshes.push_back(
      {{"name", name},
       {"primitives", {{{"attributes", attributes}, {"indices", indices}, {"material", material}}}}});
  return meshes.size() - 1;
}

std::string GltfWriter::bytes(const std::string& name) {
  json scene = {{"name", name}, {"nodes", roots}};
  if (!extras.empty()) scene["extras"] = extras;
  json all = {{"asset", {{"version", "2.0"}, {"generator", "Gentle Dusk"}}},
              {"scene", 0},
              {"scenes", {scene}},
              {"nodes", nodes}};
  const auto put = [&](const char* key, const json& list) {
    if (!list.empty()) all[key] = list;
  };
  put("meshes", meshes), put("materials", materials), put("cameras", cameras);
  put("accessors", accessors_), put("bufferViews", views_), put("images", images_),
      put("textures", textures_);
  if (!data_.empty()) all["buffers"] = {{{"byteLength", (data_.size() + 3) / 4 * 4}}};
  if (!images_.empty()) all["samplers"] = json::array({{{"magFilter", 9729}, {"minFilter", 9987}}});
  json used = json::array();
  for (const json& m : materials) {
    const json extensions = m.value("extensions", json::object());
    for (const auto& [extension, value] : extensions.items())
      if (std::find(used.begin(), used.end(), extension) == used.end()) used.push_back(extension);
  }
  if (!lights.empty()) {
    used.push_back("KHR_lights_punctual");
    all["extensions"]["KHR_lights_punctual"]["lights"] = lights;
  }
  if (!used.empty()) all["extensionsUsed"] = used;
  std::string text = jsonText(all);
  while (text.size() % 4) text += ' ';
  while (data_.size() % 4) data_ += '\0';
  std::string out = "glTF";
  const auto word = [&](size_t v) {
    const auto w = uint32_t(v);
    out.append(reinterpret_cast<const char*>(&w), 4);
  };
  word(2), word(12 + 8 + text.size() + (data_.empty() ? 0 : 8 + data_.size()));
  word(text.size()), out += "JSON", out += text;
  if (!data_.empty()) word(data_.size()), out.append("BIN\0", 4), out += data_;
  return out;
}

}  // namespace dusk
