#include "core/trace/lit_colour.h"

#include "core/trace/sampler.h"
#include "core/trace/shading.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr int looks = 4096, batches = 16;

}  // namespace

std::optional<LitColour> colourAsLit(const Scene& scene, const BsdfParameters& like, const Vec2d& pixel,
                                     const Rgb& seen) {
  const Camera& camera = scene.plateCamera.width > 0 ? scene.plateCamera : scene.camera;
  const Ray ray{toFloat(camera.position), toFloat(rayThrough(camera, pixel))};
  const PlaceHit hit = scene.place.closest(ray, 1e4f, PlaceRay::photo);
  if (!hit.found()) return {};
  LitColour out;
  out.point = ray.origin + ray.direction * hit.distance, out.normal = hit.normal;
  const Triadf frame = triadAround(hit.normal);
  const Vec3f wo = frame.toLocal(-ray.direction), start = offset(out.point, hit.normal, hit.normal);
  BsdfParameters dark = like, bright = like;
  dark.base = Rgb(0), bright.base = Rgb(1), dark.emission = bright.emission = Rgb(0);
  const Bsdf black(dark, wo), white(bright, wo);
  const Lights& lights = *scene.lights;
  // What it sends to the eye with a base of 0 and of 1: between those it is as good as straight.
  Rgb none(0), all(0), sun(0), batch(0), squares(0);
  const auto add = [&](const Vec3f& direction, const Glow& glow, float distance, float weight) {
    const Vec3f wi = frame.toLocal(direction);
    if (wi.z <= 0) return;
    const Rgb light =
        glow.shadows && scene.place.blocks({start, direction}, distance) ? Rgb(0) : glow.radiance * weight;
    const Rgb lit = white.value(wi).sum() * light;
    none += black.value(wi).sum() * light, all += lit, batch += lit;
    if (distance > 1e20f && maxComponent(glow.radiance) > 50) sun += lit;
  };
  for (int i = 0; i < looks; ++i) {
    Sampler sampler(17, 0, 0, uint32_t(i), 12);
    const Vec2f u = sampler.next2(), v = sampler.next2();
    if (const LightSample s = lights.sample(out.point, hit.normal, u, sampler.next1()); s.pdf > 0) {
      const float own = white.pdf(frame.toLocal(s.direction));
      for (const Glow& glow : s.light) add(s.direction, glow, s.distance, balance(s.pdf, own) / s.pdf);
    }
    if (const Bsdf::Sample s = white.sample(v, sampler.next1()); s.pdf > 0) {
      const Vec3f d = frame.toWorld(s.wi);
      const Lights::Seen behind = lights.seen(start, d, hit.normal);
      for (const Glow& glow : behind.light)
        add(d, glow, lights.lampDistance(start, d), balance(s.pdf, behind.pdf) / s.pdf);
    }
    if ((i + 1) % (looks / batches) == 0) squares += batch * batch, batch = Rgb(0);
  }
  for (int c = 0; c < 3; ++c) {
    const float slope = all[c] - none[c], mean = all[c] / batches;
    out.base[c] = slope > 0 ? (seen[c] * looks - none[c]) / slope : 0;
    const float variance = std::max(0.0f, squares[c] / batches - mean * mean) / (batches - 1);
    out.sigma[c] = mean > 0 ? std::abs(out.base[c]) * std::sqrt(variance) / mean : 0;
  }
  out.bySun = luminance(all) > 0 ? luminance(sun) / luminance(all) : 0;
  return out;
}

}  // namespace dusk
