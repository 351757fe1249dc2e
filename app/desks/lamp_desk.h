#pragma once
#include "app/desks/desks.h"

namespace dusk {

/// The lamps' part of the Light desk.
Desk* makeLampDesk(Session& session, Errands& errands);

/// Adds a lamp where it is of use, and takes it in hand.
void addLamp(Session& session, LampKind kind);

/// Luminance that is photo white in the session's shot, cd/m2.
double whiteNitsOf(const Session& session);

}  // namespace dusk
