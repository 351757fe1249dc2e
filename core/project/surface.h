#pragma once
#include <string>

#include "core/base/maths.h"

namespace dusk {

/// How a part looks. Energy-conserving layers from below: diffuse or metal or transmitting base, clearcoat
/// over all.
struct Surface {
  std::string id, name;
  Vec3d baseColour{0.5, 0.5, 0.5};
  double metalness = 0, roughness = 0.5, ior = 1.5, transmission = 0;
  double clearcoat = 0, clearcoatRoughness = 0.05;
  Vec3d emission{0, 0, 0};                           ///< radiance; 1 = photo white
  double anisotropy = 0, anisotropyTurnDegrees = 0;  ///< 0 even; 1 as brushed; turn of the brushing
  double sheen = 0, sheenRoughness = 0.4;            ///< the bright rim of cloth
  Vec3d sheenColour{1, 1, 1};
  bool thinWalled = false;          ///< a sheet: light goes through without being bent
  Vec3d absorptionColour{1, 1, 1};  ///< what is left of white light after the depth
  double absorptionDepthM = 0;      ///< 0: a clear body
  bool operator==(const Surface&) const = default;
};

}  // namespace dusk
