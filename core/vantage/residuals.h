#pragma once
#include <ceres/rotation.h>

#include "core/vantage/camera.h"
#include "core/vantage/solve.h"

/// Cost functions of the vantage solver. Shared parameter blocks:
///   lens[5]     log focal px, cx, cy, k1, k2
///   turn[3]     angle-axis of a small rotation after the candidate's camera-from-world rotation
///   position[3] of the camera, metres
/// Residuals are in units of the drawing noise, in pixels, that `noise` points to.
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

inline double valueOf(double x) { return x; }
template <typename T, int N>
double valueOf(const ceres::Jet<T, N>& x) {
  return x.a;
}

/// A drawn pixel on the normalised plane with the lens undone; false where the distortion is past undoing.
/// The value comes from `undistorted`, the derivatives from one Newton step there (implicit functions).
template <typename T>
bool straightened(const T* lens, const T& f, const Vec2d& at, V2<T>& p) {
  const V2<T> drawn((T(at.x) - lens[centreX]) / f, (T(at.y) - lens[centreY]) / f);
  const double k1 = valueOf(lens[lensK1]), k2 = valueOf(lens[lensK2]);
  const Vec2d q = undistorted({valueOf(drawn.x), valueOf(drawn.y)}, k1, k2);
  const double r2 = q.x * q.x + q.y * q.y, scale = 1 + r2 * (k1 + r2 * k2), g = 2 * (k1 + 2 * k2 * r2);
  const double a = scale + g * q.x * q.x, b = g * q.x * q.y, e = scale + g * q.y * q.y;
  const double det = a * e - b * b;
  if (!(det > 0.04)) return false;
  const V2<T> bent = distorted(V2<T>(T(q.x), T(q.y)), lens[lensK1], lens[lensK2]);
  const T dx = drawn.x - bent.x, dy = drawn.y - bent.y;
  p = V2<T>(q.x + (e * dx - b * dy) / det, q.y + (a * dy - b * dx) / det);
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
  const double* noise;

  /// Signed distance in pixels, and the unit vector across the line in the photo.
  template <typename T>
  bool distance(const T* lens, const T* turn, const T* angle, T& px, V2<T>& across) const {
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
    px = (n.x * p.x + n.y * p.y + n.z) / slope * f;
    across = V2<T>(gx / slope, gy / slope);
    return true;
  }

  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* angle, T* residual) const {
    V2<T> across;
    if (!distance(lens, turn, angle, residual[0], across)) return false;
    residual[0] /= *noise;
    return true;
  }
};

struct PinPoint {
  Triadd start;
  Vec2d at;
  Vec3d world;
  const double* noise;
  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* position, T* residual) const {
    V2<T> pixel;
    if (!pixelOf(start, lens, turn, position, V3<T>(T(world.x), T(world.y), T(world.z)), pixel)) return false;
    residual[0] = (pixel.x - at.x) / *noise;
    residual[1] = (pixel.y - at.y) / *noise;
    return true;
  }
};

/// Corner `index` of a footprint whose size is a parameter (held when it is known).
struct FootprintCorner {
  Triadd start;
  Vec2d at;
  int index;
  double heightM;
  const double* noise;
  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* position, const T* size, T* residual) const {
    const V3<T> world(index == 1 || index == 2 ? size[0] : T(0), index >= 2 ? size[1] : T(0), T(heightM));
    V2<T> pixel;
    if (!pixelOf(start, lens, turn, position, world, pixel)) return false;
    residual[0] = (pixel.x - at.x) / *noise;
    residual[1] = (pixel.y - at.y) / *noise;
    return true;
  }
};

/// Where the ray through a drawn pixel meets the ground.
template <typename T>
bool groundPoint(const Triadd& start, const T* lens, const T* turn, const T* position, const Vec2d& at,
                 V2<T>& out) {
  V2<T> p;
  if (!straightened(lens, T(exp(lens[logFocal])), at, p)) return false;
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

/// A length known on the ground: the error of the length, in pixels along it.
struct GroundLength {
  Triadd start;
  KnownLength length;
  const double* noise;
  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* position, T* residual) const {
    V2<T> a, b;
    if (!groundPoint(start, lens, turn, position, length.from, a) ||
        !groundPoint(start, lens, turn, position, length.to, b))
      return false;
    const T found = sqrt((a.x - b.x) * (a.x - b.x) + (a.y - b.y) * (a.y - b.y) + T(1e-18));
    const double drawnPx = (length.to - length.from).length();
    residual[0] = (found / length.metres - T(1)) * drawnPx / *noise;
    return true;
  }
};

/// The known height of something upright whose foot stands on the ground: where its top should be seen.
struct UprightLength {
  Triadd start;
  KnownLength length;
  const double* noise;
  template <typename T>
  bool operator()(const T* lens, const T* turn, const T* position, T* residual) const {
    V2<T> foot, top;
    if (!groundPoint(start, lens, turn, position, length.from, foot) ||
        !pixelOf(start, lens, turn, position, V3<T>(foot.x, foot.y, T(length.metres)), top))
      return false;
    residual[0] = (top.x - length.to.x) / *noise;
    residual[1] = (top.y - length.to.y) / *noise;
    return true;
  }
};

/// A point of the horizon: its ray is level. Distance from the ground's vanishing line, in pixels.
struct HorizonPoint {
  Triadd start;
  Vec2d at;
  const double* noise;
  template <typename T>
  bool operator()(const T* lens, const T* turn, T* residual) const {
    const T f = exp(lens[logFocal]);
    V2<T> p;
    if (!straightened(lens, f, at, p)) return false;
    const V3<T> up = turned(start, turn, V3<T>(T(0), T(0), T(1)));
    residual[0] = (up.x * p.x + up.y * p.y + up.z) / sqrt(up.x * up.x + up.y * up.y + T(1e-18)) * f / *noise;
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

/// The shape of a footprint whose size is not known: log of length a over length b.
struct RatioBelief {
  double ratio;
  template <typename T>
  bool operator()(const T* size, T* residual) const {
    if (size[0] <= T(0) || size[1] <= T(0)) return false;
    residual[0] = (log(size[0] / size[1]) - std::log(ratio)) / 1e-4;
    return true;
  }
};

/// Holds the turn about the world's upright, which nothing drawn determines.
struct AzimuthGauge {
  Vec3d up;  ///< the world's upright in the candidate camera's frame
  template <typename T>
  bool operator()(const T* turn, T* residual) const {
    residual[0] = (up.x * turn[0] + up.y * turn[1] + up.z * turn[2]) / 1e-4;
    return true;
  }
};

/// People hold cameras level: sine of the roll over `sigma`.
struct RollBelief {
  Triadd start;
  double sigma;
  template <typename T>
  bool operator()(const T* turn, T* residual) const {
    residual[0] = turned(start, turn, V3<T>(T(0), T(0), T(1))).x / sigma;
    return true;
  }
};

}  // namespace dusk::vantage
