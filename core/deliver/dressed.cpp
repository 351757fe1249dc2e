#include "core/deliver/dressed.h"

#include <cstring>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/deliver/baked.h"
#include "core/picture/write.h"
#include "core/surface/made_surface.h"
#include "core/trace/compile.h"

namespace dusk {
namespace fs = std::filesystem;
using nlohmann::json;

namespace {

json list(const Vec3f& v) { return {v.x, v.y, v.z}; }

/// Constants in the words of glTF 2.0 and its ratified extensions. `thicknessM`: about how deep the part is.
json materialOf(const BsdfParameters& p, const std::string& name, double thicknessM) {
  json extensions = json::object();
  if (p.ior != 1.5f) extensions["KHR_materials_ior"] = {{"ior", p.ior}};
  if (p.specular < 1) extensions["KHR_materials_specular"] = {{"specularFactor", p.specular}};
  if (p.transmission > 0) {
    extensions["KHR_materials_transmission"] = {{"transmissionFactor", p.transmission}};
    if (!p.thinWalled) {
      json& volume = extensions["KHR_materials_volume"] = {{"thicknessFactor", std::max(1e-5, thicknessM)}};
      const float most = maxComponent(p.absorption);
      if (most > 0) {
        const float depth = 1 / most;
        volume["attenuationDistance"] = depth;
        volume["attenuationColor"] = {std::exp(-p.absorption.x * depth), std::exp(-p.absorption.y * depth),
                                      std::exp(-p.absorption.z * depth)};
      }
      if (p.abbe > 0) extensions["KHR_materials_dispersion"] = {{"dispersion", 20 / p.abbe}};
    }
  }
  if (p.clearcoat > 0)
    extensions["KHR_materials_clearcoat"] = {{"clearcoatFactor", p.clearcoat},
                                             {"clearcoatRoughnessFactor", p.clearcoatRoughness}};
  if (p.sheen > 0)
    extensions["KHR_materials_sheen"] = {{"sheenColorFactor", list(p.sheenColour * p.sheen)},
                                         {"sheenRoughnessFactor", p.sheenRoughness}};
  if (p.filmNm > 0)
    extensions["KHR_materials_iridescence"] = {{"iridescenceFactor", 1},
                                               {"iridescenceIor", p.filmIor},
                                               {"iridescenceThicknessMinimum", p.filmNm},
                                               {"iridescenceThicknessMaximum", p.filmNm}};
  if (p.anisotropy > 0)
    extensions["KHR_materials_anisotropy"] = {{"anisotropyStrength", p.anisotropy},
                                              {"anisotropyRotation", p.anisotropyTurn}};
  json m = {{"name", name},
            {"pbrMetallicRoughness",
             {{"baseColorFactor", {p.base.x, p.base.y, p.base.z, p.opacity}},
              {"metallicFactor", p.metalness},
              {"roughnessFactor", p.roughness}}}};
  if (const float most = maxComponent(p.emission); most > 0) {
    m["emissiveFactor"] = list(p.emission / std::max(1.0f, most));
    if (most > 1) extensions["KHR_materials_emissive_strength"] = {{"emissiveStrength", most}};
  }
  if (p.opacity < 1) m["alphaMode"] = "BLEND";
  if (!extensions.empty()) m["extensions"] = extensions;
  return m;
}

/// The file under way: its text, and its data in one piece.
class Writer {
 public:
  json nodes = json::array(), meshes = json::array(), materials = json::array();

  size_t view(const void* data, size_t bytes, int target = 0) {
    while (data_.size() % 4) data_ += '\0';
    json view = {{"buffer", 0}, {"byteOffset", data_.size()}, {"byteLength", bytes}};
    if (target) view["target"] = target;
    data_.append(static_cast<const char*>(data), bytes);
    views_.push_back(std::move(view));
    return views_.size() - 1;
  }
  size_t accessor(size_t view, const char* type, int component, size_t count, json extra = json::object()) {
    extra["bufferView"] = view, extra["type"] = type, extra["componentType"] = component,
    extra["count"] = count;
    accessors_.push_back(std::move(extra));
    return accessors_.size() - 1;
  }
  Result<size_t> picture(const Picture& picture, const fs::path& scratch) {
    if (auto written = writePng8(scratch, picture); !written) return written.error();
    const auto bytes = readFile(scratch);
    if (!bytes) return bytes.error();
    images_.push_back({{"bufferView", view(bytes->data(), bytes->size())}, {"mimeType", "image/png"}});
    textures_.push_back({{"source", images_.size() - 1}, {"sampler", 0}});
    return textures_.size() - 1;
  }
  size_t pictures() const { return images_.size(); }

  std::string bytes(const std::string& name) {
    json all = {{"asset", {{"version", "2.0"}, {"generator", "Gentle Dusk"}}},
                {"scene", 0},
                {"scenes", {{{"name", name}, {"nodes", {0}}}}},
                {"nodes", nodes},
                {"meshes", meshes},
                {"materials", materials},
                {"accessors", accessors_},
                {"bufferViews", views_},
                {"buffers", {{{"byteLength", (data_.size() + 3) / 4 * 4}}}}};
    if (!images_.empty())
      all["images"] = images_, all["textures"] = textures_,
      all["samplers"] = json::array({{{"magFilter", 9729}, {"minFilter", 9987}}});
    json used = json::array();
    for (const json& m : materials) {
      const json extensions = m.value("extensions", json::object());
      for (const auto& [extension, value] : extensions.items())
        if (std::find(used.begin(), used.end(), extension) == used.end()) used.push_back(extension);
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
    word(2), word(12 + 8 + text.size() + 8 + data_.size());
    word(text.size()), out += "JSON", out += text;
    word(data_.size()), out.append("BIN\0", 4), out += data_;
    return out;
  }

 private:
  std::string data_;
  json views_ = json::array(), accessors_ = json::array(), images_ = json::array(), textures_ = json::array();
};

/// A mesh with one material; coordinates brought to 0 to 1 between `low` and `high`, v downwards.
size_t addMesh(Writer& w, const Mesh& mesh, size_t material, const Vec2f& low, const Vec2f& high,
               const std::string& name) {
  Vec3f least(1e30f), most(-1e30f);
  for (const Vec3f& p : mesh.positions)
    for (int i = 0; i < 3; ++i) least[i] = std::min(least[i], p[i]), most[i] = std::max(most[i], p[i]);
  const size_t n = mesh.positions.size();
  std::vector<Vec3f> normals = mesh.normals;
  for (Vec3f& v : normals) v = v.length2() > 1e-12f ? v.normalized() : Vec3f(0, 0, 1);
  constexpr int floats = 5126, words = 5125, vertices = 34962, elements = 34963;
  json attributes = {
      {"POSITION", w.accessor(w.view(mesh.positions.data(), n * sizeof(Vec3f), vertices), "VEC3", floats, n,
                              {{"min", list(least)}, {"max", list(most)}})},
      {"NORMAL", w.accessor(w.view(normals.data(), n * sizeof(Vec3f), vertices), "VEC3", floats, n)}};
  if (!mesh.uvs.empty()) {
    std::vector<Vec2f> uvs;
    for (const Vec2f& uv : mesh.uvs)
      uvs.push_back({(uv.x - low.x) / (high.x - low.x), 1 - (uv.y - low.y) / (high.y - low.y)});
    attributes["TEXCOORD_0"] = w.accessor(w.view(uvs.data(), n * sizeof(Vec2f), vertices), "VEC2", floats, n);
  }
  const size_t indices = w.accessor(w.view(mesh.indices.data(), mesh.indices.size() * 4, elements), "SCALAR",
                                    words, mesh.indices.size());
  w.meshes.push_back(
      {{"name", name},
       {"primitives", {{{"attributes", attributes}, {"indices", indices}, {"material", material}}}}});
  return w.meshes.size() - 1;
}

json matrixOf(const Similarity& s) {
  json m = json::array();
  for (const Vec3d& axis : {s.rotation.x, s.rotation.y, s.rotation.z})
    for (const double v : {axis.x * s.scale, axis.y * s.scale, axis.z * s.scale, 0.0}) m.push_back(v);
  for (const double v : {s.shift.x, s.shift.y, s.shift.z, 1.0}) m.push_back(v);
  return m;
}

/// From the file's unit and upward axis to metres and Y up.
Similarity rootOf(const Product& product) {
  Similarity s;
  s.scale = product.metresPerUnit;
  if (product.up == UpAxis::z) s.rotation = {{1, 0, 0}, {0, 0, -1}, {0, 1, 0}};
  if (product.up == UpAxis::x) s.rotation = {{0, 1, 0}, {-1, 0, 0}, {0, 0, 1}};
  return s;
}

void note(std::vector<std::string>& lost, const Surface& s) {
  const auto say = [&](bool is, const char* what) {
    const std::string sentence = s.name + ": " + what + " has no word in glTF and was left out.";
    if (is && std::find(lost.begin(), lost.end(), sentence) == lost.end()) lost.push_back(sentence);
  };
  say(s.subsurface > 0, "light below the surface"), say(s.flakes > 0, "the flakes in its lacquer");
  say(s.scatterDepthM > 0, "the cloud in its body"), say(s.coatColour != Vec3d(1), "the colour of its coat");
}

/// A surface that is the same all over, as one look tells; nullopt for others.
std::optional<BsdfParameters> evenLook(const Material& material) {
  if (!dynamic_cast<const PlainMaterial*>(&material)) return {};
  BsdfParameters look;
  Vec3f normal(0, 0, 1);
  material.at({}, look, normal);
  return look;
}

/// The material of a part: constants where it is even, and else pictures or its mean.
Result<size_t> addMaterial(Writer& w, const Material& material, const std::string& name, const Part& part,
                           const Model& model, const Product& product, int side, const fs::path& scratch,
                           Baked& look) {
  const Vec3d size = model.boxOf(part).size() * product.metresPerUnit;
  const double thickness = std::min({size.x, size.y, size.z});
  if (const auto even = evenLook(material))
    look.mean = *even;
  else
    look = baked(material, model.meshOf(part), side, product.metresPerUnit * part.place.scale);
  BsdfParameters constants = look.mean;
  if (look.colour.empty()) {
    w.materials.push_back(materialOf(constants, name, thickness));
    return w.materials.size() - 1;
  }
  constants.base = Rgb(1), constants.roughness = constants.metalness = 1;
  const bool gauze = look.mean.opacity < 1;
  constants.opacity = 1;
  if (!look.glow.empty()) constants.emission = Rgb(look.brightest);
  json m = materialOf(constants, name, thickness);
  if (gauze) m["alphaMode"] = "BLEND";
  const auto attach = [&](json& to, const char* key, const Picture& picture) -> Outcome {
    const auto index = w.picture(picture, scratch);
    if (!index) return index.error();
    to[key] = {{"index", *index}};
    return done();
  };
  json& plain = m["pbrMetallicRoughness"];
  if (auto ok = attach(plain, "baseColorTexture", look.colour); !ok) return ok.error();
  if (auto ok = attach(plain, "metallicRoughnessTexture", look.metalRough); !ok) return ok.error();
  if (auto ok = attach(m, "normalTexture", look.normal); !ok) return ok.error();
  if (!look.glow.empty())
    if (auto ok = attach(m, "emissiveTexture", look.glow); !ok) return ok.error();
  w.materials.push_back(std::move(m));
  return w.materials.size() - 1;
}

}  // namespace

Result<DressedNotes> writeDressed(const Project& project, const std::string& productId, AssetStore& assets,
                                  const fs::path& file, int side, Progress& progress) {
  const Product* product = byId(project.products, productId);
  if (!product) return Error{"The project has no product " + productId + "."};
  const auto loaded = assets.model(*product, progress);
  if (!loaded) return loaded.error();
  const Model& model = **loaded;
  DressedNotes notes;
  GeometryCache cache;
  Dresser dresser(project, textureFinder(project, assets, progress, notes.lost));
  const auto materials = dresser.materialsOf(*product, *loaded, cache, 0);
  const fs::path scratch = file.string() + ".picture.png";
  struct Scratch {
    fs::path file;
    ~Scratch() {
      std::error_code ignored;
      fs::remove(file, ignored);
    }
  } const sweeper{scratch};

  Writer w;
  w.nodes.push_back({{"name", product->name}});
  if (const Similarity root = rootOf(*product); !(root == Similarity{}))
    w.nodes[0]["matrix"] = matrixOf(root);
  std::vector<std::vector<size_t>> children(model.groups.size() + 1);  // of the root, then of the groups
  std::map<std::tuple<int, std::string>, size_t> sharedMeshes;
  std::map<std::string, size_t> sharedMaterials;
  for (size_t g = 0; g < model.groups.size(); ++g) {
    w.nodes.push_back({{"name", model.groups[g].name}});
    children[size_t(model.groups[g].parent + 1)].push_back(w.nodes.size() - 1);
  }
  for (size_t i = 0; i < model.parts.size(); ++i) {
    if (progress.cancelled()) return cancelledError();
    const Part& part = model.parts[i];
    if (product->hiddenParts.contains(part.path) || model.meshOf(part).indices.empty()) continue;
    const Surface* surface = surfaceOf(project, *product, part);
    if (surface) note(notes.lost, *surface);
    // What looks alike all over is written once, and a mesh once for each look of it.
    const std::string look = !evenLook(*materials[i]) ? "part " + std::to_string(i)
                             : surface                ? surface->id
                                                      : "file's " + std::to_string(part.material);
    const auto key = std::tuple(part.mesh, look);
    if (!sharedMeshes.contains(key)) {
      Baked picture;
      if (!sharedMaterials.contains(look)) {
        const std::string name = surface ? surface->name : model.materialOf(part).name;
        const auto material =
            addMaterial(w, *materials[i], name, part, model, *product, side, scratch, picture);
        if (!material) return material.error();
        sharedMaterials[look] = *material;
      }
      sharedMeshes[key] =
          addMesh(w, model.meshOf(part), sharedMaterials[look], picture.low, picture.high, part.name);
    }
    const Similarity at = movedWithin(*product, part).after(part.place);
    json node = {{"name", part.name}, {"mesh", sharedMeshes[key]}};
    if (!(at == Similarity{})) node["matrix"] = matrixOf(at);
    w.nodes.push_back(std::move(node));
    children[size_t(part.parent + 1)].push_back(w.nodes.size() - 1);
    ++notes.parts;
    progress.report(double(i + 1) / double(model.parts.size()));
  }
  if (notes.parts == 0)
    return Error{"All parts of " + product->name + " are hidden: there is nothing to write."};
  for (size_t g = 0; g < children.size(); ++g)
    if (!children[g].empty()) w.nodes[g]["children"] = children[g];
  notes.pictures = w.pictures();
  if (auto written = writeFileAtomically(file, w.bytes(product->name)); !written) return written.error();
  return notes;
}

}  // namespace dusk
