#pragma once
#include <random>

#include "core/trace/passes.h"

namespace dusk {

/// Passes with all that the blend looks at: a soft-edged disc of uneven light in the middle, its shadow to
/// the right, a faint mirror image below, two lights.
inline Passes madeUpPasses(int w, int h, unsigned seed = 1) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> any(0, 1);
  Passes p;
  p.beauty = Picture::rgb(w, h), p.ratio = Picture::rgb(w, h), p.reflection = Picture::rgb(w, h);
  p.alpha = Picture(w, h, {"A"}), p.depth = Picture(w, h, {"Z"}), p.facing = Picture(w, h, {"Y"});
  p.groups.resize(2);
  p.groups[0].name = "surroundings", p.groups[1].name = "sun";
  for (GroupPasses& g : p.groups) {
    g.with = g.without = g.mirror = Picture::rgb(w, h);
    for (const Component c : {diffuseDirect, specularDirect, emission}) g.part[c] = Picture::rgb(w, h);
  }
  p.covers.resize(size_t(w) * size_t(h));
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      const float dx = (float(x) + 0.5f) / float(w) - 0.5f, dy = (float(y) + 0.5f) / float(h) - 0.5f;
      const float alpha =
          std::clamp((0.25f - std::sqrt(dx * dx + dy * dy)) * float(w) / 3 + 0.5f, 0.0f, 1.0f);
      const float shade = std::clamp(1.5f - 8 * std::hypot(dx - 0.28f, dy - 0.1f), 0.0f, 1.0f) * 0.8f;
      p.alpha.at(x, y)[0] = alpha, p.depth.at(x, y)[0] = alpha > 0 ? 1.5f + dy : 0;
      p.facing.at(x, y)[0] = alpha * std::clamp(1 - 4 * dx, 0.0f, 1.0f);
      if (alpha > 0) {
        auto& list = p.covers[size_t(y) * size_t(w) + size_t(x)].list;
        list[0] = {dx < 0 ? 1u : 2u, alpha};
      }
      for (int c = 0; c < 3; ++c) {
        float sum = 0, mirror = 0;
        for (size_t g = 0; g < 2; ++g)
          for (const Component k : {diffuseDirect, specularDirect, emission}) {
            const float light =
                alpha * any(random) * (k == emission ? (any(random) > 0.98f ? 9.0f : 0.0f) : 0.4f);
            p.groups[g].part[k].at(x, y)[c] = light, sum += light;
          }
        for (size_t g = 0; g < 2; ++g) {
          p.groups[g].without.at(x, y)[c] = 1;
          p.groups[g].with.at(x, y)[c] = g == 1 ? 1 - shade : 1;
          const float part = dy > 0.2f && alpha == 0 ? 0.05f * (float(g) - 0.4f) : 0;
          p.groups[g].mirror.at(x, y)[c] = part, mirror += part;
        }
        p.beauty.at(x, y)[c] = sum, p.reflection.at(x, y)[c] = mirror;
        p.ratio.at(x, y)[c] = shade > 0 ? 1 - shade / 2 : 1;
      }
    }
  return p;
}

inline Picture madeUpPlate(int w, int h, unsigned seed = 2) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> any(0, 1);
  Picture p = Picture::rgb(w, h);
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      for (int c = 0; c < 3; ++c) p.at(x, y)[c] = 0.05f + 0.8f * any(random) * float(x + 1) / float(w);
  return p;
}

}  // namespace dusk
