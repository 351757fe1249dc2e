// The photographed ground: as a catcher before the camera, and as a matte surface to everything else.
#include "core/trace/shading.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// No real ground returns more than this share of its light.
constexpr float brightestGround = 0.95f;
const Vec3f up(0, 0, 1);

}  // namespace

float Integrator::groundDistance(const Ray& ray) const {
  const float above = ray.origin.z - scene_.catcherM;
  if (!scene_.groundCatches || ray.direction.z >= -1e-6f || above <= 0) return 1e30f;
  return -above / ray.direction.z;
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
    seen = scene_.lights->floor(point, from);
  }
  const Rgb light = scene_.lights->groundIrradiance(point);
  Rgb albedo;
  for (int c = 0; c < 3; ++c)
    albedo[c] = light[c] > 0 ? std::clamp(seen[c] * pif / light[c], 0.0f, brightestGround) : 0.0f;
  return albedo;
}

bool Integrator::meetGround(Path& path, float distance, Sampler& sampler, PixelSample& out) const {
  Vec3f point = path.ray.origin + path.ray.direction * distance;
  point.z = scene_.catcherM;
  const Rgb albedo = groundAlbedo(point, path.ray.direction);
  const Vec2f u = sampler.next2(), v = sampler.next2();
  const LightSample light = scene_.lights->sample(point, u, sampler.next1());
  const Vec3f start = offset(point, up, up);
  path.carried *= albedo;
  ++path.vertices, ++path.scatterings, ++path.diffuseScatterings;
  path.throughGlassOnly = false;
  path.lastDiffuse = Rgb(1);
  if (light.pdf > 0 && light.direction.z > 0) {
    const float density = light.direction.z / pif;
    std::optional<Rgb> clear;
    for (const Glow& glow : light.light) {
      if (!glow.onDiffuse) continue;
      if (glow.shadows && !clear) clear = clearness({start, light.direction}, light.distance);
      Path lit = path;
      if (glow.shadows) lit.carried *= *clear;
      lit.deposit(out, glow, density * balance(light.pdf, density) / light.pdf, scene_.clampIndirect);
    }
  }
  const Vec3f d = cosineDirection(v);
  path.density = d.z / pif;
  path.rough = path.scattered = true;
  path.ray = {start, d};
  return path.diffuseScatterings <= scene_.diffuseBounces;
}

void Integrator::catchLight(const Ray& ray, float distance, Sampler& sampler, PixelSample& out) const {
  Vec3f point = ray.origin + ray.direction * distance;
  point.z = scene_.catcherM;
  const Lights& lights = *scene_.lights;
  const Vec3f start = offset(point, up, up);
  const Vec2f u = sampler.next2(), v = sampler.next2();
  const LightSample light = lights.sample(point, u, sampler.next1());
  if (light.pdf > 0 && light.direction.z > 0) {
    const float weight = light.direction.z / light.pdf * balance(light.pdf, light.direction.z / pif);
    std::optional<Rgb> clear;
    for (const Glow& glow : light.light) {
      if (!glow.onDiffuse) continue;
      const Rgb arriving = glow.radiance * weight;
      GroupLight& to = out.light[glow.group];
      // A part that glows is the product's own light: it is not there without it.
      if (!lights.isGlow(glow.group)) to.without += arriving;
      if (glow.shadows && !clear) clear = clearness({start, light.direction}, light.distance);
      to.with += glow.shadows ? arriving * *clear : arriving;
    }
  }
  const Vec3f d = cosineDirection(v);
  const float density = d.z / pif;
  const Lights::Seen beyond = lights.seen(start, d);
  const float weight = pif * balance(density, beyond.pdf);
  for (const Glow& glow : beyond.light)
    if (glow.onDiffuse) out.light[glow.group].without += glow.radiance * weight;
  // Where the product is not in the way, both lightings are the very same number: the ratio is exactly one.
  if (!scene_.geometry->anything({start, d}, lights.lampDistance(start, d))) {
    for (const Glow& glow : beyond.light)
      if (glow.onDiffuse) out.light[glow.group].with += glow.radiance * weight;
  } else {
    Path path;
    path.ray = {start, d}, path.density = density, path.rough = path.scattered = true;
    path.vertices = 1, path.lastDiffuse = path.diffuse = Rgb(1);
    PixelSample back(out.groups);
    follow(path, sampler, back);
    for (int g = 0; g < out.groups; ++g)
      for (const Rgb& part : back.light[g].part) out.light[g].with += part * pif;
  }
  if (scene_.gloss > 0) mirrorGround(point, ray.direction, sampler, out);
}

/// What a glossy ground mirrors with the product, less what it mirrors without.
void Integrator::mirrorGround(const Vec3f& point, const Vec3f& from, Sampler& sampler,
                              PixelSample& out) const {
  BsdfParameters wet;
  wet.base = Rgb(0), wet.roughness = scene_.glossRoughness, wet.ior = scene_.glossIor;
  const Triadf frame = triadAround(up);
  const Bsdf bsdf(wet, frame.toLocal(-from));
  const Lights& lights = *scene_.lights;
  const Vec3f start = offset(point, up, up);
  const Vec2f u = sampler.next2(), v = sampler.next2();
  const LightSample light = lights.sample(point, u, sampler.next1());
  if (light.pdf > 0 && light.direction.z > 0) {
    const Vec3f wi = frame.toLocal(light.direction);
    const Rgb lost = clearness({start, light.direction}, light.distance) - Rgb(1);
    if (lost != Rgb(0)) {
      const Rgb value =
          bsdf.value(wi).specular * (scene_.gloss * balance(light.pdf, bsdf.pdf(wi)) / light.pdf);
      for (const Glow& glow : light.light)
        if (glow.onSpecular && glow.shadows) out.light[glow.group].mirror += value * lost * glow.radiance;
    }
  }
  const Bsdf::Sample next = bsdf.sample(v, 0.0f);
  const Vec3f d = frame.toWorld(next.wi);
  if (next.pdf <= 0 || d.z <= 0) return;
  const Hit hit = scene_.geometry->closest({start, d}, lights.lampDistance(start, d));
  if (!hit.found()) return;
  const Rgb weight = next.weight.specular * scene_.gloss;
  const Lights::Seen beyond = lights.seen(start, d);
  const float lightWeight = balance(next.pdf, beyond.pdf);
  for (const Glow& glow : beyond.light)
    if (glow.onSpecular) out.light[glow.group].mirror -= weight * glow.radiance * lightWeight;
  Path path;
  path.ray = {start, d}, path.density = next.pdf, path.scattered = true;
  path.vertices = 1, path.specular = Rgb(1);
  PixelSample back(out.groups);
  follow(path, sampler, back, &hit);
  for (int g = 0; g < out.groups; ++g)
    for (const Rgb& part : back.light[g].part) out.light[g].mirror += part * weight;
}

}  // namespace dusk
