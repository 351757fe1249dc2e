#include "app/window/picture_grip.h"
#include "core/base/words.h"

#include <QtWidgets>

namespace dusk {

PictureGrip::PictureGrip(std::function<QImage()> picture) : picture_(std::move(picture)) {
  setText("PNG");
  setToolTip(words(
      "Drag it out of the window: the picture as it is seen, as a PNG. A click puts it on the clipboard"));
  setAccessibleName(words("Take the picture along as PNG"));
  connect(this, &QToolButton::clicked, this, [this] {
    if (QMimeData* data = taken()) QGuiApplication::clipboard()->setMimeData(data);
  });
}

PictureGrip::~PictureGrip() = default;

QMimeData* PictureGrip::taken() {
  const QImage image = picture_();
  if (image.isNull()) return nullptr;
  if (!folder_) folder_ = std::make_unique<QTemporaryDir>();
  // A file of its own each time: whoever got the last one may still be reading it.
  const QString file = folder_->filePath(QString("picture-%1.png").arg(++count_));
  auto* data = new QMimeData;
  data->setImageData(image);
  if (image.save(file)) data->setUrls({QUrl::fromLocalFile(file)});
  return data;
}

void PictureGrip::mousePressEvent(QMouseEvent* e) {
  from_ = e->position();
  QToolButton::mousePressEvent(e);
}

void PictureGrip::mouseMoveEvent(QMouseEvent* e) {
  if (!(e->buttons() & Qt::LeftButton) ||
      (e->position() - from_).manhattanLength() < QApplication::startDragDistance())
    return QToolButton::mouseMoveEvent(e);
  setDown(false);
  QMimeData* data = taken();
  if (!data) return;
  auto* drag = new QDrag(this);
  drag->setMimeData(data);
  drag->setPixmap(
      QPixmap::fromImage(picture_().scaled(160, 110, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
  drag->exec(Qt::CopyAction);
}

}  // namespace dusk
