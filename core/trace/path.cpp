// Following a path from surface to surface.
#include "core/trace/shading.h"

namespace dusk {
namespace {

// Least roughness met after a path has scattered at all, and after it has scattered widely.
constexpr float roughAfterGlossy = 0.3f, roughAfterDiffuse = 0.5f, roughWithoutCaustics = 0.95f;

}  // namespace

void Integrator::Path::deposit(PixelSample& out, const Glow& light, float weight, float clamp) const {
  Rgb arriving = throughput * light.radiance * weight;
  if (depth > 0 && lightMask >> light.group & 1) return;
  // A lamp that is kept out of reflections, or what shows in its place.
  if (depth > 0 && !light.onSpecular) arriving *= lastDiffuse;
  if (depth > 0 && !light.onDiffuse) arriving *= Rgb(1) - lastDiffuse;
  if (depth == 0 && !light.onSpecular) return;
  const bool direct = depth <= 1;
  if (!direct && clamp > 0)
    if (const float most = maxComponent(arriving); most > clamp) arriving *= clamp / most;
  if (!std::isfinite(arriving.x + arriving.y + arriving.z)) return;
  Rgb* part = out.light[light.group].part;
  if (depth == 0) {
    part[emission] += arriving;
    return;
  }
  if (direct && !throughGlassOnly && light.onDiffuse != light.onSpecular) {
    // Already weighed by the first surface's own shares.
    part[light.onDiffuse ? diffuseDirect : specularDirect] += arriving;
    return;
  }
  const Rgb wide = arriving * firstDiffuse, mirrored = arriving * firstSpecular;
  part[direct ? diffuseDirect : diffuseIndirect] += wide;
  part[direct ? specularDirect : specularIndirect] += mirrored;
  if (firstDiffuse == Rgb(0) && firstSpecular == Rgb(0))
    part[direct ? transmissionDirect : transmissionIndirect] += arriving;
}

void Integrator::addEnvironmentHit(const Path& path, PixelSample& out) const {
  const Lights::Seen seen = path.pdf < 0
                                ? scene_.lights->seen(path.ray.origin, path.ray.direction)
                                : scene_.lights->seen(path.drawnAt, path.ray.direction, path.drawnNormal);
  const float weight = path.pdf < 0 ? 1.0f : balance(path.pdf, seen.pdf);
  for (const Glow& light : seen.light) path.deposit(out, light, weight, scene_.clampIndirect);
}

void Integrator::addEmitterHit(const Path& path, const Shading& at, PixelSample& out) const {
  if (at.inside || maxComponent(at.parameters.emission) <= 0) return;
  const float cosine = -at.geometricNormal.dot(path.ray.direction);
  const float other =
      scene_.lights->emitterPdf(at.drawnEmission, (at.position - path.drawnAt).length(), cosine);
  const float weight = path.pdf < 0 || other <= 0 ? 1.0f : balance(path.pdf, other);
  path.deposit(out, {scene_.lights->glowGroup(), at.parameters.emission}, weight, scene_.clampIndirect);
}

void Integrator::addDirectLighting(const Path& path, const Shading& at, const Bsdf& bsdf, Sampler& sampler,
                                   PixelSample& out) const {
  const Vec2f u = sampler.next2();
  const LightSample light = scene_.lights->sample(at.position, at.frame.z, u, sampler.next1());
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
    if (at.lightMask >> glow.group & 1) continue;
    Rgb share(1);
    if (glow.shadows) {
      if (!clear) clear = lost ? Rgb(0) : transmittance(shadow, light.distance, path.media);
      share = *clear;
    }
    if (maxComponent(share) <= 0) continue;
    Path next = path;
    ++next.depth;
    next.lightMask = 0;
    const Rgb wide = glow.onDiffuse ? value.diffuse : Rgb(0),
              mirrored = glow.onSpecular ? value.specular : Rgb(0);
    const Rgb all = wide + mirrored;
    if (path.depth == 0)
      for (int c = 0; c < 3; ++c) {
        next.firstDiffuse[c] = all[c] > 0 ? wide[c] / all[c] : 0;
        next.firstSpecular[c] = all[c] > 0 ? 1 - next.firstDiffuse[c] : 0;
      }
    next.throughput *= all * share;
    const bool uneven = scene_.unevenGlow && scene_.lights->isGlow(glow.group);
    const Rgb radiance = uneven ? drawnRadiance(shadow, light.distance, glow.radiance) : glow.radiance;
    next.deposit(out, {glow.group, radiance}, weight, scene_.clampIndirect);
  }
}

Rgb Integrator::drawnRadiance(const Ray& towards, float distance, const Rgb& believed) const {
  const float before = distance * 2e-3f + 2e-4f;
  const Ray last{towards.origin + towards.direction * (distance - before), towards.direction, 0, 0.4f};
  const Hit hit = scene_.geometry->closest(last, 2 * before);
  return hit.found() ? shade(last, hit, 0).parameters.emission : believed;
}

bool Integrator::scatterAtSurface(Path& path, const Shading& at, float distance, Sampler& sampler,
                                  PixelSample& out) const {
  at.correct(path.media);
  // A cloud has told by chance what it left.
  if (const Medium* in = path.media.now(); in && !in->scatters())
    path.throughput *= path.media.transmittance(distance);
  addEmitterHit(path, at, out);
  const PartRole* role = roleOf(at.part);
  if (path.fromCatcher && role) path.throughput *= float(role->bounce);
  path.fromCatcher = false;
  const float through = at.through();
  const bool within = path.media.now() && at.hasBody() && (through > 0.9f || !at.boundary(path.media).real);
  if (through > 0 && (at.inBody() || path.scattered || within)) {
    const Glass glass = scatterThroughGlass(path, at, sampler);
    if (glass != Glass::reflects) return glass == Glass::passed;
  }
  if (path.lightsOnly) return false;
  const Bsdf bsdf(at.parameters, at.wo);
  if (through < 0.5f) path.tellBehind(out, bsdf.albedo().sum());
  const Vec2f u = sampler.next2();
  const Vec2f lobe = sampler.next2();
  addDirectLighting(path, at, bsdf, sampler, out);
  const float enter = through > 0 && !path.scattered ? bsdf.passes() : 0;
  if (enter > 0 && lobe.y < enter) return enterGlass(path, at, u, sampler);
  const float below = bsdf.wanders();
  path.lightsOnly = role && !role->lit;
  if (below > 0 && lobe.y < enter + below) return wanderBelow(path, at, sampler, out);
  const Bsdf::Sample next = bsdf.sample(u, lobe.x);
  const Vec3f d = at.frame.toWorld(next.wi);
  if (next.pdf <= 0 || d.dot(at.geometricNormal) <= 0) return false;
  const Rgb all = next.weight.sum();
  for (int c = 0; c < 3; ++c) path.lastDiffuse[c] = all[c] > 0 ? next.weight.diffuse[c] / all[c] : 0;
  if (path.depth == 0) path.firstDiffuse = path.lastDiffuse, path.firstSpecular = Rgb(1) - path.lastDiffuse;
  path.throughput *= all * (at.terminator(d) / std::max(1 - enter - below, 1e-3f));
  path.goOn(at.lightMask);
  const bool wide = next.wide || at.parameters.roughness > 0.5f;
  path.rough |= wide;
  ++path.depth, ++path.scatterings;
  if (++(wide ? path.diffuseScatterings : path.mirrorings) >
      (wide ? scene_.diffuseBounces : scene_.mirrorBounces))
    return false;
  const float spread = wide ? 0.4f : path.ray.spread + 0.3f * at.parameters.roughness;
  path.continueAlong(at.onward(d, spread), at.frame.z, next.pdf);
  return true;
}

float Integrator::leastRoughness(const Path& path) const {
  if (!path.rough) return path.scattered ? roughAfterGlossy : 0.0f;
  return scene_.caustics ? roughAfterDiffuse : roughWithoutCaustics;
}

void Integrator::follow(Path& path, Sampler& sampler, PixelSample& out, const Hit* first,
                        const Shading* firstAt) const {
  while (path.scatterings <= scene_.bounces) {
    const float lamp = scene_.lights->lampDistance(path.ray.origin, path.ray.direction);
    const PlaceHit place = path.offPlace ? PlaceHit{} : scene_.place.closest(path.ray, lamp);
    const Hit hit = first ? *first : closest(path.ray, std::min(lamp, place.distance), path.look(), sampler);
    first = nullptr;
    const int before = path.scatterings;
    if (const Cloud cloud = scatterInBody(path, std::min({lamp, place.distance, hit.distance}), sampler, out);
        cloud != Cloud::clear) {
      if (cloud == Cloud::lost) return;
      continue;
    }
    if (hit.found()) {
      const Shading at = firstAt ? *firstAt : shade(path.ray, hit, leastRoughness(path));
      firstAt = nullptr;
      if (!scatterAtSurface(path, at, hit.distance, sampler, out)) return;
    } else if (!place.found()) {
      path.tellBehind(out, Rgb(1));
      return addEnvironmentHit(path, out);
    } else if (path.lightsOnly || !scatterAtPlace(path, place, sampler, out)) {
      return;
    }
    if (path.scatterings > 2 && path.scatterings > before) {  // Russian roulette by the throughput
      const float keep = std::clamp(maxComponent(path.throughput), 0.1f, 1.0f);
      if (sampler.next1() >= keep) return;
      path.throughput /= keep;
    }
  }
}

}  // namespace dusk
