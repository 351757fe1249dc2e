#include "core/vantage/first_spot.h"

#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// How far a thing that stands there is from being seen as it should be; nothing where there is no ground.
std::optional<double> misfit(const Camera& camera, const Vec2d& pixel, const Vec3d& size) {
  constexpr double wanted = 1.0 / 3, margin = 0.04;
  const auto foot = levelPoint(camera, pixel);
  if (!foot) return {};
  const double away = (*foot - camera.position).dot(camera.axes.z),
               largest = std::max({size.x, size.y, size.z});
  if (away <= 0 || largest <= 0) return {};
  // By its largest side, and an octave too small as bad as one too large.
  double off = std::abs(std::log2(camera.focalPx * largest / away / (wanted * camera.height)));
  const auto top = projected(camera, *foot + Vec3d(0, 0, size.z));
  if (!top || top->y < margin * camera.height) off += 4;
  return off;
}

}  // namespace

std::optional<Vec2d> firstSpot(const Camera& camera, const Vec3d& size, const std::vector<TakenSpot>& taken) {
  // As low in the picture as leaves room for a foot and its shadow.
  constexpr double lowest = 0.88, highest = 0.3;
  constexpr int rows = 108;
  double bestRow = -1, least = 1e300;
  for (int i = 0; i <= rows; ++i) {
    const double y = std::lerp(lowest, highest, double(i) / rows);
    if (const auto off = misfit(camera, {camera.width * 0.5, camera.height * y}, size); off && *off < least)
      least = *off, bestRow = y;
  }
  if (bestRow < 0) return {};
  const double radius = std::hypot(size.x, size.y) / 2;
  std::optional<Vec2d> first;
  for (const double aside : {0.0, 0.14, -0.14, 0.28, -0.28, 0.38, -0.38}) {
    const auto at = levelPoint(camera, {camera.width * (0.5 + aside), camera.height * bestRow});
    if (!at) continue;
    const Vec2d spot(at->x, at->y);
    if (!first) first = spot;
    if (std::none_of(taken.begin(), taken.end(), [&](const TakenSpot& other) {
          return (other.at - spot).length() < other.radiusM + radius;
        }))
      return spot;
  }
  return first;
}

}  // namespace dusk
