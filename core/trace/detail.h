#pragma once
#include "core/assets/asset_store.h"

namespace dusk {

/// How far facets of a product may be off the CAD surface, metres of the real thing: as the product says, or
/// so that no shot of the project shows more than a quarter of a pixel of it, from the nearest corner of the
/// product's box as seen by each solved camera. A power of two, so that small moves ask for nothing new; the
/// usual chord where no camera is solved.
double wantedChordM(const Project& project, const Product& product, const AssetStore& assets);

}  // namespace dusk
