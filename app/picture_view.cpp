#include "app/picture_view.h"

#include <QtWidgets>

#include "app/camera_overlay.h"
#include "app/images.h"
#include "app/look.h"
#include "app/tools.h"
#include "core/trace/integrator.h"

namespace dusk {

Tool::Tool(PictureView& view) : view_(view), session_(view.session()) {}

PictureView::PictureView(Session& session, Preview& preview, QWidget* parent)
    : QWidget(parent), session_(session), preview_(preview), surround_(look::surround) {
  setObjectName("picture");
  setAccessibleName("Picture: the photo with the product in it");
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAcceptDrops(true);
  setMinimumSize(320, 240);
  setAttribute(Qt::WA_OpaquePaintEvent);
  for (int i = 0; i < stationCount; ++i) tools_[size_t(i)] = makeTool(Station(i), *this);
  connect(&preview_, &Preview::frameReady, this, [this](const std::shared_ptr<const Frame>& frame) {
    frame_ = frame;
    update();
    emit frameShown();
  });
  connect(&session_, &Session::changed, this, [this](const Changes& what) {
    if (what.trace || what.blend) requestFrame();
    update();
  });
  connect(&session_, &Session::stationChanged, this, [this] {
    if (session_.shot().vantage.straightened) requestFrame();
    update();
  });
  connect(&session_.vantageWork(), &VantageWork::changed, this, qOverload<>(&QWidget::update));
  connect(&session_, &Session::selectionChanged, this, qOverload<>(&QWidget::update));
}

PictureView::~PictureView() = default;

QSizeF PictureView::plateSize() const {
  const Camera& c = session_.shot().vantage.camera;
  return c.width > 0 ? QSizeF(c.width, c.height) : QSizeF(1500, 1000);
}

QTransform PictureView::toScreen() const {
  const QSizeF plate = plateSize();
  const double margin = 14;
  const double fit =
      std::min((width() - 2 * margin) / plate.width(), (height() - 2 * margin) / plate.height());
  const double s = fit * zoom_;
  QTransform t;
  t.translate(width() / 2.0 + pan_.x(), height() / 2.0 + pan_.y());
  t.scale(s, s);
  t.translate(-plate.width() / 2, -plate.height() / 2);
  return t;
}

Vec2d PictureView::toPlate(const QPointF& widget) const {
  const QPointF p = toScreen().inverted().map(widget);
  return {p.x(), p.y()};
}

QSize PictureView::frameSize() const {
  const QSizeF plate = plateSize();
  const double s = std::min(1.0, scale() * devicePixelRatioF());
  return {int(std::lround(plate.width() * s)), int(std::lround(plate.height() * s))};
}

void PictureView::requestFrame() {
  if (session_.shot().vantage.camera.width <= 0) {
    frame_.reset();
    return;
  }
  const auto request = [&](const Project& shown) {
    preview_.request(shown, Session::shotIndex, session_.assets(), session_.geometry(), frameSize());
  };
  if (session_.station() != Station::vantage || !session_.shot().vantage.straightened)
    return request(session_.project());
  // Evidence lies on the photo as it was taken.
  Project bent = session_.project();
  bent.shots[Session::shotIndex].vantage.straightened = false;
  request(bent);
}

std::optional<Ray> PictureView::rayAt(const Vec2d& plate) const {
  if (!frame_ || !frame_->scene || frame_->scene->geometry->empty()) return {};
  const double s = double(frame_->scene->camera.width) / plateSize().width();
  return Integrator(*frame_->scene).cameraRay({plate.x * s, plate.y * s});
}

std::optional<Vec3d> PictureView::hitAt(const Vec2d& plate, Vec3d* normal) const {
  const auto ray = rayAt(plate);
  if (!ray) return {};
  const Hit hit = frame_->scene->geometry->closest(*ray);
  if (!hit.found()) return {};
  if (normal) {
    const Vec3f n = frame_->scene->geometry->detail(hit).normal;
    *normal = toDouble(n.dot(ray->direction) > 0 ? -n : n);
  }
  return toDouble(ray->origin + ray->direction * hit.distance);
}

PictureView::Pick PictureView::pick(const Vec2d& plate) const {
  const auto ray = rayAt(plate);
  if (!ray) return {};
  const Scene& scene = *frame_->scene;
  const Hit hit = scene.geometry->closest(*ray);
  if (!hit.found()) return {};
  return {scene.geometry->partOf(hit).path, scene.placementIds[hit.instance]};
}

void PictureView::zoomToFit() {
  zoom_ = 1, pan_ = {0, 0};
  requestFrame();
  update();
}

void PictureView::zoomBy(double factor, const QPointF& about) {
  const Vec2d fixed = toPlate(about);
  zoom_ = std::clamp(zoom_ * factor, 0.25, 40.0);
  pan_ += about - toScreen().map(toPoint(fixed));
  requestFrame();
  update();
}

void PictureView::setGridShown(bool shown) {
  grid_ = shown;
  update();
}

void PictureView::setSurround(const QColor& colour) {
  surround_ = colour;
  update();
}

void PictureView::paintEmpty(QPainter& painter) {
  painter.setPen(QPen(look::muted, 1.5, Qt::DashLine));
  const QRectF box = QRectF(rect()).adjusted(60, 50, -60, -50);
  painter.drawRoundedRect(box, 14, 14);
  painter.setPen(look::text);
  QFont big = look::heading();
  big.setPixelSize(20);
  painter.setFont(big);
  painter.drawText(box.adjusted(20, 0, -20, -30), Qt::AlignCenter, "Drop a photograph here");
  painter.setFont(font());
  painter.setPen(look::muted);
  painter.drawText(box.adjusted(20, 40, -20, 0), Qt::AlignCenter | Qt::TextWordWrap,
                   "JPEG, PNG, TIFF or EXR - or choose one at the Plate station. Drop a model or a panorama "
                   "later, the same way.");
}

void PictureView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), surround_);
  painter.setRenderHint(QPainter::Antialiasing);
  if (session_.shot().vantage.camera.width <= 0) return paintEmpty(painter);
  const QTransform t = toScreen();
  if (frame_) {
    painter.setRenderHint(QPainter::SmoothPixmapTransform, scale() < 3);
    const QRectF target = t.mapRect(QRectF(QPointF(0, 0), plateSize()));
    // Drawn pixel for pixel when the frame has just that size.
    const QImage& image = bare_ ? frame_->bare : frame_->picture;
    if (std::abs(image.width() - target.width()) < 1.0)
      painter.drawImage(target.topLeft().toPoint(), image);
    else
      painter.drawImage(target, image);
  }
  if (!bare_) {
    painter.setRenderHint(QPainter::Antialiasing);
    tool().paint(painter);
    if (!dropPart_.empty()) {
      painter.setPen(look::ember);
      painter.drawText(rect().adjusted(0, 10, 0, 0), Qt::AlignHCenter | Qt::AlignTop,
                       "onto " + QString::fromStdString(dropPart_));
    }
    if (dragging_ && session_.station() == Station::vantage) paintLoupe(painter);
  }
  const QString hint = bare_ ? "bare plate" : tool().hint();
  paintHint(painter, *this, hint);
}

/// A magnifier beside the pointer while a point is dragged: the photo's own pixels, not the screen's.
void PictureView::paintLoupe(QPainter& painter) {
  const auto photo = session_.assets()->loadedPhoto(session_.shot().plate);
  if (!photo) return;
  constexpr double size = 148;
  const double times = std::max(7.0, 1.8 * scale());  // screen pixels per pixel of the photo
  QRectF place(cursor_ + QPointF(36, -size - 36), QSizeF(size, size));
  if (place.right() > width()) place.moveRight(cursor_.x() - 36);
  if (place.top() < 0) place.moveTop(cursor_.y() + 36);
  const Vec2d at = toPlate(cursor_);
  painter.save();
  QPainterPath round;
  round.addEllipse(place);
  painter.setClipPath(round);
  painter.fillRect(place, surround_);
  painter.setRenderHint(QPainter::SmoothPixmapTransform, false);
  const int reach = int(size / times / 2) + 2, x0 = int(std::floor(at.x)) - reach,
            y0 = int(std::floor(at.y)) - reach;
  const QImage crop = cropped(*photo, x0, y0, 2 * reach + 1);
  const QPointF c = place.center();
  painter.drawImage(QRectF(c.x() + (x0 - at.x) * times, c.y() + (y0 - at.y) * times, crop.width() * times,
                           crop.height() * times),
                    crop);
  painter.setPen(QPen(look::ember, 1));
  painter.drawLine(c - QPointF(size, 0), c - QPointF(5, 0));
  painter.drawLine(c + QPointF(5, 0), c + QPointF(size, 0));
  painter.drawLine(c - QPointF(0, size), c - QPointF(0, 5));
  painter.drawLine(c + QPointF(0, 5), c + QPointF(0, size));
  painter.setClipping(false);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(look::ember, 2));
  painter.drawEllipse(place);
  painter.restore();
}

void PictureView::resizeEvent(QResizeEvent*) { requestFrame(); }

void PictureView::mousePressEvent(QMouseEvent* e) {
  setFocus(Qt::MouseFocusReason);
  cursor_ = e->position();
  if (e->button() == Qt::MiddleButton ||
      (e->button() == Qt::LeftButton && e->modifiers() & Qt::AltModifier)) {
    panning_ = true;
    panFrom_ = e->position() - pan_;
    setCursor(Qt::ClosedHandCursor);
  } else if (e->button() == Qt::LeftButton) {
    dragging_ = tool().press(toPlate(e->position()), e->modifiers());
  }
  update();
}

void PictureView::mouseMoveEvent(QMouseEvent* e) {
  cursor_ = e->position();
  if (panning_) {
    pan_ = e->position() - panFrom_;
    update();
  } else if (dragging_) {
    tool().drag(toPlate(e->position()), e->modifiers());
    update();
  } else {
    setCursor(tool().cursor(toPlate(e->position())));
  }
}

void PictureView::mouseReleaseEvent(QMouseEvent* e) {
  if (panning_) setCursor(Qt::ArrowCursor);
  if (dragging_) tool().release(toPlate(e->position()));
  panning_ = dragging_ = false;
  update();
}

void PictureView::wheelEvent(QWheelEvent* e) { zoomBy(std::pow(1.0015, e->angleDelta().y()), e->position()); }

void PictureView::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_B && !e->isAutoRepeat()) {
    bare_ = true;
    return update();
  }
  if (tool().key(e->key(), e->modifiers())) return update();
  QWidget::keyPressEvent(e);
}

void PictureView::keyReleaseEvent(QKeyEvent* e) {
  if (e->key() != Qt::Key_B || e->isAutoRepeat()) return QWidget::keyReleaseEvent(e);
  bare_ = false;
  update();
}

void PictureView::dragEnterEvent(QDragEnterEvent* e) {
  if (e->mimeData()->hasUrls() || e->mimeData()->hasFormat("application/x-dusk-surface"))
    e->acceptProposedAction();
}

void PictureView::dragMoveEvent(QDragMoveEvent* e) {
  dropPart_.clear();
  if (e->mimeData()->hasFormat("application/x-dusk-surface")) {
    dropPart_ = pick(toPlate(e->position())).part;
    e->setAccepted(!dropPart_.empty());
  } else {
    e->acceptProposedAction();
  }
  update();
}

void PictureView::dropEvent(QDropEvent* e) {
  dropPart_.clear();
  if (e->mimeData()->hasFormat("application/x-dusk-surface")) {
    const Pick at = pick(toPlate(e->position()));
    if (!at.part.empty())
      emit surfaceDropped(QString::fromUtf8(e->mimeData()->data("application/x-dusk-surface")),
                          QString::fromStdString(at.part), QString::fromStdString(at.placement));
  } else {
    QStringList files;
    for (const QUrl& url : e->mimeData()->urls())
      if (url.isLocalFile()) files << url.toLocalFile();
    emit filesDropped(files);
  }
  e->acceptProposedAction();
  update();
}

QString PictureView::hoverText(const Vec2d& at) const {
  const std::string part = pick(at).part;
  return QString::fromStdString(part.substr(part.rfind('/') + 1));
}

bool PictureView::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip) {
    auto* help = static_cast<QHelpEvent*>(e);
    const QString text = hoverText(toPlate(help->pos()));
    if (text.isEmpty())
      QToolTip::hideText();
    else
      QToolTip::showText(help->globalPos(), text, this);
    return true;
  }
  return QWidget::event(e);
}

}  // namespace dusk
