#pragma once
#include <ceres/rotation.h>

#include "core/vantage/camera.h"
#include "core/vantage/solve.h"

/// Cost functions of the vantage solver. Shared parameter blocks:
///   lens[5]     log focal px, cx, cy, k1, k2
///   turn[3]     angle-axis of a small rotation after the candidate's camera-from-world rotation
///   position[3] of the camera, metres
/// Residuals are in units of the expected drawing noise (noisePx).
namespace dusk::vantage {

enum LensField { logFocal, centreX, centreY, lensK1, lensK2 };

template <typename T>
using V2 = Imath::Vec2<T>;
template <typename T>
using V3 = Imath::Vec3<T>;

template <typename T>
V3<T> turned(const Triadd& start, const T* turn, const V3<T>& world) {
  // start holds the camera's axes in the world; toLocal is camera-from-world.
  const T local[3] = {start.x.x * world.x + start.x.y * world.y + start.x.z * world.z,
                      start.y.x * world.x + start.y.y * world.y + start.y.z * world.z,
                      start.z.x * world.x + start.z.y * world.y + start.z.z * world.z};
  T result[3];
  ceres::AngleAxisRotatePoint(turn, local, result);
  return V3<T>(result[0], result[1], result[2]);
}

/// Pixel of a world point; false when it is not in front of the camera.
template <typename T>
bool pixelOf(const Triadd& start, const T* lens, const T* turn, const T* position, const V3<T>& world,
             V2<T>& pixel) {
  const V3<T> p =
      turned(start, turn, V3<T>(world.x - position[0], world.y - position[1], world.z - position[2]));
  if (p.z < T(1e-6)) return false;
  const V2<T> d = distorted(V2<T>(p.x / p.z, p.y / p.z), lens[lensK1], lens[lensK2]);
  const T f = exp(lens[logFocal]);
  pixel = V2<T>(f * d.x + lens[centreX], f * d.y + lens[centreY]);
  return true;
}

/// A drawn pixel on the normalised plane with the lens undone; false where the distortion is past undoing.
template <typename T>
bool straightened(const T* lens, const T& f, const Vec2d& at, V2<T>& p) {
  const V2<T> drawn((T(at.x) - lens[centreX]) / f, (T(at.y) - lens[centreY]) / f);
  p = drawn;
  for (int i = 0; i < 12; ++i) {
    const T r2 = p.x * p.x + p.y * p.y;
    const T scale = T(1) + r2 * (lens[lensK1] + r2 * lens[lensK2]);
    if (scale < T(0.2)) return false;
    p = V2<T>(drawn.x / scale, drawn.y / scale);
  }
  return true;
}

/// Distance, in the distorted photo, of a drawn point from the image of a world line that runs along `axis`.
/// The line is given by one free angle: its interpretation plane's turn about the axis, counted from the
/// plane through `reference`. First-order (Sampson) distance, Hartley & Zisserman 2003, "Multiple View
/// Geometry", section 4.2.6.
struct StrokePoint {
  Triadd start;
  Vec3d axis;
  Vec3d reference;  ///< ray in the camera's frame through the stroke's middle, at the candidate
  Vec2d at;

  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* angle, T* residual) const {
    const V3<T> d = turned(start, turn, V3<T>(T(axis.x), T(axis.y), T(axis.z)));
    V3<T> u = V3<T>(d.y * reference.z - d.z * reference.y, d.z * reference.x - d.x * reference.z,
                    d.x * reference.y - d.y * reference.x);
    const T length = sqrt(u.x * u.x + u.y * u.y + u.z * u.z);
    if (length < T(1e-9)) return false;
    u = V3<T>(u.x / length, u.y / length, u.z / length);
    const V3<T> v(d.y * u.z - d.z * u.y, d.z * u.x - d.x * u.z, d.x * u.y - d.y * u.x);
    const T c = cos(angle[0]), s = sin(angle[0]);
    const V3<T> n(u.x * c + v.x * s, u.y * c + v.y * s, u.z * c + v.z * s);

    const T f = exp(lens[logFocal]);
    V2<T> p;
    if (!straightened(lens, f, at, p)) return false;
    // Gradient of the line function with respect to the drawn point: inverse of the distortion's (symmetric)
    // Jacobian.
    const T r2 = p.x * p.x + p.y * p.y;
    const T s1 = T(1) + r2 * (lens[lensK1] + r2 * lens[lensK2]);
    const T g = T(2) * (lens[lensK1] + T(2) * lens[lensK2] * r2);
    const T a = s1 + g * p.x * p.x, b = g * p.x * p.y, e = s1 + g * p.y * p.y;
    const T det = a * e - b * b;
    if (det < T(1e-6)) return false;
    const T gx = (e * n.x - b * n.y) / det, gy = (a * n.y - b * n.x) / det;
    const T slope = sqrt(gx * gx + gy * gy + T(1e-18));
    residual[0] = (n.x * p.x + n.y * p.y + n.z) / slope * f / noisePx;
    return true;
  }
};

struct PinPoint {
  Triadd start;
  Vec2d at;
  Vec3d world;
  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* position, T* residual) const {
    V2<T> pixel;
    if (!pixelOf(start, lens, turn, position, V3<T>(T(world.x), T(world.y), T(world.z)), pixel)) return false;
    residual[0] = (pixel.x - at.x) / noisePx;
    residual[1] = (pixel.y - at.y) / noisePx;
    return true;
  }
};

/// Corner `index` of a footprint whose size is a parameter (held when it is known).
struct FootprintCorner {
  Triadd start;
  Vec2d at;
  int index;
  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* position, const T* size, T* residual) const {
    const V3<T> world(index == 1 || index == 2 ? size[0] : T(0), index >= 2 ? size[1] : T(0), T(0));
    V2<T> pixel;
    if (!pixelOf(start, lens, turn, position, world, pixel)) return false;
    residual[0] = (pixel.x - at.x) / noisePx;
    residual[1] = (pixel.y - at.y) / noisePx;
    return true;
  }
};

/// A length known on the ground: the error of the length, in pixels along it.
struct GroundLength {
  Triadd start;
  KnownLength length;

  template <typename T>
  bool ground(const T* lens, const T* turn, const T* position, const Vec2d& at, V2<T>& out) const {
    const T f = exp(lens[logFocal]);
    V2<T> p;
    if (!straightened(lens, f, at, p)) return false;
    const T back[3] = {-turn[0], -turn[1], -turn[2]}, ray[3] = {p.x, p.y, T(1)};
    T local[3];
    ceres::AngleAxisRotatePoint(back, ray, local);
    const T z = start.x.z * local[0] + start.y.z * local[1] + start.z.z * local[2];
    if (z > T(-1e-6)) return false;
    const T t = -position[2] / z;
    out = V2<T>(position[0] + t * (start.x.x * local[0] + start.y.x * local[1] + start.z.x * local[2]),
                position[1] + t * (start.x.y * local[0] + start.y.y * local[1] + start.z.y * local[2]));
    return true;
  }

  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* position, T* residual) const {
    V2<T> a, b;
    if (!ground(lens, turn, position, length.from, a) || !ground(lens, turn, position, length.to, b))
      return false;
    const T found = sqrt((a.x - b.x) * (a.x - b.x) + (a.y - b.y) * (a.y - b.y) + T(1e-18));
    const double drawnPx = (length.to - length.from).length();
    residual[0] = (found / length.metres - T(1)) * drawnPx / noisePx;
    return true;
  }
};

/// A belief about one field of a block: (value - mean) / sigma.
struct Belief {
  int field;
  double mean, sigma;
  template <typename T>
  bool operator()(const T* block, T* residual) const {
    residual[0] = (block[field] - mean) / sigma;
    return true;
  }
};

}  // namespace dusk::vantage
