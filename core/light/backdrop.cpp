#include "core/light/backdrop.h"

#include <tbb/parallel_for.h>

#include "core/vantage/camera.h"

namespace dusk {

std::optional<std::array<float, 3>> codesOf(const std::string& hex) {
  if (hex.size() != 7 || hex[0] != '#') return {};
  std::array<float, 3> codes{};
  for (size_t c = 0; c < 3; ++c) {
    int value = 0;
    for (const char digit : hex.substr(1 + 2 * c, 2)) {
      const auto at =
          std::string("0123456789abcdef").find(char(std::tolower(static_cast<unsigned char>(digit))));
      if (at == std::string::npos) return {};
      value = value * 16 + int(at);
    }
    codes[c] = float(value) / 255;
  }
  return codes;
}

float floorShare(const Backdrop& b, const Vec2d& at) {
  const double away = std::hypot(at.x - b.floorXM, at.y - b.floorYM) / b.floorRadiusM,
               soft = std::clamp(b.floorSoftness, 0.01, 1.0), t = std::clamp((1 - away) / soft, 0.0, 1.0);
  return float(t * t * t * (t * (6 * t - 15) + 10));  // no edge at either end, nor in how it bends
}

Photo backdropPhoto(const Backdrop& b, const Camera& camera, const Lights& lights, const PixelArea& area) {
  Photo photo;
  Picture picture = Picture::rgb(area.width(), area.height());
  const auto lower = codesOf(b.colour).value_or(std::array<float, 3>{1, 1, 1}),
             upper = codesOf(b.upper).value_or(std::array<float, 3>{1, 1, 1}),
             floor = codesOf(b.floorColour).value_or(lower);
  photo.sceneLinear = b.kind == BackdropKind::panorama;
  tbb::parallel_for(area.y0, area.y1, [&](int y) {
    const float t = camera.height > 1 ? std::clamp(float(y) / float(camera.height - 1), 0.0f, 1.0f) : 0;
    for (int x = area.x0; x < area.x1; ++x) {
      float* pixel = picture.at(x - area.x0, y - area.y0);
      if (photo.sceneLinear) {
        const Vec2d at(x + 0.5, y + 0.5);
        const Vec3f d = toFloat(rayThrough(camera, at));
        const auto ground = levelPoint(camera, at);
        const Rgb light = ground && lights.isWithinWalls(toFloat(*ground))
                              ? lights.floor(toFloat(*ground), d)
                              : lights.wall(toFloat(camera.position), d);
        std::copy_n(&light.x, 3, pixel);
      } else if (b.kind == BackdropKind::gradient) {
        for (size_t c = 0; c < 3; ++c) pixel[c] = upper[c] * (1 - t) + lower[c] * t;
      } else {
        std::copy(lower.begin(), lower.end(), pixel);
      }
      if (!hasFloor(b)) continue;
      const auto ground = levelPoint(camera, Vec2d(x + 0.5, y + 0.5));
      const float share = ground ? floorShare(b, {ground->x, ground->y}) : 0;
      for (size_t c = 0; c < 3; ++c)
        pixel[c] = share < 1 ? pixel[c] + (floor[c] - pixel[c]) * share : floor[c];
    }
  });
  photo.picture = std::move(picture);
  return photo;
}

}  // namespace dusk
