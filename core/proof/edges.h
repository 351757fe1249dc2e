#pragma once
#include <optional>

#include "core/picture/picture.h"
#include "core/trace/film.h"

namespace dusk {

/// An edge in a picture: where, across which direction, and how wide it is from 10 % to 90 % of its step.
struct EdgeMeasure {
  Vec2d at;
  Vec2d across;    ///< unit, from dark to bright
  double widthPx;  ///< narrower than 0.8 px cannot be in a sampled picture that is honest
};

/// Width of the edge at `at`, along `across`, in a picture of code values. Nothing when there is no clean
/// single step: the profile must rise by at least `contrast` in code value, and lie flat at both ends.
std::optional<EdgeMeasure> measureEdge(const Picture& picture, const Vec2d& at, const Vec2d& across,
                                       double contrast = 0.06);

/// The product's own outline against what lies behind it, and the photo's edges near it: of each the middle
/// one of the sharpest quarter. Either is nothing when too few clean edges are found.
struct EdgeComparison {
  std::optional<EdgeMeasure> product, photo;
};
EdgeComparison compareEdges(const Picture& shown, const Passes& passes);

}  // namespace dusk
