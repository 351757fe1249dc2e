#include "core/light/lights.h"

#include "core/base/words.h"
#include "core/colour/view.h"

namespace dusk {

namespace {
/// World from the panorama's frame, mirroring left aside: the roll about Y, the tilt about X, then the turn
/// clockwise.
Triadf turnOf(const Surroundings& s) {
  const double a = radians(s.turnDegrees), t = radians(s.tiltDegrees), r = radians(s.rollDegrees);
  const auto onwards = [&](const Vec3d& v) {
    const Vec3d k(std::cos(r) * v.x + std::sin(r) * v.z, v.y, -std::sin(r) * v.x + std::cos(r) * v.z);
    const Vec3d l(k.x, std::cos(t) * k.y + std::sin(t) * k.z, -std::sin(t) * k.y + std::cos(t) * k.z);
    return toFloat({std::cos(a) * l.x + std::sin(a) * l.y, -std::sin(a) * l.x + std::cos(a) * l.y, l.z});
  };
  return {onwards({1, 0, 0}), onwards({0, 1, 0}), onwards({0, 0, 1})};
}
}  // namespace

Vec3f worldFromPanorama(const Surroundings& s, const Vec3f& d) {
  return turnOf(s).toWorld({s.mirrored ? -d.x : d.x, d.y, d.z});
}

Vec3f sunDirection(const Lamp& lamp) {
  const double a = radians(lamp.azimuthDegrees), e = radians(lamp.elevationDegrees);
  return toFloat({std::cos(e) * std::sin(a), std::cos(e) * std::cos(a), std::sin(e)});
}

Triadf lampFrame(const Vec3f& shines) {
  Vec3f right = Vec3f(0, 0, 1).cross(shines);
  right = right.length2() > 1e-10f ? right.normalized() : Vec3f(1, 0, 0);
  return {right, shines.cross(right), shines};
}

Rgb lampLight(const Lamp& lamp) {
  const Rgb colour = lamp.colour ? toFloat(*lamp.colour) : kelvinColour(lamp.kelvin);
  return colour * (!infoOf(lamp.kind).lights ? float(lamp.shade) : float(std::exp2(lamp.powerEv)));
}

void setIrradiance(Lamp& sun, const Rgb& irradiance) {
  const double strength = std::max(1e-6, double(luminance(irradiance)));
  sun.powerEv = std::round(std::log2(strength / pi) * 100) / 100;
  sun.colour = toDouble(irradiance) / strength;
}

Vec3f directionInCone(double dip, const Vec2f& u) {
  const double q = double(u.x) * dip, r = std::sqrt(q * (2 - q)), phi = 2 * pi * double(u.y);
  return toFloat({r * std::cos(phi), r * std::sin(phi), 1 - q});
}

Lights::Lights(std::shared_ptr<const Panorama> panorama, const Surroundings& surroundings,
               const std::vector<Lamp>& lamps, const Rgb& evenSky, std::vector<EmittingTriangle> emitters,
               const std::optional<SunApart>& sunApart, const LampPictures& pictures,
               std::shared_ptr<const Panorama> mirrored)
    : panorama_(std::move(panorama)),
      mirroredPanorama_(std::move(mirrored)),
      evenSky_(evenSky),
      gain_(float(std::exp2(surroundings.gainEv))),
      turn_(turnOf(surroundings)),
      mirrored_(surroundings.mirrored),
      emitters_(std::move(emitters)) {
  if (surroundings.captureM) capture_ = toFloat(*surroundings.captureM);
  if (capture_ && panorama_) domeRadius_ = float(surroundings.domeRadiusM);
  groups_.push_back("surroundings");
  const auto addSun = [&](const Vec3f& to, double discDegrees, const Rgb& irradiance, Glow light) {
    const double radius = radians(std::clamp(discDegrees, 0.05, 60.0)) / 2;
    // Irradiance of a facing surface = radiance times the disc's projected solid angle pi sin^2.
    light.radiance = irradiance * float(1 / (pi * std::pow(std::sin(radius), 2)));
    const double half = std::sin(radius / 2), sine = std::sin(radius);
    suns_.push_back({triadAround(to), sine * sine, 2 * half * half, light});
    sunReach_ += luminance(irradiance);
  };
  if (sunApart) {
    groups_.push_back("sun");
    addSun(sunApart->direction, sunApart->discDegrees, sunApart->irradiance * gain_, {1, Rgb(0)});
  }
  for (const Lamp& lamp : lamps) {
    if (!lamp.on) continue;
    if (int(groups_.size()) < maxGroups - 1)
      groups_.push_back(lamp.id);
    else if (groups_.back().find(" and more") == std::string::npos)
      groups_.back() += words(" and more");
    const Rgb colour = lampLight(lamp);
    const LampKindInfo& info = infoOf(lamp.kind);
    Glow light{int(groups_.size()) - 1, colour, info.lights, lamp.seenInReflections, lamp.castsShadows};
    if (info.body == LampBody::distant) {
      addSun(sunDirection(lamp), lamp.discDegrees, colour * pif, light);
    } else {
      const Vec3f centre = toFloat(lamp.positionM);
      Vec3f to = toFloat(lamp.targetM) - centre;
      if (to.length2() < 1e-12f) to = {0, 0, -1};
      const double cone = radians(std::clamp(lamp.coneDegrees, 1.0, 180.0)) / 2;
      bodies_.push_back({info.body, info.lights, info.hasCone, info.hasPicture, centre,
                         lampFrame(to.normalized()), float(lamp.widthM / 2), float(lamp.heightM / 2),
                         float(std::max(1e-4, lamp.radiusM)),
                         float(std::cos(cone * (1 - std::clamp(lamp.coneSoftness, 0.0, 1.0)))),
                         float(std::cos(cone)), light, lamp.seenByCamera});
      if (!info.hasPicture) continue;
      Body& body = bodies_.back();
      const auto shown = pictures.find(lamp.id);
      if (shown != pictures.end()) body.picture = shown->second;
      for (size_t i = 0; i < 4; ++i) body.crop[i] = float(lamp.crop[i]);
      body.brightness = body.meanBrightness();
    }
  }
  if (!emitters_.empty()) groups_.push_back("glow");
  glowGroup_ = int(groups_.size()) - 1;

  const float domeLuminance = panorama_ ? panorama_->meanLuminance() * gain_.x : luminance(evenSky_);
  const bool lamped =
      !suns_.empty() || std::any_of(bodies_.begin(), bodies_.end(), [](const Body& b) { return b.lights; });
  float power = 0;
  for (const EmittingTriangle& t : emitters_) {
    power += luminance(t.radiance) * (t.b - t.a).cross(t.c - t.a).length() / 2;
    emitterPower_.push_back(power);
  }
  emitterShare_ = power > 0 ? (domeLuminance > 0 || lamped ? 1.0f / 3 : 1.0f) : 0.0f;
  skyShare_ = (1 - emitterShare_) * (domeLuminance <= 0 && lamped ? 0.0f : lamped ? 0.5f : 1.0f);

  if (panorama_) {
    for (int y = 0; y < 128; ++y)
      for (int x = 0; x < 256; ++x) {
        const Vec3f d = toWorld(panoramaDirection({(x + 0.5f) / 256, (y + 0.5f) / 128}));
        const float solid = 2 * pif / 256 * pif / 128 * std::sin((y + 0.5f) / 128 * pif);
        skyIrradiance_ += panorama_->coarse().rgbAt(x, y) * (gain_ * (std::max(0.0f, d.z) * solid));
      }
  } else {
    skyIrradiance_ = evenSky_ * pif;
  }
}

Vec3f Lights::toPanorama(const Vec3f& w) const {
  const Vec3f d = turn_.toLocal(w);
  return mirrored_ ? Vec3f(-d.x, d.y, d.z) : d;
}

Vec3f Lights::toWorld(const Vec3f& p) const { return turn_.toWorld(mirrored_ ? Vec3f(-p.x, p.y, p.z) : p); }

Rgb Lights::sky(const Vec3f& direction) const {
  return panorama_ ? panorama_->radiance(toPanorama(direction)) * gain_ : evenSky_;
}

LightSample Lights::sampleEmitter(const Vec3f& point, const Vec2f& u, float choice) const {
  LightSample s;
  const float at = choice * emitterPower_.back();
  const auto i = size_t(
      std::min<long>(std::upper_bound(emitterPower_.begin(), emitterPower_.end(), at) - emitterPower_.begin(),
                     long(emitters_.size()) - 1));
  const EmittingTriangle& t = emitters_[i];
  const float r = std::sqrt(u.x);
  const Vec3f to = t.a * (1 - r) + t.b * (r * (1 - u.y)) + t.c * (r * u.y) - point;
  const float distance = to.length();
  if (distance < 1e-6f) return s;
  s.direction = to / distance;
  const float cosine = -(t.b - t.a).cross(t.c - t.a).normalized().dot(s.direction);
  if (cosine <= 1e-4f) return s;
  // Rays to it begin a little off their surface: what shines must not be in its own way.
  const float off = 6e-5f * std::max({1.0f, std::abs(point.x), std::abs(point.y), std::abs(point.z)});
  s.distance = std::max(0.0f, distance - std::max(distance * 1e-4f, off));
  s.light.add({glowGroup_, t.radiance});
  s.pdf = emitterPdf(t.radiance, distance, cosine);
  return s;
}

float Lights::emitterPdf(const Rgb& radiance, float distance, float cosine) const {
  if (emitterPower_.empty() || cosine <= 0) return 0;
  return emitterShare_ * luminance(radiance) / emitterPower_.back() * distance * distance / cosine;
}

LightSample Lights::sample(const Vec3f& point, const Vec3f& normal, const Vec2f& u, float choice) const {
  LightSample s;
  if (choice < emitterShare_) return sampleEmitter(point, u, choice / emitterShare_);
  choice -= emitterShare_;
  const Chances chances = chancesAt(point);
  if (choice < chances.sky || chances.lamps <= 0) {
    if (panorama_) {
      s.direction = toWorld(panorama_->sampleDirection(u, facing(normal)));
      if (domeRadius_ > 0 && (point - *capture_).length() < domeRadius_ * 0.98f)
        s.direction = (*capture_ + s.direction * domeRadius_ - point).normalized();
    } else if (normal != Vec3f(0)) {
      s.direction = triadAround(normal).toWorld(cosineDirection(u));
    } else {
      const float z = 1 - 2 * u.x, r = std::sqrt(std::max(0.0f, 1 - z * z));
      s.direction = {r * std::cos(2 * pif * u.y), r * std::sin(2 * pif * u.y), z};
    }
  } else {
    // Which lamp, by what each can do here.
    float left = (choice - chances.sky) / chances.lamps * chances.reach;
    const Sun* drawnSun = nullptr;
    const Body* drawnBody = nullptr;  // rounding must not leave none: the last that reaches here
    for (size_t i = 0; i < suns_.size() && left >= 0; ++i)
      drawnSun = &suns_[i], left -= sunReach_ / float(suns_.size());
    for (size_t i = 0; i < bodies_.size() && left >= 0; ++i)
      if (const float reach = bodies_[i].reach(point); reach > 0) drawnBody = &bodies_[i], left -= reach;
    if (drawnBody)
      s.direction = drawnBody->directionFrom(point, u);
    else if (drawnSun)
      s.direction = drawnSun->frame.toWorld(directionInCone(drawnSun->dip, u));
  }
  // What the ray would see all the way: lights that lie in one direction add up, in value and in likelihood.
  s.distance = lampDistance(point, s.direction);
  const Seen all = seen(point, s.direction, normal);
  s.light = all.light, s.pdf = all.pdf;
  return s;
}

Lights::Chances Lights::chancesAt(const Vec3f& point) const {
  const float lamps = 1 - emitterShare_ - skyShare_, reach = lamps > 0 ? sunReach_ + bodiesReach(point) : 0;
  if (reach > 0 || skyShare_ <= 0) return {skyShare_, std::max(0.0f, lamps), reach};
  return {1 - emitterShare_, 0, 0};
}

float Lights::bodiesReach(const Vec3f& point) const {
  float sum = 0;
  for (const Body& body : bodies_) sum += body.reach(point);
  return sum;
}

float Lights::lampDistance(const Vec3f& origin, const Vec3f& direction) const {
  float nearest = 1e30f;
  for (const Body& body : bodies_)
    if (const float t = body.hit(origin, direction); t > 0) nearest = std::min(nearest, t);
  return nearest;
}

Lights::Shown Lights::shown(const Vec3f& origin, const Vec3f& direction) const {
  Shown s;
  for (const Body& body : bodies_)
    if (const float t = body.camera ? body.hit(origin, direction) : -1; t > 0 && t < s.distance) {
      s = {t, body.light};
      s.light.radiance = body.shines(origin, direction, t);
    }
  return s;
}

int Lights::facing(const Vec3f& normal) const {
  return normal == Vec3f(0) ? Panorama::anyNormal : panorama_->facing(toPanorama(normal));
}

Lights::Seen Lights::seen(const Vec3f& origin, const Vec3f& direction, const Vec3f& normal) const {
  Seen all;
  const Chances chances = chancesAt(origin);
  const float perReach = chances.lamps / std::max(1e-20f, chances.reach);
  // The nearest lamp hides what is behind it, but for reflections that it is kept out of.
  const Body* front = nullptr;
  float nearest = 1e30f;
  for (const Body& body : bodies_)
    if (const float t = body.hit(origin, direction); t > 0) {
      all.pdf += perReach * body.reach(origin) * body.pdf(origin, direction, t);
      if (t < nearest) nearest = t, front = &body;
    }
  if (front) {
    all.light.add(front->light);
    all.light.list[0].radiance = front->shines(origin, direction, nearest);
  }
  // What is behind shows where the lamp is not there.
  const bool behindOnDiffuse = !front || !front->light.onDiffuse,
             behindOnSpecular = !front || !front->light.onSpecular;
  const auto addBehind = [&](Glow light) {
    light.onDiffuse = light.onDiffuse && behindOnDiffuse;
    light.onSpecular = light.onSpecular && behindOnSpecular;
    if (light.onDiffuse || light.onSpecular) all.light.add(light);
  };
  Glow sky;
  if (panorama_) {
    const OnDome at = onDome(origin, direction);
    const Vec3f own = toPanorama(at.direction);
    const auto dome = panorama_->seen(own, facing(normal));
    sky.radiance = dome.radiance * gain_, all.pdf += chances.sky * dome.pdf * at.jacobian;
    if (mirroredPanorama_) {
      sky.onSpecular = false;
      addBehind({0, mirroredPanorama_->radiance(own) * gain_, false, true});
    }
  } else {
    sky.radiance = evenSky_;
    all.pdf +=
        chances.sky * (normal == Vec3f(0) ? 1 / (4 * pif) : std::max(0.0f, normal.dot(direction)) / pif);
  }
  addBehind(sky);
  for (const Sun& sun : suns_)
    if (direction.dot(sun.frame.z) > 0 && direction.cross(sun.frame.z).length2() <= float(sun.sine2)) {
      all.pdf += perReach * (sunReach_ / float(suns_.size())) * conePdf(sun);
      addBehind(sun.light);
    }
  return all;
}

Lights::OnDome Lights::onDome(const Vec3f& origin, const Vec3f& direction) const {
  if (domeRadius_ <= 0) return {direction};
  const Vec3f from = origin - *capture_;
  const float along = from.dot(direction), inside = domeRadius_ * domeRadius_ - from.length2();
  if (from.length() >= domeRadius_ * 0.98f) return {direction};
  const float t = -along + std::sqrt(along * along + inside);
  const Vec3f at = (from + direction * t) / domeRadius_;
  return {at.normalized(), t * t / (domeRadius_ * domeRadius_ * std::max(1e-3f, direction.dot(at)))};
}

}  // namespace dusk
