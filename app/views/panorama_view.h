#pragma once
#include <QImage>

#include "app/document/step_run.h"
#include "app/views/drag_view.h"

namespace dusk {

/// The light all round as it stands in the world: +Y in the middle, growing clockwise. The camera's frame,
/// the sun and the lamps are drawn where they are seen from the product. Dragging turns the panorama; a lamp
/// or the panorama's own sun, where that is apart, is dragged where it should be.
class PanoramaView : public DragView {
  Q_OBJECT
 public:
  explicit PanoramaView(Session& session, QWidget* parent = nullptr);
  /// Where a direction of the world is drawn.
  QPointF pointOf(const Vec3d& direction) const;
  Vec3d directionAt(const QPointF& at) const;
  bool hasPicture() const { return !image_.isNull(); }

 protected:
  void paintEvent(QPaintEvent*) override;
  void showEvent(QShowEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void dragEnded(bool) override { grab_.reset(); }
  bool viewKey(QKeyEvent*) override;

 private:
  QRectF field() const;
  Vec3d middle() const;
  Vec3d lampDirection(const Lamp& lamp) const;
  std::optional<Vec3d> sunOfItsOwn() const;
  void make();
  void paintFrame(QPainter& painter);
  void mark(QPainter& painter, const Vec3d& direction, const QString& name, bool inHand, bool on);
  void turnTo(double degrees, int gesture);

  QImage image_;              ///< the panorama for the screen, before its turn
  std::optional<Vec3d> sun_;  ///< its own, before the turn
  Surroundings shown_;        ///< what both were made of
  int request_ = 0;
  struct Grab {
    QPointF from;
    double turn = 0;
    std::string lamp;
    bool sun = false;
    int gesture = 0;
  };
  std::optional<Grab> grab_;
  StepRun keyRun_;
};

}  // namespace dusk
