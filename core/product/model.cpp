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

Similarity worldFromModel(const Product& product, const Placement& placement, const Box& box) {
  const Triadd up = upright(product.up);
  const double c = std::cos(radians(placement.turnDegrees)), s = std::sin(radians(placement.turnDegrees));
  // Turn counter-clockwise from above.
  const auto turn = [&](const Vec3d& v) { return Vec3d(c * v.x - s * v.y, s * v.x + c * v.y, v.z); };
  Similarity result;
  result.rotation = {turn(up.x), turn(up.y), turn(up.z)};
  result.scale = product.metresPerUnit;
  const Vec3d middle = up.toWorld(box.middle() * product.metresPerUnit);
  const double half = trueSize(product, box).z / 2;
  result.shift = Vec3d(placement.xM, placement.yM, placement.liftM) - turn(middle) + Vec3d(0, 0, half);
  return result;
}

Vec3d trueSize(const Product& product, const Box& box) {
  const Vec3d s = upright(product.up).toWorld(box.size() * product.metresPerUnit);
  return {std::abs(s.x), std::abs(s.y), std::abs(s.z)};
}

}  // namespace dusk
