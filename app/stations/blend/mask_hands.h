#pragma once
#include "app/views/picture_view.h"
#include "core/blend/mask.h"
#include "core/project/blend_edit.h"

class QPainter;

namespace dusk {

/// The mask in hand, in the picture: its points are dragged (with Shift: the feather of one), a drag on its
/// line makes a new one, a drawn one is drawn anew by one drag. Lines of cut-outs are drawn the same way.
class MaskHands {
 public:
  explicit MaskHands(PictureView& view) : view_(view), session_(view.session()) {}
  void paint(QPainter& painter);
  bool press(const Vec2d& at, Qt::KeyboardModifiers modifiers);
  void drag(const Vec2d& at, int gesture);
  /// What was drawn is taken over.
  void release(int gesture);
  void giveUp() { line_.clear(), point_ = piece_ = -1; }
  /// Takes the point in hand away.
  bool removePoint();
  /// Whether a point or the line lies there.
  bool isOver(const Vec2d& at) const { return pointAt(at) >= 0 || pieceAt(at) >= 0; }
  QString hint() const;

 private:
  const Mask* mask() const;
  /// The same in a shot under edit; nullptr where it is gone.
  Mask* maskIn(Shot& shot) const;
  MaskWorld world() const;
  int pointAt(const Vec2d& at) const;
  /// The piece of the line there, by the point it begins at; -1: none.
  int pieceAt(const Vec2d& at) const;
  void movePoint(Mask& mask, const Vec2d& at) const;
  void paintReach(QPainter& painter, const Mask& mask) const;
  bool draws() const;
  void finishMask(int gesture);
  void finishCutOut(int gesture);

  PictureView& view_;
  Session& session_;
  std::vector<Vec2d> line_;  ///< as it is being drawn, pixels of the plate
  int point_ = -1, lastPoint_ = -1;
  int piece_ = -1;  ///< gets a point with the first move of the drag
  bool feathers_ = false;
};

/// A line drawn by hand, in pixels of the plate, dashed and with a dark rim.
void paintDrawn(QPainter& painter, const QTransform& toScreen, const std::vector<Vec2d>& line, bool closed,
                const QColor& colour);

/// A drawn line with the points that it needs to stay within `off` of what was drawn (Douglas & Peucker 1973,
/// "Algorithms for the Reduction of the Number of Points Required to Represent a Digitized Line").
std::vector<Vec2d> fewerPoints(const std::vector<Vec2d>& line, double off);

}  // namespace dusk
