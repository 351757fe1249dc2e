#pragma once
#include <set>
#include <string>

namespace dusk {

/// The lens's depth of field, in real units: the aperture's width is the focal length over the f-number.
struct Focus {
  bool on = false;
  double fNumber = 8;
  double distanceM = 2;  ///< of what is sharp, along the optical axis
  double sensorWidthMm = 36;
  int blades = 0;  ///< of the aperture; below 3: round
  double bladeTurnDegrees = 0;
  bool operator==(const Focus&) const = default;
};

/// How a shot is traced.
struct RenderSettings {
  int samples = 96;  ///< at most
  int seed = 1;
  int bounces = 6;                            ///< in all
  int diffuseBounces = 6, mirrorBounces = 6;  ///< off matte and off mirror-like surfaces
  int glassSides = 32;                        ///< surfaces of glass that a path goes through
  /// A pixel is done when its error, as it will be once the noise is taken out, is below this share of its
  /// brightness; 0: never.
  double noiseTarget = 0;
  double clampIndirect = 0;  ///< brightest light that may come by way of two bounces or more; 0: any
  bool caustics = true;      ///< approximate light through and off sharp surfaces onto matte ones
  double denoise = 1;        ///< strength, 0..1
  double occlusionM = 0.3;   ///< how far the occlusion pass looks
  std::set<std::string> extraPasses{};  ///< "occlusion", "clay", "surface:ID"; others are always made
  bool emptyPasses = false;             ///< write passes with nothing in them, too
  bool operator==(const RenderSettings&) const = default;
};

}  // namespace dusk
