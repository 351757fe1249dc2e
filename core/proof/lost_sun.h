#pragma once
#include "core/assets/asset_store.h"
#include "core/light/sun.h"

namespace dusk {

/// What the photo's own shadow says of a sun that the panorama shows too weakly: most cameras clip it.
struct LostSun {
  SunAngles at;
  Rgb shadow{1, 1, 1};      ///< share of the ground's light that is left in the shadow
  Rgb irradiance{0, 0, 0};  ///< of a surface that faces the sun, as the shadow asks for
  Rgb missing{0, 0, 0};     ///< what of that the panorama does not give
  double givenShare = 0;    ///< what it does give, by luminance
  double marginEv = 0;      ///< one sigma of the irradiance, by how even the ground is
  /// Whether so much is missing that the margin tells it from nothing.
  bool isMissed() const { return givenShare <= 0.8; }
};

/// Reads the shadow that the shot's gnomon marks against the ground on both sides of it: what is left there
/// is the sky's, and with the panorama's sky that tells the sun (per channel). The sun stands where the
/// gnomon says, as high as it says with a top, else as high as the panorama's brightest spot. Error, in a
/// sentence: no gnomon, panorama or solved vantage, or a shadow that is none.
Result<LostSun> findLostSun(const Shot& shot, AssetStore& assets);

/// A sun lamp that gives what is missing.
Lamp sunLampFor(const LostSun& sun, Lamp lamp);

}  // namespace dusk
