#pragma once
#include "core/base/maths.h"

/// The sheen lobe of KHR_materials_sheen (glTF 2.0): Estevez & Kulla 2017, "Production Friendly Microfacet
/// Sheen BRDF", with the visibility of Ashikhmin & Premoze 2007, "Distribution-based BRDFs".
namespace dusk::sheen {

/// Value times cos of `wi` for a sheen colour of one.
inline float value(const Vec3f& wo, const Vec3f& wi, const Vec3f& h, float alpha) {
  const float sine = std::sqrt(std::max(0.0f, 1 - h.z * h.z));
  const float d = (2 + 1 / alpha) * std::pow(sine, 1 / alpha) / (2 * pif);
  return d * wi.z / (4 * std::max(1e-4f, wo.z + wi.z - wo.z * wi.z));
}
/// What comes back towards cos(theta) = `cosine` of an even sky; from a table integrated once at first use.
float albedo(float cosine, float alpha);

}  // namespace dusk::sheen
