#include "core/trace/dressed_anew.h"

#include <tbb/parallel_for.h>

#include "core/project/by_id.h"
#include "core/trace/compile.h"
#include "core/trace/integrator.h"
#include "core/trace/pick_pass.h"

namespace dusk {
namespace {

/// [instance][part]: whether it wears another surface.
std::vector<std::vector<bool>> otherSurface(const Project& before, const Project& now, const Shot& shot,
                                            const Scene& scene) {
  std::vector<std::vector<bool>> other;
  for (size_t i = 0; i < scene.placementIds.size(); ++i) {
    const auto& parts = scene.geometry->instances()[i].geometry->model().parts;
    other.emplace_back(parts.size(), false);
    const Placement* at = byId(shot.placements, scene.placementIds[i]);
    const Product* is = at ? byId(now.products, at->productId) : nullptr;
    const Product* was = is ? byId(before.products, is->id) : nullptr;
    for (size_t p = 0; was && p < parts.size(); ++p) {
      const Surface *a = surfaceOf(before, *was, parts[p]), *b = surfaceOf(now, *is, parts[p]);
      other.back()[p] = a && b ? !(*a == *b) : a != b;
    }
  }
  return other;
}

}  // namespace

std::vector<unsigned char> dressedAnew(const Project& before, const Project& now, const Shot& shot,
                                       const Scene& scene, const Progress& progress) {
  constexpr size_t layers = 12;  // that are looked through
  const auto other = otherSurface(before, now, shot, scene);
  const int w = scene.camera.width, h = scene.camera.height;
  std::vector<unsigned char> mask(size_t(w) * size_t(h));
  const Integrator integrator(scene);
  tbb::parallel_for(0, h, [&](int y) {
    for (int x = 0; x < w && !progress.cancelled(); ++x)
      eachHit(*scene.geometry, integrator.cameraRay({x + 0.5, y + 0.5}),
              [&, seen = size_t(0)](const Hit& hit) mutable {
                if (other[hit.instance][hit.part]) mask[size_t(y) * size_t(w) + size_t(x)] = 1;
                const bool ends = scene.materials[hit.instance][hit.part]->isOpaque() && isSeen(scene, hit);
                return !other[hit.instance][hit.part] && !ends && ++seen < layers;
              });
  });
  return grown(mask, w, 1);
}

std::vector<unsigned char> grown(const std::vector<unsigned char>& mask, int w, int around) {
  const int h = w > 0 ? int(mask.size() / size_t(w)) : 0;
  std::vector<unsigned char> across(mask.size()), all(mask.size());
  const auto at = [w](int x, int y) { return size_t(y) * size_t(w) + size_t(x); };
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      if (mask[at(x, y)])
        std::fill(&across[at(std::max(0, x - around), y)], &across[at(std::min(w - 1, x + around), y)] + 1,
                  1);
  for (int y = 0; y < h; ++y)
    for (int v = std::max(0, y - around); v <= std::min(h - 1, y + around); ++v)
      for (int x = 0; x < w; ++x) all[at(x, y)] |= across[at(x, v)];
  return all;
}

}  // namespace dusk
