#pragma once
#include "core/project/project.h"

/// Level planes besides the ground, found through a solved camera.
namespace dusk {

/// Height above the ground of what is seen at `top`, straight over what is seen on the ground at `foot`.
/// Nothing where the foot is not on the ground or the camera looks straight down on both.
std::optional<double> heightOver(const Camera& camera, const Vec2d& foot, const Vec2d& top);

/// The same over a known point: how far straight over `foot` (or under it) the line of sight through `top`
/// passes. Nothing where the camera looks straight down along it.
std::optional<double> heightOverFoot(const Camera& camera, const Vec3d& foot, const Vec2d& top);

/// Height of the level plane in which the corners span a rectangle of the size `sizeM` (either way around);
/// nothing where that fits no plane under the camera, or fits so badly (by more than a tenth) that it is not
/// what the person meant.
std::optional<double> heightOfRectangle(const Camera& camera, const std::array<Vec2d, 4>& corners,
                                        const Vec2d& sizeM);

}  // namespace dusk
