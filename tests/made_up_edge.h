#pragma once
#include <random>

#include "core/picture/photo.h"

namespace dusk {

/// A photo of one edge through `middle` at `angle`, bowed by `bow` px over `reach`, blurred by the lens, with
/// grain, as 8-bit code values.
inline Photo edgePhoto(const Vec2d& middle, double angle, double bow, double reach, double blur, double grain,
                       unsigned seed) {
  Photo photo;
  Picture picture = Picture::rgb(320, 240);
  std::mt19937 random(seed);
  std::normal_distribution<float> noise(0, float(grain));
  const Vec2d along(std::cos(angle), std::sin(angle)), across(-along.y, along.x);
  for (int y = 0; y < 240; ++y)
    for (int x = 0; x < 320; ++x) {
      const Vec2d d = Vec2d(x + 0.5, y + 0.5) - middle;
      const double t = d.dot(along) / reach, off = d.dot(across) - bow * (1 - t * t);
      const double light = 0.12 + 0.4 * 0.5 * (1 + std::erf(off / (blur * std::sqrt(2.0))));
      for (int k = 0; k < 3; ++k)
        picture.at(x, y)[k] = std::round(255 * std::sqrt(std::max(0.0f, float(light) + noise(random)))) / 255;
    }
  photo.picture = std::move(picture);
  return photo;
}

}  // namespace dusk
