#pragma once
#include <optional>

#include "core/project/project.h"

/// Lamps placed by what they do in the picture, not by where they hang.
namespace dusk {

/// The lamp moved so that its middle is mirrored at `point` (unit `normal` on the eye's side) towards `eye`:
/// a sun by its two angles, any other by where it hangs, as far from the point as before, turned to it unless
/// it is aimed at a product. Nothing where it would have to be behind the surface, or under the ground.
std::optional<Lamp> lampMirroredAt(const Shot& shot, const Lamp& lamp, const Vec3d& point,
                                   const Vec3d& normal, const Vec3d& eye);

/// The lamp moved so that `top` throws its shadow onto `tip`. Nothing where the tip is not below the top.
std::optional<Lamp> lampCasting(const Shot& shot, const Lamp& lamp, const Vec3d& top, const Vec3d& tip);

}  // namespace dusk
