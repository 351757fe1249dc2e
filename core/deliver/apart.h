#pragma once
#include "core/picture/picture.h"

namespace dusk {

/// What, laid over `below`, gives `above`: R, G, B, A of each pixel, colours straight or times their alpha.
/// All pictures have one size; `cover` (3
/// channels, or empty) is the least alpha. The alpha is otherwise the least that can do it: where nothing
/// changed it is 0, a grey shadow is black at the alpha by which it darkens, added light is as bright as may
/// be. `levels`: values are codes, cut off at 0 and 1, and
/// the alpha is rounded up to one of so many, so that what is rounded later is the colour alone; 0: light.
/// (Smith & Blinn 1996, "Blue Screen Matting", with the background known; the least alpha is what makes the
/// answer a single one.)
Picture layerOver(const Picture& below, const Picture& above, const Picture& cover, int levels,
                  bool premultiplied);

/// A layer over a picture, as a program does it that is given both.
Picture laidOver(const Picture& below, const Picture& layer, bool premultiplied);

}  // namespace dusk
