#pragma once
#include <cstdint>
#include <variant>

#include "core/picture/picture.h"

namespace dusk {

/// A photograph's pixels as small as its file holds them: R, G, B in 8 or 16 bits a value, of which the
/// largest is 1, or in floats. Row by row from the top; read as floats.
class PackedPicture {
 public:
  using Values = std::variant<std::vector<float>, std::vector<uint8_t>, std::vector<uint16_t>>;

  PackedPicture() = default;
  /// Floats as they are. Requires three channels.
  PackedPicture(Picture picture);
  /// Requires three values a pixel.
  PackedPicture(int w, int h, Values rgb) : width(w), height(h), values(std::move(rgb)) {}

  int width = 0, height = 0;
  Values values;

  bool operator==(const PackedPicture&) const = default;
  bool empty() const { return width == 0 || height == 0; }
  bool isFloat() const { return values.index() == 0; }
  size_t bytes() const;

  Rgb rgbAt(int x, int y) const;
  /// A row as floats: `width` times R, G, B.
  void row(int y, float* rgb) const;
  Picture area(const PixelArea& area) const;
  Picture whole() const { return area({0, 0, width, height}); }
};

/// As of a Picture.
Rgb sampleBilinear(const PackedPicture& picture, float x, float y);
Picture resized(const PackedPicture& picture, int width, int height);

/// The picture with its rows in 16 bits instead of the floats that `rowOf(y, rgb)` gives, cut off at 0 and 1.
PackedPicture packed16(int width, int height, const RowSource& rowOf);

}  // namespace dusk
