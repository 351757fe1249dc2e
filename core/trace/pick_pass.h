#pragma once
#include <functional>

#include "core/base/progress.h"
#include "core/project/project.h"
#include "core/trace/scene.h"

namespace dusk {

/// A quick, evenly lit picture of products, for finding and picking their parts: no light of the place, no
/// shadows.
struct PickPass {
  int width = 0, height = 0;
  std::vector<uint32_t> pixels;  ///< 0xffRRGGBB, display code values
  /// What each pixel shows: instance and part, or nothing.
  struct Seen {
    int instance = -1, part = -1;
    bool operator==(const Seen&) const = default;
  };
  std::vector<Seen> seen;
  const Seen& at(int x, int y) const { return seen[size_t(y) * width + x]; }
};

/// How a part is painted in a pick pass.
struct PickPaint {
  Rgb colour{0.5f, 0.5f, 0.5f};  ///< scene-linear
  bool clear = false;            ///< glass: what lies behind shows through
};

/// One ray a block of `step` x `step` pixels; with `step` 0 four rays a pixel, for smooth edges. False when
/// cancelled.
bool renderPickPass(const PlacedGeometry& geometry, const Camera& camera,
                    const std::function<PickPaint(unsigned instance, unsigned part)>& paint, int step,
                    PickPass& out, const Progress& progress);

/// The ray through a pixel of `camera`.
Ray rayOf(const Camera& camera, const Vec2d& pixel);

/// What a camera sees along a ray: parts hidden from it, and only from it, are passed.
Hit firstSeen(const Scene& scene, const Ray& ray);

/// Where the ray meets the products, nearest first, at most `most` times: what lies behind what.
std::vector<Hit> hitsAlong(const PlacedGeometry& geometry, const Ray& ray, size_t most);

}  // namespace dusk
