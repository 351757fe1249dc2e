#pragma once
#include "core/base/maths.h"

namespace dusk {

/// Reflectance of a base whose own is `base` at normal incidence, under a film of that thickness and index,
/// as one normal-incidence reflectance per channel that goes on to grazing angles by a `rise` (see
/// fresnel.h), which is given at that cosine. Belcour & Barla 2017,
/// "A Practical Extension to Microfacet Theory for the Modeling of Varying Iridescence", in the form of the
/// glTF 2.0 extension KHR_materials_iridescence.
Rgb filmedReflectance(const Rgb& base, float filmNm, float filmIor, float cosine, float rise);

}  // namespace dusk
