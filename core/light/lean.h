#pragma once
#include <memory>
#include <optional>

#include "core/light/segments.h"
#include "core/project/light.h"

namespace dusk {

/// How a panorama's camera stood: which way the place's upright goes in its frame (not mirrored).
struct Lean {
  double tiltDegrees = 0, rollDegrees = 0;  ///< as those of Surroundings, to set it upright
  double sigmaDegrees = 0;                  ///< one sigma of either
  double degrees() const { return std::hypot(tiltDegrees, rollDegrees); }
  /// The same of the panorama mirrored.
  Lean mirrored() const { return {tiltDegrees, 0 - rollDegrees, sigmaDegrees}; }
};

/// Told by the uprights of a built place: the planes that they and the eye span all hold the zenith (Antone &
/// Teller 2000, "Automatic Recovery of Relative Camera Rotations for Urban Scenes"). The best of many
/// directions within ten degrees of the panorama's own, and from there least squares with Tukey's weights.
/// Only long ones are asked, in pictures reduced to a third: an edge that leans a little is a stair of
/// pixels, each step of which is upright. Nothing where uprights are few, stand on one side alone, or do not
/// agree. `cuts`: of the panorama.
std::optional<Lean> leanOf(const std::vector<Cut>& cuts);

/// The panorama as it would be, had its camera stood upright; at most 4,096 pixels wide.
std::shared_ptr<const Panorama> straightened(const Panorama& panorama, const Lean& lean);

}  // namespace dusk
