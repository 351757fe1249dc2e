#include "core/trace/integrator.h"

#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// A start just off the surface, on the side `direction` leaves to.
Vec3f offset(const Vec3f& point, const Vec3f& normal, const Vec3f& direction) {
  const float size = 2e-5f * std::max({1.0f, std::abs(point.x), std::abs(point.y), std::abs(point.z)});
  return point + normal * (normal.dot(direction) >= 0 ? size : -size);
}

float balance(float mine, float other) { return mine / (mine + other); }

Vec3f cosineDirection(const Vec2f& u) {
  const float r = std::sqrt(u.x), phi = 2 * pif * u.y;
  return {r * std::cos(phi), r * std::sin(phi), std::sqrt(std::max(0.0f, 1 - u.x))};
}

/// Offset of a sample within a tent filter. A radius of 0.75 px makes edges about as steep as a sharp lens
/// and sensor do.
double tent(float u) { return 0.75 * (u < 0.5f ? std::sqrt(2.0 * u) - 1 : 1 - std::sqrt(2.0 - 2.0 * u)); }

// Least roughness met after a path has scattered at all, and after it has scattered widely.
constexpr float roughAfterGlossy = 0.3f, roughAfterDiffuse = 0.5f;
/// No real ground returns more than this share of its light.
constexpr float brightestGround = 0.95f;

}  // namespace

struct Integrator::Shading {
  Vec3f position, geometricNormal;
  Triadf frame;  ///< z = shading normal on the viewer's side
  Vec3f wo;      ///< local
  BsdfParameters parameters;
  bool inside;  ///< met from within the body
};

Ray Integrator::cameraRay(const Vec2d& pixel) const {
  return {toFloat(scene_.camera.position), toFloat(rayThrough(scene_.camera, pixel))};
}

float Integrator::groundDistance(const Ray& ray) const {
  const float above = ray.origin.z - scene_.catcherM;
  if (!scene_.groundCatches || ray.direction.z >= -1e-6f || above <= 0) return 1e30f;
  return -above / ray.direction.z;
}

Integrator::Shading Integrator::shade(const Ray& ray, const Hit& hit, float leastRoughness) const {
  const auto detail = scene_.geometry->detail(hit);
  Shading s;
  s.position = ray.origin + ray.direction * hit.distance;
  s.inside = detail.geometricNormal.dot(ray.direction) > 0;
  s.geometricNormal = s.inside ? -detail.geometricNormal : detail.geometricNormal;
  Vec3f normal = detail.normal.dot(s.geometricNormal) >= 0 ? detail.normal : -detail.normal;
  scene_.materials[hit.instance][hit.part]->at(
      {s.position, s.geometricNormal, detail.uv, detail.alongU, detail.alongV}, s.parameters, normal);
  // A normal bent away from the viewer would show black: lean it back until it just faces them.
  const Vec3f to = -ray.direction;
  if (const float facing = normal.dot(to); facing < 0.01f)
    normal = (normal + to * (0.01f - facing)).normalized();
  s.frame = triadAround(normal);
  s.wo = s.frame.toLocal(to);
  s.parameters.roughness = std::max(s.parameters.roughness, leastRoughness);
  s.parameters.clearcoatRoughness = std::max(s.parameters.clearcoatRoughness, leastRoughness);
  return s;
}

Rgb Integrator::clearness(Ray ray, float limit) const {
  Rgb clear(1);
  for (int layer = 0; layer < 16; ++layer) {
    const Hit hit = scene_.geometry->closest(ray, limit);
    if (!hit.found()) return clear;
    const Shading s = shade(ray, hit, 0);
    const float through = s.parameters.transmission * (1 - s.parameters.metalness);
    if (through <= 0) return Rgb(0);
    // Straight through a slab both sides reflect alike: no total reflection here.
    clear *=
        s.parameters.base * (through * (1 - dielectricReflectance(std::abs(s.wo.z), 1 / s.parameters.ior)));
    if (maxComponent(clear) < 1e-3f) return Rgb(0);
    ray.origin = offset(s.position, s.geometricNormal, ray.direction);
    limit -= hit.distance;
    if (limit <= 0) return clear;
  }
  return Rgb(0);
}

Rgb Integrator::directLight(const Shading& at, const Bsdf& bsdf, Sampler& sampler) const {
  const Vec2f u = sampler.next2();
  const LightSample light = scene_.lights->sample(at.position, u, sampler.next1());
  if (light.pdf <= 0) return Rgb(0);
  const Vec3f wi = at.frame.toLocal(light.direction);
  if (wi.z <= 0 || light.direction.dot(at.geometricNormal) <= 0) return Rgb(0);
  const Rgb value = bsdf.value(wi);
  if (maxComponent(value) <= 0) return Rgb(0);
  const Ray shadow{offset(at.position, at.geometricNormal, light.direction), light.direction};
  if (groundDistance(shadow) < light.distance) return Rgb(0);
  const Rgb clear = clearness(shadow, light.distance);
  return clear * value * light.radiance * (balance(light.pdf, bsdf.pdf(wi)) / light.pdf);
}

/// The photographed ground's albedo, chosen so that the ground, lit as the scene lights it with nothing in
/// the way, sends back what the photo shows there (outside the frame: what the panorama shows that way).
Rgb Integrator::groundAlbedo(const Vec3f& point, const Vec3f& from) const {
  Rgb seen;
  const auto pixel = scene_.plate ? projected(scene_.camera, toDouble(point)) : std::nullopt;
  if (pixel && pixel->x >= 0 && pixel->y >= 0 && pixel->x < scene_.camera.width &&
      pixel->y < scene_.camera.height) {
    const float sx = float(scene_.plate->width) / scene_.camera.width,
                sy = float(scene_.plate->height) / scene_.camera.height;
    seen = sampleBilinear(*scene_.plate, float(pixel->x) * sx, float(pixel->y) * sy);
  } else {
    seen = scene_.lights->sky(from);
  }
  const Rgb light = scene_.lights->groundIrradiance(point);
  Rgb albedo;
  for (int c = 0; c < 3; ++c)
    albedo[c] = light[c] > 0 ? std::clamp(seen[c] * pif / light[c], 0.0f, brightestGround) : 0.0f;
  return albedo;
}

Vec3f Integrator::refracted(const Shading& at, const Vec3f& direction, const Vec2f& u) {
  const float eta = at.inside ? at.parameters.ior : 1 / at.parameters.ior;
  const Vec3f n = at.frame.z;
  const float cosine = at.wo.z, beyond = std::sqrt(std::max(0.0f, 1 - eta * eta * (1 - cosine * cosine)));
  const Vec3f d = (direction * eta + n * (eta * cosine - beyond)).normalized();
  // Frosted glass: a blur of the facets' spread about the smooth direction.
  const float spread = at.parameters.roughness * at.parameters.roughness;
  if (at.inside || spread < 0.0025f) return d;
  const Vec3f blur = cosineDirection(u);
  return (d + triadAround(d).toWorld({blur.x * spread, blur.y * spread, 0})).normalized();
}

Integrator::Passage Integrator::throughGlass(const Shading& at, const Vec3f& direction, float through,
                                             bool scattered, float choice) {
  if (scattered) {
    // Straight through, or (by the remaining chance) whatever the surface itself does.
    const float chance =
        through * (1 - dielectricReflectance(std::min(1.0f, at.wo.z), 1 / at.parameters.ior));
    if (choice < chance) return {Passage::onwards, direction, at.parameters.base};
    if (at.inside) return {Passage::absorbed, direction, Rgb(0)};
    return {Passage::reflects, direction, Rgb(1 / std::max(1 - chance, 1e-3f))};
  }
  const float reflected = dielectricReflectance(std::min(1.0f, at.wo.z), at.parameters.ior);
  if (choice < reflected) return {Passage::onwards, direction + at.frame.z * (2 * at.wo.z), Rgb(1)};
  return {Passage::onwards, refracted(at, direction, {0, 0}), at.parameters.base};
}

Rgb Integrator::radiance(Ray ray, Sampler& sampler, float density, bool rough) const {
  Rgb sum(0), carried(1);
  const Lights& lights = *scene_.lights;
  // Once the path has scattered, light sampling looks straight through glass, and so must the path.
  bool scattered = density >= 0;
  int glassSides = 0;
  for (int bounce = 0; bounce <= scene_.bounces;) {
    const float lamp = lights.lampDistance(ray.origin, ray.direction), ground = groundDistance(ray);
    const Hit hit = scene_.geometry->closest(ray, std::min(lamp, ground));
    if (!hit.found() && lamp <= ground) {
      const Lights::Seen light = lights.seen(ray.origin, ray.direction);
      return sum + carried * light.radiance * (density < 0 ? 1 : balance(density, light.pdf));
    }
    if (!hit.found()) {  // the photographed ground, as a matte surface
      Shading at;
      at.position = ray.origin + ray.direction * ground;
      at.position.z = scene_.catcherM;
      at.geometricNormal = {0, 0, 1};
      const Rgb albedo = groundAlbedo(at.position, ray.direction);
      const Vec2f u = sampler.next2(), v = sampler.next2();
      const LightSample light = lights.sample(at.position, u, sampler.next1());
      if (light.pdf > 0 && light.direction.z > 0) {
        const float cosine = light.direction.z;
        const Rgb clear = clearness(
            {offset(at.position, at.geometricNormal, light.direction), light.direction}, light.distance);
        sum += carried * clear * albedo * light.radiance *
               (cosine / pif * balance(light.pdf, cosine / pif) / light.pdf);
      }
      const Vec3f d = cosineDirection(v);
      carried *= albedo;
      density = d.z / pif;
      rough = scattered = true;
      ray = {offset(at.position, at.geometricNormal, d), d};
      ++bounce;
    } else {
      const Shading at = shade(ray, hit, rough ? roughAfterDiffuse : scattered ? roughAfterGlossy : 0);
      if (!at.inside) sum += carried * at.parameters.emission;
      const float through = at.parameters.transmission * (1 - at.parameters.metalness);
      if (through > 0 && (at.inside || scattered)) {
        const Passage passage = throughGlass(at, ray.direction, through, scattered, sampler.next1());
        if (passage.kind == Passage::absorbed) return sum;
        carried *= passage.weight;
        if (passage.kind == Passage::onwards) {
          ray = {offset(at.position, at.geometricNormal, passage.direction), passage.direction};
          if (!scattered) density = -1;
          if (++glassSides > 32) return sum;
          continue;
        }
      }
      const Bsdf bsdf(at.parameters, at.wo);
      const Vec2f u = sampler.next2();
      const Vec2f lobe = sampler.next2();
      sum += carried * directLight(at, bsdf, sampler);
      const float enter = through > 0 && !scattered ? bsdf.passes() : 0;
      if (enter > 0 && lobe.y < enter) {
        const Vec3f d = refracted(at, ray.direction, u);
        if (d.dot(at.geometricNormal) > -1e-3f) return sum;
        carried *= at.parameters.base;
        ray = {offset(at.position, at.geometricNormal, d), d};
        density = -1;
        if (++glassSides > 32) return sum;
        continue;
      }
      const Bsdf::Sample next = bsdf.sample(u, lobe.x);
      const Vec3f d = at.frame.toWorld(next.wi);
      if (next.pdf <= 0 || d.dot(at.geometricNormal) <= 0) return sum;
      carried *= next.weight / std::max(1 - enter, 1e-3f);
      density = next.pdf;
      scattered = true;
      rough |= next.wide || at.parameters.roughness > 0.5f;
      ray = {offset(at.position, at.geometricNormal, d), d};
      ++bounce;
    }
    if (bounce > 2) {  // Russian roulette by what is still carried
      const float keep = std::clamp(maxComponent(carried), 0.1f, 1.0f);
      if (sampler.next1() >= keep) return sum;
      carried /= keep;
    }
  }
  return sum;
}

void Integrator::lightGround(const Vec3f& point, Sampler& sampler, PixelSample& out) const {
  const Lights& lights = *scene_.lights;
  const Vec3f up(0, 0, 1), start = offset(point, up, up);
  const Vec2f u = sampler.next2(), v = sampler.next2();
  const LightSample light = lights.sample(point, u, sampler.next1());
  if (light.pdf > 0 && light.direction.z > 0) {
    const float cosine = light.direction.z;
    const Rgb arriving = light.radiance * (cosine / light.pdf * balance(light.pdf, cosine / pif));
    out.without += arriving;
    out.with += arriving * clearness({start, light.direction}, light.distance);
  }
  const Vec3f d = cosineDirection(v);
  const Ray ray{start, d};
  const float density = d.z / pif;
  const Lights::Seen beyond = lights.seen(start, d);
  const Rgb free = beyond.radiance * (pif * balance(density, beyond.pdf));
  out.without += free;
  // Where the product is not in the way, both lightings are the very same number: the ratio is exactly one.
  if (scene_.geometry->anything(ray, lights.lampDistance(start, d)))
    out.with += radiance(ray, sampler, density, true) * pif;
  else
    out.with += free;
}

PixelSample Integrator::sample(int x, int y, uint32_t index) const {
  Sampler sampler(scene_.seed, uint32_t(y) * 65536u + uint32_t(x), index);
  const Vec2f jitter = sampler.next2();
  Ray ray = cameraRay({x + 0.5 + tent(jitter.x), y + 0.5 + tent(jitter.y)});
  PixelSample out;
  const float ground = groundDistance(ray);
  const Hit hit = scene_.geometry->closest(ray, ground);
  if (!hit.found()) {
    if (ground < 1e4f) {
      Vec3f point = ray.origin + ray.direction * ground;
      point.z = scene_.catcherM;
      lightGround(point, sampler, out);
    }
    return out;
  }
  const Shading at = shade(ray, hit, 0);
  out.alpha = 1;
  out.albedo = Bsdf(at.parameters, at.wo).albedo();
  out.normal = at.frame.z;
  const Vec3d along = toDouble(at.position) - scene_.camera.position;
  out.depth = float(along.dot(scene_.camera.axes.z));
  out.beauty = radiance(ray, sampler, -1, false);
  return out;
}

}  // namespace dusk
