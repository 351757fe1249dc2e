#pragma once
#include "core/project/surface.h"
#include "core/surface/mapping.h"
#include "core/surface/parameters.h"

namespace dusk {

/// Metal or pearl flakes in a lacquer: each lies a little askew below the even coat, and shines for itself as
/// long as one look tells it from its neighbours; from afar all are one sheen that is as wide as their tilt.
class Flakes {
 public:
  explicit Flakes(const Surface& surface);
  /// Over what is there; gives by how much the normal leans there, in the site's frame. The coat keeps the
  /// normal as it comes (world), if it has none of its own.
  Vec3f over(const Site& site, const Vec3f& normal, BsdfParameters& out) const;

 private:
  float cover_, sizeMm_, tilt_;
  Rgb colour_;
};

}  // namespace dusk
