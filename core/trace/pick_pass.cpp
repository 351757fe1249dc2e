#include "core/trace/pick_pass.h"

#include <tbb/parallel_for.h>

#include "core/base/srgb.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

uint32_t coded(const Rgb& linear) {
  uint32_t result = 0xff;
  for (int k = 0; k < 3; ++k) {
    const float code = srgbEncoded(std::clamp(linear[k], 0.0f, 1.0f));
    result = result << 8 | uint32_t(code * 255 + 0.5f);
  }
  return result;
}

}  // namespace

Ray rayOf(const Camera& camera, const Vec2d& pixel) {
  return {toFloat(camera.position), toFloat(rayThrough(camera, pixel))};
}

bool renderPickPass(const PlacedGeometry& geometry, const Camera& camera,
                    const std::function<PickPaint(unsigned instance, unsigned part)>& paint, int step,
                    PickPass& out, const Progress& progress) {
  out.width = camera.width, out.height = camera.height;
  out.pixels.assign(size_t(camera.width) * camera.height, 0);
  out.seen.assign(out.pixels.size(), {});
  /// Light towards the eye along a ray, and what is seen there.
  const auto traced = [&](Ray ray, PickPass::Seen& seen) {
    Rgb sum(0, 0, 0);
    float through = 1;
    for (int layer = 0; layer < 6; ++layer) {
      const Hit hit = geometry.closest(ray);
      if (!hit.found()) break;
      Vec3f n = geometry.detail(hit).normal;
      if (n.dot(ray.direction) > 0) n = -n;
      // From the eye, and a little more from above: every side is told from its neighbour.
      const float facing = -n.dot(ray.direction), above = 0.5f + 0.5f * n.z;
      const PickPaint part = paint(hit.instance, hit.part);
      const Rgb lit = (part.colour * 0.85f + Rgb(0.05f)) * (0.18f + 0.52f * facing + 0.34f * above);
      if (layer == 0) seen = {int(hit.instance), int(hit.part)};
      // Clear things are seen at their rims.
      const float share = part.clear ? 0.06f + 0.5f * std::pow(1 - facing, 3.0f) : 1.0f;
      sum += lit * (share * through);
      through *= 1 - share;
      if (!part.clear) return sum;
      ray.origin += ray.direction * (hit.distance + std::max(1e-5f, hit.distance * 1e-5f));
    }
    return sum + Rgb(0.030f, 0.026f, 0.038f) * through;
  };
  const int block = std::max(step, 1), rows = (camera.height + block - 1) / block;
  tbb::parallel_for(0, rows, [&](int row) {
    if (progress.cancelled()) return;
    const int y = row * block;
    for (int x = 0; x < camera.width; x += block) {
      PickPass::Seen seen, beside;
      Rgb light = traced(rayOf(camera, {x + 0.5 * block, y + 0.5 * block}), seen);
      if (step == 0) {
        light *= 0.0f;
        for (const Vec2d& at :
             {Vec2d(0.125, 0.375), Vec2d(0.375, 0.875), Vec2d(0.625, 0.125), Vec2d(0.875, 0.625)})
          light += traced(rayOf(camera, {x + at.x, y + at.y}), beside) * 0.25f;
      }
      const uint32_t pixel = coded(light);
      for (int dy = 0; dy < block && y + dy < camera.height; ++dy)
        for (int dx = 0; dx < block && x + dx < camera.width; ++dx) {
          const size_t i = size_t(y + dy) * size_t(camera.width) + size_t(x + dx);
          out.pixels[i] = pixel, out.seen[i] = seen;
        }
    }
  });
  return !progress.cancelled();
}

namespace {

/// What the ray meets, nearest first, for as long as `act` wants more.
template <typename Act>
void eachHit(const PlacedGeometry& geometry, const Ray& ray, const Act& act) {
  float done = 0;
  for (bool wanted = true; wanted;) {
    Hit hit = geometry.closest({ray.origin + ray.direction * done, ray.direction});
    if (!hit.found()) return;
    const float ahead = hit.distance;
    hit.distance += done;
    done += ahead + std::max(1e-5f, ahead * 1e-5f);
    wanted = act(hit);
  }
}

}  // namespace

Hit firstSeen(const Scene& scene, const Ray& ray) {
  Hit seen;
  eachHit(*scene.geometry, ray, [&](const Hit& hit) {
    if (!scene.roles.empty() && !scene.roles[hit.instance][hit.part].seen) return true;
    seen = hit;
    return false;
  });
  return seen;
}

std::vector<Hit> hitsAlong(const PlacedGeometry& geometry, const Ray& ray, size_t most) {
  std::vector<Hit> hits;
  eachHit(geometry, ray, [&](const Hit& hit) {
    hits.push_back(hit);
    return hits.size() < most;
  });
  return hits;
}

}  // namespace dusk
