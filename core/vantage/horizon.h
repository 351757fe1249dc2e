#pragma once
#include "core/project/vantage.h"

namespace dusk {

/// The ground's horizon in the camera's picture, without the lens's bend: a, b, c with a x + b y + c above 0
/// below it, growing with how many pixels a metre of the ground takes there; all 0 where there is none.
Vec3d groundHorizon(const Vantage& vantage);

}  // namespace dusk
