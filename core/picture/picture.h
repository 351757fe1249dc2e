#pragma once
#include <cstddef>
#include <functional>
#include <string>
#include <vector>

#include "core/base/maths.h"

namespace dusk {

/// Float pixels, row by row from the top, channels interleaved. Pixel (x, y) has its centre at (x + 0.5, y +
/// 0.5).
struct Picture {
  int width = 0, height = 0;
  std::vector<std::string> channels;
  std::vector<float> pixels;

  Picture() = default;
  Picture(int w, int h, std::vector<std::string> names)
      : width(w), height(h), channels(std::move(names)), pixels(size_t(w) * h * channels.size()) {}
  static Picture rgb(int w, int h) { return {w, h, {"R", "G", "B"}}; }

  bool operator==(const Picture&) const = default;
  bool empty() const { return pixels.empty(); }
  int channelCount() const { return static_cast<int>(channels.size()); }
  float* at(int x, int y) { return &pixels[(size_t(y) * width + x) * channels.size()]; }
  const float* at(int x, int y) const { return &pixels[(size_t(y) * width + x) * channels.size()]; }
  /// The first three channels. Requires them to be there.
  Rgb rgbAt(int x, int y) const {
    const float* p = at(x, y);
    return {p[0], p[1], p[2]};
  }
};

/// Bilinear lookup of the first three channels of anything with `width`, `height` and `rgbAt`, at (x, y) in
/// pixels, clamped at the border.
template <typename Pixels>
Rgb bilinear(const Pixels& pixels, float x, float y) {
  const float fx = std::clamp(x - 0.5f, 0.0f, float(pixels.width - 1));
  const float fy = std::clamp(y - 0.5f, 0.0f, float(pixels.height - 1));
  const int x0 = int(fx), y0 = int(fy);
  const int x1 = std::min(x0 + 1, pixels.width - 1), y1 = std::min(y0 + 1, pixels.height - 1);
  const float tx = fx - x0, ty = fy - y0;
  return (pixels.rgbAt(x0, y0) * (1 - tx) + pixels.rgbAt(x1, y0) * tx) * (1 - ty) +
         (pixels.rgbAt(x0, y1) * (1 - tx) + pixels.rgbAt(x1, y1) * tx) * ty;
}
Rgb sampleBilinear(const Picture& picture, float x, float y);

/// The picture at another size by area averaging (down) or bilinear lookup (up). Keeps the channels.
Picture resized(const Picture& picture, int width, int height);

/// Pixels [x0, x1) x [y0, y1).
struct PixelArea {
  int x0 = 0, y0 = 0, x1 = 0, y1 = 0;
  bool operator==(const PixelArea&) const = default;
  int width() const { return x1 - x0; }
  int height() const { return y1 - y0; }
  bool contains(const PixelArea& other) const {
    return other.x0 >= x0 && other.y0 >= y0 && other.x1 <= x1 && other.y1 <= y1;
  }
};
/// An area of a picture. Requires it to lie within.
Picture cropped(const Picture& picture, const PixelArea& area);
/// That area of `resized(picture, width, height)`, to the bit, without the rest being made.
Picture resizedArea(const Picture& picture, int width, int height, const PixelArea& area);

/// Fills a row with R, G, B of every pixel; called from several threads.
using RowSource = std::function<void(int y, float* rgb)>;
/// The same of a picture of which only rows are made, each about once.
Picture resizedArea(int fromWidth, int fromHeight, const RowSource& rowOf, int width, int height,
                    const PixelArea& area);

}  // namespace dusk
