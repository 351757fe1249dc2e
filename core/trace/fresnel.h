#pragma once
#include <array>

#include "core/base/maths.h"

namespace dusk {

/// Reflectance of a clean dielectric boundary, unpolarised; `cosine` on the side the light comes from, `eta`
/// = index there over index beyond. 1 at total reflection.
float dielectricReflectance(float cosine, float eta);
/// The same at normal incidence, from outside.
inline float normalReflectance(float ior) { return (ior - 1) * (ior - 1) / ((ior + 1) * (ior + 1)); }

/// A reflectance goes from F0 at normal incidence to F90 at grazing: F0 + (F90 - F0) * rise(cosine).
/// That of metals: Schlick 1994, "An Inexpensive BRDF Model for Physically-based Rendering".
inline float schlickRise(float cosine) {
  const float m = 1 - std::clamp(cosine, 0.0f, 1.0f), m2 = m * m;
  return m2 * m2 * m;
}
template <typename Light>
Light schlickReflectance(const Light& f0, float cosine) {
  return f0 + (Light(1) - f0) * schlickRise(cosine);
}
/// That of dielectrics, exactly; of index 1: none.
float dielectricRise(float cosine, float ior);

/// Curves of which every rise is a sum, as far as integrals of it go: (1 - c)^5, c (1 - c)^3, c (1 - c)^5 and
/// c (1 - c)^8. After Lazányi & Szirmay-Kalos 2005, "Fresnel Term Approximations for Metals", with more
/// terms.
inline constexpr int riseTerms = 4;
using RiseTerms = std::array<float, riseTerms>;
RiseTerms riseTermsAt(float cosine);
/// How much of each makes up Schlick's rise, and that of a dielectric: within a fiftieth of its reflectance.
inline constexpr RiseTerms schlickTerms{1, 0, 0, 0};
RiseTerms dielectricTerms(float ior);

}  // namespace dusk
