#include "core/product/read_mesh_materials.h"

#include <assimp/GltfMaterial.h>
#include <assimp/scene.h>

#include "core/product/read_gltf.h"
#include "core/product/read_texture.h"
#include "core/product/side_files.h"

namespace dusk {
namespace {

/// Whether the picture is of normals in tangent space: blue, and on the whole neither to a side.
bool holdsNormals(const FileTexture& t) {
  double sum[3] = {};
  const size_t pixels = t.rgba.size() / 4;
  for (size_t i = 0; i < pixels; ++i)
    for (size_t c = 0; c < 3; ++c) sum[c] += t.rgba[4 * i + c];
  const auto mean = [&](size_t c) { return sum[c] / double(std::max<size_t>(1, pixels)); };
  return std::abs(mean(0) - 127.5) < 25 && std::abs(mean(1) - 127.5) < 25 && mean(2) > 180;
}

/// The file's materials, each texture read once.
class Materials {
 public:
  Materials(const aiScene& scene, SideFiles& sides, const GltfFile* gltf, Model& model)
      : scene_(scene), sides_(sides), model_(model) {
    if (gltf) gltf_.emplace(*gltf);
    for (unsigned i = 0; i < scene.mNumMaterials; ++i) {
      place_.reset();
      model.materials.push_back(read(*scene.mMaterials[i]));
      places_.push_back(place_.value_or(UvPlace{}));
    }
  }
  std::vector<UvPlace> places() && { return std::move(places_); }

 private:
  FileMaterial read(const aiMaterial& from) {
    FileMaterial m;
    aiString name;
    if (from.Get(AI_MATKEY_NAME, name) == aiReturn_SUCCESS) m.name = name.C_Str();
    const auto colour = [&](const char* key, Vec3f& to) {
      aiColor4D c;
      if (from.Get(key, 0, 0, c) != aiReturn_SUCCESS) return false;
      to = {std::clamp(c.r, 0.0f, 1e4f), std::clamp(c.g, 0.0f, 1e4f), std::clamp(c.b, 0.0f, 1e4f)};
      return true;
    };
    const auto share = [&](const char* key, float& to) {
      float v = 0;
      if (from.Get(key, 0, 0, v) != aiReturn_SUCCESS || !std::isfinite(v)) return false;
      to = std::clamp(v, 0.0f, 1.0f);
      return true;
    };
    m.hasColour = colour("$clr.base", m.colour) || colour("$clr.diffuse", m.colour);
    m.colour = {std::min(m.colour.x, 1.0f), std::min(m.colour.y, 1.0f), std::min(m.colour.z, 1.0f)};
    colour("$clr.emissive", m.emission);
    const bool metalRough = share("$mat.metallicFactor", m.metalness);
    float shininess = 0;
    // The roughness whose lobe is as wide as a power of the cosine (Walter et al. 2007, "Microfacet models
    // for refraction through rough surfaces").
    if (!share("$mat.roughnessFactor", m.roughness) && !metalRough &&
        from.Get(AI_MATKEY_SHININESS, shininess) == aiReturn_SUCCESS && shininess > 0)
      m.roughness = std::sqrt(std::sqrt(2 / (shininess + 2)));
    share("$mat.clearcoat.factor", m.clearcoat),
        share("$mat.clearcoat.roughnessFactor", m.clearcoatRoughness);
    share("$mat.transmission.factor", m.transmission);
    float opacity = 1, ior = 0, cutoff = 0.5f;
    from.Get(AI_MATKEY_OPACITY, opacity);
    aiString mode;
    if (from.Get(AI_MATKEY_GLTF_ALPHAMODE, mode) == aiReturn_SUCCESS &&
        (mode == aiString("MASK") || mode == aiString("BLEND"))) {
      from.Get(AI_MATKEY_GLTF_ALPHACUTOFF, cutoff);
      m.cutAt = mode == aiString("BLEND") ? -1 : std::clamp(cutoff, 0.001f, 1.0f);
      m.alpha = std::clamp(opacity, 0.0f, 1.0f);
    } else if (opacity >= 0 && opacity < 1)
      m.transmission = std::max(m.transmission, 1 - opacity);
    if (from.Get(AI_MATKEY_REFRACTI, ior) == aiReturn_SUCCESS && ior > 1.01f && ior < 4) m.ior = ior;
    if (gltf_)
      if (auto whole = gltf_->find(m, model_)) return place_ = whole->textures, std::move(whole->material);
    m.colourTexture = texture(from, {aiTextureType_BASE_COLOR, aiTextureType_DIFFUSE});
    m.metalRoughTexture = texture(from, {aiTextureType_UNKNOWN, aiTextureType_METALNESS});
    m.normalTexture = texture(from, {aiTextureType_NORMALS});
    // Many programs name a picture of normals where one of heights is meant to be.
    if (m.normalTexture < 0)
      if (const int bump = texture(from, {aiTextureType_HEIGHT});
          bump >= 0 && holdsNormals(model_.textures[size_t(bump)]))
        m.normalTexture = bump;
    m.emissionTexture = texture(from, {aiTextureType_EMISSION_COLOR, aiTextureType_EMISSIVE});
    // Without the picture of what glows, the whole part would.
    if (m.emissionTexture < 0 &&
        from.GetTextureCount(aiTextureType_EMISSION_COLOR) + from.GetTextureCount(aiTextureType_EMISSIVE) > 0)
      m.emission = Vec3f(0);
    return m;
  }

  int texture(const aiMaterial& from, std::initializer_list<aiTextureType> kinds) {
    for (const aiTextureType kind : kinds) {
      aiString path;
      if (from.GetTextureCount(kind) == 0 || from.GetTexture(kind, 0, &path) != aiReturn_SUCCESS) continue;
      if (const UvPlace place = placeOf(from, kind); !place_)
        place_ = place;
      else if (place != *place_)
        continue;
      const std::string name = path.C_Str();
      const auto [at, fresh] = read_.emplace(name, -1);
      if (fresh)
        if (auto picture = load(name)) {  // one that is missing or damaged leaves the plain colour
          at->second = int(model_.textures.size());
          model_.textures.push_back(std::move(*picture));
        }
      return at->second;
    }
    return -1;
  }

  static UvPlace placeOf(const aiMaterial& from, aiTextureType kind) {
    int set = 0;
    from.Get(AI_MATKEY_UVWSRC(kind, 0), set);
    aiUVTransform t;  // nothing moved
    from.Get(AI_MATKEY_UVTRANSFORM(kind, 0), t);
    return UvPlace::of(set, {t.mScaling.x, t.mScaling.y}, t.mRotation, {t.mTranslation.x, t.mTranslation.y},
                       0.5f);
  }

  Result<FileTexture> load(const std::string& name) {
    const aiTexture* inside = scene_.GetEmbeddedTexture(name.c_str());
    if (!inside) {
      const auto file = sides_.find(name);
      if (!file) return Error{name + " is not there.", ErrorKind::unreadable};
      auto picture = readTexture(*file);
      if (!picture) sides_.noteUnread(name);
      return picture;
    }
    if (inside->mHeight == 0)
      return readTexture({reinterpret_cast<const char*>(inside->pcData), inside->mWidth}, name);
    FileTexture plain{name, int(inside->mWidth), int(inside->mHeight), {}};
    for (size_t i = 0; i < size_t(inside->mWidth) * inside->mHeight; ++i) {
      const aiTexel& t = inside->pcData[i];
      plain.rgba.insert(plain.rgba.end(), {t.r, t.g, t.b, t.a});
    }
    return plain;
  }

  const aiScene& scene_;
  SideFiles& sides_;
  Model& model_;
  std::map<std::string, int> read_;
  std::optional<UvPlace> place_;  // of the first texture of the material that is read
  std::vector<UvPlace> places_;
  std::optional<GltfMaterials> gltf_;
};

}  // namespace

std::vector<UvPlace> readMaterials(const aiScene& scene, SideFiles& sides, const GltfFile* gltf,
                                   Model& model) {
  return Materials(scene, sides, gltf, model).places();
}

}  // namespace dusk
