#pragma once
#include <functional>
#include <vector>

#include "core/product/model.h"

/// The shapes that pieces of a set are put together from: triangles in metres, Z up, without normals
/// (`repair` makes these, sharp where a shape is). Edges of built things are never quite sharp: light catches
/// on them.
namespace dusk::set {

class Shape {
 public:
  void triangle(const Vec3d& a, const Vec3d& b, const Vec3d& c);
  void quad(const Vec3d& a, const Vec3d& b, const Vec3d& c, const Vec3d& d);
  void add(const Shape& other);
  Shape moved(const Vec3d& shift) const;
  /// Counter-clockwise about the upright, or about any axis through the origin.
  Shape turned(double degrees, const Vec3d& axis = {0, 0, 1}) const;
  Shape scaled(const Vec3d& by) const;
  /// With normals; edges that bend by more than that stay sharp.
  Mesh mesh(double creaseDegrees = 35) const;
  const std::vector<Vec3d>& corners() const { return corners_; }  ///< three a triangle

 private:
  std::vector<Vec3d> corners_;
};

/// A block from its low to its high corner, its edges rounded.
Shape block(const Vec3d& low, const Vec3d& high, double radius);
/// What turns about the upright: a profile of (radius, height), from the axis at the bottom round to the axis
/// at the top.
Shape lathed(const std::vector<Vec2d>& profile, int around = 96);
/// A disc or drum that stands on z = 0, its rims rounded.
Shape drum(double radius, double height, double edge, int around = 96);
/// A surface over the unit square, as a skin of a thickness (0: open, seen from both sides).
Shape skin(int across, int along, const std::function<Vec3d(double u, double v)>& at, double thickness);
/// An upright plate between two outlines of (x, z) with as many points, as deep along y.
Shape plate(const std::vector<Vec2d>& outer, const std::vector<Vec2d>& inner, double depth, bool closed);
/// A round rod along a path; its ends closed, or joined.
Shape rod(const std::vector<Vec3d>& path, double radius, bool closed = false, int around = 14);
/// A ball whose radius depends on the direction.
Shape ball(const std::function<double(const Vec3d& direction)>& radius, int steps = 32);

/// Uniform in [0, 1), the same for the same numbers everywhere.
double chance(int seed, int a, int b = 0);
/// The same from `low` to `high`.
double between(double low, double high, int seed, int a, int b = 0);
/// Smooth noise of about -1 to 1 with features of about unit size (gradient noise after Perlin 2002,
/// "Improving Noise").
double noiseAt(const Vec3d& p, int seed);

}  // namespace dusk::set
