#pragma once
#include "core/blend/node.h"

namespace dusk {

/// Each channel drawn larger about `middle` by its own factor (cubic; beyond the border its pixels go on).
NodePtr scaledApart(const NodePtr& of, const Vec2d& middle, const std::vector<double>& factors);

/// What is known at another size: pixel p of `whole` shows what lies at p / scale of the node (bilinear).
NodePtr stretched(const NodePtr& of, const PixelArea& whole, double scale);

}  // namespace dusk
