#include "core/vantage/frame.h"

#include "core/vantage/camera.h"

namespace dusk {

Vec3d GroundMove::direction(const Vec3d& d) const {
  const double c = std::cos(turn), s = std::sin(turn);
  return {c * d.x - s * d.y, s * d.x + c * d.y, d.z};
}

Vec3d GroundMove::point(const Vec3d& p) const { return direction(p) + Vec3d(shift.x, shift.y, 0); }

Camera moved(const Camera& camera, const GroundMove& move) {
  Camera c = camera;
  c.position = move.point(camera.position);
  c.axes = {move.direction(camera.axes.x), move.direction(camera.axes.y), move.direction(camera.axes.z)};
  return c;
}

GroundMove askedFrame(const Evidence& evidence, const Camera& solved) {
  GroundMove move;
  if (!evidence.pins.empty()) return move;
  move.turn = evidence.quarterTurns * pi / 2;
  if (evidence.origin)
    if (const auto ground = levelPoint(solved, *evidence.origin)) {
      const Vec3d turned = move.direction(*ground);
      move.shift = {-turned.x, -turned.y};
    }
  return move;
}

GroundMove moveBetween(const Camera& before, const Camera& after) {
  GroundMove move;
  // The camera's own right-hand direction is level but for its roll, and never upright.
  move.turn = std::atan2(after.axes.x.y, after.axes.x.x) - std::atan2(before.axes.x.y, before.axes.x.x);
  const Vec3d shift = after.position - move.direction(before.position);
  move.shift = {shift.x, shift.y};
  return move;
}

void carryAlong(Shot& shot, const GroundMove& move) {
  for (Placement& p : shot.placements) {
    const Vec3d at = move.point({p.xM, p.yM, 0});
    p.xM = at.x, p.yM = at.y;
    p.turnDegrees = wrapDegrees(p.turnDegrees + degrees(move.turn));
  }
  for (Lamp& lamp : shot.lamps) {
    lamp.azimuthDegrees = wrapDegrees(lamp.azimuthDegrees - degrees(move.turn));
    lamp.positionM = move.point(lamp.positionM);
    // A target that goes with a product is an offset.
    lamp.targetM = byId(shot.placements, lamp.aimedAt) ? lamp.targetM : move.point(lamp.targetM);
  }
  for (StandIn& s : shot.standIns) {
    s.positionM = move.point(s.positionM);
    s.turnDegrees = wrapDegrees(s.turnDegrees + degrees(move.turn));
  }
  if (auto& at = shot.surroundings.captureM) at = move.point(*at);
  if (auto& sun = shot.surroundings.sunMovedDegrees) sun->x = wrapDegrees(sun->x - degrees(move.turn));
  // The panorama's turn is clockwise.
  shot.surroundings.turnDegrees = wrapDegrees(shot.surroundings.turnDegrees - degrees(move.turn));
}

}  // namespace dusk
