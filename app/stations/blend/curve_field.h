#pragma once
#include <QWidget>
#include <functional>

#include "core/base/maths.h"

namespace dusk {

/// A tone curve as points on a square, dark at the left and below. Points are dragged; a click beside them
/// sets one, Delete takes the one in hand away, arrow keys move it.
class CurveField : public QWidget {
  Q_OBJECT
 public:
  using Change = std::function<void(const std::vector<Vec2d>& points, int gesture)>;
  explicit CurveField(Change change);
  void setPoints(const std::vector<Vec2d>& points);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* e) override;
  void mouseMoveEvent(QMouseEvent* e) override;
  void keyPressEvent(QKeyEvent* e) override;

 private:
  QRectF square() const;
  QPointF toScreen(const Vec2d& p) const;
  Vec2d fromScreen(const QPointF& p) const;
  void moveTo(Vec2d at);

  Change change_;
  std::vector<Vec2d> points_;
  int inHand_ = -1, gesture_ = 0;
};

}  // namespace dusk
