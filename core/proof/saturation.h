#pragma once
#include <optional>

#include "core/assets/asset_store.h"

/// How strong a photo's colours are beside the light of its place.
namespace dusk {

struct SaturationFound {
  double ratio = 1;   ///< distance of the photo's colours from grey over that in the panorama
  double margin = 0;  ///< one sigma
};
/// Cameras make colours stronger than light is, panoramas merged from brackets do not: what both show -
/// ground about the products, far things - is compared by its distance from a grey as bright, once their
/// white is the same. Both sides are uncertain: a line through both (Deming 1943, "Statistical Adjustment of
/// Data"), without what does not agree in brightness. `black`: light of haze and flare, which pales colours,
/// too, and is matched for itself. Nothing without photo, camera or panorama, or where all is about grey.
std::optional<SaturationFound> measureSaturation(const Shot& shot, AssetStore& assets, const Vec3d& black);

}  // namespace dusk
