#pragma once
#include <QString>

namespace dusk {

/// "about 40 s left", "about 3 min left"; empty while nothing is known (negative seconds).
QString timeLeft(double seconds);
/// "37 %, about 40 s left", or that it is about to begin.
QString progressText(double fraction, double secondsLeft);

}  // namespace dusk
