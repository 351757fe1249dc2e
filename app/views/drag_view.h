#pragma once
#include <QWidget>

#include "app/document/session.h"

namespace dusk {

/// A view in which things are dragged. From press to release a drag is the view's alone: shortcuts and keys
/// wait, but for Escape, which makes everything as it was before the press.
class DragView : public QWidget {
  Q_OBJECT
 public:
  bool isDragging() const { return dragging_; }

 protected:
  explicit DragView(Session& session, QWidget* parent) : QWidget(parent), session_(session) {}
  /// A drag begins. With `edits` it is one undo step, whose gesture is returned; else 0 is.
  int beginDrag(bool edits);
  /// It ends: as it came to, or as if it had not been.
  void endDrag(bool reverted);
  /// What the view held for the drag can go.
  virtual void dragEnded(bool reverted) = 0;
  /// A key while nothing is dragged; whether it was taken.
  virtual bool viewKey(QKeyEvent*) { return false; }

  void keyPressEvent(QKeyEvent*) override;
  bool event(QEvent*) override;

  Session& session_;

 private:
  bool dragging_ = false, edits_ = false;
};

}  // namespace dusk
