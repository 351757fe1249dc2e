#pragma once
#include <optional>

#include "core/base/maths.h"
#include "core/picture/picture.h"

/// How much light a lens lost towards the corners, read from one photo.
namespace dusk {

struct VignetteFound {
  Vec3d look{0, 0, 0};  ///< light is multiplied by 1 + x r² + y r⁴ + z r⁶, r = 1 at the corner (LensLook)
  double loss = 0;      ///< share of light lost at the corner
  double margin = 0;    ///< its one sigma
};
/// Of a photo in scene light. What lies in a place brightens and darkens any way; what a lens loses falls
/// with the distance from the middle alone, and along it alone (Zheng, Yu, Kang, Lin, Kambhamettu 2008,
/// "Single-Image Vignetting Correction Using Radial Gradient Symmetry"). Slopes of even blocks, outward and
/// across, are fitted by the loss's own shape and, for each region without an edge in it, one slope of light
/// of its own; robustly. Nothing where too few places are even. The margin is from sectors left out in turn;
/// a loss within two of it is none.
std::optional<VignetteFound> measureVignette(const Picture& light);

}  // namespace dusk
