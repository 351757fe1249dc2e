#pragma once
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/picture/picture.h"

/// Panoramas out of other pictures, and what is done to their light before it is used. All scene-linear,
/// equirectangular as in Panorama.
namespace dusk {

/// The panorama with its clipped light guessed: what is near the top of an 8-bit file's range is raised, up
/// to `ev` EV at white, so that lamps and the sun light again. It is an estimate: the file does not tell.
Picture withGuessedRange(const Picture& panorama, double ev);

/// Smoothed on the sphere by a Gaussian of this standard deviation, at no more pixels than that needs.
Picture blurredPanorama(const Picture& panorama, double degrees);

/// A photo of a mirror ball, from afar: where the ball is in it, and which way its camera looked.
struct BallPhoto {
  Picture light;           ///< scene-linear
  Vec2d centre{0, 0};      ///< of the ball, pixels
  double radius = 0;       ///< pixels
  double lookDegrees = 0;  ///< clockwise from +Y
};
/// Where the ball is: the strongest circle that fills at least a third of the picture's height. Error: none.
Result<BallPhoto> findBall(const Picture& light);
/// The light all round, unwrapped from one photo of a mirror ball or several from different sides (Debevec
/// 1998, "Rendering Synthetic Objects into Real Scenes"). Where several see a direction, each counts by how
/// large it shows it. What lies right behind the only ball is drawn out of its rim. Error: no photo, no
/// radius.
Result<Picture> fromBalls(const std::vector<BallPhoto>& photos, int width, const Progress& progress);

/// A pair of round fisheye pictures, equidistant, looking along +Y and back, each as wide as the picture is
/// high and `fovDegrees` across; joined softly where both see. Error: sizes that differ, a field under 180.
Result<Picture> fromFisheyes(const Picture& front, const Picture& back, double fovDegrees, int width,
                             const Progress& progress);

}  // namespace dusk
