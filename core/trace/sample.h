#pragma once
#include <algorithm>

#include "core/light/lights.h"

namespace dusk {

/// The product's light by what the first surface did to it, and whether it came straight from a light.
/// Together they are the beauty.
enum Component {
  diffuseDirect,
  diffuseIndirect,
  specularDirect,
  specularIndirect,
  transmissionDirect,
  transmissionIndirect,
  emission,
  componentCount
};
/// Their names in files and on screen.
inline constexpr const char* componentNames[componentCount] = {
    "diffuse_direct",      "diffuse_indirect",      "specular_direct", "specular_indirect",
    "transmission_direct", "transmission_indirect", "emission"};

/// What light of one group does in one camera sample.
struct GroupLight {
  Rgb part[componentCount];  ///< from the product
  Rgb with, without;         ///< on the ground with and without the product, by the same random numbers
  Rgb mirror;                ///< change of what a glossy ground mirrors
};

/// Sets all of `count` groups to zero.
inline void clear(GroupLight* light, size_t count) {
  std::fill_n(reinterpret_cast<float*>(light), count * sizeof(GroupLight) / sizeof(float), 0.0f);
}

/// What one camera sample saw. Sums over samples make a film's pixel.
struct PixelSample {
  explicit PixelSample(int groups) : groups(groups) { clear(light, size_t(groups)); }
  int groups;
  GroupLight light[Lights::maxGroups];
  float alpha = 0;  ///< cover by the product
  unsigned instance = 0, part = 0;
  Rgb diffuse{0, 0, 0}, specular{0, 0, 0};  ///< albedos
  float passed = 0;     ///< 1 where light came through the glass in front, or was mirrored by the ground
  Rgb behind{0, 0, 0};  ///< albedo of what shows there; of the place in a mirror none
  Vec3f normal{0, 0, 0}, position{0, 0, 0};
  float depth = 0;      ///< along the optical axis, metres
  float facing = 0;     ///< cosine between normal and view
  float occlusion = 0;  ///< share of the near surroundings that is free

  Rgb beauty() const {
    Rgb sum(0, 0, 0);
    for (int g = 0; g < groups; ++g)
      for (const Rgb& part : light[g].part) sum += part;
    return sum;
  }
  Rgb with() const { return total(&GroupLight::with); }
  Rgb without() const { return total(&GroupLight::without); }
  Rgb mirror() const { return total(&GroupLight::mirror); }

 private:
  Rgb total(Rgb GroupLight::*which) const {
    Rgb sum(0, 0, 0);
    for (int g = 0; g < groups; ++g) sum += light[g].*which;
    return sum;
  }
};

}  // namespace dusk
