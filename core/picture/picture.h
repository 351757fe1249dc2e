#pragma once
#include <cstddef>
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

/// What the camera wrote into the file; zero or empty where it did not.
struct PhotoInfo {
  double focalMm = 0, focalMm35 = 0, exposureSeconds = 0, fNumber = 0, iso = 0;
  std::string camera, lens, profile;
  bool operator==(const PhotoInfo&) const = default;
};

/// A photograph as read: three channels R, G, B, turned upright.
/// `sceneLinear` false: display code values, sRGB-encoded, 0..1 (another embedded profile has been
/// converted).
struct Photo {
  Picture picture;
  PhotoInfo info;
  bool sceneLinear = false;
  int bitsPerChannel = 8;
};

/// Bilinear lookup of the first three channels at (x, y) in pixels, clamped at the border.
Rgb sampleBilinear(const Picture& picture, float x, float y);

/// The picture at another size by area averaging (down) or bilinear lookup (up). Keeps the channels.
Picture resized(const Picture& picture, int width, int height);

/// Pixels [x0, x1) x [y0, y1).
struct PixelArea {
  int x0 = 0, y0 = 0, x1 = 0, y1 = 0;
  bool operator==(const PixelArea&) const = default;
  int width() const { return x1 - x0; }
  int height() const { return y1 - y0; }
};
/// That area of `resized(picture, width, height)`, to the bit, without the rest being made.
Picture resizedArea(const Picture& picture, int width, int height, const PixelArea& area);

}  // namespace dusk
