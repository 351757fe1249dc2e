#pragma once
#include "core/trace/scene.h"

namespace dusk {

/// The base colour with which a surface on a spot of the place, lit as that spot is, looks as the photo does
/// there. It holds as far as the scene's light is that of the photo, the place's shape there is known, and
/// nothing else of the photo keeps light from the spot.
struct LitColour {
  Rgb base{0, 0, 0};    ///< scene-linear; more than 1 where the photo is brighter than white would be
  Rgb sigma{0, 0, 0};   ///< of what chance left in it
  Vec3f point, normal;  ///< world
  float bySun = 0;      ///< share of the light that comes from suns: a shadow's border matters by so much
  bool isPossible() const { return std::max({base.x, base.y, base.z}) <= 1.05f && minimum() >= 0; }
  float minimum() const { return std::min({base.x, base.y, base.z}); }
};

/// For a surface that is otherwise like `like`. `pixel`: of the whole photo; `seen`: what it shows there,
/// scene-linear. Nothing where no surface of the place is known.
std::optional<LitColour> colourAsLit(const Scene& scene, const BsdfParameters& like, const Vec2d& pixel,
                                     const Rgb& seen);

}  // namespace dusk
