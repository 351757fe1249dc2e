#pragma once
#include "core/picture/picture.h"

namespace dusk::demo {

/// A clear evening sky with thin cloud and a hazy far shore, without the sun's disc: equirectangular,
/// scene-linear. `sun` points to it. Preetham, Shirley & Smits 1999, "A Practical Analytic Model for
/// Daylight"; the scale is ours.
Picture eveningSky(int width, const Vec3f& sun);

}  // namespace dusk::demo
