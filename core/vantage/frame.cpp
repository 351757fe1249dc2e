#include "core/vantage/frame.h"

#include <tuple>

#include "core/vantage/camera.h"

namespace dusk {

Vec3d GroundMove::direction(const Vec3d& d) const {
  const double c = std::cos(turn), s = std::sin(turn);
  return {c * d.x - s * d.y, s * d.x + c * d.y, d.z};
}

Vec3d GroundMove::point(const Vec3d& p) const { return direction(p) * size + Vec3d(shift.x, shift.y, 0); }

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
  if (before.position.z > 0 && after.position.z > 0) move.size = after.position.z / before.position.z;
  const Vec3d shift = after.position - move.point(before.position);
  move.shift = {shift.x, shift.y};
  return move;
}

void carryAlong(Shot& shot, const GroundMove& move) {
  for (Lamp& lamp : shot.lamps) {
    lamp.azimuthDegrees = wrapDegrees(lamp.azimuthDegrees - degrees(move.turn));
    if (const Placement* at = byId(shot.placements, lamp.aimedAt)) {
      const Vec3d foot(at->xM, at->yM, 0), off = move.direction(lamp.positionM - foot);
      lamp.positionM = move.point(foot) + off;
      lamp.targetM = move.direction(lamp.targetM);  // an offset from the foot
      continue;
    }
    lamp.positionM = move.point(lamp.positionM), lamp.targetM = move.point(lamp.targetM);
    lamp.widthM *= move.size, lamp.heightM *= move.size, lamp.radiusM *= move.size;
  }
  for (Placement& p : shot.placements) {
    const Vec3d at = move.point({p.xM, p.yM, 0});
    p.xM = at.x, p.yM = at.y;
    p.turnDegrees = wrapDegrees(p.turnDegrees + degrees(move.turn));
  }
  for (StandIn& s : shot.standIns) {
    s.positionM = move.point(s.positionM), s.sizeM *= move.size;
    s.turnDegrees = wrapDegrees(s.turnDegrees + degrees(move.turn));
  }
  for (LevelPlane& level : shot.levels) level.heightM *= move.size;
  Surroundings& place = shot.surroundings;
  if (auto& at = place.captureM) {
    const double told = at->z;
    at = move.point(*at);
    if (!place.captureFound) at->z = told;  // a tripod's height is what it is
  }
  place.domeRadiusM *= move.size;
  if (auto& sun = place.sunMovedDegrees) sun->x = wrapDegrees(sun->x - degrees(move.turn));
  // The panorama's turn is clockwise.
  place.turnDegrees = wrapDegrees(place.turnDegrees - degrees(move.turn));
}

bool sameFrame(const Evidence& a, const Evidence& b) {
  const auto sizeOf = [](const Evidence& e) {
    return e.footprint ? std::tuple(true, e.footprint->sizeM, e.footprint->heightM)
                       : std::tuple(false, std::optional<Vec2d>(), 0.0);
  };
  return a.heightM == b.heightM && a.lengths == b.lengths && sizeOf(a) == sizeOf(b) &&
         a.pins.empty() == b.pins.empty() && a.origin == b.origin && a.quarterTurns == b.quarterTurns;
}

void keepSpots(Shot& shot, const Shot& before) {
  const Camera &was = before.vantage.camera, &is = shot.vantage.camera;
  carryAlong(shot, moveBetween(was, is));
  for (Placement& p : shot.placements) {
    const Placement* stood = byId(before.placements, p.id);
    const auto spot =
        stood ? projected(was, {stood->xM, stood->yM, planeHeightM(before, *stood)}) : std::nullopt;
    const auto ground = spot ? levelPoint(is, *spot, planeHeightM(shot, p)) : std::nullopt;
    if (!ground) continue;
    for (Lamp& lamp : shot.lamps)
      if (lamp.aimedAt == p.id) lamp.positionM += Vec3d(ground->x - p.xM, ground->y - p.yM, 0);
    p.xM = ground->x, p.yM = ground->y;
  }
}

}  // namespace dusk
