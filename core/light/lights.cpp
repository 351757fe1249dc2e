#include "core/light/lights.h"

#include "core/colour/view.h"

namespace dusk {

Vec3f worldFromPanorama(const Surroundings& s, const Vec3f& d) {
  const double a = radians(s.turnDegrees);
  const double x = s.mirrored ? -d.x : d.x, y = d.y;
  // Clockwise from above.
  return {float(std::cos(a) * x + std::sin(a) * y), float(-std::sin(a) * x + std::cos(a) * y), d.z};
}

Vec3f sunDirection(const Lamp& lamp) {
  const double a = radians(lamp.azimuthDegrees), e = radians(lamp.elevationDegrees);
  return toFloat({std::cos(e) * std::sin(a), std::cos(e) * std::cos(a), std::sin(e)});
}

Lights::Lights(std::shared_ptr<const Panorama> panorama, const Surroundings& surroundings,
               const std::vector<Lamp>& lamps, const Rgb& evenSky)
    : panorama_(std::move(panorama)),
      evenSky_(evenSky),
      gain_(float(std::exp2(surroundings.gainEv))),
      turnSine_(float(std::sin(radians(surroundings.turnDegrees)))),
      turnCosine_(float(std::cos(radians(surroundings.turnDegrees)))),
      mirrored_(surroundings.mirrored) {
  for (const Lamp& lamp : lamps) {
    if (!lamp.on) continue;
    const Rgb colour = kelvinColour(lamp.kelvin) * float(std::exp2(lamp.powerEv));
    if (lamp.kind == LampKind::sun) {
      const double radius = radians(std::clamp(lamp.discDegrees, 0.05, 60.0)) / 2;
      // Irradiance pi on a facing surface = radiance times the disc's projected solid angle pi sin^2.
      const float radiance = float(1 / std::pow(std::sin(radius), 2));
      suns_.push_back({triadAround(sunDirection(lamp)), float(std::cos(radius)), colour * radiance});
    } else {
      const Vec3f centre = toFloat(lamp.positionM);
      Vec3f to = toFloat(lamp.targetM) - centre;
      if (to.length2() < 1e-12f) to = {0, 0, -1};
      areas_.push_back(
          {centre, triadAround(to.normalized()), float(lamp.widthM / 2), float(lamp.heightM / 2), colour});
    }
  }
  const int others = int(suns_.size() + areas_.size());
  const float domeLuminance = panorama_ ? panorama_->meanLuminance() * gain_.x : luminance(evenSky_);
  skyShare_ = domeLuminance <= 0 && others ? 0.0f : 1.0f / (1 + others);
  if (others) sunShare_ = areaShare_ = (1 - skyShare_) / others;

  if (panorama_) {
    for (int y = 0; y < 64; ++y)
      for (int x = 0; x < 256; ++x) {
        const Vec3f d = panoramaDirection({(x + 0.5f) / 256, (y + 0.5f) / 128});
        const float solid = 2 * pif / 256 * pif / 128 * std::sin((y + 0.5f) / 128 * pif);
        distantIrradiance_ += panorama_->coarse().rgbAt(x, y) * (gain_ * (d.z * solid));
      }
  } else {
    distantIrradiance_ = evenSky_ * pif;
  }
  for (const Sun& sun : suns_)
    distantIrradiance_ +=
        sun.radiance * (pif * (1 - sun.cosine * sun.cosine) * std::max(0.0f, sun.frame.z.z));
}

Vec3f Lights::toPanorama(const Vec3f& w) const {
  const Vec3f d(turnCosine_ * w.x - turnSine_ * w.y, turnSine_ * w.x + turnCosine_ * w.y, w.z);
  return mirrored_ ? Vec3f(-d.x, d.y, d.z) : d;
}

Vec3f Lights::toWorld(const Vec3f& p) const {
  const Vec3f d = mirrored_ ? Vec3f(-p.x, p.y, p.z) : p;
  return {turnCosine_ * d.x + turnSine_ * d.y, -turnSine_ * d.x + turnCosine_ * d.y, d.z};
}

Rgb Lights::sky(const Vec3f& direction) const {
  return panorama_ ? panorama_->radiance(toPanorama(direction)) * gain_ : evenSky_;
}

float Lights::Area::hit(const Vec3f& origin, const Vec3f& direction) const {
  const float facing = -direction.dot(frame.z);
  if (facing <= 1e-6f) return -1;
  const Vec3f to = centre - origin;
  const float t = -to.dot(frame.z) / facing;
  const Vec3f on = direction * t - to;
  return std::abs(on.dot(frame.x)) <= halfWidth && std::abs(on.dot(frame.y)) <= halfHeight ? t : -1;
}

LightSample Lights::sample(const Vec3f& point, const Vec2f& u, float choice) const {
  LightSample s;
  if (choice < skyShare_ || (suns_.empty() && areas_.empty())) {
    if (panorama_) {
      s.direction = toWorld(panorama_->sampleDirection(u));
    } else {
      const float z = 1 - 2 * u.x, r = std::sqrt(std::max(0.0f, 1 - z * z));
      s.direction = {r * std::cos(2 * pif * u.y), r * std::sin(2 * pif * u.y), z};
    }
  } else {
    const int index = std::min(int((choice - skyShare_) / sunShare_), int(suns_.size() + areas_.size()) - 1);
    if (index < int(suns_.size())) {
      const Sun& sun = suns_[index];
      const float z = 1 - u.x * (1 - sun.cosine), r = std::sqrt(std::max(0.0f, 1 - z * z));
      s.direction = sun.frame.toWorld({r * std::cos(2 * pif * u.y), r * std::sin(2 * pif * u.y), z});
    } else {
      const Area& area = areas_[index - suns_.size()];
      const Vec3f on = area.centre + area.frame.x * ((2 * u.x - 1) * area.halfWidth) +
                       area.frame.y * ((2 * u.y - 1) * area.halfHeight);
      const Vec3f to = on - point;
      if (to.length2() < 1e-12f) return s;
      s.direction = to.normalized();
    }
  }
  // What the ray would see all the way: lights that lie in one direction add up, in value and in likelihood.
  s.distance = lampDistance(point, s.direction);
  const Seen all = seen(point, s.direction);
  s.radiance = all.radiance, s.pdf = all.pdf;
  return s;
}

float Lights::lampDistance(const Vec3f& origin, const Vec3f& direction) const {
  float nearest = 1e30f;
  for (const Area& area : areas_)
    if (const float t = area.hit(origin, direction); t > 0) nearest = std::min(nearest, t);
  return nearest;
}

Lights::Seen Lights::seen(const Vec3f& origin, const Vec3f& direction) const {
  Seen all;
  if (panorama_) {
    const auto dome = panorama_->seen(toPanorama(direction));
    all.radiance = dome.radiance * gain_, all.pdf = skyShare_ * dome.pdf;
  } else {
    all.radiance = evenSky_, all.pdf = skyShare_ / (4 * pif);
  }
  for (const Sun& sun : suns_)
    if (direction.dot(sun.frame.z) >= sun.cosine)
      all.radiance += sun.radiance, all.pdf += sunShare_ * conePdf(sun);
  float nearest = 1e30f;
  for (const Area& area : areas_)
    if (const float t = area.hit(origin, direction); t > 0) {
      all.pdf += areaShare_ * t * t / (-direction.dot(area.frame.z) * 4 * area.halfWidth * area.halfHeight);
      if (t < nearest) nearest = t, all.radiance = area.radiance;
    }
  return all;
}

Rgb Lights::groundIrradiance(const Vec3f& point) const {
  Rgb sum = distantIrradiance_;
  for (const Area& area : areas_) {
    const Vec3f to = area.centre - point;
    const float r2 = to.length2(), surface = 4 * area.halfWidth * area.halfHeight;
    const Vec3f d = to / std::sqrt(r2);
    sum += area.radiance *
           (surface * std::max(0.0f, d.z) * std::max(0.0f, -d.dot(area.frame.z)) / (r2 + surface / pif));
  }
  return sum;
}

}  // namespace dusk
