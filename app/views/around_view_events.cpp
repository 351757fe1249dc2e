#include <QtWidgets>

#include "app/views/around_view.h"
#include "core/base/words.h"
#include "core/vantage/camera.h"

namespace dusk {

void AroundView::lookThrough(const std::string& lamp, const LampLook& from) {
  const auto& [eye, target] = from;
  if ((eye - target).length() < 1e-3) return;
  lamp_ = lamp;
  const bool flies = std::exchange(framed_, true);
  pivot_ = target;
  before_.reset();
  const int w = std::max(width(), 16), h = std::max(height(), 16);
  look(lookAt(w, h, 1.5 * std::min(w, h), eye, target), flies);
}

void AroundView::steer() {
  if (lamp_.empty()) return;
  if (!byId(session_.shot().lamps, lamp_)) return letGo();
  const double ahead = std::max(0.01, camera_.axes.z.dot(pivot_ - camera_.position));
  const LampLook to{camera_.position, camera_.position + camera_.axes.z * ahead};
  session_.editShot(
      words("move a lamp"),
      [&](Shot& shot) {
        if (Lamp* lamp = byId(shot.lamps, lamp_)) setLook(*lamp, shot, to);
      },
      gesture_);
}

void AroundView::letGo() {
  lamp_.clear();
  update();
}

void AroundView::mousePressEvent(QMouseEvent* e) {
  setFocus(Qt::MouseFocusReason);
  from_ = last_ = e->position();
  moved_ = false;
  gesture_ = Session::newGesture();
  grip_ = e->button() == Qt::MiddleButton || slides_ ? sliding : turning;
  // A lamp is led about what it is aimed at.
  if (const auto hit = lamp_.empty() ? hitAt(from_) : std::nullopt) pivot_ = *hit;
}

void AroundView::mouseMoveEvent(QMouseEvent* e) {
  const QPointF by = e->position() - last_;
  if (grip_ == idle) return;
  if (!moved_ && (e->position() - from_).manhattanLength() < 4) return;
  moved_ = true;
  before_.reset();
  last_ = e->position();
  if (grip_ == turning) return turn(-by.x() * 0.008, by.y() * 0.008);
  // The point taken stays under the pointer.
  const double depth = std::max(1e-6, camera_.axes.z.dot(pivot_ - camera_.position));
  moveTo(camera_.position - (camera_.axes.x * by.x() + camera_.axes.y * by.y()) * (depth / camera_.focalPx));
}

void AroundView::mouseReleaseEvent(QMouseEvent* e) {
  const bool wasClick = grip_ == turning && !moved_;
  grip_ = idle;
  if (wasClick)
    click(e->position(), e->modifiers() & Qt::ShiftModifier);
  else
    request();
}

void AroundView::wheelEvent(QWheelEvent* e) {
  const Vec3d to = lamp_.empty() ? hitAt(e->position()).value_or(pivot_) : pivot_;
  gesture_ = run_.gesture(1);
  const double share = std::pow(0.9985, e->angleDelta().y());
  before_.reset();
  moveTo(to + (camera_.position - to) * share);
}

void AroundView::zoomBy(double factor) {
  gesture_ = run_.gesture(3);
  before_.reset();
  moveTo(pivot_ + (camera_.position - pivot_) / factor);
}

void AroundView::keyReleaseEvent(QKeyEvent* e) {
  if (e->key() != Qt::Key_V) return QWidget::keyReleaseEvent(e);
  slides_ = slides_ && e->isAutoRepeat();
}

void AroundView::focusOutEvent(QFocusEvent* e) {
  slides_ = false;
  QWidget::focusOutEvent(e);
}

void AroundView::keyPressEvent(QKeyEvent* e) {
  const double step = e->modifiers() & Qt::ShiftModifier ? 0.02 : 0.1;
  gesture_ = run_.gesture(2);
  switch (e->key()) {
    case Qt::Key_Escape:
      if (lamp_.empty()) return QWidget::keyPressEvent(e);
      return letGo();
    case Qt::Key_V:
      slides_ = true;
      return;
    case Qt::Key_Home:
      return backToTheMiddle();
    case Qt::Key_Left:
      return turn(-step, 0);
    case Qt::Key_Right:
      return turn(step, 0);
    case Qt::Key_Up:
      return turn(0, step);
    case Qt::Key_Down:
      return turn(0, -step);
    case Qt::Key_Plus:
    case Qt::Key_Minus:
      return zoomBy(e->key() == Qt::Key_Plus ? 1 / 0.85 : 0.85);
    default:
      QWidget::keyPressEvent(e);
  }
}

}  // namespace dusk
