#include "core/light/lamp_look.h"

#include "core/light/lights.h"
#include "core/project/lamp_kinds.h"

namespace dusk {

LampLook lookOf(const Lamp& lamp, const Shot& shot, const Vec3d& spot) {
  if (isDistant(lamp)) return {spot + toDouble(sunDirection(lamp)) * 3.0, spot};
  return {lamp.positionM, targetOf(shot, lamp)};
}

void setLook(Lamp& lamp, const Shot& shot, const LampLook& look) {
  const Vec3d towards = look.eye - look.target;
  const double away = towards.length();
  if (!(away > 1e-6)) return;
  if (isDistant(lamp)) {
    lamp.azimuthDegrees = wrapDegrees(degrees(std::atan2(towards.x, towards.y)));
    lamp.elevationDegrees = degrees(std::asin(std::clamp(towards.z / away, -1.0, 1.0)));
    return;
  }
  lamp.positionM = look.eye;
  lamp.targetM += look.target - targetOf(shot, lamp);
}

}  // namespace dusk
