#include "core/product/model.h"

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

Similarity worldFromModel(const Product& product, const Placement& placement, const Model& model) {
  const Triadd up = upright(product.up);
  const Box box = model.box();
  const double c = std::cos(radians(placement.turnDegrees)), s = std::sin(radians(placement.turnDegrees));
  const Vec3d lean(radians(placement.leanXDegrees), radians(placement.leanYDegrees), 0);
  const double angle = lean.length();
  const Vec3d axis = angle > 0 ? lean / angle : Vec3d(1, 0, 0);
  // The lean, then the turn counter-clockwise from above.
  const auto turn = [&](const Vec3d& v) {
    const Vec3d l = angle > 0 ? v * std::cos(angle) + axis.cross(v) * std::sin(angle) +
                                    axis * (axis.dot(v) * (1 - std::cos(angle)))
                              : v;
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
  result.shift = Vec3d(placement.xM, placement.yM, placement.liftM) - middle + Vec3d(0, 0, below);
  return result;
}

Vec3d trueSize(const Product& product, const Box& box) {
  const Vec3d s = upright(product.up).toWorld(box.size() * product.metresPerUnit);
  return {std::abs(s.x), std::abs(s.y), std::abs(s.z)};
}

}  // namespace dusk
