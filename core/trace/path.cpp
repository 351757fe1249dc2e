// Following a path from surface to surface.
#include "core/trace/shading.h"

namespace dusk {
namespace {

// Least roughness met after a path has scattered at all, and after it has scattered widely.
constexpr float roughAfterGlossy = 0.3f, roughAfterDiffuse = 0.5f, roughWithoutCaustics = 0.95f;

}  // namespace

void Integrator::Path::deposit(PixelSample& out, const Glow& light, float weight, float clamp) const {
  Rgb arriving = carried * light.radiance * weight;
  if (vertices > 0 && leftOut >> light.group & 1) return;
  // A lamp that is kept out of reflections, or what shows in its place.
  if (vertices > 0 && !light.onSpecular) arriving *= lastDiffuse;
  if (vertices > 0 && !light.onDiffuse) arriving *= Rgb(1) - lastDiffuse;
  if (vertices == 0 && !light.onSpecular) return;
  const bool direct = vertices <= 1;
  if (!direct && clamp > 0)
    if (const float most = maxComponent(arriving); most > clamp) arriving *= clamp / most;
  if (!std::isfinite(arriving.x + arriving.y + arriving.z)) return;
  Rgb* part = out.light[light.group].part;
  if (vertices == 0) {
    part[emission] += arriving;
    return;
  }
  if (direct && !throughGlassOnly && light.onDiffuse != light.onSpecular) {
    // Already weighed by the first surface's own shares.
    part[light.onDiffuse ? diffuseDirect : specularDirect] += arriving;
    return;
  }
  const Rgb wide = arriving * diffuse, mirrored = arriving * specular;
  part[direct ? diffuseDirect : diffuseIndirect] += wide;
  part[direct ? specularDirect : specularIndirect] += mirrored;
  if (diffuse == Rgb(0) && specular == Rgb(0))
    part[direct ? transmissionDirect : transmissionIndirect] += arriving;
}

void Integrator::meetLight(const Path& path, PixelSample& out) const {
  const Lights::Seen seen = scene_.lights->seen(path.ray.origin, path.ray.direction);
  const float weight = path.density < 0 ? 1.0f : balance(path.density, seen.pdf);
  for (const Glow& light : seen.light) path.deposit(out, light, weight, scene_.clampIndirect);
}

void Integrator::meetEmitter(const Path& path, const Shading& at, float distance, PixelSample& out) const {
  if (at.inside || maxComponent(at.parameters.emission) <= 0) return;
  const float cosine = -at.geometricNormal.dot(path.ray.direction);
  const float other = scene_.lights->emitterPdf(at.parameters.emission, distance, cosine);
  const float weight = path.density < 0 || other <= 0 ? 1.0f : balance(path.density, other);
  path.deposit(out, {scene_.lights->glowGroup(), at.parameters.emission}, weight, scene_.clampIndirect);
}

void Integrator::lightDirectly(const Path& path, const Shading& at, const Bsdf& bsdf, Sampler& sampler,
                               PixelSample& out) const {
  const Vec2f u = sampler.next2();
  const LightSample light = scene_.lights->sample(at.position, u, sampler.next1());
  if (light.pdf <= 0) return;
  const Vec3f wi = at.frame.toLocal(light.direction);
  if (wi.z <= 0 || light.direction.dot(at.geometricNormal) <= 0) return;
  const Bsdf::Value value = bsdf.value(wi);
  if (maxComponent(value.sum()) <= 0) return;
  const float weight = balance(light.pdf, bsdf.pdf(wi)) / light.pdf * at.terminator(light.direction);
  const Ray shadow{offset(at.position, at.geometricNormal, light.direction), light.direction};
  const bool lost = scene_.place.blocks(shadow, light.distance);
  std::optional<Rgb> clear;
  for (const Glow& glow : light.light) {
    if (at.leftOut >> glow.group & 1) continue;
    Rgb share(1);
    if (glow.shadows) {
      if (!clear) clear = lost ? Rgb(0) : clearness(shadow, light.distance);
      share = *clear;
    }
    if (maxComponent(share) <= 0) continue;
    Path next = path;
    ++next.vertices;
    next.leftOut = 0;
    const Rgb wide = glow.onDiffuse ? value.diffuse : Rgb(0),
              mirrored = glow.onSpecular ? value.specular : Rgb(0);
    const Rgb all = wide + mirrored;
    if (path.vertices == 0)
      for (int c = 0; c < 3; ++c) {
        next.diffuse[c] = all[c] > 0 ? wide[c] / all[c] : 0;
        next.specular[c] = all[c] > 0 ? 1 - next.diffuse[c] : 0;
      }
    next.carried *= all * share;
    next.deposit(out, {glow.group, glow.radiance}, weight, scene_.clampIndirect);
  }
}

Integrator::Glass Integrator::meetGlass(Path& path, const Shading& at, float through,
                                        Sampler& sampler) const {
  const float choice = sampler.next1();
  if (path.vertices == 0) path.vertices = 1, path.throughGlassOnly = true;
  const auto onwards = [&](const Vec3f& direction, const Rgb& weight) {
    path.carried *= weight;
    path.ray = {offset(at.position, at.geometricNormal, direction), direction};
    return ++path.glassSides > scene_.glassSides ? Glass::absorbed : Glass::passed;
  };
  if (path.scattered) {
    // Straight through, or (by the remaining chance) whatever the surface itself does.
    const float chance =
        through * (1 - dielectricReflectance(std::min(1.0f, at.wo.z), 1 / at.parameters.ior));
    if (choice < chance) return onwards(path.ray.direction, at.parameters.base);
    if (at.inside) return Glass::absorbed;
    path.carried /= std::max(1 - chance, 1e-3f);
    return Glass::reflects;
  }
  // From within: mirrored or bent at a facet that shows. Walter et al. 2007, "Microfacet Models for
  // Refraction through Rough Surfaces", without its shadowing, so that no light is lost.
  const Vec3f h = at.facet(sampler.next2());
  const float eta = at.parameters.ior;
  const bool reflected = choice < dielectricReflectance(std::min(1.0f, at.facing(h)), eta);
  const Vec3f local = reflected ? at.mirroredAt(h) : at.refractedAt(h, eta);
  if ((local.z > 0) != reflected) return Glass::absorbed;
  path.density = -1;
  return onwards(at.frame.toWorld(local).normalized(), reflected ? Rgb(1) : at.parameters.base);
}

bool Integrator::meetSurface(Path& path, const Shading& at, float distance, Sampler& sampler,
                             PixelSample& out) const {
  path.carried *= at.left(distance);
  meetEmitter(path, at, distance, out);
  const float through = at.through();
  if (through > 0 && (at.inBody() || path.scattered)) {
    const Glass glass = meetGlass(path, at, through, sampler);
    if (glass != Glass::reflects) return glass == Glass::passed;
  }
  const Bsdf bsdf(at.parameters, at.wo);
  const Vec2f u = sampler.next2();
  const Vec2f lobe = sampler.next2();
  lightDirectly(path, at, bsdf, sampler, out);
  const float enter = through > 0 && !path.scattered ? bsdf.passes() : 0;
  if (enter > 0 && lobe.y < enter) {
    const Vec3f h = at.facet(u);
    Vec3f local = at.parameters.thinWalled ? at.mirroredAt(h) : at.refractedAt(h, 1 / at.parameters.ior);
    if (at.parameters.thinWalled) local.z = -local.z;  // a mirror image on the other side
    const Vec3f d = at.frame.toWorld(local).normalized();
    if (d.dot(at.geometricNormal) > -1e-4f) return false;
    if (path.vertices == 0) path.vertices = 1, path.throughGlassOnly = true;
    path.carried *= at.parameters.base;
    path.ray = {offset(at.position, at.geometricNormal, d), d};
    path.density = -1;
    return ++path.glassSides <= scene_.glassSides;
  }
  const Bsdf::Sample next = bsdf.sample(u, lobe.x);
  const Vec3f d = at.frame.toWorld(next.wi);
  if (next.pdf <= 0 || d.dot(at.geometricNormal) <= 0) return false;
  const Rgb all = next.weight.sum();
  for (int c = 0; c < 3; ++c) path.lastDiffuse[c] = all[c] > 0 ? next.weight.diffuse[c] / all[c] : 0;
  if (path.vertices == 0) path.diffuse = path.lastDiffuse, path.specular = Rgb(1) - path.lastDiffuse;
  path.carried *= all * (at.terminator(d) / std::max(1 - enter, 1e-3f));
  path.density = next.pdf;
  path.scattered = true;
  path.throughGlassOnly = path.offPlace = false;
  path.leftOut = at.leftOut;
  const bool wide = next.wide || at.parameters.roughness > 0.5f;
  path.rough |= wide;
  ++path.vertices, ++path.scatterings;
  if (++(wide ? path.diffuseScatterings : path.mirrorings) >
      (wide ? scene_.diffuseBounces : scene_.mirrorBounces))
    return false;
  path.ray = {offset(at.position, at.geometricNormal, d), d};
  return true;
}

void Integrator::follow(Path& path, Sampler& sampler, PixelSample& out, const Hit* first,
                        const Shading* firstAt) const {
  while (path.scatterings <= scene_.bounces) {
    const float lamp = scene_.lights->lampDistance(path.ray.origin, path.ray.direction);
    const PlaceHit place = path.offPlace ? PlaceHit{} : scene_.place.closest(path.ray, lamp);
    const Hit hit = first ? *first : scene_.geometry->closest(path.ray, std::min(lamp, place.distance));
    first = nullptr;
    const int before = path.scatterings;
    if (hit.found()) {
      const float least = !path.rough       ? (path.scattered ? roughAfterGlossy : 0.0f)
                          : scene_.caustics ? roughAfterDiffuse
                                            : roughWithoutCaustics;
      const Shading at = firstAt ? *firstAt : shade(path.ray, hit, least);
      firstAt = nullptr;
      if (!meetSurface(path, at, hit.distance, sampler, out)) return;
    } else if (!place.found()) {
      return meetLight(path, out);
    } else if (!meetPlace(path, place, sampler, out)) {
      return;
    }
    if (path.scatterings > 2 && path.scatterings > before) {  // Russian roulette by what is still carried
      const float keep = std::clamp(maxComponent(path.carried), 0.1f, 1.0f);
      if (sampler.next1() >= keep) return;
      path.carried /= keep;
    }
  }
}

}  // namespace dusk
