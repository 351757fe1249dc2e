#pragma once
#include "core/assets/asset_store.h"

namespace dusk {

/// Something upright whose foot, height and width are known: what may throw a shadow in the photo.
struct UprightThing {
  Vec3d foot{0, 0, 0};  ///< its middle, on the ground
  double heightM = 0;
  Vec2d widthM{0, 0};  ///< along its own x and y
  double turnDegrees = 0;
  bool isWidthKnown = true;
};

/// A shadow found in the photo.
struct FoundShadow {
  Vec3d foot{0, 0, 0}, top{0, 0, 0}, tip{0, 0, 0};  ///< of what throws it most clearly, and where it ends
  double azimuthDegrees = 0, elevationDegrees = 0;  ///< of what throws it
  double deepEv = 0;                                ///< by so much it is darker than the ground beside it
};

/// What of a shot's evidence stands upright on the ground: stand-ins, heights and upright strokes whose lower
/// end is on it.
std::vector<UprightThing> uprightThings(const Shot& shot);

/// Looks for the one direction of light in which the ground (scene-linear `light`, as seen by `camera`) is
/// darker along every thing's shadow than on either side of it, as far as that reaches and no farther, and in
/// no other: pixels are told to be shadow by their ratio to like ground beside them, as Lalonde, Efros &
/// Narasimhan 2010, "Detecting Ground Shadows in Outdoor Consumer Photographs". Nothing where that is not
/// clear.
std::optional<FoundShadow> findShadow(const Picture& light, const Camera& camera,
                                      const std::vector<UprightThing>& things);

/// The same in a shot's photo, as one would mark it. Error, in a sentence: nothing upright is known, or no
/// shadow is clear.
Result<Gnomon> findGnomon(const Shot& shot, AssetStore& assets);

}  // namespace dusk
