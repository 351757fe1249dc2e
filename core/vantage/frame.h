#pragma once
#include "core/project/project.h"

/// The world's frame: where the origin lies and which way +Y leads.
namespace dusk {

/// A turn about the upright (radians, counter-clockwise from above), then a shift along the ground.
struct GroundMove {
  double turn = 0;
  Vec2d shift{0, 0};
  Vec3d point(const Vec3d& p) const;
  Vec3d direction(const Vec3d& d) const;
};

Camera moved(const Camera& camera, const GroundMove& move);

/// From the frame the evidence was solved in to the one asked for by its `origin` and `quarterTurns`.
/// Evidence with pins says its frame itself: no move.
GroundMove askedFrame(const Evidence& evidence, const Camera& solved);

/// The move that brings `before` to `after`, two cameras of one photo that look at the same place in frames
/// of the same scale; what their tilt or height differ by is left out.
GroundMove moveBetween(const Camera& before, const Camera& after);

/// Carries what stands in the shot along, so that the picture stays as it is: placements, lamps,
/// stand-ins, the panorama's turn, where it was taken, and a sun that was moved.
void carryAlong(Shot& shot, const GroundMove& move);

}  // namespace dusk
