#pragma once
#include <QTransform>
#include <QWidget>
#include <array>

#include "app/preview.h"
#include "app/session.h"

namespace dusk {

class PictureView;

/// What the pointer does in the picture at one station.
class Tool {
 public:
  explicit Tool(PictureView& view);
  virtual ~Tool() = default;
  virtual void paint(QPainter&) {}
  /// Each returns whether it took the event. `at` is in pixels of the plate.
  virtual bool press(const Vec2d&, Qt::KeyboardModifiers) { return false; }
  virtual void drag(const Vec2d&, Qt::KeyboardModifiers) {}
  virtual void release(const Vec2d&) {}
  virtual bool key(int, Qt::KeyboardModifiers) { return false; }
  virtual Qt::CursorShape cursor(const Vec2d&) { return Qt::ArrowCursor; }
  /// One line that says what can be done here.
  virtual QString hint() const { return {}; }

 protected:
  PictureView& view_;
  Session& session_;
};

/// The photo with the product in it, seen through the vantage.
class PictureView : public QWidget {
  Q_OBJECT
 public:
  PictureView(Session& session, Preview& preview, QWidget* parent = nullptr);
  ~PictureView() override;

  Session& session() { return session_; }
  Preview& preview() { return preview_; }
  const Frame* frame() const { return frame_.get(); }
  /// Plate pixels to widget pixels.
  QTransform toScreen() const;
  Vec2d toPlate(const QPointF& widget) const;
  double scale() const { return toScreen().m11(); }
  /// The part under a plate position: path and placement; empty when none.
  struct Pick {
    std::string part;
    std::string placement;
  };
  Pick pick(const Vec2d& plate) const;
  /// The world point of the product under a plate position; nothing beside it. `normal`: how it looks there,
  /// unit, towards the camera.
  std::optional<Vec3d> hitAt(const Vec2d& plate, Vec3d* normal = nullptr) const;

  void zoomToFit();
  void zoomBy(double factor, const QPointF& about);
  void setGridShown(bool shown);
  bool gridShown() const { return grid_; }
  void setSurround(const QColor& colour);
  void requestFrame();
  Tool& tool() { return *tools_[size_t(session_.station())]; }
  QSize sizeHint() const override { return {760, 520}; }

 signals:
  void frameShown();
  void filesDropped(const QStringList& files);
  void surfaceDropped(const QString& surfaceId, const QString& partPath, const QString& placementId);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void keyReleaseEvent(QKeyEvent*) override;
  void dragEnterEvent(QDragEnterEvent*) override;
  void dragMoveEvent(QDragMoveEvent*) override;
  void dropEvent(QDropEvent*) override;
  bool event(QEvent*) override;

 private:
  QSizeF plateSize() const;
  QSize frameSize() const;
  void paintEmpty(QPainter& painter);
  void paintLoupe(QPainter& painter);
  std::optional<Ray> rayAt(const Vec2d& plate) const;
  QString hoverText(const Vec2d& at) const;

  Session& session_;
  Preview& preview_;
  std::shared_ptr<const Frame> frame_;
  std::array<std::unique_ptr<Tool>, stationCount> tools_;
  double zoom_ = 1;
  QPointF pan_{0, 0};
  QPointF panFrom_;
  QPointF cursor_;
  bool panning_ = false, dragging_ = false, bare_ = false, grid_ = true;
  std::string dropPart_;
  QColor surround_;
};

}  // namespace dusk
