#pragma once
#include <vector>

#include "core/light/cuts.h"

namespace dusk {

/// A straight edge of a place: the plane that it and the eye span.
struct Segment {
  Vec3d normal;  ///< of that plane, unit
  Vec3d middle;  ///< direction of its middle, unit
  double angle;  ///< how long it is seen, radians
};

/// The straight edges in pictures of one place, in the frame of their cameras' world and in an order of their
/// own (von Gioi et al. 2010, "LSD: A Fast Line Segment Detector with a False Detection Control"). Where
/// pictures overlap, an edge may be there twice. `scale`: pictures are reduced to that first; `shortest`: in
/// radians.
std::vector<Segment> segmentsOf(const std::vector<Cut>& cuts, double scale = 1,
                                double shortest = 2.5 * pi / 180);

}  // namespace dusk
