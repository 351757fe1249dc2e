#pragma once
#include <span>

#include "core/project/surface.h"
#include "core/surface/parameters.h"

namespace dusk {

/// Where a value of a surface is, in the document and ready for light: a number or a colour.
struct ValuePlace {
  SurfaceValue value;
  double Surface::*number;
  float BsdfParameters::*share;
  Vec3d Surface::*colour;
  Rgb BsdfParameters::*light;
  float most;  ///< what feeds may bring it to
};
std::span<const ValuePlace> valuePlaces();
/// nullptr for heights and normals, which are feeds alone.
const ValuePlace* placeOf(SurfaceValue value);
/// The value below all feeds; a number three times.
Vec3d groundOf(const Surface& surface, SurfaceValue value);

}  // namespace dusk
