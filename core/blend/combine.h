#pragma once
#include <functional>

#include "core/blend/node.h"

namespace dusk {

/// Rows of all inputs and of what is made, for one row of pixels: `in[input][channel]`.
using RowWork = std::function<void(const std::vector<std::vector<const float*>>& in, float* const* out,
                                   int count, int x0, int y)>;

/// A picture made pixel by pixel of others, all of the first one's size.
NodePtr combined(std::vector<NodePtr> inputs, int channels, NodeKey key, RowWork work);

}  // namespace dusk
