#include "core/trace/textured.h"

#include <array>

#include "core/base/srgb.h"
#include "core/trace/compile.h"
#include "core/trace/texel.h"

namespace dusk {
namespace {

/// sRGB code values to light (IEC 61966-2-1).
const std::array<float, 256>& lightOfCode() {
  static const auto table = [] {
    std::array<float, 256> t;
    for (int i = 0; i < 256; ++i) t[size_t(i)] = srgbDecoded(float(i) / 255);
    return t;
  }();
  return table;
}

Vec3f lightOf(const uint8_t* t) { return {lightOfCode()[t[0]], lightOfCode()[t[1]], lightOfCode()[t[2]]}; }
Vec3f sharesOf(const uint8_t* t) { return Vec3f(t[0], t[1], t[2]) / 255.0f; }

}  // namespace

const FileTexture* TexturedMaterial::texture(int index) const {
  return index < 0 ? nullptr : &model_->textures[size_t(index)];
}

TexturedMaterial::TexturedMaterial(std::shared_ptr<const Model> model, int material)
    : model_(std::move(model)) {
  const FileMaterial& m = model_->materials[size_t(material)];
  plain_ = parametersOf(surfaceFromFile(m));
  colour_ = texture(m.colourTexture), metalRough_ = texture(m.metalRoughTexture);
  normal_ = texture(m.normalTexture);
}

void TexturedMaterial::at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const {
  out = plain_;
  if (!std::isfinite(point.uv.x) || !std::isfinite(point.uv.y)) return;
  if (colour_) out.base *= sampled(*colour_, point.uv, lightOf);
  if (metalRough_) {
    const Vec3f share = sampled(*metalRough_, point.uv, sharesOf);
    out.roughness *= share.y, out.metalness *= share.z;
  }
  if (!normal_ || point.alongU.length2() == 0) return;
  const Vec3f bend = sampled(*normal_, point.uv, sharesOf) * 2.0f - Vec3f(1, 1, 1);
  const Vec3f u = (point.alongU - normal * normal.dot(point.alongU)).normalized();
  Vec3f v = normal.cross(u);
  if (v.dot(point.alongV) < 0) v = -v;
  const Vec3f bent = u * bend.x + v * bend.y + normal * std::max(bend.z, 0.05f);
  if (bent.length2() > 0) normal = bent.normalized();
}

}  // namespace dusk
