#pragma once
#include "core/project/evidence.h"

namespace dusk {

/// What the strokes' own bends, whatever their directions, say of the lens (plumb lines: Brown 1971,
/// "Close-Range Camera Calibration"). Two-point strokes say nothing.
struct PlumbLines {
  double bend = 0;       ///< the radial distortion, of the half diagonal, that leaves them straightest
  bool areBent = false;  ///< they are straighter by it than chance would have it: four sigma
};
PlumbLines plumbLines(const Evidence& evidence, int width, int height);

/// The evidence with its strokes as they would be without such a distortion.
Evidence straightened(const Evidence& evidence, int width, int height, double bend);

}  // namespace dusk
