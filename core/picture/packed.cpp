#include "core/picture/packed.h"

#include <tbb/parallel_for.h>

namespace dusk {
namespace {

float asFloat(float v) { return v; }
float asFloat(uint8_t v) { return float(v) / 255.0f; }
float asFloat(uint16_t v) { return float(v) / 65535.0f; }

/// So many pixels from the one of that index on, as floats.
void unpack(const PackedPicture::Values& values, size_t pixel, int count, float* rgb) {
  std::visit(
      [&](const auto& v) {
        for (size_t i = 0; i < size_t(count) * 3; ++i) rgb[i] = asFloat(v[pixel * 3 + i]);
      },
      values);
}

}  // namespace

PackedPicture::PackedPicture(Picture picture)
    : width(picture.width), height(picture.height), values(std::move(picture.pixels)) {}

size_t PackedPicture::bytes() const {
  return std::visit([](const auto& v) { return v.size() * sizeof v[0]; }, values);
}

Rgb PackedPicture::rgbAt(int x, int y) const {
  Rgb at;
  unpack(values, size_t(y) * size_t(width) + size_t(x), 1, &at.x);
  return at;
}

void PackedPicture::row(int y, float* rgb) const { unpack(values, size_t(y) * size_t(width), width, rgb); }

Picture PackedPicture::area(const PixelArea& area) const {
  Picture out = Picture::rgb(area.width(), area.height());
  tbb::parallel_for(area.y0, area.y1, [&](int y) {
    unpack(values, size_t(y) * size_t(width) + size_t(area.x0), area.width(), out.at(0, y - area.y0));
  });
  return out;
}

Rgb sampleBilinear(const PackedPicture& picture, float x, float y) { return bilinear(picture, x, y); }

Picture resized(const PackedPicture& picture, int width, int height) {
  if (picture.width == width && picture.height == height) return picture.whole();
  return resizedArea(picture.width, picture.height, [&](int y, float* rgb) { picture.row(y, rgb); }, width,
                     height, {0, 0, width, height});
}

PackedPicture packed16(int width, int height, const RowSource& rowOf) {
  std::vector<uint16_t> values(size_t(width) * size_t(height) * 3);
  tbb::parallel_for(0, height, [&](int y) {
    std::vector<float> row(size_t(width) * 3);
    rowOf(y, row.data());
    uint16_t* to = &values[size_t(y) * row.size()];
    for (size_t i = 0; i < row.size(); ++i)
      to[i] = uint16_t(std::clamp(row[i], 0.0f, 1.0f) * 65535.0f + 0.5f);
  });
  return {width, height, std::move(values)};
}

}  // namespace dusk
