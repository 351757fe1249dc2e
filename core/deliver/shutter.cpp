#include "core/deliver/shutter.h"

#include <algorithm>
#include <numeric>

#include "core/motion/at.h"
#include "core/vantage/camera.h"

namespace dusk {

std::vector<int> spreadOrder(int count) {
  const auto inverse = [](int i) {
    // Of threes: places within a pixel are spread by halves, and would go together with such a time.
    double value = 0, digit = 1.0 / 3;
    for (; i; i /= 3, digit /= 3) value += digit * (i % 3);
    return value;
  };
  std::vector<int> byValue(size_t(std::max(0, count))), order(byValue.size());
  std::iota(byValue.begin(), byValue.end(), 0);
  std::sort(byValue.begin(), byValue.end(), [&](int a, int b) { return inverse(a) < inverse(b); });
  for (size_t rank = 0; rank < byValue.size(); ++rank) order[size_t(byValue[rank])] = int(rank);
  return order;
}

Outcome openShutter(const Project& kept, const Project& shown, size_t index, double moment,
                    AssetStore& assets, GeometryCache& cache, Scene& scene, Progress& progress, int most) {
  const Shot& shot = kept.shots[index];
  const Motion& motion = shot.motion;
  if (!moves(shot) || motion.shutterDegrees <= 0 || scene.geometry->empty()) return done();
  const double open = motion.shutterDegrees / 360 / motion.picturesPerSecond;
  const int count = std::clamp(scene.samples, 1, most);
  const auto then = [&](int i, int of) {
    return at(kept, index, moment + ((i + 0.5) / of - 0.5) * open).project;
  };
  constexpr int looks = 8;
  bool moved = false;
  for (int i = 0; i < looks && !moved; ++i) moved = !(then(i, looks) == shown);
  if (!moved) return done();
  std::vector<std::shared_ptr<const Scene>> during;
  for (const int i : spreadOrder(count)) {
    if (progress.cancelled()) return cancelledError();
    auto next = compileMoved(shown, scene, then(i, count), index, assets, cache, progress);
    if (!next) return next.error();
    const bool alike = next->placementIds == scene.placementIds &&
                       next->materials.size() == scene.materials.size() &&
                       next->lights->groups() == scene.lights->groups();
    next->camera = resized(next->camera, scene.camera.width, scene.camera.height);
    next->samples = scene.samples, next->noiseTarget = scene.noiseTarget;
    // What comes and goes meanwhile is there or not as it is at the moment itself.
    during.push_back(std::make_shared<const Scene>(alike ? std::move(*next) : scene));
  }
  scene.during = std::move(during);
  return done();
}

}  // namespace dusk
