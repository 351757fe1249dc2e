#pragma once
#include "core/trace/fresnel.h"

/// The GGX microfacet distribution with the Smith shadowing of correlated heights, in the local frame (z =
/// normal).
namespace dusk::ggx {

inline float d(const Vec3f& h, float alphaX, float alphaY) {
  const float x = h.x / alphaX, y = h.y / alphaY, c = x * x + y * y + h.z * h.z;
  return 1 / (pif * alphaX * alphaY * c * c);
}
inline float lambda(const Vec3f& w, float alphaX, float alphaY) {
  const float x = alphaX * w.x, y = alphaY * w.y;
  return (std::sqrt(1 + (x * x + y * y) / std::max(w.z * w.z, 1e-12f)) - 1) / 2;
}
inline float g1(const Vec3f& w, float alphaX, float alphaY) { return 1 / (1 + lambda(w, alphaX, alphaY)); }
inline float g2(const Vec3f& wo, const Vec3f& wi, float alphaX, float alphaY) {
  return 1 / (1 + lambda(wo, alphaX, alphaY) + lambda(wi, alphaX, alphaY));
}

/// A half vector drawn from the normals visible from `wo` (wo.z > 0).
/// Heitz 2018, "Sampling the GGX Distribution of Visible Normals".
inline Vec3f sampleVisible(const Vec3f& wo, float alphaX, float alphaY, const Vec2f& u) {
  const Vec3f v = Vec3f(alphaX * wo.x, alphaY * wo.y, wo.z).normalized();
  const float length2 = v.x * v.x + v.y * v.y;
  const Vec3f t1 = length2 > 1e-12f ? Vec3f(-v.y, v.x, 0) / std::sqrt(length2) : Vec3f(1, 0, 0);
  const Vec3f t2 = v.cross(t1);
  const float r = std::sqrt(u.x), phi = 2 * pif * u.y, x = r * std::cos(phi), s = (1 + v.z) / 2;
  const float y = (1 - s) * std::sqrt(std::max(0.0f, 1 - x * x)) + s * r * std::sin(phi);
  const Vec3f n = t1 * x + t2 * y + v * std::sqrt(std::max(0.0f, 1 - x * x - y * y));
  return Vec3f(alphaX * n.x, alphaY * n.y, std::max(1e-6f, n.z)).normalized();
}
/// Density of `sampleVisible` over half vectors.
inline float pdfVisible(const Vec3f& wo, const Vec3f& h, float alphaX, float alphaY) {
  return g1(wo, alphaX, alphaY) * std::max(0.0f, wo.dot(h)) * d(h, alphaX, alphaY) / std::max(wo.z, 1e-6f);
}

/// Directional albedo of the lobe under a reflectance of that rise is `F0 * scale + F90 * bias`.
struct Albedo {
  float scale = 1, bias = 0;
  float whole() const { return scale + bias; }
};
/// At cos(theta) = `cosine`; from a table integrated once at first use.
Albedo albedo(float cosine, float alpha, const RiseTerms& rise);
/// Cosine-weighted mean over the hemisphere.
Albedo meanAlbedo(float alpha, const RiseTerms& rise);

}  // namespace dusk::ggx
