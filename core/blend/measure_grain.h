#pragma once
#include "core/base/progress.h"
#include "core/picture/packed.h"
#include "core/project/blend.h"

namespace dusk {

/// A photo's grain as it was found.
struct GrainFound {
  GrainLook look;       ///< empty `sigma`: there is none
  double sigma = 0;     ///< its deviation in code values where the photo has most flat places
  double margin = 0;    ///< one sigma of that, as a share
  int patches = 0;      ///< flat places it was found in; 0: too few agree to tell
  double blocking = 0;  ///< how much larger steps are at the borders of 8 x 8 blocks; 0: not
};

/// Rows of a photo as display code values 0 to 1.
struct CodeRows {
  int width = 0, height = 0;
  RowSource row;
  int bits = 8;  ///< of a value: what rounding adds to the noise
};

/// Grain against brightness, its neighbourhood and how channels go together, from places that are flat: those
/// whose surroundings vary least, so that the noise within has no say in the choice. Deviations are those of
/// what a quadratic surface leaves; see `grainCurve` for how brightnesses go together. Cancelled: what there
/// is.
GrainFound measureGrain(const CodeRows& photo, const Progress& progress);

}  // namespace dusk
