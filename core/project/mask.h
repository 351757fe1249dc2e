#pragma once
#include <string>
#include <vector>

#include "core/base/maths.h"

namespace dusk {

/// What says how much of a spot a mask takes.
enum class MaskKind {
  outline,     ///< the inside of a drawn shape
  brush,       ///< along a drawn line
  straight,    ///< a gradient from the first point to the second
  round,       ///< a gradient about the first point: inside 1, at the second point 0
  brightness,  ///< of the row's light, as code value
  hue,         ///< of the row's light, degrees
  depth,       ///< of the product, metres along the optical axis
  facing,      ///< cosine between the product's surface and the view
  parts,       ///< parts of the product, by their mattes
  layer        ///< what an extra layer or a cut-out covers
};

/// How a mask joins those before it.
enum class MaskJoin { add, subtract, intersect };

/// What a drawn mask stays with when the camera or the product moves.
enum class MaskHold {
  frame,   ///< the picture: points in pixels of the plate
  ground,  ///< the photo's ground: points in metres along world X and Y
  product  ///< the first placed product: metres right and down in the plane through its spot that faces the
           ///< camera
};

struct MaskPoint {
  Vec2d at{0, 0};
  double feather = 0;  ///< width of the soft border here, pixels of the plate
  bool operator==(const MaskPoint&) const = default;
};

/// One of the masks of a row or correction. Those of a range take what lies from `from` to `to`, softly over
/// `soft` beyond.
struct Mask {
  std::string name{};
  MaskKind kind = MaskKind::outline;
  bool on = true;
  bool inverted = false;
  MaskJoin join = MaskJoin::add;
  MaskHold hold = MaskHold::frame;
  std::vector<MaskPoint> points{};
  bool curved = false;  ///< the drawn line goes through its points in a smooth curve
  double widthPx = 40;  ///< of the brush
  double from = 0.5, to = 1, soft = 0.1;
  std::vector<std::string> parts{};  ///< paths of parts
  std::string layer{};               ///< id of an extra layer or a cut-out
  bool operator==(const Mask&) const = default;
};

}  // namespace dusk
