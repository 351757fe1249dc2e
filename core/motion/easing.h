#pragma once
#include "core/project/motion.h"

namespace dusk {

/// How far the way to the next key is gone when `share` (0 to 1) of the time is: 0 at 0 and 1 at 1 for all.
/// even: always as fast. gentle: sets off and arrives at rest. firm: sets off at once, arrives at rest.
/// overshoot: goes a tenth of the way too far, and comes back to rest. bounce: falls, and bounces off what it
/// falls on three times, each half as fast as the one before. hold: stays until the end. own: a cubic curve
/// through (0, 0) and (1, 1) by the key's handles.
double eased(const MotionKey& key, double share);

/// Its word on screen, and what it does.
struct EasingWord {
  Easing easing;
  const char *word, *about;
};
const std::array<EasingWord, 7>& easingWords();

}  // namespace dusk
