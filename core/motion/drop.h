#pragma once
#include <functional>

#include "core/base/result.h"
#include "core/motion/edit.h"
#include "core/product/model.h"

namespace dusk {

/// How a product falls.
struct DropSettings {
  double fromSeconds = 0;   ///< when it is let go, in the film
  double bounce = 0.3;      ///< share of its speed that is left after it hits: 0 to 1
  double friction = 0.6;    ///< against what it falls on
  double mostSeconds = 10;  ///< it is at rest by then, or is left where it is
};

/// A product's way down.
struct Drop {
  std::vector<Placement> pictures;  ///< one for each picture, from when it is let go until it lies
  bool rests = false;               ///< it came to rest
  double tiltedDegrees = 0;  ///< by how much the pose that stands still differs from where it came to rest
};

/// Lets a placed product fall, as a rigid body, from how it is placed onto the plane it stands on, the
/// stand-ins, and the other products of the shot, by a kept physics library (sequential impulses: Catto 2005,
/// "Iterative Dynamics with Temporal Coherence"). The same numbers give the same way. `modelOf`: models that
/// are loaded; others are not in its way. The last picture is the pose in which it stands still.
Result<Drop> dropped(const Project& project, size_t shot, const Placement& placement,
                     const std::function<std::shared_ptr<const Model>(const Product&)>& modelOf,
                     const DropSettings& settings = {});
/// The same; what stands already, and would not fall, is let go from half its height above that.
Result<Drop> droppedFromAbove(const Project& project, size_t shot, const Placement& placement,
                              const std::function<std::shared_ptr<const Model>(const Product&)>& modelOf,
                              const DropSettings& settings = {});
/// Keys of that, in place of those the product had from then on; a still of when it is let go becomes one of
/// when it lies.
void bake(Shot& shot, const Placement& placement, const Drop& drop, double fromSeconds);

}  // namespace dusk
