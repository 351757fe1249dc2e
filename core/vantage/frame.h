#pragma once
#include "core/project/project.h"

/// The world's frame: where the origin lies and which way +Y leads.
namespace dusk {

/// A turn about the upright (radians, counter-clockwise from above) and another size, then a shift along the
/// ground.
struct GroundMove {
  double turn = 0;
  double size = 1;  ///< metres after it for one before
  Vec2d shift{0, 0};
  Vec3d point(const Vec3d& p) const;
  Vec3d direction(const Vec3d& d) const;
};

Camera moved(const Camera& camera, const GroundMove& move);

/// From the frame the evidence was solved in to the one asked for by its `origin` and `quarterTurns`.
/// Evidence with pins says its frame itself: no move.
GroundMove askedFrame(const Evidence& evidence, const Camera& solved);

/// The move that brings `before` to `after`, two cameras of one photo that look at the same place; what their
/// tilt differs by is left out.
GroundMove moveBetween(const Camera& before, const Camera& after);

/// Carries what stands in the shot along, so that the picture stays as it is: placements, lamps, levels,
/// stand-ins, the panorama's turn, where it was taken, and a sun that was moved. Products keep their own
/// size, and lamps aimed at one their distance from it; all else is of the place, and grows with it.
void carryAlong(Shot& shot, const GroundMove& move);

/// Whether both lay the world's frame in the photo by the same things, and tell its size by the same ones.
bool sameFrame(const Evidence& a, const Evidence& b);

/// Carries what stands in the shot along from where it stood `before`, when another frame or size was found:
/// each product stays at its spot of the photo. Requires both to be solved.
void keepSpots(Shot& shot, const Shot& before);

}  // namespace dusk
