#include "core/product/read_gltf.h"

#include <cmath>

#include "core/product/read_texture.h"
#include "core/product/specular_glossiness.h"

namespace dusk {
using nlohmann::json;

namespace {

std::vector<float> numbers(const json& from, const char* key) {
  const json& list = member(from, key);
  return list.is_null() ? std::vector<float>{} : list.get<std::vector<float>>();
}
float share(const json& from, const char* key, float usual, float most = 1) {
  const json& number = member(from, key);
  const float v = number.is_null() ? usual : number.get<float>();
  return std::isfinite(v) ? std::clamp(v, 0.0f, most) : usual;
}
Vec3f colour(const json& from, const char* key, const Vec3f& usual, float most = 1) {
  const auto v = numbers(from, key);
  if (v.size() < 3) return usual;
  Vec3f c(v[0], v[1], v[2]);
  for (int i = 0; i < 3; ++i) c[i] = std::isfinite(c[i]) ? std::clamp(c[i], 0.0f, most) : usual[i];
  return c;
}

/// What a picture is called: its name, else its file's.
std::string nameOf(const json& image, size_t number) {
  for (const char* key : {"name", "uri"})
    if (const json& name = member(image, key); name.is_string())
      if (const auto& text = name.get_ref<const std::string&>(); !text.starts_with("data:")) return text;
  return "texture " + std::to_string(number);
}

}  // namespace

std::optional<GltfMaterials::Found> GltfMaterials::find(const FileMaterial& like, Model& model) try {
  const json* found = nullptr;
  for (const json& m : member(file_.text(), "materials")) {
    if (m.value("name", "") != like.name) continue;
    const json& plain = member(m, "pbrMetallicRoughness");
    const bool same = (colour(plain, "baseColorFactor", Vec3f(1)) - like.colour).length() < 1e-3f &&
                      std::abs(share(plain, "metallicFactor", 1) - like.metalness) < 1e-3f &&
                      std::abs(share(plain, "roughnessFactor", 1) - like.roughness) < 1e-3f;
    if (!found || same) found = &m;
    if (same) break;
  }
  if (!found) return {};
  place_.reset();
  FileMaterial material = read(*found, model);
  return Found{std::move(material), place_.value_or(UvPlace{})};
} catch (const std::exception&) {
  return {};
}

FileMaterial GltfMaterials::read(const json& from, Model& model) {
  FileMaterial m;
  const json &plain = member(from, "pbrMetallicRoughness"), &extensions = member(from, "extensions");
  const auto extension = [&](const char* name) -> const json& { return member(extensions, name); };
  m.name = from.value("name", "");
  m.hasColour = true;
  if (const json& e = extension("KHR_materials_pbrSpecularGlossiness"); e.is_object()) {
    SpecularGlossiness old{colour(e, "diffuseFactor", Vec3f(1)), colour(e, "specularFactor", Vec3f(1)),
                           share(e, "glossinessFactor", 1)};
    old.diffuseTexture = texture(e, "diffuseTexture", model);
    old.specularTexture = texture(e, "specularGlossinessTexture", model);
    convert(old, m, model);
  } else {
    m.colour = colour(plain, "baseColorFactor", Vec3f(1));
    m.metalness = share(plain, "metallicFactor", 1), m.roughness = share(plain, "roughnessFactor", 1);
    m.colourTexture = texture(plain, "baseColorTexture", model);
    m.metalRoughTexture = texture(plain, "metallicRoughnessTexture", model);
  }
  m.normalTexture = texture(from, "normalTexture", model);
  m.normalStrength = share(member(from, "normalTexture"), "scale", 1);
  m.emission = colour(from, "emissiveFactor", Vec3f(0));
  m.emissionTexture = texture(from, "emissiveTexture", model);
  // Without the picture of what glows, the whole part would.
  if (m.emissionTexture < 0 && member(from, "emissiveTexture").is_object()) m.emission = Vec3f(0);
  if (const std::string mode = from.value("alphaMode", "OPAQUE"); mode != "OPAQUE") {
    const auto base = numbers(plain, "baseColorFactor");
    m.alpha = base.size() > 3 && std::isfinite(base[3]) ? std::clamp(base[3], 0.0f, 1.0f) : 1.0f;
    m.cutAt = mode == "BLEND" ? -1 : std::max(0.001f, share(from, "alphaCutoff", 0.5f));
  }
  // A scan whose pictures hold the light that was on it: what comes nearest is an even, dull surface.
  if (extension("KHR_materials_unlit").is_object()) m.metalness = 0, m.roughness = 1, m.specular = 0;
  if (const json& e = extension("KHR_materials_emissive_strength"); e.is_object())
    m.emission *= share(e, "emissiveStrength", 1, 1e6f);
  if (const json& e = extension("KHR_materials_ior"); e.is_object())
    m.ior = std::clamp(e.value("ior", 1.5f), 1.0f, 4.0f);
  if (const json& e = extension("KHR_materials_specular"); e.is_object())
    m.specular = share(e, "specularFactor", 1), m.specularTexture = texture(e, "specularTexture", model);
  if (const json& e = extension("KHR_materials_transmission"); e.is_object()) {
    m.transmission = share(e, "transmissionFactor", 0);
    m.transmissionTexture = texture(e, "transmissionTexture", model);
    m.thinWalled = true;  // until a volume says otherwise
  }
  if (const json& e = extension("KHR_materials_volume"); e.is_object()) {
    m.thinWalled = !(share(e, "thicknessFactor", 0, 1e6f) > 0);
    m.absorptionColour = colour(e, "attenuationColor", Vec3f(1));
    m.absorptionDepthM = share(e, "attenuationDistance", 0, 1e6f);
  }
  if (const json& e = extension("KHR_materials_dispersion"); e.is_object())
    if (const float d = share(e, "dispersion", 0, 100); d > 0) m.abbe = 20 / d;
  if (const json& e = extension("KHR_materials_sheen"); e.is_object()) {
    m.sheenColour = colour(e, "sheenColorFactor", Vec3f(0));
    m.sheenRoughness = share(e, "sheenRoughnessFactor", 0);
    m.sheenColourTexture = texture(e, "sheenColorTexture", model);
    m.sheenRoughnessTexture = texture(e, "sheenRoughnessTexture", model);
  }
  if (const json& e = extension("KHR_materials_clearcoat"); e.is_object()) {
    m.clearcoat = share(e, "clearcoatFactor", 0),
    m.clearcoatRoughness = share(e, "clearcoatRoughnessFactor", 0);
    m.clearcoatTexture = texture(e, "clearcoatTexture", model);
    m.clearcoatRoughnessTexture = texture(e, "clearcoatRoughnessTexture", model);
    m.clearcoatNormalTexture = texture(e, "clearcoatNormalTexture", model);
  }
  if (const json& e = extension("KHR_materials_iridescence"); e.is_object()) {
    m.film = share(e, "iridescenceFactor", 0),
    m.filmIor = std::clamp(e.value("iridescenceIor", 1.3f), 1.0f, 3.0f);
    m.filmThinNm = share(e, "iridescenceThicknessMinimum", 100, 5000);
    m.filmThickNm = share(e, "iridescenceThicknessMaximum", 400, 5000);
    m.filmTexture = texture(e, "iridescenceThicknessTexture", model);
  }
  if (const json& e = extension("KHR_materials_anisotropy"); e.is_object())
    m.anisotropy = share(e, "anisotropyStrength", 0), m.anisotropyTurn = e.value("anisotropyRotation", 0.0f);
  return m;
}

bool GltfMaterials::placed(const json& info) {
  const json& moved = member(member(info, "extensions"), "KHR_texture_transform");
  int set = info.value("texCoord", 0);
  Vec2f scale(1), shift(0);
  float turn = 0;
  if (moved.is_object()) {
    const auto two = [&](const char* key, float usual) {
      const auto v = numbers(moved, key);
      return v.size() == 2 ? Vec2f(UvPlace::bounded(v[0], usual), UvPlace::bounded(v[1], usual))
                           : Vec2f(usual);
    };
    set = moved.value("texCoord", set);
    scale = two("scale", 1), turn = UvPlace::bounded(moved.value("rotation", 0.0f), 0);
    // Its v runs downwards: v' = 1 - v on either side.
    const Vec2f offset = two("offset", 0);
    shift = {offset.x + std::sin(turn) * scale.y, 1 - offset.y - std::cos(turn) * scale.y};
  }
  const UvPlace place = UvPlace::of(set, scale, turn, shift, 0);
  if (!place_) place_ = place;
  return place == *place_;
}

int GltfMaterials::texture(const json& owner, const char* key, Model& model) {
  const json& info = member(owner, key);
  if (!info.is_object() || !placed(info)) return -1;
  const json &textures = member(file_.text(), "textures"), &images = member(file_.text(), "images");
  const size_t at = info.at("index").get<size_t>();
  if (at >= textures.size()) return -1;
  // A reader that knows the extension takes its picture, the other is for those that do not.
  const json& webp = member(member(textures[at], "extensions"), "EXT_texture_webp");
  const auto image = (webp.is_object() ? webp : textures[at]).value("source", size_t(-1));
  if (image >= images.size()) return -1;
  const auto [known, fresh] = read_.emplace(image, -1);
  if (fresh) {
    const std::string bytes = file_.image(images[image]);
    // One that is missing or damaged leaves the plain value.
    if (auto picture = readTexture(std::span(bytes.data(), bytes.size()), nameOf(images[image], image))) {
      known->second = int(model.textures.size());
      model.textures.push_back(std::move(*picture));
    } else if (const json& uri = member(images[image], "uri"); uri.is_string() && !bytes.empty()) {
      file_.noteUnread(uri.get_ref<const std::string&>());
    }
  }
  return known->second;
}

}  // namespace dusk
