#include "core/trace/reach.h"

#include "core/light/backdrop.h"
#include "core/vantage/camera.h"

namespace dusk {

float Reach::awayM(const Vec3f& point) const {
  float nearest2 = 1e30f;
  for (const Box& box : products_) {
    float away2 = 0;
    for (int i = 0; i < 3; ++i) {
      const float off = std::max({float(box.low[i]) - point[i], point[i] - float(box.high[i]), 0.0f});
      away2 += off * off;
    }
    nearest2 = std::min(nearest2, away2);
  }
  return std::sqrt(nearest2);
}

float Reach::at(const Vec3f& point) const {
  if (!hasEnd()) return 1;
  const float t = std::clamp((toM_ - awayM(point)) / std::max(1e-6f, toM_ - fromM_), 0.0f, 1.0f);
  return t * t * (3 - 2 * t);
}

Reach reachOf(const Shot& shot, const PlacedGeometry& products, const Place& place, const Camera& camera) {
  const Contact& c = shot.contact;
  if (products.worldBoxes().empty() || c.reach == ShadowReach::endless) return {};
  if (c.reach == ShadowReach::given)
    return {products.worldBoxes(), c.reachFromM, std::max(c.reachFromM, c.reachToM)};
  if (!isEven(shot.backdrop) || !shot.vantage.solved || camera.width <= 0) return {};
  // The border's nearest point of the place.
  constexpr int steps = 48;
  // A pixel of the border gathers from its neighbours inside, in small previews too.
  const double inset = std::max(2.5, 0.006 * camera.width), w = camera.width - inset,
               h = camera.height - inset;
  const Reach all(products.worldBoxes(), 0, 1e20);
  double nearest = 1e30;
  for (int i = 0; i < 4 * steps; ++i) {
    const double along = (i % steps + 0.5) / steps, x = std::lerp(inset, w, along),
                 y = std::lerp(inset, h, along);
    const Vec2d at = i / steps == 0   ? Vec2d(x, inset)
                     : i / steps == 1 ? Vec2d(x, h)
                     : i / steps == 2 ? Vec2d(inset, y)
                                      : Vec2d(w, y);
    const Ray ray{toFloat(camera.position), toFloat(rayThrough(camera, at))};
    const PlaceHit hit = place.closest(ray, 1e4f, PlaceRay::photo);
    if (hit.found())
      nearest = std::min(nearest, double(all.awayM(ray.origin + ray.direction * hit.distance)));
  }
  constexpr double least = 1e-3;  // a product across the border: there is no room to end in
  if (nearest > 1e29 || nearest < least) return {};
  return {products.worldBoxes(), 0.35 * nearest, 0.95 * nearest};
}

}  // namespace dusk
