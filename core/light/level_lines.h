#pragma once
#include <optional>
#include <vector>

#include "core/light/segments.h"

namespace dusk {

/// Which way the level edges of a built place run: most lie along two perpendicular directions.
struct LevelDirections {
  double degrees = 0;   ///< azimuth of one of them, clockwise from +Y, folded to [0, 90)
  double sigma = 0;     ///< one sigma of that, degrees
  double strength = 0;  ///< share of all level edges that run so
};

/// From the straight edges of one place. An edge and the eye span a plane; where it cuts the level is the
/// azimuth of a level edge (Coughlan & Yuille 1999, "Manhattan World: Compass Direction from a
/// Single Image by Bayesian Inference"). Nothing where edges are few, or run every way.
std::optional<LevelDirections> levelDirections(const std::vector<Segment>& segments);

}  // namespace dusk
