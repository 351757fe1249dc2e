// What hands do in the picture: a drag belongs to the tool it was begun with until it is let go.
#include <QtWidgets>

#include "app/views/picture_view.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {

namespace {
constexpr const char *surfaceFormat = "application/x-dusk-surface", *pieceFormat = "application/x-dusk-piece";
}

void PictureView::mousePressEvent(QMouseEvent* e) {
  setFocus(Qt::MouseFocusReason);
  cursor_ = e->position();
  if (grabbed_ || panning_) return;  // a second button is no second drag
  if (e->button() == Qt::MiddleButton || (e->button() == Qt::LeftButton && movesView_)) {
    panning_ = true;
    panFrom_ = e->position() - pan_;
    setCursor(Qt::ClosedHandCursor);
  } else if (e->button() == Qt::LeftButton) {
    grabbedWith_ = e->modifiers();
    const int gesture = beginDrag(true);
    // Keys on the ground lie over everything else.
    for (Tool* each : std::initializer_list<Tool*>{pathShown_ ? path_.get() : nullptr, &tool()}) {
      if (!each) continue;
      grabbed_ = each;
      grabbed_->setGesture(gesture);
      if (grabbed_->press(toPlate(e->position()), grabbedWith_)) return update();
    }
    endDrag(false);
  }
  update();
}

void PictureView::mouseMoveEvent(QMouseEvent* e) {
  cursor_ = e->position();
  if (panning_) {
    pan_ = e->position() - panFrom_;
    requestFrame();
    update();
  } else if (grabbed_) {
    grabbed_->drag(toPlate(e->position()), grabbedWith_);
    update();
  } else {
    const Vec2d at = toPlate(e->position());
    const Qt::CursorShape onPath = pathShown_ ? path_->cursor(at) : Qt::ArrowCursor;
    setCursor(movesView_ ? Qt::OpenHandCursor : onPath != Qt::ArrowCursor ? onPath : tool().cursor(at));
  }
}

void PictureView::mouseReleaseEvent(QMouseEvent* e) {
  if (panning_ && (e->button() == Qt::MiddleButton || e->button() == Qt::LeftButton)) {
    panning_ = false;
    setCursor(Qt::ArrowCursor);
  } else if (grabbed_ && e->button() == Qt::LeftButton) {
    grabbed_->release(toPlate(e->position()));
    endDrag(false);
  }
  update();
}

void PictureView::dragEnded(bool reverted) {
  Tool* tool = std::exchange(grabbed_, nullptr);
  if (reverted) tool->giveUp();
}

void PictureView::wheelEvent(QWheelEvent* e) {
  if (!grabbed_) zoomBy(std::pow(1.0015, e->angleDelta().y()), e->position());
}

bool PictureView::viewKey(QKeyEvent* e) {
  if (e->key() == Qt::Key_B || e->key() == Qt::Key_V) {
    if (!e->isAutoRepeat()) (e->key() == Qt::Key_B ? bare_ : movesView_) = true;
    return update(), true;
  }
  if (e->key() == Qt::Key_C && frame_ && !frame_->other.isNull()) {
    if (!e->isAutoRepeat()) other_ = true;
    return update(), true;
  }
  if (e->key() == Qt::Key_A && session_.station() == Station::surface) {
    if (!e->isAutoRepeat()) showAlone(true);
    return true;
  }
  tool().setGesture(keyRun_.gesture(e->key()));
  return tool().key(e->key(), e->modifiers()) && (update(), true);
}

void PictureView::showAlone(bool on) {
  if (alone_ == on) return;
  alone_ = on;
  requestFrame();
}

void PictureView::keyReleaseEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_A && !e->isAutoRepeat()) showAlone(false);
  if (e->key() == Qt::Key_C && !e->isAutoRepeat() && other_) return other_ = false, update();
  if ((e->key() != Qt::Key_B && e->key() != Qt::Key_V) || e->isAutoRepeat())
    return QWidget::keyReleaseEvent(e);
  (e->key() == Qt::Key_B ? bare_ : movesView_) = false;
  update();
}

/// Keys that are held let go with the focus: their release goes elsewhere.
void PictureView::focusOutEvent(QFocusEvent* e) {
  bare_ = movesView_ = other_ = false;
  showAlone(false);
  keyRun_.end();
  QWidget::focusOutEvent(e);
  update();
}

void PictureView::dragEnterEvent(QDragEnterEvent* e) {
  // Files are the window's.
  if (e->mimeData()->hasFormat(surfaceFormat) || e->mimeData()->hasFormat(pieceFormat))
    e->acceptProposedAction();
}

std::optional<Vec3d> PictureView::standAt(const Vec2d& plate) const {
  Vec3d normal;
  const auto on = hitAt(plate, &normal);
  if (on && normal.z > 0.8) return on;
  return levelPoint(workingCamera(session_.shot().vantage), plate);
}

void PictureView::hold(const QMimeData* what, const Pick& over) {
  if (over.part == dropPart_) return;
  dropPart_ = over.part;
  emit surfaceHeld(QString::fromUtf8(what->data(surfaceFormat)), QString::fromStdString(over.part),
                   QString::fromStdString(over.placement));
  update();
}

void PictureView::dragMoveEvent(QDragMoveEvent* e) {
  if (e->mimeData()->hasFormat(pieceFormat))
    return e->setAccepted(standAt(toPlate(e->position())).has_value());
  hold(e->mimeData(), pick(toPlate(e->position())));
  e->setAccepted(!dropPart_.empty());
}

void PictureView::dragLeaveEvent(QDragLeaveEvent*) {
  QMimeData nothing;
  hold(&nothing, {});
}

void PictureView::dropEvent(QDropEvent* e) {
  if (e->mimeData()->hasFormat(pieceFormat)) {
    const auto at = standAt(toPlate(e->position()));
    if (at) emit pieceDropped(QString::fromUtf8(e->mimeData()->data(pieceFormat)), *at);
    return e->setAccepted(at.has_value());
  }
  hold(e->mimeData(), pick(toPlate(e->position())));
  if (!dropPart_.empty()) emit surfaceDropped();
  dropPart_.clear();
  e->acceptProposedAction();
  update();
}

}  // namespace dusk
