#include "core/vantage/straighten.h"

#include <tbb/parallel_for.h>

#include "core/vantage/camera.h"

namespace dusk {
namespace {

bool bends(const Vantage& v) { return v.solved && v.straightened && (v.camera.k1 != 0 || v.camera.k2 != 0); }

Vec2d normalised(const Camera& c, const Vec2d& p) {
  return {(p.x - c.cx) / c.focalPx, (p.y - c.cy) / c.focalPx};
}
Vec2d pixel(const Camera& c, const Vec2d& n) { return {n.x * c.focalPx + c.cx, n.y * c.focalPx + c.cy}; }

std::array<float, 4> cubicWeights(float t) {
  const float t2 = t * t, t3 = t2 * t;
  return {-0.5f * t + t2 - 0.5f * t3, 1 - 2.5f * t2 + 1.5f * t3, 0.5f * t + 2 * t2 - 1.5f * t3,
          -0.5f * t2 + 0.5f * t3};
}

}  // namespace

Camera workingCamera(const Vantage& vantage) {
  Camera c = vantage.camera;
  if (bends(vantage)) c.k1 = c.k2 = 0;
  return c;
}

Vec2d workingPixel(const Vantage& v, const Vec2d& photo) {
  return bends(v) ? pixel(v.camera, undistorted(normalised(v.camera, photo), v.camera.k1, v.camera.k2))
                  : photo;
}

Vec2d photoPixel(const Vantage& v, const Vec2d& working) {
  return bends(v) ? pixel(v.camera, distorted(normalised(v.camera, working), v.camera.k1, v.camera.k2))
                  : working;
}

PackedPicture straightened(const PackedPicture& photo, const Camera& camera) {
  const Camera c = resized(camera, photo.width, photo.height);
  const auto rowOf = [&](int y, float* target) {
    for (int x = 0; x < photo.width; ++x, target += 3) {
      const Vec2d from =
          pixel(c, distorted(normalised(c, Vec2d(x + 0.5, y + 0.5)), c.k1, c.k2)) - Vec2d(0.5, 0.5);
      const double fx = std::clamp(from.x, 0.0, photo.width - 1.0),
                   fy = std::clamp(from.y, 0.0, photo.height - 1.0);
      const int x0 = int(fx), y0 = int(fy);
      const auto wx = cubicWeights(float(fx - x0)), wy = cubicWeights(float(fy - y0));
      Rgb sum(0);
      for (int j = 0; j < 4; ++j)
        for (int i = 0; i < 4; ++i)
          sum += photo.rgbAt(std::clamp(x0 + i - 1, 0, photo.width - 1),
                             std::clamp(y0 + j - 1, 0, photo.height - 1)) *
                 (wx[size_t(i)] * wy[size_t(j)]);
      for (int k = 0; k < 3; ++k) target[k] = std::max(sum[k], 0.0f);
    }
  };
  if (!photo.isFloat()) return packed16(photo.width, photo.height, rowOf);
  Picture out = Picture::rgb(photo.width, photo.height);
  tbb::parallel_for(0, photo.height, [&](int y) { rowOf(y, out.at(0, y)); });
  return out;
}

}  // namespace dusk
