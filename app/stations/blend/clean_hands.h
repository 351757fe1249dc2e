#pragma once
#include "app/stations/workbench.h"
#include "app/views/picture_view.h"

class QPainter;

namespace dusk {

/// Fills a spot of the photo, and keeps that as one step: what takes its time is done beforehand, and can be
/// cancelled. One that is there already becomes this.
void fillAndKeep(Workbench& bench, const CleanUp& cleanUp, const QString& step);

/// The clean-up in hand, in the picture: a loop drawn round what must go, and a click on what to fill it
/// with.
class CleanHands {
 public:
  CleanHands(PictureView& view, Workbench& bench) : view_(view), bench_(bench), session_(view.session()) {}
  void paint(QPainter& painter) const;
  bool press(const Vec2d& at);
  void drag(const Vec2d& at);
  /// What was drawn is taken over; whether anything was.
  bool release();
  void giveUp() { line_.clear(); }

 private:
  const CleanUp* inHand() const;

  PictureView& view_;
  Workbench& bench_;
  Session& session_;
  std::vector<Vec2d> line_;  ///< as it is being drawn, pixels of the plate
};

}  // namespace dusk
