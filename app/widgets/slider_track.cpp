#include "app/widgets/slider_track.h"

#include <algorithm>
#include <cmath>

namespace dusk {

std::optional<double> SliderTrack::middle() const {
  if (!usual) return {};
  const double share = (*usual - low) / (high - low);
  return share > 0.1 && share < 0.9 ? std::optional(end * share) : std::nullopt;
}

double SliderTrack::valueAt(int place) const {
  const auto from = middle();
  if (!from) return low + (high - low) * place / end;
  const double pulled = place < *from ? 1 - place / *from : (place - *from) / (end - *from);
  return *usual + ((place < *from ? low : high) - *usual) * pulled * pulled;
}

int SliderTrack::placeOf(double value) const {
  const auto from = middle();
  if (!from) return int(std::lround((value - low) / (high - low) * end));
  const bool below = value < *usual;
  const double pulled = std::sqrt(std::clamp((value - *usual) / ((below ? low : high) - *usual), 0.0, 1.0));
  return int(std::lround(*from + ((below ? 0 : end) - *from) * pulled));
}

}  // namespace dusk
