#pragma once

namespace dusk {

class Desk;
class Workbench;

/// The part of the Light desk that tells where the sun stood: by gnomons, or by time and place.
Desk* makeGnomonDesk(Workbench& bench);

}  // namespace dusk
