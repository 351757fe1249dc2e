#include "app/widgets/time_left.h"
#include "core/base/words.h"

#include <cmath>

namespace dusk {

QString timeLeft(double seconds) {
  if (seconds < 0) return {};
  if (seconds > 5400) return QString(words("about %1 h left")).arg(seconds / 3600, 0, 'f', 1);
  if (seconds > 90) return QString(words("about %1 min left")).arg(int(seconds / 60 + 0.5));
  return QString(words("about %1 s left")).arg(std::max(1, int(seconds + 0.5)));
}

QString progressText(double fraction, double secondsLeft) {
  if (secondsLeft < 0) return words("Getting ready…");
  return QString("%1 %, %2").arg(int(fraction * 100)).arg(timeLeft(secondsLeft));
}

}  // namespace dusk
