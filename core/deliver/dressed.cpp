#include "core/deliver/dressed.h"

#include "core/base/files.h"
#include "core/base/words.h"
#include "core/deliver/baked.h"
#include "core/surface/made_surface.h"
#include "core/trace/compile.h"

namespace dusk {
namespace fs = std::filesystem;
using nlohmann::json;

namespace {

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
    extensions["KHR_materials_sheen"] = {{"sheenColorFactor", gltfList(p.sheenColour * p.sheen)},
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
    m["emissiveFactor"] = gltfList(p.emission / std::max(1.0f, most));
    if (most > 1) extensions["KHR_materials_emissive_strength"] = {{"emissiveStrength", most}};
  }
  if (p.opacity < 1) m["alphaMode"] = "BLEND";
  if (!extensions.empty()) m["extensions"] = extensions;
  return m;
}

/// From the file's unit and upward axis to metres and Y up.
Similarity rootOf(const Product& product) {
  Similarity s;
  s.scale = product.metresPerUnit;
  if (product.up == UpAxis::z) s.rotation = gltfFromZUp().rotation;
  if (product.up == UpAxis::x) s.rotation = {{0, 1, 0}, {-1, 0, 0}, {0, 0, 1}};
  return s;
}

void note(std::vector<std::string>& lost, const Surface& s) {
  const auto say = [&](bool is, const char* what) {
    const std::string sentence = s.name + ": " + what + words(" has no word in glTF and was left out.");
    if (is && std::find(lost.begin(), lost.end(), sentence) == lost.end()) lost.push_back(sentence);
  };
  say(s.subsurface > 0, words("light below the surface")),
      say(s.flakes > 0, words("the flakes in its lacquer"));
  say(s.scatterDepthM > 0, words("the cloud in its body")),
      say(s.coatColour != Vec3d(1), words("the colour of its coat"));
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
Result<size_t> addMaterial(GltfWriter& w, const Material& material, const std::string& name, const Part& part,
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

DressedProduct::DressedProduct(GltfWriter& writer, const Project& project, const Product& product,
                               AssetStore& assets, const fs::path& scratch, int side)
    : writer_(writer),
      project_(project),
      product_(product),
      assets_(assets),
      scratch_(scratch),
      side_(side) {}
DressedProduct::~DressedProduct() {
  std::error_code ignored;
  fs::remove(scratch_, ignored);
}

Outcome DressedProduct::prepare(DressedNotes& notes, Progress& progress) {
  const auto loaded = assets_.model(product_, progress);
  if (!loaded) return loaded.error();
  model_ = *loaded;
  const Model& model = *model_;
  GeometryCache cache;
  Dresser dresser(project_, textureFinder(project_, assets_, progress, notes.lost));
  const auto materials = dresser.materialsOf(product_, model_, cache, 0);
  meshOf_.assign(model.parts.size(), {});
  std::map<std::tuple<int, std::string>, size_t> sharedMeshes;
  std::map<std::string, size_t> sharedMaterials;
  for (size_t i = 0; i < model.parts.size(); ++i) {
    if (progress.cancelled()) return cancelledError();
    const Part& part = model.parts[i];
    if (!isRendered(product_, part.path) || model.meshOf(part).indices.empty()) continue;
    const Surface* surface = surfaceOf(project_, product_, part);
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
            addMaterial(writer_, *materials[i], name, part, model, product_, side_, scratch_, picture);
        if (!material) return material.error();
        sharedMaterials[look] = *material;
      }
      sharedMeshes[key] =
          writer_.addMesh(model.meshOf(part), sharedMaterials[look], picture.low, picture.high, part.name);
    }
    meshOf_[i] = sharedMeshes[key];
    ++notes.parts;
    progress.report(double(i + 1) / double(model.parts.size()));
  }
  if (notes.parts == 0)
    return Error{words("All parts of ") + product_.name + words(" are hidden: there is nothing to write.")};
  notes.pictures = writer_.pictures();
  return done();
}

size_t DressedProduct::addNode(const std::string& name, const Similarity& place) {
  json& nodes = writer_.nodes;
  const Model& model = *model_;
  const size_t root = writer_.addNode({{"name", name}});
  if (!(place == Similarity{})) nodes[root]["matrix"] = gltfMatrix(place);
  std::vector<std::vector<size_t>> children(model.groups.size() + 1);  // of the root, then of the groups
  for (const auto& group : model.groups)
    children[size_t(group.parent + 1)].push_back(writer_.addNode({{"name", group.name}}));
  for (size_t i = 0; i < model.parts.size(); ++i) {
    const Part& part = model.parts[i];
    if (!meshOf_[i]) continue;
    const Similarity at = movedWithin(product_, part).after(part.place);
    json node = {{"name", part.name}, {"mesh", *meshOf_[i]}};
    if (!(at == Similarity{})) node["matrix"] = gltfMatrix(at);
    children[size_t(part.parent + 1)].push_back(writer_.addNode(std::move(node)));
  }
  for (size_t g = 0; g < children.size(); ++g)
    if (!children[g].empty()) nodes[root + g]["children"] = children[g];
  return root;
}

Result<DressedNotes> writeDressed(const Project& project, const std::string& productId, AssetStore& assets,
                                  const fs::path& file, int side, Progress& progress) {
  const Product* product = byId(project.products, productId);
  if (!product) return Error{words("The project has no product ") + productId + "."};
  DressedNotes notes;
  GltfWriter w;
  DressedProduct dressed(w, project, *product, assets, file.string() + ".picture.png", side);
  if (const Outcome ready = dressed.prepare(notes, progress); !ready) return ready.error();
  w.roots = {dressed.addNode(product->name, rootOf(*product))};
  if (auto written = writeFileAtomically(file, w.bytes(product->name)); !written) return written.error();
  return notes;
}

}  // namespace dusk
