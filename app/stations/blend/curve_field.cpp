#include "app/stations/blend/curve_field.h"

#include <QtWidgets>

#include "app/document/session.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/blend/operation.h"

namespace dusk {

CurveField::CurveField(Change change) : change_(std::move(change)) {
  setFixedHeight(look::px(150));
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(words("Tone curve"));
  setToolTip(
      words("Drag a point, click for a new one. Arrow keys move the one in hand, Delete takes it away"));
}

void CurveField::setPoints(const std::vector<Vec2d>& points) {
  points_ = points;
  if (inHand_ >= int(points_.size())) inHand_ = -1;
  update();
}

QRectF CurveField::square() const {
  const double side = height() - 10;
  return {5, 5, std::min(side * 1.6, width() - 10.0), side};
}
QPointF CurveField::toScreen(const Vec2d& p) const {
  const QRectF s = square();
  return {s.left() + p.x * s.width(), s.bottom() - p.y * s.height()};
}
Vec2d CurveField::fromScreen(const QPointF& p) const {
  const QRectF s = square();
  return {(p.x() - s.left()) / s.width(), (s.bottom() - p.y()) / s.height()};
}

void CurveField::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF s = square();
  p.setPen(QPen(hasFocus() ? look::ember() : look::line(), 1));
  p.setBrush(look::field());
  p.drawRoundedRect(s, 4, 4);
  p.setPen(QPen(look::line(), 1, Qt::DotLine));
  p.drawLine(s.bottomLeft(), s.topRight());
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
  inHand_ = -1;
  for (size_t i = 0; i < points_.size(); ++i)
    if (QLineF(toScreen(points_[i]), e->position()).length() < 9) inHand_ = int(i);
  if (inHand_ >= 0) return update();
  const Vec2d at = fromScreen(e->position());
  const auto place = std::find_if(points_.begin(), points_.end(), [&](const Vec2d& q) { return q.x > at.x; });
  inHand_ = int(place - points_.begin());
  points_.insert(place, {std::clamp(at.x, 0.0, 1.0), std::clamp(at.y, 0.0, 1.0)});
  change_(points_, gesture_);
}

void CurveField::moveTo(Vec2d at) {
  if (inHand_ < 0) return;
  const size_t i = size_t(inHand_);
  const double low = i == 0 ? 0 : points_[i - 1].x + 0.01,
               high = i + 1 == points_.size() ? 1 : points_[i + 1].x - 0.01;
  points_[i] = {std::clamp(at.x, low, std::max(low, high)), std::clamp(at.y, 0.0, 1.0)};
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
  if (inHand_ < 0 && !points_.empty() && by != Vec2d(0)) inHand_ = 0;
  if (by != Vec2d(0) && inHand_ >= 0) {
    gesture_ = Session::newGesture();
    return moveTo(points_[size_t(inHand_)] + by);
  }
  if (e->key() == Qt::Key_Delete && inHand_ >= 0 && points_.size() > 2) {
    points_.erase(points_.begin() + inHand_);
    inHand_ = -1;
    return change_(points_, Session::newGesture());
  }
  QWidget::keyPressEvent(e);
}

}  // namespace dusk
