#include "app/views/drag_view.h"

#include <QKeyEvent>

namespace dusk {

int DragView::beginDrag(bool edits) {
  dragging_ = true, edits_ = edits;
  return edits ? session_.beginGesture() : 0;
}

void DragView::endDrag(bool reverted) {
  if (!std::exchange(dragging_, false)) return;
  if (edits_ && reverted) session_.revertGesture();
  dragEnded(reverted);
  if (edits_) session_.endGesture();
  update();
}

void DragView::keyPressEvent(QKeyEvent* e) {
  if (dragging_) {
    if (e->key() == Qt::Key_Escape) endDrag(true);
    return e->accept();
  }
  if (!viewKey(e)) QWidget::keyPressEvent(e);
}

bool DragView::event(QEvent* e) {
  if (e->type() == QEvent::ShortcutOverride && dragging_) e->accept();
  // Whoever cannot be met by the mouse any more is not told that it let go: as if it had not been taken.
  if (e->type() == QEvent::Hide || (e->type() == QEvent::EnabledChange && !isEnabled())) endDrag(true);
  return QWidget::event(e);
}

}  // namespace dusk
