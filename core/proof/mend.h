#pragma once
#include "core/proof/prove.h"

namespace dusk {

/// Whether the program can put right by itself what such a finding says is off.
bool canMend(const Finding& finding);
/// Does so. `passes`: as it was rendered; may be nullptr. Error: it cannot be, and why.
Outcome mend(Project& project, size_t shot, const Finding& finding, AssetStore& assets, const Passes* passes);

/// What someone who is shown the picture would say of it; empty where the finding holds.
std::string clientWords(const Finding& finding);

}  // namespace dusk
