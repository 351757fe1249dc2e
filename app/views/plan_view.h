#pragma once
#include <QImage>

#include "app/views/drag_view.h"

namespace dusk {

/// The place from above: the photo's ground laid flat, the camera's cone, lamps and the main light, and what
/// stands there by its outline: products, pieces, stand-ins. All but the camera can be dragged; with Shift, a
/// lamp up and down.
class PlanView : public DragView {
  Q_OBJECT
 public:
  explicit PlanView(Session& session, QWidget* parent = nullptr);
  /// World metres to widget pixels; +Y up.
  QPointF toScreen(const Vec2d& world) const;
  Vec2d toWorld(const QPointF& screen) const;
  void zoomBy(double factor);
  void showAll();

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void showEvent(QShowEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void dragEnded(bool reverted) override;

 private:
  struct Grab {
    std::string placement, lamp, standIn;
    bool pan = false, raises = false;
    Vec2d from{0, 0};
    QPointF at;
    double height = 0;
    int gesture = 0;
  };
  void zoomAbout(double factor, const QPointF& about);
  void layPhotoFlat();
  void paintCamera(QPainter& painter);
  void paintThings(QPainter& painter);
  void paintLights(QPainter& painter);

  double pixelsPerMetre_ = 135;
  Vec2d centre_{0.2, 0.5};
  QImage ground_;
  QRectF groundAt_;  ///< world rectangle the image covers: x, y of its lower left corner, size
  std::optional<Grab> grab_;
  int request_ = 0;
};

}  // namespace dusk
