#include "core/blend/lanes.h"

namespace dusk {

DUSK_LANES void addScaled(float* to, const float* from, int count, float w) {
  for (int i = 0; i < count; ++i) to[i] += from[i] * w;
}

}  // namespace dusk
