#pragma once
#include <optional>

#include "core/picture/photo.h"

namespace dusk {

struct SnappedStroke {
  std::vector<Vec2d> points;  ///< on the edge, in order, pixels of the photo
  double scatterPx = 0;       ///< root mean square distance of the single measurements from the edge found
};

/// The edge of the photo that a rough stroke (two or more points) was meant to follow, to a fraction of a
/// pixel: looked for within `reachPx` either side, straight or slightly bent, by the sum of signed gradients
/// across it; then located at each step along by the zero of the second derivative (Devernay 1995, "A
/// non-maxima suppression method for edge detection with sub-pixel accuracy") and averaged piece by piece
/// with outlying steps left out. Nothing where no edge stands out from the grain.
std::optional<SnappedStroke> snapped(const Photo& photo, const std::vector<Vec2d>& drawn, double reachPx);

}  // namespace dusk
