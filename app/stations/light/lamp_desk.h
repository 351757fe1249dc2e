#pragma once
#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

namespace dusk {

/// The lamps' part of the Light desk.
Desk* makeLampDesk(Workbench& bench);

/// Adds a lamp where it is of use, and takes it in hand;
/// its id. Steps that share a gesture join.
std::string addLamp(Session& session, LampKind kind, int gesture = 0);

/// Luminance that is photo white in the session's shot, cd/m2.
double whiteNitsOf(const Session& session);

}  // namespace dusk
