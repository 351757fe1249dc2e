#pragma once
#include <filesystem>

namespace dusk {

/// Where what can be made again is kept for this person: gentle-dusk in $DUSK_CACHE, $XDG_CACHE_HOME or
/// ~/.cache, the first that is there. It need not be there yet.
std::filesystem::path cacheFolder();
/// Where what the person asked for is kept: $XDG_DATA_HOME/gentle-dusk, or ~/.local/share. It need not be
/// there yet.
std::filesystem::path dataFolder();

/// Where logs and reports of crashes are kept: $XDG_STATE_HOME/gentle-dusk, or ~/.local/state. It need not be
/// there yet.
std::filesystem::path stateFolder();

}  // namespace dusk
