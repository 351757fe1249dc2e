#include "core/trace/geometry_probe.h"

#include <bit>

#include "core/surface/noise.h"

namespace dusk {
namespace {

constexpr int rays = 8;

/// Even in 0 to 1, by the spot alone.
float turnAt(const Vec3f& p) {
  return evenBy(std::bit_cast<uint32_t>(p.x), std::bit_cast<uint32_t>(p.y), std::bit_cast<uint32_t>(p.z));
}

/// Off the surface by more than rounding, and far less than what is looked for.
Vec3f start(const Vec3f& p, const Vec3f& normal, float metres) {
  const float size =
      std::max(metres * 1e-3f, 2e-6f * std::max({1.0f, std::abs(p.x), std::abs(p.y), std::abs(p.z)}));
  return p + normal * size;
}

}  // namespace

float GeometryProbe::covered(const Vec3f& p, const Vec3f& normal, float metres) const {
  const Triadf frame = triadAround(normal);
  const Vec3f from = start(p, normal, metres);
  const float turn = turnAt(p);
  int met = 0;
  for (int i = 0; i < rays; ++i) {
    // Spread as the cosine, along a spiral (Vogel 1979, "A better way to construct the sunflower head").
    const float r = std::sqrt((float(i) + 0.5f) / rays), phi = 2 * pif * (turn + float(i) * 0.6180340f);
    const Vec3f d(r * std::cos(phi), r * std::sin(phi), std::sqrt(1 - r * r));
    met += geometry_->anything({from, frame.toWorld(d)}, metres);
  }
  return float(met) / rays;
}

float GeometryProbe::exposed(const Vec3f& p, const Vec3f& normal, float metres) const {
  const Triadf frame = triadAround(-normal);
  const Vec3f from = start(p, -normal, metres);
  const float turn = turnAt(p);
  // Flat below the surface: a thin wall is no edge, until it is much thinner than the distance.
  constexpr float down = 0.17f;
  const float level = std::sqrt(1 - down * down);
  int ends = 0;
  for (int i = 0; i < rays; ++i) {
    const float phi = 2 * pif * (turn + float(i) / rays);
    ends += geometry_->anything({from, frame.toWorld({level * std::cos(phi), level * std::sin(phi), down})},
                                metres);
  }
  return float(ends) / rays;
}

float GeometryProbe::thickness(const Vec3f& p, const Vec3f& normal, float metres) const {
  const Hit hit = geometry_->closest({start(p, -normal, metres), -normal}, metres);
  return hit.found() ? hit.distance : metres;
}

}  // namespace dusk
