#include "core/vantage/horizon.h"

#include "core/vantage/camera.h"

namespace dusk {

Vec3d groundHorizon(const Vantage& vantage) {
  Camera straight = vantage.camera;
  if (!vantage.solved || straight.focalPx <= 0 || straight.position.z <= 0) return Vec3d(0);
  straight.k1 = straight.k2 = 0;
  const Vec3d ahead = rayThrough(straight, {straight.cx, straight.cy});
  // A ray with a unit's step along the axis falls as much as the ground lies near: that is linear in the
  // pixel.
  const auto below = [&](double x, double y) {
    const Vec3d ray = rayThrough(straight, {x, y});
    return -straight.focalPx * ray.z / ray.dot(ahead);
  };
  const double c = below(0, 0);
  return {below(1, 0) - c, below(0, 1) - c, c};
}

}  // namespace dusk
