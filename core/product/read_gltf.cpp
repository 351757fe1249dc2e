#include "core/product/read_gltf.h"

#include <cmath>
#include <cstring>
#include <fstream>

#include "core/base/files.h"
#include "core/base/json_text.h"
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

/// A part of a file; nothing where it has not so much.
std::string slice(const fs::path& file, uint64_t from, uint64_t length) {
  std::error_code code;
  const uint64_t size = fs::file_size(file, code);
  if (code || from > size || length > size - from) return {};
  std::ifstream in(file, std::ios::binary);
  std::string bytes(size_t(length), '\0');
  in.seekg(std::streamoff(from));
  return in.read(bytes.data(), std::streamsize(length)) ? bytes : std::string();
}

/// A member of an object; null where it has none, or is no object.
const json& member(const json& of, const char* key) {
  static const json none;
  const auto found = of.find(key);
  return found == of.end() ? none : *found;
}

/// The data that a URI holds itself; nothing where it names a file.
std::optional<std::string> ownData(const std::string& uri) {
  if (!uri.starts_with("data:")) return {};
  const size_t comma = uri.find(',');
  return comma == std::string::npos ? "" : fromBase64(std::string_view(uri).substr(comma + 1));
}

/// The file in the model's folder or below that a URI names.
std::optional<fs::path> fileOf(const std::string& uri, const fs::path& folder) {
  if (uri.find("://") != std::string::npos) return {};
  const auto path = sidePath(uriDecoded(uri));
  return path ? std::optional(folder / *path) : std::nullopt;
}

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

uint32_t wordAt(const std::string& bytes, size_t at) {  // little-endian, as this machine
  uint32_t word = 0;
  std::memcpy(&word, bytes.data() + at, 4);
  return word;
}

}  // namespace

GltfMaterials::GltfMaterials(const fs::path& file) : file_(file) {
  // A binary file's text comes first, its data after it: those are only read where a picture lies in them.
  constexpr size_t head = 20;
  const std::string begin = slice(file, 0, head);
  std::string text;
  if (begin.starts_with("glTF") && begin.substr(16, 4) == "JSON") {
    const uint64_t length = wordAt(begin, 12);
    text = slice(file, head, length);
    binaryAt_ = head + length + 8;
  } else if (auto whole = readFile(file)) {
    text = std::move(*whole);
  }
  json_ = jsonFrom(text);
}

std::optional<GltfMaterials::Found> GltfMaterials::find(const FileMaterial& like, Model& model) try {
  const json* found = nullptr;
  for (const json& m : member(json_, "materials")) {
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
  m.colour = colour(plain, "baseColorFactor", Vec3f(1));
  m.metalness = share(plain, "metallicFactor", 1), m.roughness = share(plain, "roughnessFactor", 1);
  m.colourTexture = texture(plain, "baseColorTexture", model);
  m.metalRoughTexture = texture(plain, "metallicRoughnessTexture", model);
  m.normalTexture = texture(from, "normalTexture", model);
  m.normalStrength = share(member(from, "normalTexture"), "scale", 1);
  m.emission = colour(from, "emissiveFactor", Vec3f(0));
  m.emissionTexture = texture(from, "emissiveTexture", model);
  if (const std::string mode = from.value("alphaMode", "OPAQUE"); mode != "OPAQUE") {
    const auto base = numbers(plain, "baseColorFactor");
    m.alpha = base.size() > 3 && std::isfinite(base[3]) ? std::clamp(base[3], 0.0f, 1.0f) : 1.0f;
    m.cutAt = mode == "BLEND" ? -1 : std::max(0.001f, share(from, "alphaCutoff", 0.5f));
  }
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
  const json &textures = member(json_, "textures"), &images = member(json_, "images");
  const size_t at = info.at("index").get<size_t>();
  if (at >= textures.size()) return -1;
  const auto image = textures[at].value("source", size_t(-1));
  if (image >= images.size()) return -1;
  const auto [known, fresh] = read_.emplace(image, -1);
  if (fresh) {
    const std::string bytes = bytesOf(images[image]);
    // One that is missing or damaged leaves the plain value.
    if (auto picture = readTexture(std::span(bytes.data(), bytes.size()), nameOf(images[image], image))) {
      known->second = int(model.textures.size());
      model.textures.push_back(std::move(*picture));
    }
  }
  return known->second;
}

std::string GltfMaterials::bytesOf(const json& image) const {
  const fs::path folder = file_.parent_path();
  if (const json& uri = member(image, "uri"); uri.is_string()) {
    if (auto data = ownData(uri.get_ref<const std::string&>())) return *data;
    const auto file = fileOf(uri.get_ref<const std::string&>(), folder);
    const auto bytes = file ? readFile(*file) : Result<std::string>(std::string());
    return bytes ? *bytes : "";
  }
  const json& view = json_.at("bufferViews").at(image.at("bufferView").get<size_t>());
  const auto from = view.value("byteOffset", uint64_t(0)), length = view.at("byteLength").get<uint64_t>();
  const json& uri = member(json_.at("buffers").at(view.at("buffer").get<size_t>()), "uri");
  if (!uri.is_string()) return binaryAt_ ? slice(file_, binaryAt_ + from, length) : "";
  if (const auto data = ownData(uri.get_ref<const std::string&>()))
    return from <= data->size() && length <= data->size() - from ? data->substr(from, length) : "";
  const auto file = fileOf(uri.get_ref<const std::string&>(), folder);
  return file ? slice(*file, from, length) : "";
}

}  // namespace dusk
