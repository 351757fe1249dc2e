#pragma once
#include <array>

#include "core/base/srgb.h"
#include "core/product/model.h"

namespace dusk {

/// Light of 8-bit sRGB code values (IEC 61966-2-1).
inline const std::array<float, 256>& lightOfCode() {
  static const auto table = [] {
    std::array<float, 256> t;
    for (int i = 0; i < 256; ++i) t[size_t(i)] = srgbDecoded(float(i) / 255);
    return t;
  }();
  return table;
}

/// Bilinear and repeating, of a picture whose texel (x, y), from the top, is `at(x, y)`; v = 0 is its lower
/// edge.
template <typename At>
auto bilinearAt(int width, int height, const Vec2f& uv, const At& at) {
  const float x = (uv.x - std::floor(uv.x)) * float(width) - 0.5f,
              y = (1 - (uv.y - std::floor(uv.y))) * float(height) - 0.5f;
  const float fx = std::floor(x), fy = std::floor(y), ax = x - fx, ay = y - fy;
  const auto texel = [&](int k) {
    return at((int(fx) + (k & 1) + width) % width, (int(fy) + (k >> 1) + height) % height);
  };
  return (texel(0) * (1 - ax) + texel(1) * ax) * (1 - ay) + (texel(2) * (1 - ax) + texel(3) * ax) * ay;
}

/// The four bytes of a texel.
inline const uint8_t* texelOf(const FileTexture& t, int x, int y) {
  return &t.rgba[(size_t(y) * size_t(t.width) + size_t(x)) * 4];
}

}  // namespace dusk
