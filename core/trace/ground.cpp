// The photographed place: as a catcher before the camera, and as a matte surface to everything else.
#include "core/trace/shading.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// No real ground returns more than this share of its light.
constexpr float brightestGround = 0.95f;
// A lamp or a window that the photo shows on the place sends more than any ground does; lights are not drawn
// there, so that more than this would be noise alone.
constexpr float brightestShown = 4;

/// How often a path that meets glossy ground is followed on to what that mirrors.
float glossChance(const PlaceGloss& gloss, float cosine) {
  const float share = gloss.strength * dielectricReflectance(std::abs(cosine), 1 / gloss.ior);
  return std::clamp(2 * share, 0.2f, 0.8f);
}

/// Of a matte surface that shows so much under such an irradiance.
Rgb albedoOf(const Rgb& shown, const Rgb& irradiance) {
  Rgb albedo;
  for (int c = 0; c < 3; ++c)
    albedo[c] = irradiance[c] > 0 ? std::clamp(shown[c] * pif / irradiance[c], 0.0f, brightestGround) : 0.0f;
  return albedo;
}

/// What is known of what the photo mirrors there.
std::optional<MirroredSpot> mirroredAt(const Scene& scene, const PlaceHit& hit, const Vec3f& point) {
  return scene.mirrored && hit.gloss.strength > 0 ? scene.mirrored->at(point) : std::nullopt;
}

}  // namespace

Vec3f Integrator::placePoint(const Ray& ray, const PlaceHit& hit) const {
  Vec3f point = ray.origin + ray.direction * hit.distance;
  if (hit.ground && hit.normal.z == 1) point.z = scene_.place.groundM;
  return point;
}

/// What the photo shows of the place at a point; nothing where that is out of the frame or out of its sight.
std::optional<Rgb> Integrator::photographed(const Vec3f& point) const {
  // A scene that is all of the photo need not say so.
  const Camera& whole = scene_.plateCamera.width > 0 ? scene_.plateCamera : scene_.camera;
  const auto pixel = scene_.plate ? projected(whole, toDouble(point)) : std::nullopt;
  if (scene_.plate && scene_.plateGoesOn) {
    // What is behind the camera is as at its feet.
    const Vec2d at = pixel.value_or(Vec2d(whole.width / 2.0, whole.height));
    return plateAt(*scene_.plate, whole,
                   {std::clamp(at.x, 0.5, whole.width - 0.5), std::clamp(at.y, 0.5, whole.height - 0.5)});
  }
  if (!pixel || pixel->x < 0 || pixel->y < 0 || pixel->x >= whole.width || pixel->y >= whole.height)
    return {};
  if (!scene_.place.isPlain()) {
    const Vec3f eye = toFloat(scene_.camera.position), to = point - eye;
    const float distance = to.length();
    if (scene_.place.closest({eye, to / distance}, distance * (1 - 1e-3f), PlaceRay::photo).found())
      return {};
  }
  return plateAt(*scene_.plate, whole, *pixel);
}

Rgb Integrator::placeRadiance(const Ray& ray, const PlaceHit& hit) const {
  const Vec3f point = placePoint(ray, hit);
  if (const auto photo = photographed(point)) return *photo;
  // What a thing hides in the panorama may be the sun: the thing itself is not brighter than what it is lit
  // by.
  const Rgb all = scene_.lights->irradiance(point, hit.normal);
  return albedoOf(scene_.lights->floor(point, ray.direction), all) * all / pif;
}

/// Meets the place: what the photo shows there comes back, less what the product keeps from it, and more what
/// the product throws on it. The photo's own shadows are in that: what the place keeps from itself does not
/// count again. So nothing is left to chance where the product is not in the way. What it mirrors is another
/// matter: that is the photo's for the camera alone, and is met anew from here.
bool Integrator::scatterAtPlace(Path& path, const PlaceHit& hit, Sampler& sampler, PixelSample& out) const {
  const Vec3f point = placePoint(path.ray, hit), &n = hit.normal;
  const Lights& lights = *scene_.lights;
  const auto photo = photographed(point);
  const auto spot = photo ? mirroredAt(scene_, hit, point) : std::nullopt;
  const Rgb shown = !photo ? lights.floor(point, path.ray.direction)
                    : spot ? *photo * spot->matteShare
                           : *photo,
            all = lights.irradiance(point, n);
  const float brightest = photo ? brightestShown : brightestGround;
  std::optional<Path> mirrored;  // is large, and seldom wanted
  if (spot) mirrored = path;
  const Rgb albedo = albedoOf(shown, all);
  path.tellBehind(out, albedo);
  ++path.depth, ++path.scatterings, ++path.diffuseScatterings;
  path.throughGlassOnly = false;
  path.lastDiffuse = Rgb(1);
  path.lightMask = 0, path.offPlace = true, path.fromCatcher = false;
  lights.eachIrradiance(point, n, [&](int group, const Rgb& light) {
    Rgb share(0);
    for (int c = 0; c < 3; ++c)
      share[c] = all[c] > 0 ? std::min(shown[c] / all[c], brightest / pif) * light[c] : 0;
    path.deposit(out, {group, share}, 1, scene_.clampIndirect);
  });
  if (spot) {
    // The lights it mirrors always count; what else there is, now and then.
    const bool goesOn = mirrorAtPlace(*mirrored, point, hit, sampler, out);
    const float chance = glossChance(hit.gloss, -path.ray.direction.dot(n));
    if (sampler.next1() < chance) {
      path = *mirrored;
      path.throughput /= chance;
      return goesOn;
    }
    path.throughput /= 1 - chance;
  }
  path.throughput *= albedo;
  return changeAtPlace(path, point, n, sampler, out);
}

/// What the product takes from the light at a point of the place, and sends there.
bool Integrator::changeAtPlace(Path& path, const Vec3f& point, const Vec3f& n, Sampler& sampler,
                               PixelSample& out) const {
  const Lights& lights = *scene_.lights;
  const Vec2f u = sampler.next2(), v = sampler.next2();
  const LightSample light = lights.sample(point, n, u, sampler.next1());
  const Vec3f start = offset(point, n, n);
  if (const float facing = light.direction.dot(n); light.pdf > 0 && facing > 0) {
    const float pdf = facing / pif, weight = pdf * balance(light.pdf, pdf) / light.pdf;
    const Rgb clear = transmittance({start, light.direction}, light.distance);
    for (const Glow& glow : light.light) {
      // What glows is there with the product only.
      const Rgb change = lights.isGlow(glow.group) ? clear : glow.shadows ? clear - Rgb(1) : Rgb(0);
      if (!glow.onDiffuse || change == Rgb(0)) continue;
      path.deposit(out, {glow.group, glow.radiance * change}, weight, scene_.clampIndirect);
    }
  }
  const Vec3f local = cosineDirection(v), d = n.z == 1 ? local : triadAround(n).toWorld(local);
  const Ray onwards{start, d};
  const float lamp = lights.lampDistance(start, d), pdf = local.z / pif;
  if (!scene_.geometry->anything(onwards, lamp)) return false;
  const Lights::Seen behind = lights.seen(start, d, n);
  for (const Glow& glow : behind.light)
    if (glow.onDiffuse && glow.shadows && !lights.isGlow(glow.group))
      path.deposit(out, {glow.group, -glow.radiance}, balance(pdf, behind.pdf), scene_.clampIndirect);
  path.rough = path.scattered = true;
  path.continueAlong(onwards, n, pdf);
  return path.diffuseScatterings <= scene_.diffuseBounces;
}

/// What a glossy place mirrors, seen from elsewhere than the photo was taken from.
bool Integrator::mirrorAtPlace(Path& path, const Vec3f& point, const PlaceHit& hit, Sampler& sampler,
                               PixelSample& out) const {
  const Lights& lights = *scene_.lights;
  const Vec3f &n = hit.normal, start = offset(point, n, n);
  const Triadf frame = triadAround(n);
  PlaceGloss gloss = hit.gloss;
  gloss.roughness = std::max(gloss.roughness, leastRoughness(path));
  const Bsdf bsdf(glossParameters(gloss), frame.toLocal(-path.ray.direction));
  ++path.depth, ++path.scatterings;
  path.throughGlassOnly = false, path.lastDiffuse = Rgb(0);
  path.lightMask = 0, path.fromCatcher = false, path.scattered = true;
  path.throughput *= gloss.strength;
  const Vec2f u = sampler.next2(), v = sampler.next2();
  const LightSample light = lights.sample(point, n, u, sampler.next1());
  if (light.pdf > 0 && light.direction.dot(n) > 0 &&
      !scene_.place.blocks({start, light.direction}, light.distance)) {
    const Vec3f wi = frame.toLocal(light.direction);
    const Rgb value = bsdf.value(wi).specular,
              clear = transmittance({start, light.direction}, light.distance);
    const float weight = balance(light.pdf, bsdf.pdf(wi)) / light.pdf;
    for (const Glow& glow : light.light)
      path.deposit(out, {glow.group, glow.radiance * value * (glow.shadows ? clear : Rgb(1))}, weight,
                   scene_.clampIndirect);
  }
  const Bsdf::Sample next = bsdf.sample(v, 0.0f);
  if (next.pdf <= 0 || next.wi.z <= 0 || ++path.mirrorings > scene_.mirrorBounces) return false;
  path.throughput *= next.weight.specular;
  path.continueAlong({start, frame.toWorld(next.wi)}, n, next.pdf);
  return true;
}

/// Light of the place itself, which the photo tells, at a point of it: the same with and without the product,
/// which is in front of it or not.
void Integrator::gatherFromPlace(const Ray& ray, const Vec3f& normal, float pdf, const PlaceHit& other,
                                 Sampler& sampler, PixelSample& out) const {
  const Rgb light = placeRadiance(ray, other) * pif;
  out.light[0].without += light;
  if (!scene_.geometry->anything(ray, other.distance)) {
    out.light[0].with += light;
    return;
  }
  gatherFromProduct(ray, normal, pdf, sampler, out);
}

/// What comes from the product, or past its holes, along a ray drawn with `pdf` from a matte surface.
void Integrator::gatherFromProduct(const Ray& ray, const Vec3f& normal, float pdf, Sampler& sampler,
                                   PixelSample& out) const {
  Path path;
  path.continueAlong(ray, normal, pdf);
  path.rough = path.scattered = path.fromCatcher = true;
  path.depth = 1, path.lastDiffuse = path.firstDiffuse = Rgb(1);
  PixelSample back(out.groups);
  follow(path, sampler, back);
  for (int g = 0; g < out.groups; ++g)
    for (const Rgb& part : back.light[g].part) out.light[g].with += part * pif;
}

void Integrator::shadeCatcher(const Ray& ray, const PlaceHit& hit, Sampler& sampler, PixelSample& out) const {
  const Vec3f point = placePoint(ray, hit);
  const float kept = scene_.reach.at(point);
  if (kept <= 0) return;
  const auto spot = mirroredAt(scene_, hit, point);
  shadeCatcherFully(ray, point, hit, spot ? &*spot : nullptr, sampler, out);
  if (kept >= 1 && !spot) return;
  // A shadow darkens what lies on the place, and nothing that is mirrored there.
  const Rgb share = spot ? spot->matteShare * kept : Rgb(kept);
  for (int g = 0; g < out.groups; ++g) {
    GroupLight& light = out.light[g];
    light.with = light.without + (light.with - light.without) * share;
    light.mirror *= kept;
  }
}

void Integrator::shadeCatcherFully(const Ray& ray, const Vec3f& point, const PlaceHit& hit,
                                   const MirroredSpot* spot, Sampler& sampler, PixelSample& out) const {
  const Vec3f &n = hit.normal, start = offset(point, n, n);
  const Lights& lights = *scene_.lights;
  const bool alone = scene_.place.isPlain();
  const Vec2f u = sampler.next2(), v = sampler.next2();
  const LightSample light = lights.sample(point, n, u, sampler.next1());
  const float facing = light.direction.dot(n);
  if (light.pdf > 0 && facing > 0 &&
      (alone || !scene_.place.blocks({start, light.direction}, light.distance))) {
    const float weight = facing / light.pdf * balance(light.pdf, facing / pif);
    std::optional<Rgb> clear;
    for (const Glow& glow : light.light) {
      if (!glow.onDiffuse) continue;
      const Rgb arriving = glow.radiance * weight;
      GroupLight& to = out.light[glow.group];
      // A part that glows is the product's own light: it is not there without it.
      if (!lights.isGlow(glow.group)) to.without += arriving;
      if (glow.shadows && !clear) clear = transmittance({start, light.direction}, light.distance);
      to.with += glow.shadows ? arriving * *clear : arriving;
    }
  }
  const Vec3f local = cosineDirection(v), d = n.z == 1 ? local : triadAround(n).toWorld(local);
  const Ray next{start, d};
  const float lamp = lights.lampDistance(start, d), pdf = local.z / pif;
  if (const PlaceHit other = alone ? PlaceHit{} : scene_.place.closest(next, lamp); other.found()) {
    gatherFromPlace(next, n, pdf, other, sampler, out);
  } else {
    const Lights::Seen beyond = lights.seen(start, d, n);
    const float weight = pif * balance(pdf, beyond.pdf);
    for (const Glow& glow : beyond.light)
      if (glow.onDiffuse) out.light[glow.group].without += glow.radiance * weight;
    // Where the product is not in the way, both lightings are the very same number: the ratio is exactly one.
    if (!scene_.geometry->anything(next, lamp)) {
      for (const Glow& glow : beyond.light)
        if (glow.onDiffuse) out.light[glow.group].with += glow.radiance * weight;
    } else {
      gatherFromProduct(next, n, pdf, sampler, out);
    }
  }
  if (hit.gloss.strength > 0) reflectAtCatcher(point, hit, ray.direction, spot, sampler, out);
}

namespace {

/// What is lost of what the photo mirrors, for what a ray hides that would show `light` of its own: the
/// photo's own light, shared out by how much there is to hide. A sharp mirror shows little at once, so that
/// all of it goes by room; a blurred one, mostly by the light that was expected.
struct HiddenLight {
  Rgb perLight{1}, perShare{0};
  HiddenLight(const MirroredSpot* spot, float roughness) {
    if (!spot) return;
    const float byLight = std::clamp((roughness - 0.1f) / 0.2f, 0.0f, 0.8f);
    for (int c = 0; c < 3; ++c) {
      perLight[c] =
          spot->expected[c] > 0 ? byLight * std::min(8.0f, spot->mirrored[c] / spot->expected[c]) : 0;
      perShare[c] = spot->share[c] > 0 ? (1 - byLight) * spot->mirrored[c] / spot->share[c] : 0;
    }
  }
};

}  // namespace

/// What the product changes of the light on a spot of the place that is seen in a mirror.
void Integrator::addMirroredChange(const MirroredPlace& at, Sampler& sampler, PixelSample& out) const {
  Path path;
  path.throughput = albedoOf(at.shown, scene_.lights->irradiance(at.point, at.normal));
  path.depth = 2, path.diffuseScatterings = 1, path.offPlace = path.scattered = true;
  path.lastDiffuse = path.firstSpecular = Rgb(1);
  PixelSample back(out.groups);
  if (changeAtPlace(path, at.point, at.normal, sampler, back)) follow(path, sampler, back);
  for (int g = 0; g < out.groups; ++g)
    for (const Rgb& part : back.light[g].part) out.light[g].mirror += part * at.weight;
}

/// What a glossy place mirrors with the product, less what it mirrors without.
void Integrator::reflectAtCatcher(const Vec3f& point, const PlaceHit& on, const Vec3f& from,
                                  const MirroredSpot* spot, Sampler& sampler, PixelSample& out) const {
  const float strength = on.gloss.strength;
  const Triadf frame = triadAround(on.normal);
  const Bsdf bsdf(glossParameters(on.gloss), frame.toLocal(-from));
  const HiddenLight hidden(spot, on.gloss.roughness);
  const Lights& lights = *scene_.lights;
  const bool alone = scene_.place.isPlain();
  const Vec3f start = offset(point, on.normal, on.normal);
  const Vec2f u = sampler.next2(), v = sampler.next2();
  const LightSample light = lights.sample(point, on.normal, u, sampler.next1());
  if (light.pdf > 0 && light.direction.dot(on.normal) > 0 &&
      (alone || !scene_.place.blocks({start, light.direction}, light.distance))) {
    const Vec3f wi = frame.toLocal(light.direction);
    const Rgb clear = transmittance({start, light.direction}, light.distance),
              lost = (clear - Rgb(1)) * hidden.perLight;
    const Rgb value = bsdf.value(wi).specular * (strength * balance(light.pdf, bsdf.pdf(wi)) / light.pdf);
    for (const Glow& glow : light.light) {
      if (!glow.onSpecular) continue;
      // What glows is there with the product only: nothing of it is mirrored without.
      const Rgb change = lights.isGlow(glow.group) ? clear : glow.shadows ? lost : Rgb(0);
      if (change != Rgb(0)) out.light[glow.group].mirror += value * change * glow.radiance;
    }
  }
  out.passed = 1;
  const Bsdf::Sample next = bsdf.sample(v, 0.0f);
  const Vec3f d = frame.toWorld(next.wi);
  if (next.pdf <= 0 || next.wi.z <= 0) return;
  const float limit = lights.lampDistance(start, d);
  const PlaceHit other = alone ? PlaceHit{} : scene_.place.closest({start, d}, limit);
  const Hit hit = closest({start, d}, std::min(limit, other.distance), Look::mirror, sampler);
  const Rgb weight = next.weight.specular * strength;
  if (!hit.found()) {
    if (!other.found()) return;
    // The mirrored thing stands in the product's shadow, or in its light.
    const Ray ray{start, d};
    const Rgb shown = hidden.perShare + hidden.perLight * placeRadiance(ray, other);
    addMirroredChange({placePoint(ray, other), other.normal, shown, weight}, sampler, out);
    return;
  }
  out.light[0].mirror -= weight * hidden.perShare;
  if (other.found()) {
    out.light[0].mirror -= weight * placeRadiance({start, d}, other) * hidden.perLight;
  } else {
    const Lights::Seen beyond = lights.seen(start, d, on.normal);
    const Rgb lost = weight * hidden.perLight * balance(next.pdf, beyond.pdf);
    for (const Glow& glow : beyond.light)
      if (glow.onSpecular) out.light[glow.group].mirror -= lost * glow.radiance;
  }
  Path path;
  path.continueAlong({start, d}, on.normal, next.pdf);
  path.scattered = path.tells = true;
  path.depth = 1, path.firstSpecular = Rgb(1);
  PixelSample back(out.groups);
  follow(path, sampler, back, &hit);
  out.behind = back.behind;
  for (int g = 0; g < out.groups; ++g)
    for (const Rgb& part : back.light[g].part) out.light[g].mirror += part * weight;
}

}  // namespace dusk
