#pragma once
#include <QWidget>
#include <functional>

#include "core/base/maths.h"

namespace dusk {

struct Frame;

/// A tone curve as points over code values from 0 to 255, dark at the left and below, before a hill of the
/// product's own tones. Points are dragged; a click beside them sets one, Delete takes the one in hand away,
/// arrow keys move it.
class CurveField : public QWidget {
  Q_OBJECT
 public:
  using Change = std::function<void(const std::vector<Vec2d>& points, int gesture)>;
  explicit CurveField(Change change);
  void setPoints(const std::vector<Vec2d>& points);
  /// Where the product's tones lie in a picture.
  void setTones(const Frame& frame);
  /// The point in hand.
  std::optional<size_t> inHand() const {
    return inHand_ >= 0 && inHand_ < int(points_.size()) ? std::optional(size_t(inHand_)) : std::nullopt;
  }
  /// Where that may go: past no neighbour.
  Vec2d within(size_t point, Vec2d at) const;
  QPointF toScreen(const Vec2d& p) const;

 signals:
  void handChanged();

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* e) override;
  void mouseMoveEvent(QMouseEvent* e) override;
  void keyPressEvent(QKeyEvent* e) override;

 private:
  QRectF square() const;
  Vec2d fromScreen(const QPointF& p) const;
  void moveTo(Vec2d at);
  void take(int point);
  void paintGround(QPainter& painter) const;

  Change change_;
  std::vector<Vec2d> points_;
  std::vector<float> tones_;  ///< shares of the product's pixels, dark ones first
  int inHand_ = -1, gesture_ = 0;
};

}  // namespace dusk
