#pragma once
#include "core/blend/operation.h"
#include "core/surface/texture.h"

namespace dusk {

/// What an extra layer shows, premultiplied, 4 channels. `picture` where it is one; nullptr shows nothing.
NodePtr layerNode(const ExtraLayer& layer, std::shared_ptr<const Texture> picture, const BlendFrame& frame);

/// Where an anchored picture of a shape (height over width) lies in a frame, in pixels: left, top, right,
/// bottom. A `fill` covers the frame and is cut where it is larger.
std::array<double, 4> layerPlace(const ExtraLayer& layer, double shape, int width, int height);

/// A layer (4 channels, premultiplied) on what is below (3 channels), by a mode: those of two lights (normal,
/// multiply, plus, darken, lighten) in scene light, all others in code values, up to white.
NodePtr over(const NodePtr& below, const NodePtr& layer, LayerMode mode, float strength, const NodePtr& mask);

}  // namespace dusk
