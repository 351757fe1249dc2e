#pragma once
#include <QString>
#include <Qt>

#include "app/document/session.h"

class QPainter;

namespace dusk {

class PictureView;

/// What the pointer does in the picture at one station. The picture sees to it that a drag belongs to the
/// tool, and to the modifiers, it was begun with until it is let go, and that no key reaches the tool
/// meanwhile.
class Tool {
 public:
  explicit Tool(PictureView& view);
  virtual ~Tool() = default;
  virtual void paint(QPainter&) {}
  /// Each returns whether it took the event. `at` is in pixels of the plate.
  virtual bool press(const Vec2d&, Qt::KeyboardModifiers) { return false; }
  virtual void drag(const Vec2d&, Qt::KeyboardModifiers) {}
  virtual void release(const Vec2d&) {}
  /// The drag was given up, or the station is left: what was half done is let go. The document is as it was
  /// before the drag already.
  virtual void giveUp() {}
  virtual bool key(int, Qt::KeyboardModifiers) { return false; }
  virtual Qt::CursorShape cursor(const Vec2d&) { return Qt::ArrowCursor; }
  /// One line that says what can be done here.
  virtual QString hint() const { return {}; }
  /// The undo step that edits belong to: one for each drag, and one for each run of the same key.
  virtual void setGesture(int gesture) { gesture_ = gesture; }

 protected:
  PictureView& view_;
  Session& session_;
  int gesture_ = 0;
};

}  // namespace dusk
