#pragma once
#include "core/blend/operation.h"

namespace dusk {

/// The photo's compression done to the picture where that is not `before`: each block of 8 x 8 pixels of the
/// plate, counted from its corner, has its frequencies rounded as those of the photo were (ITU-T T.81,
/// annexes A.3 and F), so that the product shows the same squares, and edges ring as they do there. All in
/// sRGB code values; what is brighter than white keeps its light.
NodePtr blocked(const NodePtr& picture, const NodePtr& before, const BlockLook& look,
                const BlendFrame& frame);

/// The mean step of the twelve lowest frequencies of brightness, in code values: how coarse the blocks look.
/// 0 without any.
double coarsenessOf(const BlockLook& look);

}  // namespace dusk
