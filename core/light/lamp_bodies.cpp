// The lamps that have a place: rectangles (plain, with a picture, cards), disc, sphere and spot.
#include "core/light/lights.h"

namespace dusk {

float Lights::Body::surface() const {
  if (isFlat()) return 4 * halfWidth * halfHeight;
  return pif * radius * radius;  // as it shows from afar
}

float Lights::Body::hit(const Vec3f& origin, const Vec3f& direction) const {
  const Vec3f to = centre - origin;
  if (shape == LampBody::ball) {
    // Not the difference of two long squares: that forgets small spheres far away.
    const float along = to.dot(direction), beside2 = to.cross(direction).length2(), r2 = radius * radius;
    if (beside2 >= r2 || to.length2() <= r2) return -1;
    return along - std::sqrt(r2 - beside2);
  }
  const float facing = -direction.dot(frame.z);
  if (facing <= 1e-6f) return -1;
  const float t = -to.dot(frame.z) / facing;
  const Vec3f on = direction * t - to;
  if (isFlat())
    return std::abs(on.dot(frame.x)) <= halfWidth && std::abs(on.dot(frame.y)) <= halfHeight ? t : -1;
  return on.length2() <= radius * radius ? t : -1;
}

double Lights::Body::coneDip(const Vec3f& point) const {
  const double sine2 =
      std::min(1.0, double(radius) * radius / std::max(1e-12, double((centre - point).length2())));
  return sine2 / (1 + std::sqrt(1 - sine2));
}

Vec3f Lights::Body::directionFrom(const Vec3f& point, const Vec2f& u) const {
  const Vec3f to = centre - point;
  if (shape == LampBody::ball)
    return triadAround(to.normalized()).toWorld(directionInCone(coneDip(point), u));
  Vec3f on = to;
  if (isFlat()) {
    on += frame.x * ((2 * u.x - 1) * halfWidth) + frame.y * ((2 * u.y - 1) * halfHeight);
  } else {
    const float r = radius * std::sqrt(u.x), phi = 2 * pif * u.y;
    on += frame.x * (r * std::cos(phi)) + frame.y * (r * std::sin(phi));
  }
  return on.length2() > 1e-12f ? on.normalized() : Vec3f(0, 0, 1);
}

float Lights::Body::pdf(const Vec3f& origin, const Vec3f& direction, float distance) const {
  if (shape == LampBody::ball) return float(1 / (2 * pi * std::max(1e-15, coneDip(origin))));
  return distance * distance / (std::max(1e-6f, -direction.dot(frame.z)) * surface());
}

float Lights::Body::towards(const Vec3f& direction) const {
  if (!hasCone) return 1;
  const float t = std::clamp(
      (direction.dot(frame.z) - outerCosine) / std::max(1e-6f, innerCosine - outerCosine), 0.0f, 1.0f);
  return t * t * (3 - 2 * t);
}

Rgb Lights::Body::shines(const Vec3f& origin, const Vec3f& direction, float distance) const {
  if (!hasPicture) return light.radiance * towards(-direction);
  if (!picture) return Rgb(0);
  const Vec3f on = origin + direction * distance - centre;
  const float u = 0.5f + on.dot(frame.x) / (2 * halfWidth), v = 0.5f - on.dot(frame.y) / (2 * halfHeight);
  return light.radiance * sampleBilinear(*picture, (crop[0] + (crop[2] - crop[0]) * u) * picture->width,
                                         (crop[1] + (crop[3] - crop[1]) * v) * picture->height);
}

float Lights::Body::meanBrightness() const {
  if (!picture) return 0;
  constexpr int steps = 24;
  float sum = 0;
  for (int y = 0; y < steps; ++y)
    for (int x = 0; x < steps; ++x)
      sum += luminance(
          sampleBilinear(*picture, (crop[0] + (crop[2] - crop[0]) * (x + 0.5f) / steps) * picture->width,
                         (crop[1] + (crop[3] - crop[1]) * (y + 0.5f) / steps) * picture->height));
  return sum / (steps * steps);
}

float Lights::Body::reach(const Vec3f& point) const {
  if (!lights) return 0;  // it lights nothing
  const Vec3f to = centre - point;
  const float r2 = to.length2(), s = surface();
  const Vec3f d = to / std::sqrt(std::max(1e-12f, r2));
  const float facing = shape == LampBody::ball ? 1.0f : std::max(0.0f, -d.dot(frame.z));
  // A spot's fading edge must still be drawn now and then.
  return luminance(light.radiance) * brightness * s * facing / (r2 + s / pif) * std::max(0.02f, towards(-d));
}

}  // namespace dusk
