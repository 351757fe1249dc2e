#pragma once
#include <ImathVec.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace dusk {

using Vec2f = Imath::V2f;
using Vec2d = Imath::V2d;
using Vec3f = Imath::V3f;
using Vec3d = Imath::V3d;
/// Scene-linear Rec.709 unless a comment says otherwise.
using Rgb = Imath::V3f;

constexpr double pi = std::numbers::pi;
constexpr float pif = std::numbers::pi_v<float>;

constexpr double radians(double degrees) { return degrees * pi / 180.0; }
constexpr double degrees(double radians) { return radians * 180.0 / pi; }
/// Angle in degrees brought into (-180, 180].
inline double wrapDegrees(double angle) {
  angle = std::fmod(angle, 360.0);
  return angle > 180.0 ? angle - 360.0 : angle <= -180.0 ? angle + 360.0 : angle;
}

inline Vec3f toFloat(const Vec3d& v) { return {float(v.x), float(v.y), float(v.z)}; }
inline Vec3d toDouble(const Vec3f& v) { return {double(v.x), double(v.y), double(v.z)}; }
/// Rec.709 luminance.
inline float luminance(const Rgb& c) { return 0.2126f * c.x + 0.7152f * c.y + 0.0722f * c.z; }
inline float maxComponent(const Rgb& c) { return std::max({c.x, c.y, c.z}); }

/// An orthonormal right-handed triad: the images of the x, y and z axes.
template <typename T>
struct Triad {
  Imath::Vec3<T> x{1, 0, 0}, y{0, 1, 0}, z{0, 0, 1};
  bool operator==(const Triad&) const = default;

  Imath::Vec3<T> toWorld(const Imath::Vec3<T>& v) const { return x * v.x + y * v.y + z * v.z; }
  Imath::Vec3<T> toLocal(const Imath::Vec3<T>& v) const { return {x.dot(v), y.dot(v), z.dot(v)}; }
};
using Triadf = Triad<float>;
using Triadd = Triad<double>;

/// A triad whose z axis is the unit vector `n`. Duff et al. 2017, "Building an Orthonormal Basis, Revisited".
inline Triadf triadAround(const Vec3f& n) {
  const float sign = std::copysign(1.0f, n.z);
  const float a = -1.0f / (sign + n.z), b = n.x * n.y * a;
  return {{1.0f + sign * n.x * n.x * a, sign * b, -sign * n.x}, {b, sign + n.y * n.y * a, -n.y}, n};
}

/// `v` turned by `angle` about the unit vector `axis`, counter-clockwise when that points at the viewer
/// (Rodrigues).
template <typename T>
Imath::Vec3<T> turned(const Imath::Vec3<T>& v, const Imath::Vec3<T>& axis, T angle) {
  return v * std::cos(angle) + axis.cross(v) * std::sin(angle) + axis * (axis.dot(v) * (1 - std::cos(angle)));
}

/// A similarity: scale, then rotation, then shift. World from something.
struct Similarity {
  Triadd rotation;
  double scale = 1.0;
  Vec3d shift{0, 0, 0};
  bool operator==(const Similarity&) const = default;

  Vec3d point(const Vec3d& p) const { return rotation.toWorld(p * scale) + shift; }
  Vec3d direction(const Vec3d& d) const { return rotation.toWorld(d); }
  /// The one after `first`.
  Similarity after(const Similarity& first) const {
    return {{direction(first.rotation.x), direction(first.rotation.y), direction(first.rotation.z)},
            scale * first.scale,
            point(first.shift)};
  }
  Similarity inverse() const {
    const Triadd r = rotation, back{{r.x.x, r.y.x, r.z.x}, {r.x.y, r.y.y, r.z.y}, {r.x.z, r.y.z, r.z.z}};
    return {back, 1 / scale, back.toWorld(-shift) / scale};
  }
};

}  // namespace dusk
