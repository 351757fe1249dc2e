#pragma once
#include <algorithm>
#include <cmath>

#include "core/base/maths.h"

namespace dusk {

/// Which of a mesh's sets of coordinates a material's textures lie on, and where on it: (u, v) as the reader
/// of meshes gives them, v upwards.
struct UvPlace {
  int set = 0;
  Vec2f shift{0, 0}, ofU{1, 0}, ofV{0, 1};  ///< what one step of u, and of v, comes to
  Vec2f operator()(const Vec2f& uv) const { return shift + ofU * uv.x + ofV * uv.y; }
  bool operator==(const UvPlace&) const = default;

  /// A number of a file, which may be anything.
  static float bounded(float v, float usual) { return std::isfinite(v) ? std::clamp(v, -1e6f, 1e6f) : usual; }

  /// Scaled, then turned counter-clockwise about (`pivot`, `pivot`), then shifted, as a file has it.
  static UvPlace of(int set, Vec2f scale, float turn, Vec2f shift, float pivot) {
    turn = bounded(turn, 0);
    scale = {bounded(scale.x, 1), bounded(scale.y, 1)}, shift = {bounded(shift.x, 0), bounded(shift.y, 0)};
    const float c = std::cos(turn), s = std::sin(turn);
    UvPlace place{std::clamp(set, 0, 7), {}, Vec2f(c, s) * scale.x, Vec2f(-s, c) * scale.y};
    place.shift = shift + Vec2f(pivot) - Vec2f(c - s, s + c) * pivot;
    return place;
  }
};

}  // namespace dusk
