// Where the camera of a set stands.
#include <algorithm>
#include <cmath>

#include "core/light/hand_camera.h"
#include "core/project/by_id.h"
#include "core/set/furnisher.h"

namespace dusk {
namespace {

constexpr double madeForM = 0.3, nearest = 0.1, farthest = 3;
// The slider goes evenly from 0.3 to 1.7, but for its ends, where it goes on by shares to those.
constexpr double end = 0.1, evenFrom = 0.3, evenBy = 1.4, below = evenFrom + evenBy * end,
                 above = evenFrom + evenBy * (1 - end);

/// How far the camera is, of how far it is by itself.
double timesOf(double near) {
  if (near < end) return below * std::pow(nearest / below, 1 - near / end);
  if (near > 1 - end) return above * std::pow(farthest / above, (near - (1 - end)) / end);
  return evenFrom + evenBy * near;
}

/// So many times as far from the stage, which stays where it is in the picture.
void moveAway(Backdrop& b, const Vec3d& stage, double times) {
  b.distanceM *= times;
  b.cameraHeightM = stage.z + (b.cameraHeightM - stage.z) * times;
  b.aimHeightM = stage.z + (b.aimHeightM - stage.z) * times;
  b.aimXM = stage.x + (b.aimXM - stage.x) * times, b.aimYM = stage.y + (b.aimYM - stage.y) * times;
}

}  // namespace

double nearFor(double sizeM) {
  const double times = std::clamp(sizeM / madeForM, nearest, farthest);
  if (times < below) return end * (1 - std::log(times / below) / std::log(nearest / below));
  if (times > above) return 1 - end + end * std::log(times / above) / std::log(farthest / above);
  return (times - evenFrom) / evenBy;
}

bool comeNear(Shot& shot, double sizeM) {
  const StandIn* stage = byId(shot.standIns, setStage);
  Backdrop& b = shot.backdrop;
  if (shot.set.kind.empty() || !stage || b.locked || ownOnStage(shot) > 0 ||
      shot.set.sliders.contains("near"))
    return false;
  const double near = nearFor(sizeM);
  shot.set.sliders["near"] = near;
  moveAway(b, {stage->positionM.x, stage->positionM.y, stage->sizeM.z}, timesOf(near));
  shot.vantage.camera = handCamera(b, b.width, b.height);
  return true;
}

void Furnisher::camera(double focalMm35, double heightM, double distanceM, double aimM) {
  Backdrop& b = shot_.backdrop;
  if (b.locked) return;
  b.focalMm35 = focalMm35, b.distanceM = distanceM, b.cameraHeightM = heightM, b.aimHeightM = aimM;
  b.aimXM = b.aimYM = 0;
  moveAway(b, stage_, timesOf(slider("near")));
  b.azimuthDegrees = by(-8, 8, 900);
}

}  // namespace dusk
