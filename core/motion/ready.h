#pragma once
#include "core/motion/edit.h"

/// Motions that are often asked for, as keys to go on from.
namespace dusk {

/// Once round, evenly, over the whole film, which then plays on.
void turnRound(Shot& shot, const Placement& placement);
/// In from the side to where it stands, over the first part of the film.
void slideIn(Shot& shot, const Placement& placement, const Camera& camera);
/// A part opens to where it is turned now, stays, and shuts again: from nothing where it is not turned yet,
/// by a right angle.
void openAndShut(Project& project, size_t shot, const std::string& productId, const std::string& part);
/// The camera that is set by hand goes round by some degrees, and back.
void goRound(Shot& shot, double degrees);

}  // namespace dusk
