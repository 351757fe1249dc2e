#pragma once
#include "app/stations/workbench.h"
#include "app/views/picture_view.h"

namespace dusk {

/// A drag from an edge of a thing down to the same edge in the ground: how that mirrors is measured, and set.
class MirrorHand {
 public:
  MirrorHand(PictureView& view, Workbench& bench) : view_(view), bench_(bench) {}
  bool isWanted() const { return bench_.session.nextDrag() == Session::NextDrag::mirrorEdge; }
  void paint(QPainter& painter) const;
  void press(const Vec2d& at) { line_ = QLineF(at.x, at.y, at.x, at.y); }
  void drag(const Vec2d& at) { line_->setP2({at.x, at.y}); }
  void release();
  void giveUp() { line_.reset(); }

 private:
  PictureView& view_;
  Workbench& bench_;
  std::optional<QLineF> line_;  ///< in pixels of the photo, while it is drawn
};

}  // namespace dusk
