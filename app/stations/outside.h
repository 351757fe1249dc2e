#pragma once
#include "app/stations/workbench.h"
#include "core/base/words.h"

namespace dusk {

/// Opens a linked picture in the person's editor (a preference), or by what the system usually opens it with.
/// Pictures that are linked are watched: what is saved there shows here.
void openOutside(Session& session, const AssetRef& picture);

/// What a button that does so says of it.
constexpr const char* openOutsideTip =
    marked("Opens the picture in your editor (Preferences, Work): what is saved there shows here");

}  // namespace dusk
