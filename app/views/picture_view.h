#pragma once
#include <QTransform>
#include <array>

#include "app/document/step_run.h"
#include "app/preview/preview.h"
#include "app/views/camera_overlay.h"
#include "app/views/drag_view.h"
#include "app/views/motion_path.h"
#include "app/views/tool.h"
#include "core/base/words.h"

class QMimeData;

namespace dusk {

/// The photo with the product in it, seen through the vantage.
class PictureView : public DragView {
  Q_OBJECT
 public:
  PictureView(Session& session, Preview& preview, QWidget* parent = nullptr);
  ~PictureView() override;
  /// The tool of each station, in their order.
  void setTools(std::array<std::unique_ptr<Tool>, stationCount> tools) { tools_ = std::move(tools); }

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
  /// Where something stands that is put down there: on a level face of a product, else on the ground.
  std::optional<Vec3d> standAt(const Vec2d& plate) const;
  /// The world point of the product under a plate position; nothing beside it. `normal`: how it looks there,
  /// unit, towards the camera.
  std::optional<Vec3d> hitAt(const Vec2d& plate, Vec3d* normal = nullptr) const;

  /// A spot of a placed product, in the frame and unit of its model, as the part lies in its file.
  struct Spot {
    Pick pick;
    Vec3d at, normal;  ///< outwards
  };
  std::optional<Spot> spotAt(const Vec2d& plate) const;
  /// World from that frame; nothing where the part is not in the picture.
  std::optional<Similarity> worldFromModel(const std::string& part, const std::string& placement) const;

  void zoomToFit();
  void zoomBy(double factor, const QPointF& about);
  /// One pixel of the photo on one of the screen's own.
  void zoomPixelForPixel();
  void setGridShown(bool shown);
  bool gridShown() const { return grid_; }
  void setSurround(const QColor& colour);
  void setFraming(Framing framing);
  Framing framing() const { return framing_; }
  /// The way of what moves, with its keys to be dragged, over whatever the station shows.
  void setPathShown(bool shown);
  const MotionPath& path() const { return *path_; }
  void requestFrame();
  /// Where the curtain to another state hangs, in shares of the picture's width; what is left of it is that.
  double curtain() const { return curtain_; }
  void setCurtain(double share);
  /// Whether the photo is shown by itself: while a key is held, and for what is marked in it.
  bool showsPhotoAlone() const { return bare_ || isOnThePhoto(session_.nextDrag()); }
  /// The line under the picture: what can be done here.
  QString hint() const { return bare_ ? QString(words("bare plate")) : tool().hint(); }
  /// Whether it stands near the upper border: below it would hide a product, whose foot is what one looks at.
  bool isHintAbove() const;
  QSize sizeHint() const override { return {760, 520}; }

 signals:
  void frameShown();
  /// A surface is held over a part (none: over nothing any more), and let go there.
  void surfaceHeld(const QString& surfaceId, const QString& partPath, const QString& placementId);
  void surfaceDropped();
  /// A piece of a set was let go over a spot: on what is there, or on the ground.
  void pieceDropped(const QString& kind, const Vec3d& at);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  bool viewKey(QKeyEvent*) override;
  void dragEnded(bool reverted) override;
  void keyReleaseEvent(QKeyEvent*) override;
  void focusOutEvent(QFocusEvent*) override;
  void dragEnterEvent(QDragEnterEvent*) override;
  void dragMoveEvent(QDragMoveEvent*) override;
  void dragLeaveEvent(QDragLeaveEvent*) override;
  void dropEvent(QDropEvent*) override;
  bool event(QEvent*) override;

 private:
  Tool& tool() const { return *tools_[size_t(session_.station())]; }
  void hold(const QMimeData* what, const Pick& over);
  void showAlone(bool on);
  QSizeF plateSize() const;
  QSize frameSize() const;
  QRect tracedPart() const;
  QRect visiblePart() const;
  bool lacksSome() const;
  void paintEmpty(QPainter& painter);
  void paintFrame(QPainter& painter, const QTransform& toScreen);
  void paintLoupe(QPainter& painter);
  void paintCurtain(QPainter& painter, const QTransform& toScreen);
  void paintName(QPainter& painter, const QString& name, const QPointF& at, bool left) const;
  const QImage& stripes();
  /// Two states side by side: the present one has the right half.
  bool isBeside() const;
  void drawTo(const QPointF& at);
  std::optional<Ray> rayAt(const Vec2d& plate) const;
  QString hoverText(const Vec2d& at) const;

  Preview& preview_;
  std::shared_ptr<const Frame> frame_, whole_;
  std::array<std::unique_ptr<Tool>, stationCount> tools_;
  std::unique_ptr<MotionPath> path_;
  bool pathShown_ = false;
  Framing framing_ = Framing::none;
  double zoom_ = 1;
  QPointF pan_{0, 0};
  QPointF panFrom_;
  QPointF cursor_;
  Tool* grabbed_ = nullptr;  ///< whose drag it is, from press to release
  Qt::KeyboardModifiers grabbedWith_;
  StepRun keyRun_;
  std::shared_ptr<const std::vector<CodeEnd>> striped_;
  QImage stripes_;  ///< of those
  bool panning_ = false, grid_ = true;
  double curtain_ = 0.5;
  bool bare_ = false, movesView_ = false, alone_ = false, other_ = false;  ///< while their keys are held
  std::string dropPart_;
  QColor surround_;
};

}  // namespace dusk
