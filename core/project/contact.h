#pragma once
#include <string>

#include "core/base/maths.h"

/// How the photographed place takes part.
namespace dusk {

enum class StandInKind { box, cylinder, ball, sheet };

/// A simple shape where a thing of the photo is: it catches, blocks and reflects for it, and never shows.
struct StandIn {
  std::string id, name;
  StandInKind kind = StandInKind::box;
  Vec3d positionM{0, 0, 0};    ///< of the middle of its foot; a sheet's middle
  Vec3d sizeM{0.4, 0.4, 0.4};  ///< along its own x and y, and upwards; a sheet has none of the last
  double turnDegrees = 0;      ///< about the upright
  double leanDegrees = 0;      ///< sheet: about its own x, before the turn; 90 stands upright
  bool on = true;
  bool catches = true;  ///< takes the product's shadow and bounce
  bool blocks = true;   ///< keeps light from the product, and hides what is behind it
  double gloss = 0, glossRoughness = 0.15, glossIor = 1.5;  ///< as of the ground
  bool operator==(const StandIn&) const = default;
  /// Whether something can stand on it, and how high.
  bool hasTop() const {
    return kind != StandInKind::ball && (kind != StandInKind::sheet || leanDegrees == 0);
  }
  double topM() const { return positionM.z + (kind == StandInKind::sheet ? 0 : sizeM.z); }
};

/// How far from the products the place is changed by them: `fitting` without end on a photo, and before an
/// even backdrop gone before the picture's border; `given` fading between two distances.
enum class ShadowReach { fitting, endless, given };

/// The photographed ground as it takes part: `gloss` is the strength of its mirror-like side (wet stone,
/// polish), with a roughness and an index of refraction.
struct Contact {
  bool groundCatches = true;
  double gloss = 0, glossRoughness = 0.15, glossIor = 1.33;
  ShadowReach reach = ShadowReach::fitting;
  double reachFromM = 0.3, reachToM = 1;  ///< from the nearest product, where the reach is given
  bool operator==(const Contact&) const = default;
};

}  // namespace dusk
