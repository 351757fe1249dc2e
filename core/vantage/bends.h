#pragma once
#include "core/project/evidence.h"

namespace dusk {

/// Whether the strokes' own bends, whatever their directions, say that the lens bends lines: with the radial
/// distortion that makes them straightest, they are straighter than chance would have it (plumb lines: Brown
/// 1971, "Close-Range Camera Calibration"; four sigma). Two-point strokes say nothing.
bool strokesAreBent(const Evidence& evidence, int width, int height);

}  // namespace dusk
