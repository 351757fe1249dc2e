#pragma once
#include <optional>
#include <vector>

#include "core/project/vantage.h"

namespace dusk {

/// A spot of the ground that something stands on, and how far that reaches from it.
struct TakenSpot {
  Vec2d at;
  double radiusM = 0;
};

/// Where on the ground a thing of that true size is first put: where it is seen whole and about a third as
/// tall as the picture, or as near to that as the ground in the picture allows; below the picture's middle,
/// else beside what stands there. Nothing where the camera sees no ground.
std::optional<Vec2d> firstSpot(const Camera& camera, const Vec3d& sizeM,
                               const std::vector<TakenSpot>& taken = {});

}  // namespace dusk
