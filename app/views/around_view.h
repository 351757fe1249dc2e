#pragma once
#include <QImage>
#include <QVariantAnimation>
#include <QWidget>

#include "app/document/session.h"
#include "app/document/step_run.h"
#include "core/light/lamp_look.h"
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
  /// Looks as a lamp does: whoever moves then moves the lamp, and what is in the middle is what it is aimed
  /// at, until Escape, or another way to look, lets it go.
  void lookThrough(const std::string& lamp, const LampLook& look);
  const std::string& steered() const { return lamp_; }
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
  /// What the world is made of.
  struct Seen {
    std::vector<Product> products;
    std::vector<Surface> surfaces;
    std::vector<Placement> placements;
    std::vector<LevelPlane> levels;
    int modelChanges = 0;
    bool operator==(const Seen&) const = default;
  };
  static Seen seenOf(const Session& session);
  void rebuild();
  void request();
  void recolour();
  void turn(double yaw, double pitch);
  void moveTo(const Vec3d& eye);
  /// Brings the lamp that is looked through along; steps that share a gesture join.
  void steer();
  void letGo();
  void look(const Camera& to, bool fly);
  Box bounds() const;
  std::string partAt(const QPointF& at) const;
  void click(const QPointF& at, bool behind);

  Session& session_;
  std::shared_ptr<const World> world_;
  Seen builtOf_;
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
  std::string lamp_;  ///< looked through; empty: none
  int gesture_ = 0;   ///< of the drag, or the run of keys or of the wheel
  StepRun run_;
};

}  // namespace dusk
