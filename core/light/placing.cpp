#include "core/light/placing.h"

#include "core/project/lamp_kinds.h"

namespace dusk {
namespace {

/// The lamp in the direction `to` from `from`: a sun turned, any other hung as far away as it was.
std::optional<Lamp> lampTowards(const Shot& shot, Lamp lamp, const Vec3d& from, const Vec3d& to) {
  if (isDistant(lamp)) {
    if (to.z < std::sin(radians(-10))) return {};
    lamp.azimuthDegrees = degrees(std::atan2(to.x, to.y));
    lamp.elevationDegrees = degrees(std::asin(std::clamp(to.z, -1.0, 1.0)));
    return lamp;
  }
  const double away = std::max(0.05, (lamp.positionM - from).length());
  const Vec3d at = from + to * away;
  if (at.z < 0) return {};
  lamp.positionM = at;
  if (!byId(shot.placements, lamp.aimedAt)) lamp.targetM = from;
  return lamp;
}

}  // namespace

std::optional<Lamp> lampMirroredAt(const Shot& shot, const Lamp& lamp, const Vec3d& point,
                                   const Vec3d& normal, const Vec3d& eye) {
  const Vec3d view = (eye - point).normalized();
  const double facing = view.dot(normal);
  if (facing <= 0.01) return {};
  return lampTowards(shot, lamp, point, (normal * (2 * facing) - view).normalized());
}

std::optional<Lamp> lampCasting(const Shot& shot, const Lamp& lamp, const Vec3d& top, const Vec3d& tip) {
  if (top.z - tip.z < 1e-4) return {};
  return lampTowards(shot, lamp, top, (top - tip).normalized());
}

}  // namespace dusk
