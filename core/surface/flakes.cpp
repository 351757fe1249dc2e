#include "core/surface/flakes.h"

#include "core/surface/noise.h"

namespace dusk {
namespace {

/// Of a flake itself: it is no perfect mirror.
constexpr float flakeRoughness = 0.18f;

/// The tilt of a flake in units of the spread, normally distributed (Box & Muller 1958, "A Note on the
/// Generation of Random Normal Deviates").
Vec2f tiltOf(uint32_t id) {
  const float r = std::sqrt(-2 * std::log(std::max(1e-6f, 1 - evenBy(id, 1, 2)))),
              phi = 2 * pif * evenBy(id, 3, 4);
  return {r * std::cos(phi), r * std::sin(phi)};
}

}  // namespace

Flakes::Flakes(const Surface& s)
    : cover_(float(s.flakes)),
      sizeMm_(float(s.flakeMm)),
      tilt_(float(std::tan(radians(s.flakeTiltDegrees)))),
      colour_(toFloat(s.flakeColour)) {}

Vec3f Flakes::over(const Site& site, const Vec3f& normal, BsdfParameters& out) const {
  if (cover_ <= 0) return Vec3f(0);
  // From where a look is as wide as a flake to where it is four times that, single ones fade into many.
  const float look = 2 * std::max(site.across.length(), site.along.length());
  const float many = std::clamp((look / sizeMm_ - 1) / 3, 0.0f, 1.0f);
  const CellPoint cell = many < 1 ? cellPoint(site.mm / sizeMm_, 71) : CellPoint{};
  const float single = many < 1 && cell.tone() < cover_ ? 1.0f : 0.0f,
              share = single + (cover_ - single) * many;
  if (share <= 0) return Vec3f(0);
  // Tilted normals blur as rough facets do: their slopes' variances add (Olano & Baker 2010, "LEAN Mapping").
  const float alpha = flakeRoughness * flakeRoughness,
              wide = std::sqrt(alpha * alpha + 2 * tilt_ * tilt_ * many);
  out.base += (colour_ - out.base) * share;
  out.metalness += (1 - out.metalness) * share;
  out.roughness += (std::sqrt(std::min(1.0f, wide)) - out.roughness) * share;
  if (out.clearcoat > 0 && out.coatNormal == Vec3f(0)) out.coatNormal = normal;
  if (many >= 1 || single <= 0) return Vec3f(0);
  const Triadf own = triadAround(site.normal);
  const Vec2f tilt = tiltOf(cell.id) * (tilt_ * (1 - many));
  return own.x * tilt.x + own.y * tilt.y;
}

}  // namespace dusk
