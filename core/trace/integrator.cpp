#include "core/trace/integrator.h"

#include "core/trace/shading.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// Offset of a sample within a tent filter. A radius of 0.75 px makes edges about as steep as a sharp lens
/// and sensor do.
double tent(float u) { return 0.75 * (u < 0.5f ? std::sqrt(2.0 * u) - 1 : 1 - std::sqrt(2.0 - 2.0 * u)); }

/// A point of the aperture, in radii.
Vec2f onAperture(const Aperture& a, const Vec2f& u) {
  if (a.blades < 3) {
    const float r = std::sqrt(u.x), phi = 2 * pif * u.y;
    return {r * std::cos(phi), r * std::sin(phi)};
  }
  // One of the triangles between the middle and two corners, then a point in it.
  const float at = u.y * a.blades, corner = std::floor(at), side = at - corner, r = std::sqrt(u.x);
  const auto of = [&](float k) {
    const float phi = a.turn + 2 * pif * k / a.blades;
    return Vec2f(std::cos(phi), std::sin(phi));
  };
  return (of(corner) * (1 - side) + of(corner + 1) * side) * r;
}

}  // namespace

Integrator::Integrator(const Scene& scene) : scene_(scene), blockBits_(Sampler::bitsFor(scene.samples)) {}

Ray Integrator::cameraRay(const Vec2d& pixel) const {
  return {toFloat(scene_.camera.position), toFloat(rayThrough(scene_.camera, pixel))};
}

/// Each of a pixel's samples stands for its own piece of it: a finer look than the pixel, but not so fine
/// that what is small only adds noise.
float Integrator::spread() const {
  const float pieces = std::clamp(std::sqrt(float(scene_.samples)), 1.0f, 6.0f);
  return scene_.camera.focalPx > 0 ? float(1 / scene_.camera.focalPx) / pieces : 0.0f;
}

Ray Integrator::lensRay(const Vec2d& pixel, const Vec2f& u) const {
  Ray middle = cameraRay(pixel);
  middle.spread = spread();
  const Aperture& a = scene_.aperture;
  if (a.radiusM <= 0) return middle;
  const Triadd& axes = scene_.camera.axes;
  const Vec3f sharp =
      middle.origin +
      middle.direction * (a.distanceM / std::max(1e-3f, middle.direction.dot(toFloat(axes.z))));
  const Vec2f on = onAperture(a, u) * a.radiusM;
  const Vec3f origin = middle.origin + toFloat(axes.x) * on.x + toFloat(axes.y) * on.y;
  return {origin, (sharp - origin).normalized(), 0, spread()};
}

Integrator::Shading Integrator::shade(const Ray& ray, const Hit& hit, float leastRoughness) const {
  const auto detail = scene_.geometry->detail(hit);
  Shading s;
  s.position = ray.origin + ray.direction * hit.distance;
  s.inside = detail.geometricNormal.dot(ray.direction) > 0;
  s.geometricNormal = s.inside ? -detail.geometricNormal : detail.geometricNormal;
  const Vec3f shape = detail.normal.dot(s.geometricNormal) >= 0 ? detail.normal : -detail.normal;
  Vec3f normal = shape;
  const Material& material = *scene_.materials[hit.instance][hit.part];
  material.at({s.position, s.geometricNormal, detail.uv, detail.alongU, detail.alongV, detail.perUv,
               detail.onMesh, detail.worldFromMesh, -ray.direction, ray.width + ray.spread * hit.distance,
               s.inside, scene_.probe.get(), detail.colour},
              s.parameters, normal);
  s.part = partOf(hit);
  s.drawnEmission = material.emission();
  s.width = ray.width + ray.spread * hit.distance;
  s.bent = normal != shape;
  if (!scene_.lightMasks.empty()) s.lightMask = scene_.lightMasks[hit.instance][hit.part];
  // A normal bent away from the viewer would show black: lean it back until it just faces them.
  const Vec3f to = -ray.direction;
  if (const float facing = normal.dot(to); facing < 0.01f)
    normal = (normal + to * (0.01f - facing)).normalized();
  s.frame = triadAround(normal);
  if (s.parameters.anisotropy > 0) {
    // Along the texture, or without one around the upright, as turned things are brushed.
    Vec3f along = detail.alongU.length2() > 0 ? detail.alongU : Vec3f(0, 0, 1).cross(normal);
    along -= normal * along.dot(normal);
    if (along.length2() > 1e-8f) {
      along = turned(along.normalized(), normal, s.parameters.anisotropyTurn);
      s.frame = {along, normal.cross(along), normal};
    }
  }
  s.wo = s.frame.toLocal(to);
  if (s.parameters.coatNormal != Vec3f(0)) s.parameters.coatNormal = s.frame.toLocal(s.parameters.coatNormal);
  s.parameters.roughness = std::max(s.parameters.roughness, leastRoughness);
  s.parameters.clearcoatRoughness = std::max(s.parameters.clearcoatRoughness, leastRoughness);
  return s;
}

float Integrator::occlusion(const Shading& at, Sampler& sampler) const {
  const Vec3f d = at.frame.toWorld(cosineDirection(sampler.next2()));
  if (d.dot(at.geometricNormal) <= 0) return 0;
  const Ray ray{offset(at.position, at.geometricNormal, d), d};
  return scene_.place.blocks(ray, scene_.occlusionM) || scene_.geometry->anything(ray, scene_.occlusionM)
             ? 0.0f
             : 1.0f;
}

Rgb Integrator::radiance(const Ray& ray, Sampler& sampler) const {
  PixelSample out(groups());
  Path path;
  path.ray = ray;
  follow(path, sampler, out);
  return out.beauty();
}

PixelSample Integrator::sample(int x, int y, uint32_t index) const {
  Sampler sampler(scene_.seed, x, y, index, blockBits_);
  const Vec2f jitter = sampler.next2();
  const Vec2f lens = scene_.aperture.radiusM > 0 ? sampler.next2() : Vec2f(0, 0);
  const Ray ray = lensRay({x + 0.5 + tent(jitter.x), y + 0.5 + tent(jitter.y)}, lens);
  PixelSample out(groups());
  const Lights::Shown lamp = scene_.lights->shown(ray.origin, ray.direction);
  const PlaceHit place = scene_.place.closest(ray, lamp.distance, PlaceRay::film);
  const Hit hit = closest(ray, std::min(place.distance, lamp.distance), Look::camera, sampler);
  // What is cut out is drawn over all by the blend, in the light that is left to it; nothing else of the
  // place behind it is seen.
  const PlaceHit front = scene_.place.inFront(
      ray, std::min({place.distance, lamp.distance, hit.found() ? hit.distance : 1e30f}));
  if (front.found()) shadeCatcher(ray, front, sampler, out);
  if (!hit.found()) {
    if (lamp.distance < place.distance) {
      out.alpha = 1;
      out.light[lamp.light.group].part[emission] = lamp.light.radiance;
      out.depth = lamp.distance * ray.direction.dot(toFloat(scene_.camera.axes.z));
    } else if (!front.found() && place.distance < 1e4f && place.catches) {
      shadeCatcher(ray, place, sampler, out);
    }
    return out;
  }
  const Shading at = shade(ray, hit, 0);
  const Bsdf::Value albedo = Bsdf(at.parameters, at.wo).albedo();
  out.alpha = 1;
  out.instance = hit.instance, out.part = hit.part;
  out.diffuse = albedo.diffuse, out.specular = albedo.specular;
  out.normal = at.frame.z, out.position = at.position, out.facing = at.wo.z;
  out.depth = float((toDouble(at.position) - scene_.camera.position).dot(scene_.camera.axes.z));
  if (scene_.occlusionM > 0) out.occlusion = occlusion(at, sampler);
  Path path;
  path.ray = ray;
  follow(path, sampler, out, &hit, &at);
  return out;
}

}  // namespace dusk
