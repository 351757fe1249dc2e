#pragma once
#include "core/product/model.h"

namespace dusk {

/// A texture at `uv`: bilinear, repeating; v = 0 is the picture's lower edge. `texel` makes a value of the
/// four bytes of a texel.
template <typename Texel>
auto sampled(const FileTexture& t, const Vec2f& uv, const Texel& texel) {
  const float x = (uv.x - std::floor(uv.x)) * float(t.width) - 0.5f,
              y = (1 - (uv.y - std::floor(uv.y))) * float(t.height) - 0.5f;
  const float fx = std::floor(x), fy = std::floor(y), ax = x - fx, ay = y - fy;
  const auto at = [&](int k) {
    const int px = (int(fx) + (k & 1) + t.width) % t.width, py = (int(fy) + (k >> 1) + t.height) % t.height;
    return texel(&t.rgba[(size_t(py) * size_t(t.width) + size_t(px)) * 4]);
  };
  return (at(0) * (1 - ax) + at(1) * ax) * (1 - ay) + (at(2) * (1 - ax) + at(3) * ax) * ay;
}

}  // namespace dusk
