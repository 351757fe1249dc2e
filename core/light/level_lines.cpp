#include "core/light/level_lines.h"

#include <algorithm>
#include <tuple>

namespace dusk {
namespace {

struct Edge {
  double degrees, weight;  ///< azimuth folded to a quarter turn
};

double folded(double degrees) { return degrees - 90 * std::floor(degrees / 90); }
double apart(double a, double b) { return std::abs(std::remainder(a - b, 90.0)); }

/// The azimuth a segment has if it is level, and what it tells of that: more the longer it is, and the less
/// it lies at eye level, where all azimuths look alike.
std::optional<Edge> edgeOf(const Segment& s) {
  const Vec3d& n = s.normal;
  const double level = std::hypot(n.x, n.y);
  // Uprights, and what looks like one: the plane stands upright.
  if (std::abs(n.z) < 0.2 || level < 0.12) return {};
  return Edge{folded(degrees(std::atan2(-n.y, n.x))), std::sin(s.angle) * level};
}

}  // namespace

std::optional<LevelDirections> levelDirections(const std::vector<Segment>& segments) {
  std::vector<Edge> edges;
  for (const Segment& s : segments)
    if (const auto edge = edgeOf(s)) edges.push_back(*edge);
  if (edges.size() < 12) return {};
  // The order they were found in must not matter.
  std::sort(edges.begin(), edges.end(), [](const Edge& a, const Edge& b) {
    return std::tie(a.degrees, a.weight) < std::tie(b.degrees, b.weight);
  });
  double all = 0, best = -1, at = 0;
  for (const Edge& e : edges) all += e.weight;
  for (double d = 0; d < 90; d += 0.25) {
    double sum = 0;
    for (const Edge& e : edges) sum += e.weight * std::max(0.0, 1 - apart(e.degrees, d) / 2);
    if (sum > best) best = sum, at = d;
  }
  // The mean of what is near, ever nearer.
  double spread = 0, kept = 0, squares = 0;
  for (const double reach : {3.0, 1.5, 1.5}) {
    double off = 0;
    spread = kept = squares = 0;
    for (const Edge& e : edges)
      if (const double by = std::remainder(e.degrees - at, 90.0); std::abs(by) < reach)
        off += e.weight * by, kept += e.weight, squares += e.weight * e.weight, spread += e.weight * by * by;
    if (kept <= 0) return {};
    at = folded(at + off / kept);
  }
  const double share = kept / all, count = kept * kept / squares;
  // Edges that run every way would have 3 of 90 degrees within reach.
  if (count < 5 || share < 0.2) return {};
  return LevelDirections{at, std::sqrt(spread / kept / count), share};
}

}  // namespace dusk
