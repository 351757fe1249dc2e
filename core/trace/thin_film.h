#pragma once
#include "core/base/maths.h"

namespace dusk {

/// Reflectance of a base whose own is `base` at normal incidence, under a film of that thickness and index,
/// as one normal-incidence reflectance per channel that Schlick's curve goes on from. Belcour & Barla 2017,
/// "A Practical Extension to Microfacet Theory for the Modeling of Varying Iridescence", in the form of the
/// glTF 2.0 extension KHR_materials_iridescence.
Rgb filmedReflectance(const Rgb& base, float filmNm, float filmIor, float cosine);

}  // namespace dusk
