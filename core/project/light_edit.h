#pragma once
#include "core/project/project.h"

namespace dusk {

/// Lights `shot` with `panorama`. What was found of another one beside the photo goes with it: how it stood
/// and shone, its white, where it was taken, where its sun was moved to. Without a photo those were set by
/// eye, and stay, but for the sun. The same file keeps all.
void setPanorama(Shot& shot, const AssetRef& panorama);

/// Whether the panorama was compared with nothing yet: it stands and shines as it came.
bool isAsItCame(const Surroundings& surroundings);

}  // namespace dusk
