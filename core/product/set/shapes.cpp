#include "core/product/set/shapes.h"

#include "core/product/repair.h"

namespace dusk::set {

void Shape::triangle(const Vec3d& a, const Vec3d& b, const Vec3d& c) {
  corners_.insert(corners_.end(), {a, b, c});
}
void Shape::quad(const Vec3d& a, const Vec3d& b, const Vec3d& c, const Vec3d& d) {
  triangle(a, b, c), triangle(a, c, d);
}
void Shape::add(const Shape& other) {
  corners_.insert(corners_.end(), other.corners_.begin(), other.corners_.end());
}
Shape Shape::moved(const Vec3d& shift) const {
  Shape s = *this;
  for (Vec3d& p : s.corners_) p += shift;
  return s;
}
Shape Shape::turned(double degrees, const Vec3d& axis) const {
  Shape s = *this;
  for (Vec3d& p : s.corners_) p = dusk::turned(p, axis, radians(degrees));
  return s;
}
Shape Shape::scaled(const Vec3d& by) const {
  Shape s = *this;
  for (Vec3d& p : s.corners_) p *= by;
  return s;
}

Mesh Shape::mesh(double creaseDegrees) const {
  Mesh mesh;
  mesh.positions.reserve(corners_.size());
  mesh.indices.reserve(corners_.size());
  for (const Vec3d& p : corners_) {
    mesh.indices.push_back(uint32_t(mesh.positions.size()));
    mesh.positions.push_back(toFloat(p));
  }
  repair(mesh, creaseDegrees);
  return mesh;
}

namespace {

/// Places along one side of a block: close together where it bends.
std::vector<double> alongSide(double low, double high, double radius) {
  constexpr int bends = 4;
  std::vector<double> at;
  for (int i = 0; i <= bends; ++i) at.push_back(low + radius * (1 - std::cos(pi / 2 * i / bends)));
  for (int i = bends; i >= 0; --i) at.push_back(high - radius * (1 - std::cos(pi / 2 * i / bends)));
  return at;
}

}  // namespace

Shape block(const Vec3d& low, const Vec3d& high, double radius) {
  const Vec3d size = high - low;
  radius = std::max(1e-5, std::min({radius, size.x / 2, size.y / 2, size.z / 2}));
  const auto rounded = [&](const Vec3d& p) {
    Vec3d inner;
    for (int i = 0; i < 3; ++i) inner[i] = std::clamp(p[i], low[i] + radius, high[i] - radius);
    const Vec3d out = p - inner;
    return out.length() > 0 ? inner + out * (radius / out.length()) : p;
  };
  Shape shape;
  for (int axis = 0; axis < 3; ++axis) {
    const int a = (axis + 1) % 3, b = (axis + 2) % 3;
    const auto us = alongSide(low[a], high[a], radius), vs = alongSide(low[b], high[b], radius);
    for (const bool top : {false, true})
      for (size_t i = 0; i + 1 < us.size(); ++i)
        for (size_t k = 0; k + 1 < vs.size(); ++k) {
          const auto at = [&](size_t u, size_t v) {
            Vec3d p;
            p[axis] = top ? high[axis] : low[axis], p[a] = us[u], p[b] = vs[v];
            return rounded(p);
          };
          const Vec3d p = at(i, k), q = at(i + 1, k), r = at(i + 1, k + 1), s = at(i, k + 1);
          top ? shape.quad(p, q, r, s) : shape.quad(p, s, r, q);
        }
  }
  return shape;
}

Shape lathed(const std::vector<Vec2d>& profile, int around) {
  Shape shape;
  for (int i = 0; i < around; ++i) {
    const double a = 2 * pi * i / around,
                 b = 2 * pi * ((i + 1) % around) / around;  // the last meets the first
    const auto at = [](const Vec2d& p, double angle) {
      return Vec3d(p.x * std::cos(angle), p.x * std::sin(angle), p.y);
    };
    for (size_t k = 0; k + 1 < profile.size(); ++k) {
      const Vec2d &p = profile[k], &q = profile[k + 1];
      if (p.x <= 0)
        shape.triangle(at(p, a), at(q, b), at(q, a));
      else if (q.x <= 0)
        shape.triangle(at(p, a), at(p, b), at(q, a));
      else
        shape.quad(at(p, a), at(p, b), at(q, b), at(q, a));
    }
  }
  return shape;
}

Shape drum(double radius, double height, double edge, int around) {
  edge = std::max(1e-5, std::min({edge, radius / 2, height / 2}));
  constexpr int bends = 5;
  std::vector<Vec2d> profile{{0, 0}};
  for (int i = 0; i <= bends; ++i) {
    const double a = pi / 2 * i / bends;
    profile.push_back({radius - edge + edge * std::sin(a), edge - edge * std::cos(a)});
  }
  for (int i = 0; i <= bends; ++i) {
    const double a = pi / 2 * i / bends;
    profile.push_back({radius - edge + edge * std::cos(a), height - edge + edge * std::sin(a)});
  }
  profile.push_back({0, height});
  return lathed(profile, around);
}

Shape skin(int across, int along, const std::function<Vec3d(double, double)>& at, double thickness) {
  std::vector<Vec3d> points, out;
  const auto index = [&](int i, int k) { return size_t(k) * size_t(across + 1) + size_t(i); };
  for (int k = 0; k <= along; ++k)
    for (int i = 0; i <= across; ++i) points.push_back(at(double(i) / across, double(k) / along));
  for (int k = 0; k <= along; ++k)
    for (int i = 0; i <= across; ++i) {
      const Vec3d du = points[index(std::min(i + 1, across), k)] - points[index(std::max(i - 1, 0), k)],
                  dv = points[index(i, std::min(k + 1, along))] - points[index(i, std::max(k - 1, 0))];
      const Vec3d n = du.cross(dv);
      out.push_back(n.length() > 0 ? n / n.length() : Vec3d(0, 0, 1));
    }
  Shape shape;
  const auto front = [&](int i, int k) { return points[index(i, k)]; };
  const auto back = [&](int i, int k) { return points[index(i, k)] - out[index(i, k)] * thickness; };
  for (int k = 0; k < along; ++k)
    for (int i = 0; i < across; ++i) {
      shape.quad(front(i, k), front(i + 1, k), front(i + 1, k + 1), front(i, k + 1));
      if (thickness > 0) shape.quad(back(i, k), back(i, k + 1), back(i + 1, k + 1), back(i + 1, k));
    }
  if (thickness <= 0) return shape;
  for (int i = 0; i < across; ++i) {
    shape.quad(back(i, 0), back(i + 1, 0), front(i + 1, 0), front(i, 0));
    shape.quad(front(i, along), front(i + 1, along), back(i + 1, along), back(i, along));
  }
  for (int k = 0; k < along; ++k) {
    shape.quad(front(0, k), front(0, k + 1), back(0, k + 1), back(0, k));
    shape.quad(back(across, k), back(across, k + 1), front(across, k + 1), front(across, k));
  }
  return shape;
}

Shape plate(const std::vector<Vec2d>& outer, const std::vector<Vec2d>& inner, double depth, bool closed) {
  Shape shape;
  const size_t n = outer.size(), last = closed ? n : n - 1;
  const auto at = [&](const Vec2d& p, bool front) { return Vec3d(p.x, front ? -depth / 2 : depth / 2, p.y); };
  for (size_t i = 0; i < last; ++i) {
    const Vec2d &a = outer[i], &b = outer[(i + 1) % n], &c = inner[(i + 1) % n], &d = inner[i];
    shape.quad(at(d, true), at(c, true), at(b, true), at(a, true));
    shape.quad(at(a, false), at(b, false), at(c, false), at(d, false));
    shape.quad(at(a, true), at(b, true), at(b, false), at(a, false));
    shape.quad(at(d, false), at(c, false), at(c, true), at(d, true));
  }
  if (!closed)
    for (const size_t i : {size_t(0), n - 1}) {
      const Vec2d &a = outer[i], &d = inner[i];
      i == 0 ? shape.quad(at(a, true), at(a, false), at(d, false), at(d, true))
             : shape.quad(at(d, true), at(d, false), at(a, false), at(a, true));
    }
  return shape;
}

Shape rod(const std::vector<Vec3d>& path, double radius, bool closed, int around) {
  Shape shape;
  const size_t n = path.size();
  std::vector<std::vector<Vec3d>> rings;
  Vec3d side(0, 0, 0);
  for (size_t i = 0; i < n; ++i) {
    const Vec3d ahead = closed || (i > 0 && i + 1 < n) ? path[(i + 1) % n] - path[(i + n - 1) % n]
                        : i == 0                       ? path[1] - path[0]
                                                       : path[n - 1] - path[n - 2];
    const Vec3d along = ahead.normalized();
    // The side is carried along the path, so that the rod does not twist.
    side -= along * side.dot(along);
    if (side.length() < 1e-6)
      side = std::abs(along.z) < 0.9 ? along.cross({0, 0, 1}) : along.cross({1, 0, 0});
    side.normalize();
    const Vec3d other = along.cross(side);
    rings.emplace_back();
    for (int k = 0; k < around; ++k) {
      const double a = 2 * pi * k / around;
      rings.back().push_back(path[i] + (side * std::cos(a) + other * std::sin(a)) * radius);
    }
  }
  const size_t count = size_t(around);
  for (size_t i = 0; i + 1 < n + (closed ? 1 : 0); ++i)
    for (size_t k = 0; k < count; ++k) {
      const auto &a = rings[i], &b = rings[(i + 1) % n];
      shape.quad(a[k], a[(k + 1) % count], b[(k + 1) % count], b[k]);
    }
  if (!closed)
    for (size_t k = 0; k < count; ++k) {
      shape.triangle(path[0], rings[0][(k + 1) % count], rings[0][k]);
      shape.triangle(path[n - 1], rings[n - 1][k], rings[n - 1][(k + 1) % count]);
    }
  return shape;
}

Shape ball(const std::function<double(const Vec3d&)>& radius, int steps) {
  Shape shape;
  const auto at = [&](int i, int k) {
    const double a = 2 * pi * (i % (2 * steps)) / (2 * steps), z = pi * k / steps;
    const Vec3d d(std::sin(z) * std::cos(a), std::sin(z) * std::sin(a), -std::cos(z));
    const Vec3d whole = k == 0 ? Vec3d(0, 0, -1) : k == steps ? Vec3d(0, 0, 1) : d;
    return whole * radius(whole);
  };
  for (int k = 0; k < steps; ++k)
    for (int i = 0; i < 2 * steps; ++i)
      if (k == 0)
        shape.triangle(at(i, 0), at(i + 1, 1), at(i, 1));
      else if (k == steps - 1)
        shape.triangle(at(i, k), at(i + 1, k), at(i, k + 1));
      else
        shape.quad(at(i, k), at(i + 1, k), at(i + 1, k + 1), at(i, k + 1));
  return shape;
}

namespace {

uint32_t mixed(uint32_t a, uint32_t b, uint32_t c, uint32_t d) {
  uint32_t h = a * 0x9e3779b1u ^ b * 0x85ebca77u ^ c * 0xc2b2ae3du ^ d * 0x27d4eb2fu;
  h ^= h >> 15, h *= 0x2c1b3c6du, h ^= h >> 12, h *= 0x297a2d39u;
  return h ^ (h >> 15);
}

}  // namespace

double chance(int seed, int a, int b) {
  return double(mixed(uint32_t(seed), uint32_t(a), uint32_t(b), 17) >> 8) * 0x1p-24;
}
double between(double low, double high, int seed, int a, int b) {
  return low + (high - low) * chance(seed, a, b);
}

double noiseAt(const Vec3d& p, int seed) {
  const Vec3d base(std::floor(p.x), std::floor(p.y), std::floor(p.z)), f = p - base;
  const auto fade = [](double t) { return t * t * t * (t * (t * 6 - 15) + 10); };
  double sum = 0;
  for (int corner = 0; corner < 8; ++corner) {
    const int i = corner & 1, j = corner >> 1 & 1, k = corner >> 2;
    const uint32_t h = mixed(uint32_t(int(base.x) + i), uint32_t(int(base.y) + j), uint32_t(int(base.z) + k),
                             uint32_t(seed)) &
                       15;
    const double x = f.x - i, y = f.y - j, z = f.z - k, u = h < 8 ? x : y,
                 v = h < 4                ? y
                     : h == 12 || h == 14 ? x
                                          : z;
    const double grad = ((h & 1) ? -u : u) + ((h & 2) ? -v : v);
    sum += grad * (i ? fade(f.x) : 1 - fade(f.x)) * (j ? fade(f.y) : 1 - fade(f.y)) *
           (k ? fade(f.z) : 1 - fade(f.z));
  }
  return sum;
}

}  // namespace dusk::set
