#include "core/motion/ready.h"
#include "core/base/json_text.h"

namespace dusk {
namespace {
using nlohmann::json;

/// Keys of a place in place of those it had.
MotionTrack& anew(Shot& shot, const std::string& place) {
  MotionTrack& track = addTrack(shot.motion, place);
  track.keys.clear(), track.loop = MotionLoop::once;
  return track;
}

}  // namespace

void turnRound(Shot& shot, const Placement& placement) {
  MotionTrack& track = anew(shot, placeOfPlacement(shot, placement.id));
  json from = valueOf(placement), to = from;
  to["turnDegrees"] = placement.turnDegrees + 360;
  track.keys = {{0, jsonText(from), Easing::even}, {shot.motion.seconds, jsonText(to), Easing::even}};
  track.loop = MotionLoop::again, shot.motion.loops = true;
}

void slideIn(Shot& shot, const Placement& placement, const Camera& camera) {
  // From where the camera sees it outside: as far to its side as it stands away from it.
  const double away = (Vec3d(placement.xM, placement.yM, 0) - camera.position).length();
  Vec3d side(camera.axes.x.x, camera.axes.x.y, 0);
  side = side.length() > 1e-6 ? side.normalized() : Vec3d(1, 0, 0);
  Placement from = placement;
  const double half = camera.focalPx > 0 ? camera.width / 2.0 / camera.focalPx : 0.5;
  from.xM -= side.x * away * half * 1.6, from.yM -= side.y * away * half * 1.6;
  MotionTrack& track = anew(shot, placeOfPlacement(shot, placement.id));
  track.keys = {{0, jsonText(valueOf(from)), Easing::firm},
                {std::min(1.5, shot.motion.seconds / 2), jsonText(valueOf(placement)), Easing::gentle}};
}

void openAndShut(Project& project, size_t index, const std::string& productId, const std::string& part) {
  Product* product = byId(project.products, productId);
  if (!product) return;
  Shot& shot = project.shots[index];
  PartMove& move = product->moves[part];
  const double open = move.turnDegrees != 0 ? move.turnDegrees : 90;
  MotionTrack& track = anew(shot, placeOfMove(productId, part));
  const auto turned = [&](double degrees) {
    PartMove then = move;
    then.turnDegrees = degrees;
    return jsonText(valueOf(then));
  };
  const double s = shot.motion.seconds;
  track.keys = {{0.1 * s, turned(0)}, {0.4 * s, turned(open)}, {0.6 * s, turned(open)}, {0.9 * s, turned(0)}};
  shot.motion.loops = true;
}

void goRound(Shot& shot, double degrees) {
  const double now = shot.backdrop.azimuthDegrees;
  MotionTrack& track = anew(shot, "/shots/" + shot.id + "/backdrop/azimuthDegrees");
  const double s = shot.motion.seconds;
  track.keys = {{0, jsonText(json(now - degrees / 2))},
                {s / 2, jsonText(json(now + degrees / 2))},
                {s, jsonText(json(now - degrees / 2))}};
  shot.motion.loops = true;
}

}  // namespace dusk
