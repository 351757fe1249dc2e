#pragma once
#include <functional>

#include "core/project/surface.h"
#include "core/surface/mapping.h"
#include "core/surface/parameters.h"

namespace dusk {

/// Metal or pearl flakes in a lacquer: each lies a little askew below the even coat, and shines for itself as
/// long as one look tells it from its neighbours; from afar all are one sheen that is as wide as their tilt.
class Flakes {
 public:
  explicit Flakes(const Surface& surface);
  /// Over what is there. `toWorld`: directions from the frame of the site. The coat keeps the normal as it
  /// comes, if it has none of its own.
  void over(const Site& site, const std::function<Vec3f(const Vec3f&)>& toWorld, BsdfParameters& out,
            Vec3f& normal) const;

 private:
  float cover_, sizeMm_, tilt_;
  Rgb colour_;
};

}  // namespace dusk
