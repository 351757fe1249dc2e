#pragma once
#include "core/blend/lanes.h"

namespace dusk {

/// Hue of a colour in degrees, 0 red, 120 green, 240 blue: the angle about the grey axis, within 0.3 degrees.
DUSK_IN_LANES float hueDegrees(float r, float g, float b) {
  const float p = r - 0.5f * (g + b), q = 0.8660254f * (g - b);
  // A polynomial for the angle of what lies within an eighth of the circle, then turned where it belongs.
  const float ap = std::fabs(p), aq = std::fabs(q), high = higher(ap, aq), low = lower(ap, aq);
  const float t = low / higher(high, 1e-20f), t2 = t * t;
  const float eighth = t * (57.29578f + t2 * (-18.9062f + t2 * (9.5607f + t2 * -2.9508f)));
  const float quarter = choose(aq > ap, 90 - eighth, eighth);
  const float half = choose(p < 0, 180 - quarter, quarter);
  return choose(q < 0, 360 - half, half);
}

/// How much a range of hues takes of a colour: all up to `inner` degrees from `at`, none from `soft` further
/// on, and nothing of greys.
DUSK_IN_LANES float hueWeight(float r, float g, float b, float at, float inner, float soft) {
  const float off = std::fabs(hueDegrees(r, g, b) - at), once = choose(off > 360, off - 360, off);
  const float away = choose(once > 180, 360 - once, once);
  const float within = lower(higher(1 - (away - inner) / higher(soft, 1e-3f), 0.0f), 1.0f);
  const float most = higher(r, higher(g, b)), least = lower(r, lower(g, b));
  const float colour =
      lower((most - least) / higher(most, 1e-20f) * 20, 1.0f);  // of five percent on: in full
  return within * within * (3 - 2 * within) * choose(inner >= 180, 1.0f, higher(colour, 0.0f));
}

}  // namespace dusk
