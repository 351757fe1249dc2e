#include "core/product/hull.h"

extern "C" {
#include <libqhull_r/qhull_ra.h>
}

namespace dusk {
namespace {

/// Extreme points along many directions: enough to hull, a small share of all.
std::vector<Vec3f> extremes(const Model& model, const std::vector<Vec3f>& directions) {
  std::vector<Vec3f> best(directions.size());
  std::vector<float> most(directions.size(), -1e30f);
  for (const Part& part : model.parts)
    for (const Vec3f& p : part.mesh.positions)
      for (size_t i = 0; i < directions.size(); ++i)
        if (const float d = p.dot(directions[i]); d > most[i]) most[i] = d, best[i] = p;
  return best;
}

std::vector<Vec3f> cornersOfHull(std::vector<double>& coordinates) {
  const int count = int(coordinates.size() / 3);
  if (count < 5) return {};
  qhT state;
  qhT* qh = &state;
  QHULL_LIB_CHECK
  FILE* nowhere = std::fopen("/dev/null", "w");
  if (!nowhere) return {};
  qh_zero(qh, nowhere);
  char command[] = "qhull Pp";
  std::vector<Vec3f> corners;
  if (qh_new_qhull(qh, 3, count, coordinates.data(), 0, command, nowhere, nowhere) == 0) {
    vertexT* vertex;
    FORALLvertices corners.emplace_back(float(vertex->point[0]), float(vertex->point[1]),
                                        float(vertex->point[2]));
  }
  qh_freeqhull(qh, !qh_ALL);
  int left = 0, total = 0;
  qh_memfreeshort(qh, &left, &total);
  std::fclose(nowhere);
  return corners;
}

}  // namespace

Rest restOf(const Model& model) {
  Rest rest;
  Vec3d byVolume(0, 0, 0), byArea(0, 0, 0);
  double volume = 0, area = 0;
  for (const Part& part : model.parts) {
    // About the part's own first corner, so that far-off origins cost no digits; turned-out parts count too.
    if (part.mesh.positions.empty()) continue;
    const Vec3d origin = toDouble(part.mesh.positions[0]);
    Vec3d moment(0, 0, 0);
    double inside = 0;
    for (size_t i = 0; i + 2 < part.mesh.indices.size(); i += 3) {
      const auto at = [&](size_t k) {
        return toDouble(part.mesh.positions[part.mesh.indices[i + k]]) - origin;
      };
      const Vec3d a = at(0), b = at(1), c = at(2);
      const double v = a.dot(b.cross(c)) / 6, s = (b - a).cross(c - a).length() / 2;
      inside += v, moment += (a + b + c) * (v / 4);
      area += s, byArea += ((a + b + c) / 3.0 + origin) * s;
    }
    if (std::abs(inside) > 0) byVolume += moment * (inside < 0 ? -1 : 1) + origin * std::abs(inside);
    volume += std::abs(inside);
  }
  const double size = std::sqrt(area);
  if (volume > 1e-6 * size * size * size)
    rest.centreOfMass = toFloat(byVolume / volume);
  else if (area > 0)
    rest.centreOfMass = toFloat(byArea / area);

  std::vector<double> coordinates;
  size_t points = 0;
  for (const Part& part : model.parts) points += part.mesh.positions.size();
  const auto add = [&](const Vec3f& p) { coordinates.insert(coordinates.end(), {p.x, p.y, p.z}); };
  coordinates.reserve(points * 3);
  for (const Part& part : model.parts)
    for (const Vec3f& p : part.mesh.positions) add(p);
  rest.hull = cornersOfHull(coordinates);
  if (rest.hull.empty()) {
    std::vector<Vec3f> directions;
    for (int x = -1; x <= 1; ++x)
      for (int y = -1; y <= 1; ++y)
        for (int z = -1; z <= 1; ++z)
          if (x || y || z) directions.push_back(Vec3f(float(x), float(y), float(z)).normalized());
    rest.hull = extremes(model, directions);
  }
  return rest;
}

}  // namespace dusk
