#pragma once
#include <QImage>
#include <QToolButton>
#include <functional>
#include <memory>

class QTemporaryDir;

namespace dusk {

/// Takes the picture on screen along: dragged out of the window it is a PNG, clicked it is on the clipboard.
class PictureGrip : public QToolButton {
  Q_OBJECT
 public:
  explicit PictureGrip(std::function<QImage()> picture);
  ~PictureGrip() override;
  /// The picture as image and as a file; nullptr when there is none.
  QMimeData* taken();

 protected:
  void mousePressEvent(QMouseEvent* e) override;
  void mouseMoveEvent(QMouseEvent* e) override;

 private:
  std::function<QImage()> picture_;
  std::unique_ptr<QTemporaryDir> folder_;
  int count_ = 0;
  QPointF from_;
};

}  // namespace dusk
