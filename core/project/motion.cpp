#include "core/project/motion.h"

#include <algorithm>
#include <cmath>

namespace dusk {

int picturesOf(const Motion& motion) {
  return std::max(1, int(std::lround(motion.seconds * motion.picturesPerSecond)));
}

}  // namespace dusk
