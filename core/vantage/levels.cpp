#include "core/vantage/levels.h"

#include "core/vantage/camera.h"

namespace dusk {

std::optional<double> heightOver(const Camera& camera, const Vec2d& foot, const Vec2d& top) {
  const auto ground = levelPoint(camera, foot);
  return ground ? heightOverFoot(camera, *ground, top) : std::nullopt;
}

std::optional<double> heightOverFoot(const Camera& camera, const Vec3d& foot, const Vec2d& top) {
  const Vec3d ray = rayThrough(camera, top), up(0, 0, 1), side = ray.cross(up);
  const double n = side.dot(side);
  if (n < 1e-8) return {};
  // Where the two lines come nearest to each other, measured along the upright.
  const Vec3d from = camera.position - foot;
  return from.cross(ray).dot(up.cross(ray)) / n;
}

std::optional<double> heightOfRectangle(const Camera& camera, const std::array<Vec2d, 4>& corners,
                                        const Vec2d& sizeM) {
  // On the plane one metre under the camera; a plane d metres under it shows everything d times as large.
  std::array<Vec3d, 4> at;
  for (size_t i = 0; i < 4; ++i) {
    const auto p = levelPoint(camera, corners[i], camera.position.z - 1);
    if (!p) return {};
    at[i] = *p;
  }
  const auto side = [&](size_t i) { return (at[(i + 1) % 4] - at[i]).length(); };
  const double a = (side(0) + side(2)) / 2, b = (side(1) + side(3)) / 2;
  if (a < 1e-9 || b < 1e-9) return {};
  const bool straight =
      std::abs(std::log(a / b * sizeM.y / sizeM.x)) <= std::abs(std::log(a / b * sizeM.x / sizeM.y));
  const Vec2d size = straight ? sizeM : Vec2d(sizeM.y, sizeM.x);
  const double down = (a * size.x + b * size.y) / (a * a + b * b);
  if (std::abs(a * down / size.x - 1) > 0.1 || std::abs(b * down / size.y - 1) > 0.1) return {};
  return camera.position.z - down;
}

}  // namespace dusk
