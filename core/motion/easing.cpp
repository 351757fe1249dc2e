#include "core/motion/easing.h"

#include "core/base/words.h"

#include <algorithm>
#include <cmath>

namespace dusk {
namespace {

double cubic(double a, double b, double t) {
  const double s = 1 - t;
  return 3 * s * s * t * a + 3 * s * t * t * b + t * t * t;
}

/// The curve's height where it is `share` along: its time never goes back, so halving finds the place.
double ownCurve(const std::array<double, 4>& h, double share) {
  double low = 0, high = 1;
  for (int i = 0; i < 52; ++i) {
    const double middle = (low + high) / 2;
    (cubic(h[0], h[2], middle) < share ? low : high) = middle;
  }
  return cubic(h[1], h[3], (low + high) / 2);
}

/// Free fall from rest through one, then flights that leave with half the speed of the one before: each takes
/// half as long, and rises a quarter as high.
double bouncing(double t) {
  constexpr double restitution = 0.5;
  constexpr double whole =
      1 + 2 * (restitution + restitution * restitution + restitution * restitution * restitution);
  double time = t * whole;  // in units of the first fall
  if (time < 1) return time * time;
  time -= 1;
  for (double speed = restitution;; speed *= restitution) {
    if (time <= 2 * speed || speed < 0.2) {
      const double height = std::max(0.0, time * (2 * speed - time));
      return 1 - height;
    }
    time -= 2 * speed;
  }
}

}  // namespace

double eased(const MotionKey& key, double share) {
  const double t = std::clamp(share, 0.0, 1.0), back = t - 1;
  // Of the cubics that leave at 0 and arrive at 1 at rest, the one that rises to 1.1.
  constexpr double past = 1.70154;
  switch (key.easing) {
    case Easing::even:
      return t;
    case Easing::gentle:
      return t * t * (3 - 2 * t);
    case Easing::firm:
      return 1 + back * back * back;
    case Easing::overshoot:
      return 1 + (past + 1) * back * back * back + past * back * back;
    case Easing::bounce:
      return bouncing(t);
    case Easing::hold:
      return t < 1 ? 0 : 1;
    case Easing::own:
      return t <= 0 ? 0 : t >= 1 ? 1 : ownCurve(key.handles, t);
  }
  return t;
}

const std::array<EasingWord, 7>& easingWords() {
  static const std::array<EasingWord, 7> all{{
      {Easing::even, marked("even"), marked("always as fast")},
      {Easing::gentle, marked("gentle"), marked("sets off and arrives softly")},
      {Easing::firm, marked("firm"), marked("sets off at once, arrives softly")},
      {Easing::overshoot, marked("overshoot"), marked("goes a little too far, and comes back")},
      {Easing::bounce, marked("bounce"), marked("falls, and bounces three times")},
      {Easing::hold, marked("hold"), marked("stays, then cuts")},
      {Easing::own, marked("own"), marked("by two handles that you pull")},
  }};
  return all;
}

}  // namespace dusk
