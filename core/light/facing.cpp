#include "core/light/facing.h"

#include <tbb/parallel_for.h>

#include "core/light/cumulative.h"

namespace dusk {
namespace {

/// The normal in the middle of a piece of the octahedron's square (Cigolle et al. 2014, "A Survey of
/// Efficient Representations for Independent Unit Vectors").
Vec3f octahedral(float u, float v) {
  u = 2 * u - 1, v = 2 * v - 1;
  const float z = 1 - std::abs(u) - std::abs(v), fold = std::max(0.0f, -z);
  return Vec3f(u >= 0 ? u - fold : u + fold, v >= 0 ? v - fold : v + fold, z).normalized();
}

}  // namespace

int FacingTables::of(const Vec3f& n) {
  if (n.z > 0.99999f) return upwards;
  const float sum = std::abs(n.x) + std::abs(n.y) + std::abs(n.z);
  float u = n.x / sum, v = n.y / sum;
  if (n.z < 0) {
    const float folded = (1 - std::abs(v)) * (u >= 0 ? 1.0f : -1.0f);
    v = (1 - std::abs(u)) * (v >= 0 ? 1.0f : -1.0f), u = folded;
  }
  const auto piece = [](float at) {
    return std::clamp(int((at + 1) / 2 * normalsAcross), 0, normalsAcross - 1);
  };
  return piece(v) * normalsAcross + piece(u);
}

void FacingTables::build() {
  // Half a cell's diagonal, and half of what a table's normals are apart.
  const float cellRadius = 0.07f, normalRadius = 0.13f;
  cumulative_.assign(size_t(upwards + 1) * stride, 0);
  tbb::parallel_for(0, upwards + 1, [&](int table) {
    const bool up = table == upwards;
    const Vec3f n = up ? Vec3f(0, 0, 1)
                       : octahedral((float(table % normalsAcross) + 0.5f) / normalsAcross,
                                    (float(table / normalsAcross) + 0.5f) / normalsAcross);
    const float wider = cellRadius + (up ? 0 : normalRadius);
    float* c = &cumulative_[size_t(table) * stride];
    double sum = 0;
    for (size_t i = 0; i < centres_.size(); ++i) {
      const float angle = std::acos(std::clamp(n.dot(centres_[i]), -1.0f, 1.0f)) - wider;
      if (angle < pif / 2) sum += double(light_[i]) * double(std::cos(std::max(0.0f, angle)));
      c[i + 1] = float(sum);
    }
  });
}

FacingTables::Drawn FacingTables::draw(int table, float u) const {
  const float* c = &cumulative_[size_t(table) * stride];
  const auto [cell, rest] = intervalAt(c, across * down, u * c[stride - 1]);
  return {cell, rest};
}

}  // namespace dusk
