#include "core/trace/dressed_anew.h"

#include <tbb/parallel_for.h>

#include "core/project/by_id.h"
#include "core/trace/compile.h"
#include "core/trace/integrator.h"
#include "core/trace/pick_pass.h"

namespace dusk {
void markDiffering(const Project& a, const Project& b, const Shot& shot, const Scene& scene,
                   DifferingParts& marks) {
  const auto looksAlike = [](const Surface* one, const Surface* other) {
    return one && other ? *one == *other : one == other;
  };
  const auto& instances = scene.geometry->instances();
  marks.resize(instances.size());
  for (size_t i = 0; i < instances.size(); ++i) {
    const auto& parts = instances[i].geometry->model().parts;
    marks[i].resize(parts.size());
    const Placement* placement = byId(shot.placements, scene.placementIds[i]);
    const Product* one = placement ? byId(a.products, placement->productId) : nullptr;
    const Product* other = placement ? byId(b.products, placement->productId) : nullptr;
    for (size_t p = 0; p < parts.size(); ++p)
      marks[i][p] |= !one || !other || one->decals != other->decals ||
                     !looksAlike(surfaceOf(a, *one, parts[p]), surfaceOf(b, *other, parts[p]));
  }
}

std::vector<unsigned char> dressedAnew(const Project& before, const Project& now, const Shot& shot,
                                       const Scene& scene, const Progress& progress) {
  DifferingParts differing;
  markDiffering(before, now, shot, scene, differing);
  const int w = scene.camera.width, h = scene.camera.height;
  std::vector<unsigned char> mask(size_t(w) * size_t(h));
  const bool any = std::any_of(differing.begin(), differing.end(), [](const auto& parts) {
    return std::any_of(parts.begin(), parts.end(), [](unsigned char part) { return part != 0; });
  });
  if (!any) return mask;
  const Integrator integrator(scene);
  tbb::parallel_for(0, h, [&](int y) {
    for (int x = 0; x < w && !progress.cancelled(); ++x) {
      const Hit hit = firstSeen(scene, integrator.cameraRay({x + 0.5, y + 0.5}));
      mask[size_t(y) * size_t(w) + size_t(x)] =
          hit.found() &&
          (differing[hit.instance][hit.part] || !scene.materials[hit.instance][hit.part]->isOpaque());
    }
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
