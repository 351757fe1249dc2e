#pragma once
#include <algorithm>

#include "core/base/maths.h"

namespace dusk {

/// How far a point is from what lies straight between `a` and `b`, ends included.
inline double distanceToSegment(const Vec2d& point, const Vec2d& a, const Vec2d& b) {
  const Vec2d way = b - a, from = point - a;
  const double t = way.length2() > 0 ? std::clamp(from.dot(way) / way.length2(), 0.0, 1.0) : 0;
  return (from - way * t).length();
}

}  // namespace dusk
