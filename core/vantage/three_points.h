#pragma once
#include <array>
#include <vector>

#include "core/base/maths.h"

namespace dusk::vantage {

/// A camera's pose from three points seen along known directions.
struct Pose {
  Triadd axes;  ///< the camera's axes in the world
  Vec3d position{0, 0, 0};
};

/// Up to four poses from which the world points `world` are seen along the unit rays `rays` (camera's frame).
/// Empty for points on one line. Grunert 1841, "Das Pothenotische Problem in erweiterter Gestalt", in the
/// form of Haralick et al. 1994, "Review and analysis of solutions of the three point perspective pose
/// estimation problem".
std::vector<Pose> posesOfThreePoints(const std::array<Vec3d, 3>& world, const std::array<Vec3d, 3>& rays);

}  // namespace dusk::vantage
