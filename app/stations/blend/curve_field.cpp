#include "app/stations/blend/curve_field.h"

#include <QtWidgets>

#include "app/document/session.h"
#include "app/preview/preview.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/blend/operation.h"

namespace dusk {

CurveField::CurveField(Change change) : change_(std::move(change)) {
  setFixedHeight(look::px(168));
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(words("Tone curve"));
  setToolTip(words(
      "Drag a point, click for a new one. Arrow keys move the one in hand, Delete takes it away. The hill "
      "behind it: the product's tones as they are shown"));
}

void CurveField::setPoints(const std::vector<Vec2d>& points) {
  points_ = points;
  if (inHand_ >= int(points_.size())) take(-1);
  update();
}

void CurveField::setTones(const Frame& frame) {
  if (frame.quick || frame.pass || !frame.passes) return;
  constexpr int bins = 64, looks = 20'000;
  const Picture& alpha = frame.passes->alpha;
  const QImage& picture = frame.picture;
  std::vector<float> tones(bins);
  const int step = std::max(1, int(std::sqrt(double(alpha.width) * alpha.height / looks)));
  float all = 0;
  for (int y = 0; y < alpha.height; y += step)
    for (int x = 0; x < alpha.width; x += step) {
      if (alpha.at(x, y)[0] < 0.98f) continue;
      const QRgb code = picture.pixel(x * picture.width() / alpha.width, y * picture.height() / alpha.height);
      tones[size_t(qGray(code) * bins / 256)] += 1, all += 1;
    }
  for (float& t : tones) t /= std::max(1.0f, all);
  tones_ = std::move(tones);
  update();
}

void CurveField::take(int point) {
  if (point == inHand_) return;
  inHand_ = point;
  emit handChanged();
}

QRectF CurveField::square() const {
  const double line = fontMetrics().height(), left = fontMetrics().horizontalAdvance("255") + 8;
  return {left, 5, width() - left - 6.0, height() - line - 8};
}
QPointF CurveField::toScreen(const Vec2d& p) const {
  const QRectF s = square();
  return {s.left() + p.x * s.width(), s.bottom() - p.y * s.height()};
}
Vec2d CurveField::fromScreen(const QPointF& p) const {
  const QRectF s = square();
  return {(p.x() - s.left()) / s.width(), (s.bottom() - p.y()) / s.height()};
}

/// The square with its codes, and the hill of the product's tones.
void CurveField::paintGround(QPainter& p) const {
  const QRectF s = square();
  p.setPen(QPen(hasFocus() ? look::ember() : look::line(), 1));
  p.setBrush(look::field());
  p.drawRoundedRect(s, 4, 4);
  const float most = tones_.empty() ? 0 : *std::max_element(tones_.begin(), tones_.end());
  if (most > 0) {
    QPolygonF hill{{s.bottomLeft()}};
    for (size_t i = 0; i < tones_.size(); ++i)
      // A peak of one tone would flatten all others.
      hill << toScreen(
          {(double(i) + 0.5) / double(tones_.size()), 0.7 * std::sqrt(double(tones_[i] / most))});
    hill << s.bottomRight();
    QColor tide = look::tide();
    tide.setAlphaF(0.25f);
    p.setPen(Qt::NoPen);
    p.setBrush(tide);
    p.drawPolygon(hill);
  }
  p.setFont(look::small());
  for (const int code : {0, 64, 128, 192, 255}) {
    const double at = code / 255.0;
    p.setPen(QPen(look::line(), 1, Qt::DotLine));
    if (code > 0 && code < 255) {
      p.drawLine(toScreen({at, 0}), toScreen({at, 1}));
      p.drawLine(toScreen({0, at}), toScreen({1, at}));
    }
    p.setPen(look::muted());
    const QString text = QString::number(code);
    const double wide = p.fontMetrics().horizontalAdvance(text), x = toScreen({at, 0}).x();
    p.drawText(QPointF(std::min(x - wide / 2, s.right() - wide), height() - 4.0), text);
    if (code > 0) {
      const double y = toScreen({0, at}).y() + p.fontMetrics().ascent() / 2.0;
      p.drawText(QPointF(s.left() - wide - 4, std::max(y, s.top() + p.fontMetrics().ascent())), text);
    }
  }
  p.setPen(QPen(look::line(), 1, Qt::DotLine));
  p.drawLine(s.bottomLeft(), s.topRight());
}

void CurveField::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF s = square();
  paintGround(p);
  Correction c{CorrectionKind::curve};
  c.curve = points_;
  const Operation op = curveOperation(c);
  QPolygonF line;
  for (int i = 0; i <= 100; ++i) {
    // The operation works on light: code values are brought there and back.
    const auto light = [](double code) { return float(std::pow(code, 2.2)); };
    float r = light(i / 100.0), g = r, b = r;
    if (op.point) op.point->apply(&r, &g, &b, 1, 0, 0);
    line << toScreen({i / 100.0, std::pow(std::max(0.0f, r), 1 / 2.2)});
  }
  p.setPen(QPen(look::text(), 1.6));
  p.setBrush(Qt::NoBrush);
  p.setClipRect(s);
  p.drawPolyline(line);
  p.setClipping(false);
  for (size_t i = 0; i < points_.size(); ++i) {
    p.setPen(QPen(look::ember(), 1.5));
    p.setBrush(int(i) == inHand_ ? QBrush(look::ember()) : QBrush(look::field()));
    p.drawEllipse(toScreen(points_[i]), 4.5, 4.5);
  }
}

void CurveField::mousePressEvent(QMouseEvent* e) {
  gesture_ = Session::newGesture();
  int under = -1;
  for (size_t i = 0; i < points_.size(); ++i)
    if (QLineF(toScreen(points_[i]), e->position()).length() < 9) under = int(i);
  if (under >= 0) return take(under), update();
  const Vec2d at = fromScreen(e->position());
  const auto place = std::find_if(points_.begin(), points_.end(), [&](const Vec2d& q) { return q.x > at.x; });
  const int here = int(place - points_.begin());
  points_.insert(place, {std::clamp(at.x, 0.0, 1.0), std::clamp(at.y, 0.0, 1.0)});
  change_(points_, gesture_);
  take(here);
}

Vec2d CurveField::within(size_t i, Vec2d at) const {
  const double low = i == 0 ? 0 : points_[i - 1].x + 0.01,
               high = i + 1 == points_.size() ? 1 : points_[i + 1].x - 0.01;
  return {std::clamp(at.x, low, std::max(low, high)), std::clamp(at.y, 0.0, 1.0)};
}

void CurveField::moveTo(Vec2d at) {
  if (inHand_ < 0) return;
  points_[size_t(inHand_)] = within(size_t(inHand_), at);
  change_(points_, gesture_);
  update();
}

void CurveField::mouseMoveEvent(QMouseEvent* e) {
  if (e->buttons() & Qt::LeftButton) moveTo(fromScreen(e->position()));
}

void CurveField::keyPressEvent(QKeyEvent* e) {
  const Vec2d by = e->key() == Qt::Key_Left    ? Vec2d(-0.01, 0)
                   : e->key() == Qt::Key_Right ? Vec2d(0.01, 0)
                   : e->key() == Qt::Key_Up    ? Vec2d(0, 0.01)
                   : e->key() == Qt::Key_Down  ? Vec2d(0, -0.01)
                                               : Vec2d(0, 0);
  if (inHand_ < 0 && !points_.empty() && by != Vec2d(0)) take(0);
  if (by != Vec2d(0) && inHand_ >= 0) {
    gesture_ = Session::newGesture();
    return moveTo(points_[size_t(inHand_)] + by);
  }
  if (e->key() == Qt::Key_Delete && inHand_ >= 0 && points_.size() > 2) {
    points_.erase(points_.begin() + inHand_);
    change_(points_, Session::newGesture());
    return take(-1);
  }
  QWidget::keyPressEvent(e);
}

}  // namespace dusk
