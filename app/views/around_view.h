#pragma once
#include <QImage>
#include <QVariantAnimation>
#include <QWidget>

#include "app/document/session.h"
#include "core/trace/pick_pass.h"

namespace dusk {

/// Free look at the products, evenly lit, for finding and picking parts. Turns about the point that was
/// picked, never about emptiness.
class AroundView : public QWidget {
  Q_OBJECT
 public:
  explicit AroundView(Session& session, QWidget* parent = nullptr);
  ~AroundView() override;

  /// A model was made finer: what is shown is made anew of it.
  void modelsChanged() {
    if (isVisible()) rebuild();
  }
  /// Brings all products back to the middle.
  void backToTheMiddle();
  void zoomBy(double factor);
  /// Looks from `eye` at `target`, and turns about that.
  void lookFrom(const Vec3d& eye, const Vec3d& target);
  /// Flies to the selected part; once there, flies back to where one was.
  void showPart();
  const Camera& camera() const { return camera_; }
  /// The point the view turns about.
  const Vec3d& pivot() const { return pivot_; }
  /// What is under a widget position; nothing beside the products.
  std::optional<Vec3d> hitAt(const QPointF& at) const;
  bool hasPicture() const { return !pick_.pixels.empty(); }

 signals:
  void pointPicked(const Vec3d& world);
  void drawn();

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void showEvent(QShowEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void keyReleaseEvent(QKeyEvent*) override;
  void focusOutEvent(QFocusEvent*) override;
  bool event(QEvent*) override;

 private:
  struct World;  ///< the products as placed; made on a worker
  void rebuild();
  void request();
  void recolour();
  void turn(double yaw, double pitch);
  void moveTo(const Vec3d& eye);
  void look(const Camera& to, bool fly);
  Box bounds() const;
  std::string partAt(const QPointF& at) const;
  void click(const QPointF& at, bool behind);

  Session& session_;
  std::shared_ptr<const World> world_;
  Camera camera_;
  Vec3d pivot_{0, 0, 0};
  PickPass pick_;
  QImage image_;
  std::shared_ptr<Progress> running_;
  bool again_ = false, framed_ = false, smooth_ = false;
  int worldRequest_ = 0;
  QPointF from_, last_;
  enum { idle, turning, sliding } grip_ = idle;
  bool moved_ = false, slides_ = false;
  std::optional<Camera> before_;  ///< where one was before `showPart`
  QVariantAnimation flight_;
};

}  // namespace dusk
