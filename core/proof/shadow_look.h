#pragma once
#include "core/assets/asset_store.h"
#include "core/proof/prove.h"
#include "core/proof/shadow_fit.h"

namespace dusk {

/// A shadow in the photo beside the one that the shot's own lights would throw of the same thing.
struct ShadowLook {
  ShadowRows photoRows, ourRows;
  ShadowShape photo, ours;
  bool throwsNone = false;  ///< our lights are so even that there is no shadow to see; `ours` is all left
  /// Ours against the photo's: EV of the light left; times the width of the edge as it is seen in the
  /// picture, halfway along; percent by which red or blue is off against green.
  double darkerEv() const;
  double softer() const;
  double tintPercent() const;
};

/// Reads the shadow that the shot's gnomon marks, and throws that of a post as wide and as long by the shot's
/// lights: light drawn at places across it, kept where the post hides it. Error, in a sentence: no photo,
/// vantage or gnomon, or no shadow with two edges along it.
Result<ShadowLook> compareShadowLooks(const Shot& shot, AssetStore& assets);

/// Darkness, softness and colour as findings.
std::vector<Finding> shadowFindings(const ShadowLook& look, const Shot& shot);

/// What the main light would have to be to throw the photo's shadow: the first sun lamp, or the panorama's
/// helped by one, gets strength, colour and disc. Error: what it is, and why that cannot be mended.
Outcome mendShadow(Shot& shot, AssetStore& assets);

}  // namespace dusk
