#pragma once
#include <map>
#include <string>
#include <vector>

#include "core/project/feed.h"

namespace dusk {

/// The values of a surface that feeds can give.
enum class SurfaceValue {
  baseColour,
  metalness,
  roughness,
  clearcoat,
  clearcoatRoughness,
  sheen,
  transmission,
  emission,
  bump,    ///< millimetres outwards; what it is below all feeds does not matter
  normal,  ///< a normal map in tangent space (glTF 2.0): pictures only
  opacity,
  subsurface,
  specular,
  anisotropy,
  sheenColour,
  sheenRoughness,
  film,       ///< nanometres
  coatNormal  ///< as `normal`, of the clearcoat alone
};

struct Coat;

/// How a part looks. Energy-conserving layers from below: diffuse or metal or transmitting base, clearcoat
/// over all.
struct Surface {
  Surface();
  Surface(const Surface&);
  Surface(Surface&&) noexcept;
  Surface& operator=(const Surface&);
  Surface& operator=(Surface&&) noexcept;
  ~Surface();
  std::string id, name;
  Vec3d baseColour{0.5, 0.5, 0.5};                   ///< reflectance, scene-linear
  double metalness = 0, roughness = 0.5, ior = 1.5;  ///< roughness: its square is the lobe's width
  double transmission = 0;                           ///< share of what is not mirrored that goes through
  double clearcoat = 0, clearcoatRoughness = 0.05;   ///< a lacquer over all
  Vec3d emission{0, 0, 0};                           ///< radiance; 1 = photo white
  double anisotropy = 0, anisotropyTurnDegrees = 0;  ///< 0 even; 1 as brushed; turn of the brushing
  double sheen = 0, sheenRoughness = 0.4;            ///< the bright rim of cloth
  Vec3d sheenColour{1, 1, 1};
  bool thinWalled = false;           ///< a sheet: light goes through without being bent
  Vec3d absorptionColour{1, 1, 1};   ///< what is left of white light after the depth
  double absorptionDepthM = 0;       ///< 0: a clear body
  double specular = 1;               ///< of the mirror of what is not metal; 1 = as its IOR says
  double filmNm = 0, filmIor = 1.4;  ///< a film as thin as light's waves over the base; 0: none
  Vec3d coatColour{1, 1, 1};         ///< what the clearcoat leaves of light on its way through
  double opacity = 1;                ///< share of it that is there at all: gauze, what is punched
  double subsurface = 0;             ///< share of the diffuse light that wanders below before it comes back
  Vec3d subsurfaceMm{1, 0.6, 0.4};   ///< mean free path of that, per channel
  Vec3d scatterColour{1, 1, 1};      ///< what a cloudy body keeps of light at each scattering
  double scatterDepthM = 0;          ///< how far light goes in it between two; 0: clear
  double scatterForward = 0;         ///< mean cosine of both: -1 back, 1 onwards
  double abbe = 0;                   ///< Abbe number of a body that parts colours; 0: none does
  int priority = 0;                  ///< where bodies overlap, the highest is there
  double flakes = 0;                 ///< share of it that flakes in the lacquer cover
  double flakeMm = 0.1, flakeTiltDegrees = 10;  ///< size of one; how far they lean, one sigma
  Vec3d flakeColour{0.9, 0.9, 0.9};
  std::map<SurfaceValue, std::vector<Feed>> feeds{};  ///< what gives a value, the first on top
  std::vector<Coat> coats;                            ///< what lies on it, the first on top
  bool operator==(const Surface&) const;
};

/// A surface on another, where its mask says: paint over primer, wet over dry, dust over all.
struct Coat {
  std::string name;
  bool on = true;
  double strength = 1;
  Surface surface;           ///< its own coats do not count
  std::vector<Feed> mask{};  ///< over 1: a coat without one lies everywhere
  bool operator==(const Coat&) const = default;
};

}  // namespace dusk
