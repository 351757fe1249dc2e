#include "core/product/hull.h"

#include <tbb/parallel_for.h>
#include <algorithm>

extern "C" {
#include <libqhull_r/qhull_ra.h>
}

namespace dusk {
namespace {

/// A mesh where it shows, in the model's frame.
struct Shown {
  const Mesh* mesh;
  Similarity place;
  bool moved;  ///< `place` is not the identity
  Vec3f at(uint32_t i) const {
    return moved ? toFloat(place.point(toDouble(mesh->positions[i]))) : mesh->positions[i];
  }
};

std::vector<Vec3f> directions() {
  std::vector<Vec3f> all;
  for (int x = -1; x <= 1; ++x)
    for (int y = -1; y <= 1; ++y)
      for (int z = -1; z <= 1; ++z)
        if (x || y || z) all.push_back(Vec3f(float(x), float(y), float(z)).normalized());
  return all;
}

std::vector<Vec3f> extremes(const std::vector<Vec3f>& points) {
  std::vector<Vec3f> best;
  for (const Vec3f& d : directions())
    best.push_back(*std::max_element(points.begin(), points.end(),
                                     [&](const Vec3f& a, const Vec3f& b) { return a.dot(d) < b.dot(d); }));
  return best;
}

/// The points but for those inside the hull of the extreme corners along 26 directions.
std::vector<Vec3f> outerPoints(std::vector<Vec3f> points) {
  if (points.size() < 5000) return points;
  const std::vector<Vec3f> corners = extremes(points);
  Vec3f middle(0, 0, 0);
  for (const Vec3f& c : corners) middle += c / float(corners.size());
  // Planes of the hull of those few corners: a point behind all of them is inside.
  struct Plane {
    Vec3f n;
    float d;
  };
  std::vector<Plane> planes;
  for (size_t i = 0; i < corners.size(); ++i)
    for (size_t j = i + 1; j < corners.size(); ++j)
      for (size_t k = j + 1; k < corners.size(); ++k) {
        Vec3f n = (corners[j] - corners[i]).cross(corners[k] - corners[i]);
        if (n.length() < 1e-12f) continue;
        n.normalize();
        float d = n.dot(corners[i]);
        if (n.dot(middle) > d) n = -n, d = -d;
        const float slack = 1e-6f * (std::abs(d) + (corners[i] - middle).length());
        if (std::all_of(corners.begin(), corners.end(),
                        [&](const Vec3f& c) { return n.dot(c) <= d + slack; }))
          planes.push_back({n, d - 4 * slack});
      }
  if (planes.size() < 4) return points;
  std::erase_if(points, [&](const Vec3f& p) {
    return std::all_of(planes.begin(), planes.end(), [&](const Plane& q) { return q.n.dot(p) < q.d; });
  });
  return points;
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

Rest restOf(const std::vector<Shown>& shown) {
  Rest rest;
  std::vector<Mass> masses(shown.size());
  std::vector<size_t> first(shown.size() + 1, 0);
  for (size_t i = 0; i < shown.size(); ++i) first[i + 1] = first[i] + shown[i].mesh->positions.size();
  std::vector<Vec3f> points(first.back());
  tbb::parallel_for(size_t{0}, shown.size(), [&](size_t i) {
    masses[i] = massOf(*shown[i].mesh, shown[i].place);
    for (size_t k = first[i]; k < first[i + 1]; ++k) points[k] = shown[i].at(uint32_t(k - first[i]));
  });
  Mass all;
  for (const Mass& m : masses)
    all.volume += m.volume, all.area += m.area, all.byVolume += m.byVolume, all.byArea += m.byArea;
  const double size = std::sqrt(all.area);
  if (all.volume > 1e-6 * size * size * size)
    rest.centreOfMass = toFloat(all.byVolume / all.volume);
  else if (all.area > 0)
    rest.centreOfMass = toFloat(all.byArea / all.area);
  if (points.empty()) return rest;
  points = outerPoints(std::move(points));
  std::vector<double> coordinates;
  coordinates.reserve(points.size() * 3);
  for (const Vec3f& p : points) coordinates.insert(coordinates.end(), {p.x, p.y, p.z});
  rest.hull = cornersOfHull(coordinates);
  if (rest.hull.empty()) rest.hull = extremes(points);
  return rest;
}

}  // namespace

Mass massOf(const Mesh& mesh, const Similarity& place) {
  Mass mass;
  if (mesh.positions.empty()) return mass;
  // About the mesh's own first corner, so that far-off origins cost no digits; turned-out parts count too.
  const Vec3d origin = toDouble(mesh.positions[0]);
  Vec3d moment(0, 0, 0);
  double inside = 0;
  for (size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
    const auto at = [&](size_t k) { return toDouble(mesh.positions[mesh.indices[i + k]]) - origin; };
    const Vec3d a = at(0), b = at(1), c = at(2);
    const double v = a.dot(b.cross(c)) / 6, s = (b - a).cross(c - a).length() / 2;
    inside += v, moment += (a + b + c) * (v / 4);
    mass.area += s, mass.byArea += ((a + b + c) / 3.0 + origin) * s;
  }
  mass.volume = std::abs(inside);
  if (mass.volume > 0) mass.byVolume = moment * (inside < 0 ? -1 : 1) + origin * mass.volume;
  // Into the model's frame.
  const double s = place.scale;
  const auto placed = [&](const Vec3d& moments, double amount, double scale) {
    return amount > 0 ? place.point(moments / amount) * (amount * scale) : Vec3d(0, 0, 0);
  };
  mass.byVolume = placed(mass.byVolume, mass.volume, s * s * s), mass.volume *= s * s * s;
  mass.byArea = placed(mass.byArea, mass.area, s * s), mass.area *= s * s;
  return mass;
}

Rest restOf(const Model& model) {
  std::vector<Shown> shown;
  for (const Part& p : model.parts) shown.push_back({&model.meshOf(p), p.place, !(p.place == Similarity{})});
  return restOf(shown);
}

Rest restOf(const Product& product, const Model& model) {
  if (product.hiddenParts.empty() && product.moves.empty()) return model.rest;
  std::vector<Shown> shown;
  for (const Part& p : model.parts)
    if (!product.hiddenParts.contains(p.path))
      shown.push_back({&model.meshOf(p), movedWithin(product, p).after(p.place), true});
  return shown.empty() ? model.rest : restOf(shown);
}

}  // namespace dusk
