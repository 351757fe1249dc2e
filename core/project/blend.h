#pragma once
#include <map>
#include <string>

#include "core/base/maths.h"

namespace dusk {

/// How one light is mixed in after rendering.
struct LightMix {
  double ev = 0;
  double mired = 0;  ///< shift of its colour along the Planckian locus; above 0 warmer
  bool operator==(const LightMix&) const = default;
};

/// What is done to the product before it goes over the plate, and the view all is shown and delivered in.
struct BlendSettings {
  double exposureEv = 0;
  double warmth =
      0;  ///< -1 (bluer) to +1 (warmer): shift of the white along the Planckian locus, in 100 mired
  double shadowStrength = 1;  ///< of the catcher; 1 as traced
  Vec3d shadowTint{0, 0, 0};  ///< light put back into the shadow, per channel; 0 as traced
  double reflectionStrength = 1;
  std::map<std::string, LightMix> mix{};  ///< by light group, after rendering
  std::string view = "plain sRGB";
  Vec3d white{1, 1, 1};  ///< times the product, per channel, as balanced against a patch of the photo
  bool operator==(const BlendSettings&) const = default;
};

}  // namespace dusk
