#pragma once
#include "core/product/model.h"

namespace dusk {

/// How something came to rest on a level plane.
struct Settled {
  Triadd rotation;              ///< to be applied after the start's own
  std::vector<Vec3d> contacts;  ///< corners that touch, after it, relative to the centre of mass
  double tiltedDegrees = 0;     ///< by how much the upright of the start leans now
};

/// Lets a rigid body with the hull corners `hull` (any frame with Z up) and the centre of mass `centre` down
/// onto a level plane, slowly and without sliding: it rolls about its lowest corner, then about the edge it
/// lies on, always so that the centre sinks, until that lies over the corners it stands on. Goldberg et al.
/// 1999, "Part pose statistics: estimators and experiments". Corners within `tolerance` of the lowest count
/// as touching.
Settled settled(const std::vector<Vec3d>& hull, const Vec3d& centre, double tolerance);

/// A placement turned by a rotation of the world about its own place, on top of how it stands: its turn and
/// its lean are that, its spot and its lift stay.
Placement turnedPlacement(const Product& product, const Placement& placement, const Model& model,
                          const Triadd& rotation);

/// The placement of a product come to rest from how it is placed, on the plane it stands on.
Placement settledPlacement(const Product& product, const Placement& placement, const Model& model);

/// Where a product comes to rest when it is let down from how it is placed: onto the highest stand-in top
/// under its centre of mass that it is above, else onto the plane it stands on.
struct Landing {
  Placement placement;
  std::string on;     ///< name of what it rests on; empty: the ground
  bool tips = false;  ///< its centre of mass is not over what it touches there: it would fall off
};
Landing landed(const Shot& shot, const Product& product, const Placement& placement, const Model& model);

/// Height of the lowest corner of `rest` in the world, metres.
double lowestM(const Similarity& world, const Rest& rest);

/// Lowest visible point of a placed product above the plane it stands on, metres: a gap when positive, sunk
/// when negative.
double gapM(const Product& product, const Placement& placement, const Model& model);

}  // namespace dusk
