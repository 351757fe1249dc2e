#include "app/preview/beside.h"

#include <QPainter>
#include <cmath>

#include "app/preview/images.h"

namespace dusk {

CodeView codeView(const QImage& image) {
  return {image.width(), image.height(), reinterpret_cast<const uint32_t*>(image.constBits()),
          size_t(image.bytesPerLine()) / 4};
}

Result<QImage> referenceOver(AssetStore& assets, const BlendReference& reference, const QImage& present,
                             const QSize& whole, const QRect& area) {
  const auto photo = assets.photo(reference.file);
  if (!photo) return photo.error();
  const PackedPicture& picture = (*photo)->picture;
  // Its middle lies in the frame's, but for the shift; its width is the frame's, but for the scale.
  const double w = whole.width() * reference.scale, h = w * picture.height / std::max(1, picture.width);
  const QRectF at(whole.width() * (0.5 + reference.shift.x) - w / 2 - area.x(),
                  whole.height() * (0.5 + reference.shift.y) - h / 2 - area.y(), w, h);
  const int across = std::clamp(int(std::lround(w)), 1, 4 * whole.width()),
            down = std::max(1, int(std::lround(h)));
  const Picture small = resized(picture, std::min(across, picture.width), std::min(down, picture.height));
  QImage out = present;
  QPainter painter(&out);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.drawImage(
      at, toImage((*photo)->sceneLinear ? displayed(small, *assets.view(BlendSettings{}).value()) : small));
  return out;
}

}  // namespace dusk
