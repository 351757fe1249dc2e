#pragma once
#include "core/trace/passes.h"

namespace dusk {

/// Passes at another size: areas averaged, or looked up between pixels. Of what shows at a pixel, that at its
/// middle. What the product changes nothing of stays so: a ratio of exactly 1.
Passes resized(const Passes& from, int width, int height);
/// An area of them, as all of a picture. Requires it to lie within.
Passes cropped(const Passes& from, const PixelArea& area);

}  // namespace dusk
