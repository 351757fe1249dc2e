// Light on its way through what is cloudy: bodies that are entered, and what lies below a matte surface.
#include "core/trace/phase.h"
#include "core/trace/shading.h"

namespace dusk {
namespace {

/// A channel to draw a distance by, by what the path is worth in each; `share` are the chances.
int drawChannel(const Rgb& worth, float u, Rgb& share) {
  const float sum = worth.x + worth.y + worth.z;
  share = sum > 0 ? worth / sum : Rgb(1 / 3.0f);
  return u < share.x ? 0 : u < share.x + share.y ? 1 : 2;
}

/// The albedo of single scattering whose many scatterings look as the surface's colour, and how much denser
/// it must be for light to reach as far. Chiang, Kutz & Burley 2016, "Practical and Controllable Subsurface
/// Scattering for Production Path Tracing".
void below(const Rgb& colour, const Rgb& reachM, Rgb& albedo, Rgb& extinction) {
  for (int c = 0; c < 3; ++c) {
    const float a = std::clamp(colour[c], 0.0f, 1.0f);
    albedo[c] = a >= 1 ? 1.0f : 1 - std::exp(-5.09406f * a + 2.61188f * a * a - 4.31805f * a * a * a);
    const float s = 1.9f - a + 3.5f * (a - 0.8f) * (a - 0.8f);
    extinction[c] = s / std::max(1e-6f, reachM[c]);
  }
}

}  // namespace

Integrator::Cloud Integrator::scatterInBody(Path& path, float distance, Sampler& sampler,
                                            PixelSample& out) const {
  const Medium* in = path.media.now();
  if (!in || !in->scatters()) return Cloud::clear;
  const Medium cloud = *in;
  const Rgb extinction = cloud.extinction();
  Rgb share;
  const int channel = drawChannel(path.throughput, sampler.next1(), share);
  const float u = sampler.next1();
  const float free =
      extinction[channel] > 0 ? -std::log(std::max(1e-30f, 1 - u)) / extinction[channel] : 1e30f;
  // One draw stands for all three channels: weighed by the mean of their densities (Veach's balance).
  const Rgb left = exponential(extinction * -std::min(distance, free));
  if (free >= distance) {
    path.throughput *= left / std::max(1e-20f, share.dot(left));
    return Cloud::clear;
  }
  path.throughput *= cloud.scattering * left / std::max(1e-20f, share.dot(extinction * left));
  if (++path.bodyScatterings > 256) return Cloud::lost;
  if (path.bodyScatterings > 3) {
    const float keep = std::clamp(maxComponent(path.throughput), 0.05f, 1.0f);
    if (sampler.next1() >= keep) return Cloud::lost;
    path.throughput /= keep;
  }
  const Vec3f point = path.ray.origin + path.ray.direction * free, onwards = path.ray.direction;
  ++path.depth;
  path.rough = true;
  path.lastDiffuse = Rgb(1);
  path.goOn(path.lightMask);
  const Vec2f u2 = sampler.next2();
  const LightSample light = scene_.lights->sample(point, u2, sampler.next1());
  if (light.pdf > 0) {
    const float phase = phaseValue(onwards.dot(light.direction), cloud.forward);
    const float weight = phase * balance(light.pdf, phase) / light.pdf;
    const Ray shadow{point, light.direction};
    const Rgb clear = scene_.place.blocks(shadow, light.distance)
                          ? Rgb(0)
                          : transmittance(shadow, light.distance, path.media);
    for (const Glow& glow : light.light) {
      if (!glow.onDiffuse) continue;
      path.deposit(out, {glow.group, glow.radiance * (glow.shadows ? clear : Rgb(1))}, weight,
                   scene_.clampIndirect);
    }
  }
  const Vec3f d = samplePhase(onwards, cloud.forward, sampler.next2());
  path.continueAlong({point, d, path.ray.width + path.ray.spread * free, 0.4f}, Vec3f(0),
                     phaseValue(onwards.dot(d), cloud.forward));
  return Cloud::scattered;
}

/// Leaves a spot as from a matte white that lets all out.
bool Integrator::leaveMatte(Path& path, Shading& at, Sampler& sampler, PixelSample& out) const {
  BsdfParameters white;
  white.base = Rgb(1), white.roughness = 1, white.ior = 1, white.specular = 0;
  at.parameters = white, at.inside = false, at.wo = {0, 0, 1};
  const Bsdf bsdf(white, at.wo);
  addDirectLighting(path, at, bsdf, sampler, out);
  const Bsdf::Sample next = bsdf.sample(sampler.next2(), 1);
  const Vec3f away = at.frame.toWorld(next.wi);
  if (next.pdf <= 0 || away.dot(at.geometricNormal) <= 0) return false;
  path.lastDiffuse = Rgb(1);
  if (path.depth == 0) path.firstDiffuse = Rgb(1), path.firstSpecular = Rgb(0);
  path.throughput *= next.weight.sum();
  path.goOn(at.lightMask);
  path.rough = true;
  ++path.depth, ++path.scatterings;
  path.continueAlong(at.onward(away, 0.4f), at.frame.z, next.pdf);
  return ++path.diffuseScatterings <= scene_.diffuseBounces;
}

/// A random walk from where light went in to where it comes out, in what has the part's own shape and no
/// skin; there it leaves as from a matte surface.
bool Integrator::wanderBelow(Path& path, const Shading& at, Sampler& sampler, PixelSample& out) const {
  const BsdfParameters& p = at.parameters;
  if (p.thinWalled) {  // a sheet: as much goes on as comes back
    Shading side = at;
    path.throughput *= p.base;
    if (sampler.next1() < 0.5f) side.turnOver();
    return leaveMatte(path, side, sampler, out);
  }
  Rgb albedo, extinction, share;
  below(p.base, p.subsurfaceM, albedo, extinction);
  const Rgb scattering = albedo * extinction;
  const auto inwards = [&](const Vec2f& u) {
    const Vec3f d = cosineDirection(u);
    return at.frame.toWorld({d.x, d.y, -d.z});
  };
  Vec3f d = inwards(sampler.next2());
  Vec3f from = offset(at.position, at.geometricNormal, d);
  for (int step = 0; step < 512; ++step) {
    const int channel = drawChannel(path.throughput, sampler.next1(), share);
    const float free = -std::log(std::max(1e-30f, 1 - sampler.next1())) / extinction[channel];
    Ray ray{from, d, at.width, 0};
    Hit hit = scene_.geometry->closest(ray, free);
    float before = 0;
    // Other parts lie within this one, or against it: they have their own say when the path is out.
    for (int layer = 0; hit.found() && layer < 8 && partOf(hit) != at.part; ++layer) {
      before += hit.distance + 2e-5f;
      ray.origin = from + d * before;
      hit = scene_.geometry->closest(ray, std::max(0.0f, free - before));
    }
    const float met = hit.found() ? before + hit.distance : free;
    const Rgb left = exponential(extinction * -met);
    if (!hit.found()) {
      path.throughput *= scattering * left / std::max(1e-20f, share.dot(extinction * left));
      const float keep = step < 8 ? 1.0f : std::clamp(maxComponent(path.throughput), 0.05f, 1.0f);
      if (keep < 1 && sampler.next1() >= keep) return false;
      path.throughput /= keep;
      from += d * free;
      d = samplePhase(d, p.forward, sampler.next2());
      continue;
    }
    path.throughput *= left / std::max(1e-20f, share.dot(left));
    Shading exit = shade(ray, hit, 0);
    exit.lightMask = at.lightMask;
    if (exit.inside) exit.turnOver();
    return leaveMatte(path, exit, sampler, out);
  }
  return false;
}

}  // namespace dusk
