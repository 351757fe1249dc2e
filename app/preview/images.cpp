#include "app/preview/images.h"

#pragma push_macro("emit")  // a name in TBB
#undef emit
#include <tbb/parallel_for.h>
#pragma pop_macro("emit")

#include <cmath>

namespace dusk {
namespace {
QRgb rgbOf(const float* p) {
  const auto code = [](float v) { return int(std::clamp(v, 0.0f, 1.0f) * 255.0f + 0.5f); };
  return qRgb(code(p[0]), code(p[1]), code(p[2]));
}
}  // namespace

QImage toImage(const Picture& codes) {
  QImage image(codes.width, codes.height, QImage::Format_RGB32);
  uchar* const bits = image.bits();  // asked for once: it may detach
  const auto stride = size_t(image.bytesPerLine());
  tbb::parallel_for(0, codes.height, [&](int y) {
    auto* line = reinterpret_cast<QRgb*>(bits + size_t(y) * stride);
    for (int x = 0; x < codes.width; ++x) line[x] = rgbOf(codes.at(x, y));
  });
  return image;
}

QImage enlarged(const Picture& codes, const Vec2d& at, int radius, int times) {
  QImage crop(2 * radius + 1, 2 * radius + 1, QImage::Format_RGB32);
  for (int y = -radius; y <= radius; ++y)
    for (int x = -radius; x <= radius; ++x)
      crop.setPixel(x + radius, y + radius,
                    rgbOf(codes.at(std::clamp(int(at.x) + x, 0, codes.width - 1),
                                   std::clamp(int(at.y) + y, 0, codes.height - 1))));
  return crop.scaled(crop.width() * times, crop.height() * times, Qt::KeepAspectRatio,
                     Qt::FastTransformation);
}

QImage cropped(const Photo& photo, int x0, int y0, int side) {
  QImage crop(side, side, QImage::Format_RGB32);
  const PackedPicture& p = photo.picture;
  for (int y = 0; y < side; ++y)
    for (int x = 0; x < side; ++x) {
      Rgb c = p.rgbAt(std::clamp(x0 + x, 0, p.width - 1), std::clamp(y0 + y, 0, p.height - 1));
      if (photo.sceneLinear)  // near enough to a display's encoding for finding an edge
        for (int k = 0; k < 3; ++k) c[k] = std::sqrt(std::max(c[k], 0.0f));
      crop.setPixel(x, y, rgbOf(&c.x));
    }
  return crop;
}

QImage differenceOf(const QImage& now, const QImage& other) {
  if (now.size() != other.size()) return now;
  QImage image(now.size(), QImage::Format_RGB32);
  constexpr int gain = 8;
  for (int y = 0; y < now.height(); ++y) {
    const auto *a = reinterpret_cast<const QRgb*>(now.constScanLine(y)),
               *b = reinterpret_cast<const QRgb*>(other.constScanLine(y));
    auto* out = reinterpret_cast<QRgb*>(image.scanLine(y));
    const auto part = [](int p, int q) { return std::clamp(128 + gain * (p - q), 0, 255); };
    for (int x = 0; x < now.width(); ++x)
      out[x] = qRgb(part(qRed(a[x]), qRed(b[x])), part(qGreen(a[x]), qGreen(b[x])),
                    part(qBlue(a[x]), qBlue(b[x])));
  }
  return image;
}

}  // namespace dusk
