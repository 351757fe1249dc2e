#pragma once
#include <QWidget>

#include "core/light/align.h"

namespace dusk {

/// How well a panorama agrees with the photo over all its turns; its peaks are there to be tried.
class TurnCurve : public QWidget {
  Q_OBJECT
 public:
  explicit TurnCurve(QWidget* parent = nullptr);
  void setAlignment(const std::optional<Alignment>& alignment);
  /// Where the panorama stands now.
  void setNow(double turnDegrees, bool mirrored);
  /// Where a peak is drawn.
  QPointF pointOf(int peak) const;
  QSize sizeHint() const override { return {260, 96}; }

 signals:
  void peakChosen(int peak);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  bool event(QEvent*) override;

 private:
  QRectF field() const;
  QPointF at(double turnDegrees, double score) const;
  int peakNear(const QPointF& at) const;
  QString textOf(int peak) const;

  std::optional<Alignment> alignment_;
  double nowDegrees_ = 0, low_ = 0, high_ = 1;
  bool nowMirrored_ = false;
  int inHand_ = 0;
};

}  // namespace dusk
