#pragma once
#include <optional>

#include "core/picture/picture.h"
#include "core/project/project.h"

namespace dusk {

/// Distortion on normalised coordinates, undistorted to distorted: p (1 + k1 r^2 + k2 r^4).
/// Brown 1971, "Close-Range Camera Calibration". Templated so that the solver differentiates the same code.
template <typename T>
Imath::Vec2<T> distorted(const Imath::Vec2<T>& p, const T& k1, const T& k2) {
  const T r2 = p.x * p.x + p.y * p.y;
  const T s = T(1) + r2 * (k1 + r2 * k2);
  return {p.x * s, p.y * s};
}

/// The inverse of `distorted`, by Newton's method on the radius. Beyond the radius where the model folds
/// back, the fold itself is returned.
Vec2d undistorted(const Vec2d& p, double k1, double k2);

/// World point (metres) to pixel; nothing for points not in front of the camera, or so far off the axis
/// that the distortion model has folded back.
std::optional<Vec2d> projected(const Camera& camera, const Vec3d& world);
/// Unit direction in the world of the ray through a pixel.
Vec3d rayThrough(const Camera& camera, const Vec2d& pixel);
/// Where that ray meets the level plane Z = `height`; nothing when it does not, or farther than 10 km.
std::optional<Vec3d> levelPoint(const Camera& camera, const Vec2d& pixel, double height = 0);

/// The same camera for a picture of another size.
Camera resized(const Camera& camera, int width, int height);
/// The light of a plate at a pixel of the camera's picture; the plate may be of another size.
Rgb plateAt(const Picture& plate, const Camera& camera, const Vec2d& pixel);
/// The same camera for a piece of its picture, `width` x `height` pixels from (x, y).
Camera cropped(const Camera& camera, int x, int y, int width, int height);

/// 35 mm equivalent by the diagonal, as EXIF defines it.
double focalMm35(const Camera& camera);
double focalPxFromMm35(double mm, int width, int height);
/// Angle of the optical axis above the level, radians; negative looks down.
double tilt(const Camera& camera);
/// Turn of the picture about the optical axis against the upright, radians; positive when the horizon drops
/// to the right.
double roll(const Camera& camera);

/// A camera at `position` that looks at `target` with the world's up in the picture's up.
Camera lookAt(int width, int height, double focalPx, const Vec3d& position, const Vec3d& target);

}  // namespace dusk
