#pragma once
#include <memory>
#include <optional>

#include "core/base/result.h"
#include "core/picture/photo.h"
#include "core/project/project.h"

namespace dusk {

/// A thing of the photo with the rest of it taken away: light freed of its background, premultiplied by its
/// alpha (R, G, B, A), for an area of the plate.
struct CutOutPicture {
  Picture light;
  PixelArea area;
  double scale = 1;                     ///< pixels of the plate to one of the photo
  std::shared_ptr<const Photo> from{};  ///< it was found in; kept, so that its address stays its own
};

inline size_t bytesOf(const CutOutPicture& c) { return c.light.pixels.size() * sizeof(float); }

/// Finds the thing inside a loop of a picture in scene-linear light: first roughly (Rother, Kolmogorov &
/// Blake 2004, "GrabCut: Interactive Foreground Extraction using Iterated Graph Cuts"), then its alpha along
/// the border (see matte.h), then its own colours there. `scale`: pixels of the picture to one of what the
/// cut-out's points are in. Errors: the loop has no inside, or nothing is found in it.
Result<std::shared_ptr<CutOutPicture>> cutOut(const CutOut& what, const Picture& photo, double scale);

/// A text that says all that decides what is found in a photo.
std::string keyOf(const CutOut& what);

/// An upright sheet that faces the shot's camera and holds the whole loop, where the thing stands: at its
/// distance, or, where none is given, where the loop's foot meets the ground. Catches and blocks. Nothing
/// without a camera, or where the loop does not stand before it.
std::optional<StandIn> standInFor(const CutOut& what, const Shot& shot);

}  // namespace dusk
