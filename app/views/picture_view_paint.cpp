#include <QtWidgets>

#include "app/preview/images.h"
#include "app/preview/screen.h"
#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/words.h"

/// The picture view's frames: one state, or two beside each other.
namespace dusk {

void PictureView::paintFrame(QPainter& painter, const QTransform& t) {
  const double dpr = devicePixelRatioF();
  const bool bare = showsPhotoAlone();
  painter.setRenderHint(QPainter::SmoothPixmapTransform, scale() * dpr < 3);
  const QSizeF plate = plateSize();
  const auto placeOf = [&](const Frame& frame) {
    const double sx = plate.width() / frame.whole.width(), sy = plate.height() / frame.whole.height();
    return t.mapRect(
        QRectF(frame.area.x() * sx, frame.area.y() * sy, frame.area.width() * sx, frame.area.height() * sy));
  };
  const auto draw = [&](const Frame& frame, bool other = false) {
    const QRectF target = placeOf(frame);
    QImage image = screen::shown(bare                             ? frame.bare
                                 : other && !frame.other.isNull() ? frame.other
                                 : !frame.plain.isNull()          ? frame.plain
                                                                  : frame.picture);
    // Drawn pixel for pixel when the frame has just that size.
    if (std::abs(image.width() - target.width() * dpr) < 1.0) {
      image.setDevicePixelRatio(dpr);
      const QPointF corner = target.topLeft() * dpr;
      painter.drawImage(QPointF(std::round(corner.x()), std::round(corner.y())) / dpr, image);
    } else {
      painter.drawImage(target, image);
    }
  };
  const Compared::As as = frame_->compared.as;
  const bool none = frame_->other.isNull() || bare,
             whole = !none && (other_ || as == Compared::As::difference);
  painter.save();
  if (isBeside()) painter.setClipRect(QRectF(width() / 2.0, 0, width() / 2.0, height()));
  // What is traced for frames beyond the border is of them alone.
  if (session_.station() != Station::deliver)
    painter.setClipRect(t.mapRect(QRectF(QPointF(0, 0), plate)), Qt::IntersectClip);
  // What lies round a piece that is traced by itself: the picture as it last was in all.
  if (!frame_->isWhole() && whole_) draw(*whole_);
  draw(*frame_, whole);
  if (frame_->ends && !bare) painter.drawImage(placeOf(*frame_), stripes());
  painter.restore();
  if (none || whole) return;
  const QRectF at = t.mapRect(QRectF(QPointF(0, 0), plate));
  painter.save();
  if (as == Compared::As::over) {
    painter.setOpacity(session_.shot().blend.reference.opacity);
    draw(*frame_, true);
  } else if (as == Compared::As::beside) {
    painter.setClipRect(QRectF(0, 0, width() / 2.0, height()));
    painter.translate(-width() / 2.0, 0);
    draw(*frame_, true);
  } else {
    painter.setClipRect(QRectF(at.left(), 0, at.width() * curtain_, height()));
    draw(*frame_, true);
  }
  painter.restore();
  if (as == Compared::As::curtain) paintCurtain(painter, t);
  if (as != Compared::As::beside) return;
  painter.fillRect(QRectF(width() / 2.0 - 1, 0, 2, height()), QColor(20, 18, 26));
  paintName(painter, frame_->compared.name, {width() / 2.0, 8}, true);
  paintName(painter, words("now"), {width() / 2.0, 8}, false);
}

bool PictureView::isBeside() const {
  return frame_ && !frame_->other.isNull() && frame_->compared.as == Compared::As::beside;
}

/// Where codes end, striped: each kind slants its own way, since colour is not to be the only sign.
const QImage& PictureView::stripes() {
  if (striped_ == frame_->ends) return stripes_;
  striped_ = frame_->ends;
  const QSize size = frame_->area.size();
  stripes_ = QImage(size, QImage::Format_ARGB32_Premultiplied);
  stripes_.fill(Qt::transparent);
  constexpr int period = 6;
  for (int y = 0; y < size.height() && striped_->size() == size_t(size.width()) * size_t(size.height());
       ++y) {
    auto* line = reinterpret_cast<QRgb*>(stripes_.scanLine(y));
    for (int x = 0; x < size.width(); ++x) {
      const CodeEnd end = (*striped_)[size_t(y) * size_t(size.width()) + size_t(x)];
      if (end == CodeEnd::none) continue;
      const int slant = end == CodeEnd::burnt   ? x + y
                        : end == CodeEnd::black ? x - y + period * size.height()
                                                : y;
      if (slant % period < period / 2)
        line[x] = (end == CodeEnd::burnt   ? look::mark::rose
                   : end == CodeEnd::black ? look::mark::tide
                                           : look::mark::ember)
                      .rgb();
    }
  }
  return stripes_;
}

void PictureView::setCurtain(double share) {
  curtain_ = std::clamp(share, 0.0, 1.0);
  update();
}

/// Where two states meet: a line with a name at each side of its ends.
void PictureView::paintCurtain(QPainter& painter, const QTransform& t) {
  const QRectF at = t.mapRect(QRectF(QPointF(0, 0), plateSize()));
  const double x = at.left() + at.width() * curtain_, top = std::max(0.0, at.top()),
               foot = std::min(double(height()), at.bottom());
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(QPen(QColor(20, 18, 26, 150), 4));
  painter.drawLine(QPointF(x, top), QPointF(x, foot));
  painter.setPen(QPen(look::mark::ember, 1.6));
  painter.drawLine(QPointF(x, top), QPointF(x, foot));
  painter.setBrush(look::mark::ember);
  painter.drawEllipse(QPointF(x, (top + foot) / 2), 5, 5);
  paintName(painter, frame_->compared.name, {x, top + 8}, true);
  paintName(painter, words("now"), {x, top + 8}, false);
}

/// The name of a state, left or right of where it ends.
void PictureView::paintName(QPainter& painter, const QString& name, const QPointF& at, bool left) const {
  painter.setFont(look::small());
  const int w = QFontMetrics(look::small()).horizontalAdvance(name) + 12;
  const QRectF box(left ? at.x() - w - 6 : at.x() + 6, at.y(), w, look::px(18));
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(37, 34, 48, 200));
  painter.drawRoundedRect(box, 4, 4);
  painter.setPen(look::mark::text);
  painter.drawText(box, Qt::AlignCenter, name);
}

/// A magnifier beside the pointer while a point is dragged: the photo's own pixels, not the screen's.
void PictureView::paintLoupe(QPainter& painter) {
  const auto photo = session_.assets()->loadedPhoto(session_.shot().plate);
  if (!photo) return;
  constexpr double size = 148;
  const double times = std::max(7.0, 1.8 * scale());  // screen pixels per pixel of the photo
  QRectF place(cursor_ + QPointF(36, -size - 36), QSizeF(size, size));
  if (place.right() > width()) place.moveRight(cursor_.x() - 36);
  if (place.top() < 0) place.moveTop(cursor_.y() + 36);
  const Vec2d at = toPlate(cursor_);
  painter.save();
  QPainterPath round;
  round.addEllipse(place);
  painter.setClipPath(round);
  painter.fillRect(place, surround_);
  painter.setRenderHint(QPainter::SmoothPixmapTransform, false);
  const int reach = int(size / times / 2) + 2, x0 = int(std::floor(at.x)) - reach,
            y0 = int(std::floor(at.y)) - reach;
  const QImage crop = screen::shown(cropped(*photo, x0, y0, 2 * reach + 1));
  const QPointF c = place.center();
  painter.drawImage(QRectF(c.x() + (x0 - at.x) * times, c.y() + (y0 - at.y) * times, crop.width() * times,
                           crop.height() * times),
                    crop);
  painter.setPen(QPen(look::mark::ember, 1));
  painter.drawLine(c - QPointF(size, 0), c - QPointF(5, 0));
  painter.drawLine(c + QPointF(5, 0), c + QPointF(size, 0));
  painter.drawLine(c - QPointF(0, size), c - QPointF(0, 5));
  painter.drawLine(c + QPointF(0, 5), c + QPointF(0, size));
  painter.setClipping(false);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(look::mark::ember, 2));
  painter.drawEllipse(place);
  painter.restore();
}

}  // namespace dusk
