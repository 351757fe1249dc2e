#include "core/product/specular_glossiness.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/srgb.h"

namespace dusk {
namespace {

constexpr float plastic = 0.04f;  // what everything mirrors that is no metal

float brightness(const Vec3f& c) {
  return std::sqrt(0.299f * c.x * c.x + 0.587f * c.y * c.y + 0.114f * c.z * c.z);
}

uint8_t code(float value) { return uint8_t(std::lround(255 * std::clamp(value, 0.0f, 1.0f))); }

/// A texture looked up at the middle of pixels of another size; white without one.
class Texels {
 public:
  Texels(const Model& model, int texture) : from_(texture < 0 ? nullptr : &model.textures[size_t(texture)]) {
    for (size_t i = 0; i < 256; ++i) linear_[i] = srgbDecoded(float(i) / 255);
  }
  int width() const { return from_ ? from_->width : 0; }
  int height() const { return from_ ? from_->height : 0; }
  /// Linear, with alpha.
  std::pair<Vec3f, float> at(int x, int y, int width, int height) const {
    if (!from_) return {Vec3f(1), 1.0f};
    const auto within = [](int i, int of, int size) { return size_t(int64_t(2 * i + 1) * size / (2 * of)); };
    const uint8_t* t = &from_->rgba[4 * (within(y, height, from_->height) * size_t(from_->width) +
                                         within(x, width, from_->width))];
    return {{linear_[t[0]], linear_[t[1]], linear_[t[2]]}, float(t[3]) / 255};
  }

 private:
  const FileTexture* from_;
  std::array<float, 256> linear_;
};

}  // namespace

BaseAndMetalness baseAndMetalness(const Vec3f& diffuse, const Vec3f& specular) {
  const float left = 1 - maxComponent(specular), d = brightness(diffuse), s = brightness(specular);
  float metalness = 0;
  if (s >= plastic) {
    const float b = d * left / (1 - plastic) + s - 2 * plastic, c = plastic - s;
    metalness =
        std::clamp((-b + std::sqrt(std::max(0.0f, b * b - 4 * plastic * c))) / (2 * plastic), 0.0f, 1.0f);
  }
  const Vec3f ofDiffuse = diffuse * (left / (1 - plastic) / std::max(1 - metalness, 1e-4f)),
              ofSpecular = (specular - Vec3f(plastic * (1 - metalness))) / std::max(metalness, 1e-4f);
  Vec3f base = ofDiffuse + (ofSpecular - ofDiffuse) * (metalness * metalness);
  for (int i = 0; i < 3; ++i) base[i] = std::clamp(base[i], 0.0f, 1.0f);
  return {base, metalness};
}

void convert(const SpecularGlossiness& from, FileMaterial& to, Model& model) {
  to.hasColour = true;
  if (from.diffuseTexture < 0 && from.specularTexture < 0) {
    const auto [base, metalness] = baseAndMetalness(from.diffuse, from.specular);
    to.colour = base, to.metalness = metalness, to.roughness = 1 - from.glossiness;
    return;
  }
  const Texels diffuse(model, from.diffuseTexture), specular(model, from.specularTexture);
  const int width = std::max(diffuse.width(), specular.width()),
            height = std::max(diffuse.height(), specular.height());
  const std::string name =
      model.textures[size_t(from.diffuseTexture < 0 ? from.specularTexture : from.diffuseTexture)].name;
  FileTexture colour{name + " as base colour", width, height, {}},
      metalRough{name + " as metalness and roughness", width, height, {}};
  colour.rgba.reserve(size_t(width) * size_t(height) * 4), metalRough.rgba.reserve(colour.rgba.capacity());
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      const auto [d, alpha] = diffuse.at(x, y, width, height);
      const auto [s, gloss] = specular.at(x, y, width, height);
      const auto [base, metalness] = baseAndMetalness(d * from.diffuse, s * from.specular);
      for (int c = 0; c < 3; ++c) colour.rgba.push_back(code(srgbEncoded(base[c])));
      colour.rgba.push_back(code(alpha));
      for (const float v : {1.0f, 1 - gloss * from.glossiness, metalness, 1.0f})
        metalRough.rgba.push_back(code(v));
    }
  to.colour = Vec3f(1), to.metalness = to.roughness = 1;
  to.colourTexture = int(model.textures.size()), to.metalRoughTexture = to.colourTexture + 1;
  model.textures.push_back(std::move(colour)), model.textures.push_back(std::move(metalRough));
}

}  // namespace dusk
