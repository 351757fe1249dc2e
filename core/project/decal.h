#pragma once
#include <optional>
#include <set>
#include <string>

#include "core/base/maths.h"
#include "core/project/asset_ref.h"

namespace dusk {

/// How a print lies on its part.
enum class DecalLay {
  flat,        ///< pressed on along its normal
  wrapped,     ///< round an axis
  coordinates  ///< once across the mesh's own
};

/// Whether it is on the outside of the part's body or, on glass, inside of it.
enum class DecalSide { both, outside, inside };

/// What is printed on, stuck to or worn into parts of a product, in order: the last lies on top. Points and
/// directions are in the model's own unit and axes, sizes in millimetres of the real thing.
struct Decal {
  std::string id, name;
  bool on = true;
  AssetRef picture;               ///< PNG, JPEG, TIFF, EXR, SVG or PDF
  int page = 1;                   ///< of a PDF
  std::set<std::string> parts{};  ///< paths of parts and groups; empty: the whole product
  DecalLay lay = DecalLay::flat;
  DecalSide side = DecalSide::both;
  Vec3d at{0, 0, 0};                  ///< its middle
  Vec3d normal{0, -1, 0};             ///< away from the part, there
  Vec3d axis{0, 0, 1};                ///< wrapped: of the turn; else the way that is up at a turn of 0
  Vec3d pivot{0, 0, 0};               ///< wrapped: a point on that axis
  double widthMm = 40, heightMm = 0;  ///< a height of 0 keeps the picture's proportions
  double turnDegrees = 0;
  bool mirrored = false;
  double reachMm = 20;       ///< flat: how far before and behind its plane it is pressed on
  double steepDegrees = 75;  ///< faces that lean away by more get nothing
  double opacity = 1;
  std::optional<double> roughness{}, metalness{},
      clearcoat{};      ///< its finish; else what is below shows through
  double reliefMm = 0;  ///< how far it stands out
  bool operator==(const Decal&) const = default;
};

}  // namespace dusk
