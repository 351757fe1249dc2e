#include "core/product/settle.h"

#include "core/product/hull.h"
#include "core/product/stand.h"

namespace dusk {
namespace {

/// The point of the convex hull of `support` (on the ground) nearest to the origin, and the one or two
/// corners it lies between; nothing when the origin is inside.
struct Nearest {
  Vec2d point;
  Vec2d along{0, 0};  ///< direction of the edge; zero for a corner
};
std::optional<Nearest> nearestOutside(std::vector<Vec2d> support, double tolerance) {
  // Convex hull by Andrew's monotone chain (1979).
  std::sort(support.begin(), support.end(),
            [](const Vec2d& a, const Vec2d& b) { return a.x < b.x || (a.x == b.x && a.y < b.y); });
  const auto cross = [](const Vec2d& o, const Vec2d& a, const Vec2d& b) {
    return (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);
  };
  std::vector<Vec2d> hull;
  for (int pass = 0; pass < 2; ++pass) {
    const size_t begin = hull.size();
    for (const Vec2d& p : support) {
      while (hull.size() >= begin + 2 && cross(hull[hull.size() - 2], hull.back(), p) <= 0) hull.pop_back();
      hull.push_back(p);
    }
    hull.pop_back();
    std::reverse(support.begin(), support.end());
  }
  if (hull.empty()) hull.push_back(support.front());
  bool inside = hull.size() >= 3;
  Nearest best{hull[0], {0, 0}};
  for (size_t i = 0; i < hull.size() && hull.size() >= 2; ++i) {
    const Vec2d a = hull[i], b = hull[(i + 1) % hull.size()], d = b - a;
    inside = inside && cross(a, b, {0, 0}) >= -tolerance * d.length();
    const double t = std::clamp(-a.dot(d) / std::max(d.dot(d), 1e-30), 0.0, 1.0);
    const Vec2d p = a + d * t;
    if (p.length() < best.point.length() - 1e-15)
      best = {p, t > 1e-9 && t < 1 - 1e-9 ? d.normalized() : Vec2d(0, 0)};
  }
  if (inside || best.point.length() <= tolerance) return {};
  return best;
}

}  // namespace

Settled settled(const std::vector<Vec3d>& hull, const Vec3d& centre, double tolerance) {
  Settled result;
  std::vector<Vec3d> points;
  for (const Vec3d& p : hull) points.push_back(p - centre);
  if (points.empty()) return result;
  Triadd& r = result.rotation;
  for (int step = 0; step < 200; ++step) {
    double low = 1e300;
    for (const Vec3d& p : points) low = std::min(low, p.z);
    std::vector<Vec2d> support;
    for (const Vec3d& p : points)
      if (p.z < low + tolerance) support.push_back({p.x, p.y});
    const auto off = nearestOutside(support, tolerance);
    if (!off) break;
    // It tips towards where the centre (the origin here) lies beyond the point it stands on.
    const Vec2d fall = off->along.length() > 0
                           ? Vec2d(-off->along.y, off->along.x) *
                                 (Vec2d(-off->along.y, off->along.x).dot(off->point) > 0 ? -1 : 1)
                           : -off->point.normalized();
    const Vec3d ahead(fall.x, fall.y, 0), axis = Vec3d(0, 0, 1).cross(ahead);
    double angle = pi;
    for (const Vec3d& p : points) {
      const double reach = ahead.dot(p) - fall.dot(off->point), height = p.z - low;
      if (height < tolerance && reach < tolerance) continue;  // stands already, or stays behind
      const double down = std::atan2(height, reach);
      if (down > 1e-9) angle = std::min(angle, down);
    }
    for (Vec3d& p : points) p = turned(p, axis, angle);
    r = {turned(r.x, axis, angle), turned(r.y, axis, angle), turned(r.z, axis, angle)};
  }
  double low = 1e300;
  for (const Vec3d& p : points) low = std::min(low, p.z);
  for (const Vec3d& p : points)
    if (p.z < low + tolerance) result.contacts.push_back(p);
  result.tiltedDegrees = degrees(std::acos(std::clamp(r.z.z, -1.0, 1.0)));
  return result;
}

Placement turnedPlacement(const Product& product, const Placement& placement, const Model& model,
                          const Triadd& rotation) {
  const Similarity world = worldFromModel(product, placement, model);
  // The rotation from the upright product to how it lies now, split into a turn about the upright and a lean
  // about a level axis (swing and twist).
  Placement lying = placement, standing;
  standing.productId = placement.productId;
  const Triadd upright = worldFromModel(product, standing, model).rotation;
  const auto now = [&](const Vec3d& v) {
    return rotation.toWorld(world.rotation.toWorld(upright.toLocal(v)));
  };
  const Vec3d x = now({1, 0, 0}), z = now({0, 0, 1});
  const double leaning = std::acos(std::clamp(z.z, -1.0, 1.0));
  Vec3d axis = Vec3d(0, 0, 1).cross(z);
  axis = axis.length() > 1e-12 ? axis.normalized() : Vec3d(1, 0, 0);
  const Vec3d level = turned(x, axis, -leaning);
  lying.turnDegrees = wrapDegrees(degrees(std::atan2(level.y, level.x)));
  // The lean comes before the turn: its axis is told in the product's own frame.
  const Vec3d own = turned(axis, {0, 0, 1}, -radians(lying.turnDegrees));
  lying.leanXDegrees = degrees(leaning) * own.x, lying.leanYDegrees = degrees(leaning) * own.y;
  if (leaning < 1e-9) lying.leanXDegrees = lying.leanYDegrees = 0;
  return lying;
}

Placement settledPlacement(const Product& product, const Placement& placement, const Model& model) {
  const Similarity world = worldFromModel(product, placement, model);
  const Rest visible = restOf(product, model);
  std::vector<Vec3d> hull;
  for (const Vec3f& p : visible.hull) hull.push_back(world.point(toDouble(p)));
  const double size = trueSize(product, model.box()).length();
  const Settled rest = settled(hull, world.point(toDouble(visible.centreOfMass)), 1e-5 * size);
  Placement lying = turnedPlacement(product, placement, model, rest.rotation);
  lying.liftM = 0;
  // Hidden and moved parts do not count for where the model is put, but for what touches.
  if (!product.hiddenParts.empty() || !product.moves.empty())
    lying.liftM = -lowestM(worldFromModel(product, lying, model), visible);
  return lying;
}

Landing landed(const Shot& shot, const Product& product, const Placement& placement, const Model& model) {
  const double plane = planeHeightM(shot, placement);
  const Rest rest = restOf(product, model);
  const Similarity before = worldFromModel(product, placement, model, plane);
  const Vec3d centre = before.point(toDouble(rest.centreOfMass));
  // What it is sunk into by less than a fifth of its height still counts as under it.
  const double slack = 0.2 * trueSize(product, model.box()).z;
  const StandIn* top = topUnder(shot, {centre.x, centre.y}, lowestM(before, rest) + slack);
  Landing landing{placement, {}, false};
  Placement& p = landing.placement;
  const LevelPlane* level = byId(shot.levels, p.levelId);
  if (top)
    p.levelId = top->id, landing.on = top->name;
  else if (level)
    landing.on = level->name;
  else
    p.levelId.clear();
  p = settledPlacement(product, p, model);
  if (!top) return landing;
  const Similarity after = worldFromModel(product, p, model, top->topM());
  const Vec3d over = after.point(toDouble(rest.centreOfMass));
  const double touching = top->topM() + 1e-4 * trueSize(product, model.box()).length();
  std::vector<Vec2d> support;
  const auto add = [&](const Vec3d& at) {
    if (at.z < touching && isOnTop(*top, {at.x, at.y})) support.push_back({at.x - over.x, at.y - over.y});
  };
  for (const Vec3f& c : rest.hull) add(after.point(toDouble(c)));
  // A flat foot may lie half on the top: it is carried up to the edge.
  for (const Part& part : model.parts) {
    if (product.hiddenParts.contains(part.path)) continue;
    const Similarity world = after.after(movedWithin(product, part).after(part.place));
    const Mesh& mesh = model.meshOf(part);
    for (size_t t = 0; t + 2 < mesh.indices.size(); t += 3) {
      Vec3d corner[3];
      for (size_t k = 0; k < 3; ++k) corner[k] = world.point(toDouble(mesh.positions[mesh.indices[t + k]]));
      if (std::max({corner[0].z, corner[1].z, corner[2].z}) >= touching) continue;
      constexpr int steps = 16;
      for (int i = 0; i <= steps; ++i)
        for (int k = 0; k <= steps - i; ++k)
          add((corner[0] * i + corner[1] * k + corner[2] * (steps - i - k)) / steps);
    }
  }
  landing.tips = support.empty() || nearestOutside(support, 1e-6).has_value();
  return landing;
}

double lowestM(const Similarity& world, const Rest& rest) {
  double low = 1e300;
  for (const Vec3f& p : rest.hull) low = std::min(low, world.point(toDouble(p)).z);
  return low;
}

double gapM(const Product& product, const Placement& placement, const Model& model) {
  return lowestM(worldFromModel(product, placement, model), restOf(product, model));
}

}  // namespace dusk
