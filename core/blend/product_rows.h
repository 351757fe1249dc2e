#pragma once
#include "core/blend/corrected.h"
#include "core/blend/stack.h"

namespace dusk {

/// A picture as a source of the graph: its first channels, at the frame's place. It is told from
/// others by where it lies in memory.
NodePtr sourceOf(std::shared_ptr<const Picture> picture, const PixelArea& whole, int channels);

/// The product with its lights mixed and corrected, balanced and corrected as a whole, premultiplied, 4
/// channels.
NodePtr productNode(const Shot& shot, const BlendSources& sources, const MaskWorld& world,
                    const FindTable& tableOf);
/// The light that parts give off by themselves, 3 channels; nullptr where it is not known.
NodePtr emissionNode(const BlendSources& sources, const PixelArea& whole);

/// What the product does to the light on the ground (its ratio), and what a glossy ground mirrors, each with
/// its lights as strong and coloured as the mix says: made of the lights' own shares, where the passes hold
/// those. 3 channels; the second is nullptr without gloss.
NodePtr ratioNode(const Shot& shot, const BlendSources& sources, const PixelArea& whole);
NodePtr mirrorNode(const Shot& shot, const BlendSources& sources, const PixelArea& whole);

/// The product as the photo's lens would have drawn it: 6 channels, R, G, B premultiplied by an alpha each.
/// Where `mask` takes less, less of it; the same node where the lens does nothing.
NodePtr throughLens(const NodePtr& product, const LensLook& lens, double strength, const NodePtr& mask,
                    const BlendFrame& frame);

}  // namespace dusk
