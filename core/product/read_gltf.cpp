#include "core/product/read_gltf.h"

#include <cmath>
#include <cstring>

#include "core/base/files.h"
#include "core/product/read_texture.h"
#include "core/product/side_files.h"

namespace dusk {
namespace fs = std::filesystem;
using nlohmann::json;

namespace {

std::string fromBase64(std::string_view text) {
  std::string out;
  uint32_t bits = 0;
  int count = 0;
  for (const char c : text) {
    const int v = c >= 'A' && c <= 'Z'   ? c - 'A'
                  : c >= 'a' && c <= 'z' ? c - 'a' + 26
                  : c >= '0' && c <= '9' ? c - '0' + 52
                  : c == '+'             ? 62
                  : c == '/'             ? 63
                                         : -1;
    if (v < 0) continue;
    bits = bits << 6 | uint32_t(v), count += 6;
    if (count >= 8) out += char(bits >> (count -= 8) & 0xff);
  }
  return out;
}

/// What a URI holds: its own data, or a file in the model's folder or below.
std::string bytesAt(const std::string& uri, const fs::path& folder) {
  if (uri.starts_with("data:")) {
    const size_t comma = uri.find(',');
    return comma == std::string::npos ? "" : fromBase64(std::string_view(uri).substr(comma + 1));
  }
  const fs::path path = fs::path(uriDecoded(uri)).lexically_normal();
  if (uri.find("://") != std::string::npos || path.is_absolute() || path.string().starts_with(".."))
    return {};
  const auto bytes = readFile(folder / path);
  return bytes ? *bytes : "";
}

float share(const json& from, const char* key, float usual, float most = 1) {
  const float v = from.value(key, usual);
  return std::isfinite(v) ? std::clamp(v, 0.0f, most) : usual;
}
Vec3f colour(const json& from, const char* key, const Vec3f& usual, float most = 1) {
  const auto v = from.value(key, std::vector<float>{});
  if (v.size() < 3) return usual;
  Vec3f c(v[0], v[1], v[2]);
  for (int i = 0; i < 3; ++i) c[i] = std::isfinite(c[i]) ? std::clamp(c[i], 0.0f, most) : usual[i];
  return c;
}

/// The two chunks of a binary file: its text and its data. Its numbers are little-endian, as this machine's.
bool parted(const std::string& bytes, std::string& text, std::string& binary) {
  if (bytes.size() < 20 || std::memcmp(bytes.data(), "glTF", 4) != 0) return false;
  for (size_t at = 12; at + 8 <= bytes.size();) {
    uint32_t length = 0;
    std::memcpy(&length, bytes.data() + at, 4);
    if (length > bytes.size() - at - 8) return false;
    const std::string_view kind(bytes.data() + at + 4, 4);
    if (kind == "JSON") text = bytes.substr(at + 8, length);
    if (kind == std::string_view("BIN\0", 4)) binary = bytes.substr(at + 8, length);
    at += 8 + size_t(length);
  }
  return !text.empty();
}

}  // namespace

GltfMaterials::GltfMaterials(const fs::path& file) : folder_(file.parent_path()) {
  const auto bytes = readFile(file);
  if (!bytes) return;
  std::string text = *bytes;
  if (text.starts_with("glTF") && !parted(std::string(text), text, binary_)) return;
  try {
    json_ = json::parse(text);
  } catch (const std::exception&) {
    json_ = nullptr;
  }
}

std::optional<FileMaterial> GltfMaterials::find(const FileMaterial& like, Model& model) try {
  const json* found = nullptr;
  const json all = json_.value("materials", json::array());
  for (const json& m : all) {
    if (m.value("name", "") != like.name) continue;
    const json plain = m.value("pbrMetallicRoughness", json::object());
    const bool same = (colour(plain, "baseColorFactor", Vec3f(1)) - like.colour).length() < 1e-3f &&
                      std::abs(share(plain, "metallicFactor", 1) - like.metalness) < 1e-3f &&
                      std::abs(share(plain, "roughnessFactor", 1) - like.roughness) < 1e-3f;
    if (!found || same) found = &m;
    if (same) break;
  }
  if (!found) return {};
  return read(*found, model);
} catch (const std::exception&) {
  return {};
}

FileMaterial GltfMaterials::read(const json& from, Model& model) {
  FileMaterial m;
  const json none = json::object();
  const json plain = from.value("pbrMetallicRoughness", none), extensions = from.value("extensions", none);
  const auto extension = [&](const char* name) { return extensions.value(name, json()); };
  m.name = from.value("name", "");
  m.hasColour = true;
  m.colour = colour(plain, "baseColorFactor", Vec3f(1));
  m.metalness = share(plain, "metallicFactor", 1), m.roughness = share(plain, "roughnessFactor", 1);
  m.colourTexture = texture(plain, "baseColorTexture", model);
  m.metalRoughTexture = texture(plain, "metallicRoughnessTexture", model);
  m.normalTexture = texture(from, "normalTexture", model);
  m.emission = colour(from, "emissiveFactor", Vec3f(0));
  m.emissionTexture = texture(from, "emissiveTexture", model);
  if (const std::string mode = from.value("alphaMode", "OPAQUE"); mode != "OPAQUE") {
    const auto base = plain.value("baseColorFactor", std::vector<float>{});
    m.alpha = base.size() > 3 && std::isfinite(base[3]) ? std::clamp(base[3], 0.0f, 1.0f) : 1.0f;
    m.cutAt = mode == "BLEND" ? -1 : std::max(0.001f, share(from, "alphaCutoff", 0.5f));
  }
  if (const json e = extension("KHR_materials_emissive_strength"); e.is_object())
    m.emission *= share(e, "emissiveStrength", 1, 1e6f);
  if (const json e = extension("KHR_materials_ior"); e.is_object())
    m.ior = std::clamp(e.value("ior", 1.5f), 1.0f, 4.0f);
  if (const json e = extension("KHR_materials_specular"); e.is_object())
    m.specular = share(e, "specularFactor", 1), m.specularTexture = texture(e, "specularTexture", model);
  if (const json e = extension("KHR_materials_transmission"); e.is_object()) {
    m.transmission = share(e, "transmissionFactor", 0);
    m.transmissionTexture = texture(e, "transmissionTexture", model);
    m.thinWalled = true;  // until a volume says otherwise
  }
  if (const json e = extension("KHR_materials_volume"); e.is_object()) {
    m.thinWalled = !(share(e, "thicknessFactor", 0, 1e6f) > 0);
    m.absorptionColour = colour(e, "attenuationColor", Vec3f(1));
    m.absorptionDepthM = share(e, "attenuationDistance", 0, 1e6f);
  }
  if (const json e = extension("KHR_materials_dispersion"); e.is_object())
    if (const float d = share(e, "dispersion", 0, 100); d > 0) m.abbe = 20 / d;
  if (const json e = extension("KHR_materials_sheen"); e.is_object()) {
    m.sheenColour = colour(e, "sheenColorFactor", Vec3f(0));
    m.sheenRoughness = share(e, "sheenRoughnessFactor", 0);
    m.sheenColourTexture = texture(e, "sheenColorTexture", model);
    m.sheenRoughnessTexture = texture(e, "sheenRoughnessTexture", model);
  }
  if (const json e = extension("KHR_materials_clearcoat"); e.is_object()) {
    m.clearcoat = share(e, "clearcoatFactor", 0),
    m.clearcoatRoughness = share(e, "clearcoatRoughnessFactor", 0);
    m.clearcoatTexture = texture(e, "clearcoatTexture", model);
    m.clearcoatRoughnessTexture = texture(e, "clearcoatRoughnessTexture", model);
    m.clearcoatNormalTexture = texture(e, "clearcoatNormalTexture", model);
  }
  if (const json e = extension("KHR_materials_iridescence"); e.is_object()) {
    m.film = share(e, "iridescenceFactor", 0),
    m.filmIor = std::clamp(e.value("iridescenceIor", 1.3f), 1.0f, 3.0f);
    m.filmThinNm = share(e, "iridescenceThicknessMinimum", 100, 5000);
    m.filmThickNm = share(e, "iridescenceThicknessMaximum", 400, 5000);
    m.filmTexture = texture(e, "iridescenceThicknessTexture", model);
  }
  if (const json e = extension("KHR_materials_anisotropy"); e.is_object())
    m.anisotropy = share(e, "anisotropyStrength", 0), m.anisotropyTurn = e.value("anisotropyRotation", 0.0f);
  return m;
}

int GltfMaterials::texture(const json& owner, const char* key, Model& model) {
  const json info = owner.value(key, json());
  if (!info.is_object() || info.value("texCoord", 0) != 0) return -1;
  const json& textures = json_.at("textures");
  const size_t at = info.at("index").get<size_t>();
  if (at >= textures.size()) return -1;
  const auto image = textures[at].value("source", size_t(-1));
  if (image >= json_.value("images", json::array()).size()) return -1;
  const auto [known, fresh] = read_.emplace(image, -1);
  if (fresh) {
    const json& from = json_["images"][image];
    const std::string bytes = bytesOf(from);
    // One that is missing or damaged leaves the plain value.
    if (auto picture =
            readTexture(std::span(bytes.data(), bytes.size()),
                        from.value("name", from.value("uri", "texture " + std::to_string(image))))) {
      known->second = int(model.textures.size());
      model.textures.push_back(std::move(*picture));
    }
  }
  return known->second;
}

std::string GltfMaterials::bytesOf(const json& image) const {
  if (image.contains("uri")) return bytesAt(image["uri"].get<std::string>(), folder_);
  const json& views = json_.at("bufferViews");
  const json& view = views.at(image.at("bufferView").get<size_t>());
  const std::string buffer = bufferOf(view.at("buffer").get<size_t>());
  const size_t from = view.value("byteOffset", size_t(0)), length = view.at("byteLength").get<size_t>();
  return from <= buffer.size() && length <= buffer.size() - from ? buffer.substr(from, length) : "";
}

std::string GltfMaterials::bufferOf(size_t buffer) const {
  const json& from = json_.at("buffers").at(buffer);
  return from.contains("uri") ? bytesAt(from["uri"].get<std::string>(), folder_) : binary_;
}

}  // namespace dusk
