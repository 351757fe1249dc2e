#include "core/product/model.h"

#include <algorithm>

namespace dusk {
namespace {

/// Rotation that brings the model's up-axis to +Z, keeping a right-handed frame.
Triadd upright(UpAxis up) {
  switch (up) {
    case UpAxis::x:
      return {{0, 0, 1}, {1, 0, 0}, {0, 1, 0}};
    case UpAxis::y:
      return {{1, 0, 0}, {0, 0, 1}, {0, -1, 0}};
    case UpAxis::z:
      break;
  }
  return {};
}

}  // namespace

bool isUnder(const std::string& path, const std::string& branch) {
  return path.starts_with(branch) && (path.size() == branch.size() || path[branch.size()] == '/');
}

Box Model::boxOf(const Part& part) const {
  Box box;
  for (const Vec3f& v : meshOf(part).positions) box.add(part.place.point(toDouble(v)));
  return box;
}

Box Model::box() const {
  Box box;
  for (const Vec3f& v : rest.hull) box.add(toDouble(v));
  if (!box.empty()) return box;
  for (const Part& p : parts)
    if (const Box one = boxOf(p); !one.empty()) box.add(one.low), box.add(one.high);
  return box;
}

PartRole roleOf(const Product& product, const std::string& path) {
  const PartRole* nearest = nullptr;
  size_t longest = 0;
  for (const auto& [branch, role] : product.roles)
    if (isUnder(path, branch) && branch.size() >= longest) nearest = &role, longest = branch.size();
  return nearest ? *nearest : PartRole{};
}

bool isRendered(const Product& product, const std::string& path) {
  return !product.hiddenParts.contains(path) && !roleOf(product, path).catcher;
}

bool hasCatchers(const Product& product) {
  return std::any_of(product.roles.begin(), product.roles.end(),
                     [](const auto& role) { return role.second.catcher; });
}

bool isNowhereRendered(const Product& product, const Model& model) {
  return std::none_of(model.parts.begin(), model.parts.end(),
                      [&](const Part& part) { return isRendered(product, part.path); });
}

std::vector<std::string> rootsOf(const Model& model) {
  std::set<std::string> roots;
  for (const Part& part : model.parts) roots.insert(part.path.substr(0, part.path.find('/')));
  return {roots.begin(), roots.end()};
}

void letCatch(Product& product, const std::vector<std::string>& branches, bool catches) {
  for (const std::string& branch : branches) {
    const PartRole before = roleOf(product, branch);
    for (auto& [path, role] : product.roles)
      if (isUnder(path, branch)) role.catcher = catches;
    PartRole now = before;
    now.catcher = catches;
    product.roles.erase(branch);
    if (!(roleOf(product, branch) == now)) product.roles[branch] = now;
  }
}

Similarity movedWithin(const Product& product, const Part& part) {
  Similarity all;
  if (product.moves.empty()) return all;
  // A longer path is deeper in: its move comes first.
  std::vector<std::pair<size_t, const PartMove*>> found;
  for (const auto& [path, move] : product.moves)
    if (isUnder(part.path, path)) found.emplace_back(path.size(), &move);
  std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  for (const auto& [length, move] : found) {
    const Vec3d axis = move->axis.normalized();
    const auto turn = [&](const Vec3d& v) { return turned(v, axis, radians(move->turnDegrees)); };
    Similarity one;
    one.rotation = {turn({1, 0, 0}), turn({0, 1, 0}), turn({0, 0, 1})};
    one.shift = move->pivot - one.direction(move->pivot) + move->shift;
    all = one.after(all);
  }
  return all;
}

Similarity worldFromModel(const Product& product, const Placement& placement, const Model& model,
                          double planeM) {
  const Triadd up = upright(product.up);
  const Box box = model.box();
  const double c = std::cos(radians(placement.turnDegrees)), s = std::sin(radians(placement.turnDegrees));
  const Vec3d lean(radians(placement.leanXDegrees), radians(placement.leanYDegrees), 0);
  const double angle = lean.length();
  const Vec3d axis = angle > 0 ? lean / angle : Vec3d(1, 0, 0);
  // The lean, then the turn counter-clockwise from above.
  const auto turn = [&](const Vec3d& v) {
    const Vec3d l = angle > 0 ? turned(v, axis, angle) : v;
    return Vec3d(c * l.x - s * l.y, s * l.x + c * l.y, l.z);
  };
  Similarity result;
  result.rotation = {turn(up.x), turn(up.y), turn(up.z)};
  result.scale = product.metresPerUnit;
  const Vec3d middle = turn(up.toWorld(box.middle() * product.metresPerUnit));
  double below = trueSize(product, box).z / 2;
  if (angle > 0 && !model.rest.hull.empty()) {
    below = -1e300;
    for (const Vec3f& p : model.rest.hull)
      below = std::max(below, middle.z - result.rotation.toWorld(toDouble(p) * result.scale).z);
  }
  result.shift = Vec3d(placement.xM, placement.yM, planeM + placement.liftM) - middle + Vec3d(0, 0, below);
  return result;
}

Vec3d trueSize(const Product& product, const Box& box) {
  const Vec3d s = upright(product.up).toWorld(box.size() * product.metresPerUnit);
  return {std::abs(s.x), std::abs(s.y), std::abs(s.z)};
}

}  // namespace dusk
