#pragma once
#include "core/base/result.h"
#include "core/light/lights.h"
#include "core/picture/picture.h"
#include "core/project/project.h"

namespace dusk {

/// A level place of the photo as seen from straight above, at true size.
struct Flattened {
  Picture colour;      ///< scene-linear base colour, 0 to 1; its lower border is the one nearest the camera
  Vec2d sizeMm{0, 0};  ///< width, height
  Vec3d middleM{0, 0, 0};
  bool isLit = false;  ///< what lights the place there is known, and was taken out
};

/// Takes what lies within a frame of the photo, two corners in pixels, off the level `heightM`: the largest
/// rectangle there that is wholly in the frame, its sides along and across the way the camera looks, in as
/// many pixels as the photo has for its nearest part. The light of the shot is taken out of it - a matte
/// ground that returns pi times its radiance over its irradiance - and so is what of it rises evenly from one
/// side to the other; where there is no light yet, what is brightest becomes a pale grey. Error, in a
/// sentence: above the horizon, too small, or so far away that hardly a pixel is left.
Result<Flattened> flattened(const Picture& plate, const Camera& camera, const Lights* lights, double heightM,
                            const Vec2d& corner, const Vec2d& opposite);

}  // namespace dusk
