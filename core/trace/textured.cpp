#include "core/trace/textured.h"

#include <array>

#include "core/trace/compile.h"

namespace dusk {
namespace {

/// sRGB code values to light (IEC 61966-2-1).
const std::array<float, 256>& lightOfCode() {
  static const auto table = [] {
    std::array<float, 256> t;
    for (int i = 0; i < 256; ++i) {
      const float v = float(i) / 255;
      t[size_t(i)] = v <= 0.04045f ? v / 12.92f : std::pow((v + 0.055f) / 1.055f, 2.4f);
    }
    return t;
  }();
  return table;
}

/// Bilinear, repeating; v = 0 is the picture's lower edge. `decode` turns a code value into what it means.
template <typename Decode>
Vec3f sampled(const FileTexture& t, const Vec2f& uv, const Decode& decode) {
  const float x = (uv.x - std::floor(uv.x)) * float(t.width) - 0.5f,
              y = (1 - (uv.y - std::floor(uv.y))) * float(t.height) - 0.5f;
  const float fx = std::floor(x), fy = std::floor(y), ax = x - fx, ay = y - fy;
  Vec3f sum(0, 0, 0);
  for (int k = 0; k < 4; ++k) {
    const int px = (int(fx) + (k & 1) + t.width) % t.width, py = (int(fy) + (k >> 1) + t.height) % t.height;
    const uint8_t* texel = &t.rgba[(size_t(py) * size_t(t.width) + size_t(px)) * 4];
    const float share = (k & 1 ? ax : 1 - ax) * (k >> 1 ? ay : 1 - ay);
    sum += Vec3f(decode(texel[0]), decode(texel[1]), decode(texel[2])) * share;
  }
  return sum;
}

float plainShare(uint8_t code) { return float(code) / 255; }

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
  if (colour_) out.base *= sampled(*colour_, point.uv, [](uint8_t c) { return lightOfCode()[c]; });
  if (metalRough_) {
    const Vec3f share = sampled(*metalRough_, point.uv, plainShare);
    out.roughness *= share.y, out.metalness *= share.z;
  }
  if (!normal_ || point.alongU.length2() == 0) return;
  const Vec3f bend = sampled(*normal_, point.uv, plainShare) * 2.0f - Vec3f(1, 1, 1);
  const Vec3f u = (point.alongU - normal * normal.dot(point.alongU)).normalized();
  Vec3f v = normal.cross(u);
  if (v.dot(point.alongV) < 0) v = -v;
  const Vec3f bent = u * bend.x + v * bend.y + normal * std::max(bend.z, 0.05f);
  if (bent.length2() > 0) normal = bent.normalized();
}

}  // namespace dusk
