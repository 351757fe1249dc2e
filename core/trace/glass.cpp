// Into bodies that light goes through, out of them, and past them.
#include "core/trace/shading.h"

namespace dusk {
namespace {

/// What a path of one wavelength is worth in each channel, 1 on average over `shortest` to `longest`: hats
/// about the middles of the three, which add up to an even white.
constexpr float shortest = 420, longest = 660, blueNm = 460, greenNm = 540, redNm = 620;

Rgb worth(float nm) {
  constexpr float step = greenNm - blueNm, whole = longest - shortest;
  // The outer two are even beyond their middles, so that each channel gets a third.
  const float red = std::clamp((nm - greenNm) / step, 0.0f, 1.0f),
              blue = std::clamp((greenNm - nm) / step, 0.0f, 1.0f);
  constexpr float share = whole / step;
  return {red * share, (1 - red - blue) * share, blue * share};
}

}  // namespace

void Integrator::partColours(Path& path, const Medium& body, Sampler& sampler) {
  if (path.nm > 0 || body.abbe <= 0) return;
  path.nm = shortest + (longest - shortest) * sampler.next1();
  path.throughput *= worth(path.nm);
}

Integrator::Glass Integrator::scatterThroughGlass(Path& path, const Shading& at, Sampler& sampler) const {
  const auto onwards = [&](const Vec3f& direction, const Rgb& weight, bool crosses) {
    path.throughput *= weight;
    path.ray = at.onward(direction, path.ray.spread + at.parameters.roughness * 0.2f);
    if (crosses) at.cross(path.media);
    return ++path.glassSides > scene_.glassSides ? Glass::absorbed : Glass::passed;
  };
  Media::Boundary skin = at.boundary(path.media);
  if (!skin.real) return onwards(path.ray.direction, Rgb(1), true);
  const float choice = sampler.next1();
  if (path.depth == 0) path.depth = 1, path.throughGlassOnly = path.tells = true;
  if (path.scattered) {
    // Straight through, or (by the remaining chance) whatever the surface itself does.
    const float chance = at.straightThrough(skin);
    if (choice < chance) return onwards(path.ray.direction, at.parameters.base, true);
    if (at.inside) return Glass::absorbed;
    path.throughput /= std::max(1 - chance, 1e-3f);
    return Glass::reflects;
  }
  if (at.hasBody()) {
    partColours(path, at.medium(), sampler);
    if (const Medium* here = path.media.now()) partColours(path, *here, sampler);
    skin = at.boundary(path.media, path.nm);
  }
  // From within: mirrored or bent at a facet that shows. Walter et al. 2007, "Microfacet Models for
  // Refraction through Rough Surfaces", without its shadowing, so that no light is lost.
  const Vec3f h = at.facet(sampler.next2());
  const bool reflected = choice < dielectricReflectance(std::min(1.0f, at.facing(h)), skin.eta);
  const Vec3f local = reflected ? at.mirroredAt(h) : at.refractedAt(h, skin.eta);
  if ((local.z > 0) != reflected) return Glass::absorbed;
  path.pdf = -1;
  return onwards(at.frame.toWorld(local).normalized(), reflected ? Rgb(1) : at.parameters.base, !reflected);
}

bool Integrator::enterGlass(Path& path, const Shading& at, const Vec2f& u, Sampler& sampler) const {
  const Vec3f h = at.facet(u);
  if (!at.parameters.thinWalled) partColours(path, at.medium(), sampler);
  Vec3f local =
      at.parameters.thinWalled ? at.mirroredAt(h) : at.refractedAt(h, at.boundary(path.media, path.nm).eta);
  if (at.parameters.thinWalled) local.z = -local.z;  // a mirror image on the other side
  const Vec3f d = at.frame.toWorld(local).normalized();
  if (d.dot(at.geometricNormal) > -1e-4f) return false;
  if (path.depth == 0) path.depth = 1, path.throughGlassOnly = path.tells = true;
  path.throughput *= at.parameters.base;
  path.ray = at.onward(d, path.ray.spread + at.parameters.roughness * 0.2f);
  path.pdf = -1;
  at.cross(path.media);
  return ++path.glassSides <= scene_.glassSides;
}

bool Integrator::isThereFor(const Hit& hit, Look look) const {
  const PartRole* role = roleOf(partOf(hit));
  if (!role) return true;
  switch (look) {
    case Look::camera:
      return role->seen;
    case Look::mirror:
      return role->mirrored;
    case Look::catcher:
      return role->shadow;
    case Look::bounce:
      break;
  }
  return true;
}

Hit Integrator::closest(const Ray& ray, float limit, Look look, Sampler& sampler) const {
  if (!scene_.gaps && scene_.roles.empty()) return scene_.geometry->closest(ray, limit);
  Ray rest = ray;
  float before = 0;
  for (int layer = 0; layer < 64; ++layer) {
    Hit hit = scene_.geometry->closest(rest, limit - before);
    if (!hit.found()) return hit;
    bool there = isThereFor(hit, look);
    if (there && scene_.materials[hit.instance][hit.part]->hasGaps())
      there = sampler.next1() < shade(rest, hit, 0).parameters.opacity;
    const float ahead = hit.distance;
    hit.distance += before;
    if (there) return hit;
    const float step = ahead + std::max(2e-5f, 1e-5f * hit.distance);
    before += step;
    rest = {rest.origin + rest.direction * step, rest.direction, rest.width + rest.spread * step,
            rest.spread};
    if (before >= limit) return {};
  }
  return {};
}

Rgb Integrator::transmittance(Ray ray, float limit, Media media) const {
  Rgb clear(1);
  for (int layer = 0; layer < 32; ++layer) {
    const Hit hit = scene_.geometry->closest(ray, limit);
    // A body that light leaves without meeting its skin again is an open sheet.
    if (!hit.found()) return limit < 1e4f ? clear * media.transmittance(limit) : clear;
    const Material& material = *scene_.materials[hit.instance][hit.part];
    const bool passed = !isThereFor(hit, Look::catcher);
    if (!passed && material.isOpaque()) return Rgb(0);
    const Shading s = shade(ray, hit, 0);
    if (!passed) {
      const float gap = 1 - s.parameters.opacity;
      if (s.through() <= 0 && gap <= 0) return Rgb(0);
      s.correct(media);
      clear *= media.transmittance(hit.distance);
      const Media::Boundary skin = s.boundary(media);
      if (skin.real) clear *= s.parameters.base * ((1 - gap) * s.straightThrough(skin)) + Rgb(gap);
      s.cross(media);
    }
    if (maxComponent(clear) < 1e-3f) return Rgb(0);
    ray.origin = offset(s.position, s.geometricNormal, ray.direction);
    limit -= hit.distance;
    if (limit <= 0) return clear;
  }
  return Rgb(0);
}

}  // namespace dusk
