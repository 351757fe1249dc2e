#include "bench/made_up_cameras.h"

#include <Eigen/Geometry>

namespace dusk::study {
namespace {

double between(std::mt19937& random, double low, double high) {
  return std::uniform_real_distribution<double>(low, high)(random);
}

bool inside(const Vec2d& p, double margin = 8) {
  return p.x > margin && p.y > margin && p.x < width - margin && p.y < height - margin;
}

void addNoise(Vec2d& p, std::mt19937& random, double noise) {
  std::normal_distribution<double> bell(0, noise);
  p += Vec2d(bell(random), bell(random));
}

/// Points of the photo along the world line through `middle`, out to `reach` pixels either way; empty when
/// that leaves the frame.
std::vector<Vec2d> alongEdge(const Camera& camera, const Vec3d& middle, const Vec3d& axis, double reach) {
  const auto centre = projected(camera, middle);
  if (!centre) return {};
  const auto side = [&](double sign) -> std::optional<Vec3d> {
    double step = 0.01, t = 0;
    for (int i = 0; i < 400; ++i) {
      const auto p = projected(camera, middle + axis * (sign * (t + step)));
      if (!p || (*p - *centre).length() > 1.3 * reach) {
        step /= 2;
        continue;
      }
      t += step;
      if ((*p - *centre).length() >= reach) return middle + axis * (sign * t);
    }
    return {};
  };
  const auto from = side(-1), to = side(1);
  if (!from || !to) return {};
  std::vector<Vec2d> points;
  const auto first = projected(camera, *from), last = projected(camera, *to);
  // Even in the photo, not in the place.
  for (int i = 0; i < 5; ++i) {
    const Vec2d want = *first + (*last - *first) * (i / 4.0);
    double low = 0, high = 1;
    for (int k = 0; k < 50; ++k) {
      const double mid = (low + high) / 2;
      const auto p = projected(camera, *from + (*to - *from) * mid);
      if (!p) return {};
      ((*p - *first).dot(*last - *first) < (want - *first).dot(*last - *first) ? low : high) = mid;
    }
    const auto p = projected(camera, *from + (*to - *from) * low);
    if (!p || !inside(*p)) return {};
    points.push_back(*p);
  }
  return points;
}

}  // namespace

Camera someCamera(std::mt19937& random) {
  const double focal = focalPxFromMm35(18 * std::pow(135.0 / 18, between(random, 0, 1)), width, height);
  Camera c;
  c.width = width, c.height = height, c.focalPx = focal, c.cx = width / 2.0, c.cy = height / 2.0;
  c.k1 = between(random, -0.15, 0.05);
  // No lens sits dead centre; as far off as the solver believes.
  std::normal_distribution<double> off(0, 0.003 * width);
  c.cx += off(random), c.cy += off(random);
  c.position = {between(random, -1, 1), between(random, -4, -2), between(random, 0.5, 3)};
  const double yaw = radians(between(random, -45, 45)), pitch = radians(between(random, -35, 10)),
               turn = radians(between(random, -5, 5));
  const Vec3d forward(std::sin(yaw) * std::cos(pitch), std::cos(yaw) * std::cos(pitch), std::sin(pitch));
  Camera level = lookAt(width, height, focal, {0, 0, 0}, forward);
  c.axes.z = forward;
  c.axes.x = level.axes.x * std::cos(turn) + level.axes.y * std::sin(turn);
  c.axes.y = c.axes.z.cross(c.axes.x);
  return c;
}

Drawing strokes(const Camera& camera, std::mt19937& random, const std::vector<Run>& runs, int perRun,
                double noise, bool outlier) {
  Drawing d;
  const Vec3d axes[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  for (const Run run : runs)
    for (int made = 0, tries = 0; made < perRun && tries < 4000; ++tries) {
      const Vec2d at(between(random, 0, width), between(random, 0, height));
      const Vec3d middle = camera.position + rayThrough(camera, at) * between(random, 3, 10);
      const auto toward = projected(camera, middle + axes[int(run)] * 1e-3);
      if (!toward || (*toward - at).length() < 1e-9) continue;
      const Vec2d way = (*toward - at).normalized();
      const double chord =
          std::min(width / std::max(std::abs(way.x), 1e-6), height / std::max(std::abs(way.y), 1e-6));
      const auto points = alongEdge(camera, middle, axes[int(run)], 0.5 * chord * between(random, 0.2, 0.6));
      if (points.empty()) continue;
      const std::string id = "stroke-" + std::to_string(d.exact.strokes.size() + 1);
      d.exact.strokes.push_back({id, run, points});
      d.drawn.strokes.push_back({id, run, points});
      for (Vec2d& p : d.drawn.strokes.back().points) addNoise(p, random, noise);
      ++made;
    }
  if (outlier && !d.drawn.strokes.empty()) {
    // One end on another thing altogether.
    Stroke& wrong = d.drawn.strokes[size_t(between(random, 0, double(d.drawn.strokes.size()) - 0.01))];
    const Vec2d along = wrong.points.back() - wrong.points.front();
    const Vec2d off = Vec2d(-along.y, along.x) * between(random, 0.1, 0.3);
    for (size_t i = 0; i < wrong.points.size(); ++i)
      wrong.points[i] += off * (double(i) / double(wrong.points.size() - 1));
    d.outlier = wrong.id;
  }
  return d;
}

std::optional<Drawing> footprint(const Camera& camera, std::mt19937& random, double noise) {
  for (int tries = 0; tries < 400; ++tries) {
    const auto spot =
        levelPoint(camera, {between(random, 0.2, 0.6) * width, between(random, 0.4, 0.95) * height});
    if (!spot) continue;
    const double far = (*spot - camera.position).length() * width / camera.focalPx;
    const Vec2d size(far * between(random, 0.25, 0.5), far * between(random, 0.25, 0.9));
    Drawing d;
    Footprint exact;
    exact.sizeM = size;
    bool seen = true;
    for (size_t i = 0; i < 4; ++i) {
      const auto p = projected(camera, *spot + Vec3d(i == 1 || i == 2 ? size.x : 0, i >= 2 ? size.y : 0, 0));
      seen = seen && p && inside(*p);
      if (seen) exact.corners[i] = *p;
    }
    if (!seen) continue;
    double area = 0;
    for (size_t i = 0; i < 4; ++i) {
      const Vec2d a = exact.corners[i], b = exact.corners[(i + 1) % 4];
      area += (a.x * b.y - a.y * b.x) / 2;
    }
    if (std::abs(area) < 0.04 * width * height) continue;
    d.exact.footprint = exact;
    for (Vec2d& p : exact.corners) addNoise(p, random, noise);
    d.drawn.footprint = exact;
    return d;
  }
  return {};
}

Drawing pins(const Camera& camera, std::mt19937& random, int count, double noise) {
  Drawing d;
  while (int(d.exact.pins.size()) < count) {
    const Vec2d at(between(random, 0.1, 0.9) * width, between(random, 0.1, 0.9) * height);
    const Vec3d world = camera.position + rayThrough(camera, at) * between(random, 2, 5);
    d.exact.pins.push_back({at, world});
    d.drawn.pins.push_back({at, world});
    addNoise(d.drawn.pins.back().at, random, noise);
  }
  return d;
}

}  // namespace dusk::study
