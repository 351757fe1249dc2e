#pragma once
#include "core/base/maths.h"

namespace dusk {

/// What a cloud sends on at an angle whose cosine is given, per steradian; also the density of `samplePhase`.
/// `g`: mean cosine. Henyey & Greenstein 1941, "Diffuse Radiation in the Galaxy".
inline float phaseValue(float cosine, float g) {
  const float d = 1 + g * g - 2 * g * cosine;
  return (1 - g * g) / (4 * pif * d * std::sqrt(std::max(1e-12f, d)));
}

/// A direction that light going along `onwards` is scattered to.
inline Vec3f samplePhase(const Vec3f& onwards, float g, const Vec2f& u) {
  const float s = (1 - g * g) / (1 - g + 2 * g * u.x);
  const float z = std::clamp(std::abs(g) < 1e-3f ? 1 - 2 * u.x : (1 + g * g - s * s) / (2 * g), -1.0f, 1.0f);
  const float r = std::sqrt(std::max(0.0f, 1 - z * z)), phi = 2 * pif * u.y;
  return triadAround(onwards).toWorld({r * std::cos(phi), r * std::sin(phi), z}).normalized();
}

}  // namespace dusk
