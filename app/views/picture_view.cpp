#include "app/views/picture_view.h"

#include <QtWidgets>

#include "app/preview/images.h"
#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/trace/integrator.h"
#include "core/trace/pick_pass.h"
#include "core/vantage/frames.h"

namespace dusk {

namespace {
/// Round a picture that is fitted in.
constexpr double margin = 14;
}  // namespace

Tool::Tool(PictureView& view) : view_(view), session_(view.session()) {}

PictureView::PictureView(Session& session, Preview& preview, QWidget* parent)
    : DragView(session, parent),
      preview_(preview),
      path_(std::make_unique<MotionPath>(*this)),
      surround_(look::surround) {
  setObjectName("picture");
  setAccessibleName(words("Picture: the photo with the product in it"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAcceptDrops(true);
  setMinimumSize(320, 240);
  setAttribute(Qt::WA_OpaquePaintEvent);
  connect(&preview_, &Preview::frameReady, this, [this](const std::shared_ptr<const Frame>& frame) {
    // One of a shot or document that is not in hand any more came too late.
    if (frame->shotId != session_.shot().id || session_.shot().vantage.camera.width <= 0) return;
    const bool beside = isBeside();
    frame_ = frame;
    if (frame->isWhole()) whole_ = frame;
    // Half the room is another size.
    if (isBeside() != beside) requestFrame();
    update();
    emit frameShown();
  });
  connect(&session_, &Session::assetsChanged, this, &PictureView::requestFrame);
  const auto forget = [this] {
    endDrag(true);
    preview_.stop();
    frame_.reset(), whole_.reset();
    zoom_ = 1, pan_ = {0, 0};
  };
  connect(&session_, &Session::documentChanged, this, forget);
  connect(&session_, &Session::shotChanged, this, forget);
  connect(&session_, &Session::changed, this, [this](const Changes& what) {
    // How long a shutter is open is of no picture but those of films.
    if (what.trace || what.blend || what.proofs || lacksSome() || session_.opensShutter()) requestFrame();
    update();
  });
  connect(&session_, &Session::stationChanged, this, [this] {
    for (const auto& tool : tools_)
      if (tool) tool->giveUp();
    if (session_.shot().vantage.straightened || lacksSome()) requestFrame();
    update();
  });
  connect(&session_, &Session::selectionChanged, this, qOverload<>(&QWidget::update));
  connect(&session_, &Session::momentChanged, this, qOverload<>(&QWidget::update));
  connect(&session_, &Session::shutterChanged, this, &PictureView::requestFrame);
}

PictureView::~PictureView() = default;

void PictureView::setFraming(Framing framing) {
  framing_ = framing;
  update();
}

void PictureView::setPathShown(bool shown) {
  pathShown_ = shown;
  update();
}

QSizeF PictureView::plateSize() const {
  const Camera& c = session_.shot().vantage.camera;
  return c.width > 0 ? QSizeF(c.width, c.height) : QSizeF(1500, 1000);
}

QTransform PictureView::toScreen() const {
  const QSizeF plate = plateSize();
  const double room = isBeside() ? width() / 2.0 : width();
  const double fit = std::min((room - 2 * margin) / plate.width(), (height() - 2 * margin) / plate.height());
  const double s = fit * zoom_;
  QTransform t;
  t.translate(width() - room / 2 + pan_.x(), height() / 2.0 + pan_.y());
  t.scale(s, s);
  t.translate(-plate.width() / 2, -plate.height() / 2);
  return t;
}

Vec2d PictureView::toPlate(const QPointF& widget) const {
  // Both halves show the same places.
  const bool left = isBeside() && widget.x() < width() / 2.0;
  const QPointF p = toScreen().inverted().map(left ? widget + QPointF(width() / 2.0, 0) : widget);
  return {p.x(), p.y()};
}

QSize PictureView::frameSize() const {
  const QSizeF plate = plateSize();
  const double s = std::min(1.0, scale() * devicePixelRatioF());
  return {int(std::lround(plate.width() * s)), int(std::lround(plate.height() * s))};
}

/// What is to be traced of the picture, in pixels of the frame: where frames are looked at, beyond it, too,
/// as far as they go. In steps, so that pulling at a frame does not begin anew all the time.
QRect PictureView::tracedPart() const {
  const QSize whole = frameSize();
  QRect all(QPoint(0, 0), whole);
  if (session_.station() != Station::deliver) return all;
  for (const PictureFrame& f : session_.shot().frames) {
    const PixelArea area = framed(session_.shot(), f, whole.width(), whole.height()).area;
    all |= QRect(QPoint(area.x0, area.y0), QPoint(area.x1 - 1, area.y1 - 1));
  }
  const auto outward = [](int beyond, int size) {
    const int step = std::max(1, size / 8);
    return (beyond + step - 1) / step * step;
  };
  return QRect(QPoint(0, 0), whole)
      .adjusted(-outward(-all.left(), whole.width()), -outward(-all.top(), whole.height()),
                outward(all.right() + 1 - whole.width(), whole.width()),
                outward(all.bottom() + 1 - whole.height(), whole.height()));
}

/// The part of the picture that can be seen, in pixels of the frame.
QRect PictureView::visiblePart() const {
  const QSize whole = frameSize();
  const QRectF seen = toScreen().inverted().mapRect(QRectF(rect()));
  const QSizeF plate = plateSize();
  const QRectF shares(seen.x() / plate.width(), seen.y() / plate.height(), seen.width() / plate.width(),
                      seen.height() / plate.height());
  return QRectF(shares.x() * whole.width(), shares.y() * whole.height(), shares.width() * whole.width(),
                shares.height() * whole.height())
             .toAlignedRect() &
         tracedPart();
}

/// Whether frames show now what was not traced for them.
bool PictureView::lacksSome() const { return frame_ && !frame_->area.contains(visiblePart()); }

void PictureView::requestFrame() {
  if (session_.shot().vantage.camera.width <= 0) {
    frame_.reset(), whole_.reset();
    preview_.stop();
    return;
  }
  const QSize whole = frameSize();
  const QRect all = tracedPart(), visible = visiblePart();
  // A little more than is seen, so that a small move of the view asks for nothing; all of it where that is
  // not much more work.
  QRect area = visible.adjusted(-96, -96, 96, 96) & all;
  if (visible.isEmpty() || 1.6 * area.width() * area.height() > double(whole.width()) * whole.height())
    area = all;
  const auto request = [&](const Project& shown, std::optional<OpenShutter> shutter = {}) {
    preview_.request(shown, session_.shotIndex(), session_.assets(), session_.geometry(), whole, area,
                     visible, std::move(shutter));
  };
  if (alone_)
    if (const Surface* surface = session_.surfaceInHand(session_.project()))
      return request(shownAlone(session_.project(), surface->id, session_.feedInHand()));
  if (session_.station() != Station::vantage || !session_.shot().vantage.straightened)
    return request(session_.project(), session_.opensShutter()
                                           ? std::optional(OpenShutter{session_.base(), session_.moment()})
                                           : std::nullopt);
  // Evidence lies on the photo as it was taken.
  Project bent = session_.project();
  session_.shotIn(bent).vantage.straightened = false;
  request(bent);
}

std::optional<Ray> PictureView::rayAt(const Vec2d& plate) const {
  if (!frame_ || !frame_->scene || frame_->scene->geometry->empty()) return {};
  const QSizeF size = plateSize();
  return Integrator(*frame_->scene)
      .cameraRay({plate.x / size.width() * frame_->whole.width() - frame_->area.x(),
                  plate.y / size.height() * frame_->whole.height() - frame_->area.y()});
}

std::optional<Vec3d> PictureView::hitAt(const Vec2d& plate, Vec3d* normal) const {
  const auto ray = rayAt(plate);
  if (!ray) return {};
  const Hit hit = firstSeen(*frame_->scene, *ray);
  if (!hit.found()) return {};
  if (normal) {
    const Vec3f n = frame_->scene->geometry->detail(hit).normal;
    *normal = toDouble(n.dot(ray->direction) > 0 ? -n : n);
  }
  return toDouble(ray->origin + ray->direction * hit.distance);
}

std::optional<PictureView::Spot> PictureView::spotAt(const Vec2d& plate) const {
  const auto ray = rayAt(plate);
  if (!ray) return {};
  const Scene& scene = *frame_->scene;
  const Hit hit = firstSeen(scene, *ray);
  if (!hit.found()) return {};
  const Part& part = scene.geometry->partOf(hit);
  const Similarity model =
      scene.geometry->worldFromMesh(hit.instance, hit.part).after(part.place.inverse()).inverse();
  const Vec3f n = scene.geometry->detail(hit).normal;
  return Spot{{part.path, scene.placementIds[hit.instance]},
              model.point(toDouble(ray->origin + ray->direction * hit.distance)),
              model.direction(toDouble(n.dot(ray->direction) > 0 ? -n : n))};
}

std::optional<Similarity> PictureView::worldFromModel(const std::string& path,
                                                      const std::string& placement) const {
  if (!frame_ || !frame_->scene) return {};
  const Scene& scene = *frame_->scene;
  for (unsigned i = 0; i < scene.placementIds.size() && i < scene.geometry->instances().size(); ++i) {
    if (scene.placementIds[i] != placement) continue;
    const auto& parts = scene.geometry->instances()[i].geometry->model().parts;
    for (unsigned p = 0; p < parts.size(); ++p)
      if (isUnder(parts[p].path, path))
        return scene.geometry->worldFromMesh(i, p).after(parts[p].place.inverse());
  }
  return {};
}

PictureView::Pick PictureView::pick(const Vec2d& plate) const {
  const auto ray = rayAt(plate);
  if (!ray) return {};
  const Scene& scene = *frame_->scene;
  const Hit hit = firstSeen(scene, *ray);
  if (!hit.found()) return {};
  return {scene.geometry->partOf(hit).path, scene.placementIds[hit.instance]};
}

void PictureView::zoomToFit() {
  zoom_ = 1, pan_ = {0, 0};
  // Frames that go beyond the picture are to be seen, too.
  const QSizeF whole = frameSize();
  const QRectF part = tracedPart();
  const QRectF all = toScreen().mapRect(
      QTransform::fromScale(plateSize().width() / whole.width(), plateSize().height() / whole.height())
          .mapRect(part));
  if (part.size() != whole) {
    zoom_ = std::clamp(std::min((width() - 2 * margin) / all.width(), (height() - 2 * margin) / all.height()),
                       0.25, 1.0);
    pan_ = (rect().toRectF().center() - all.center()) * zoom_;
  }
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

void PictureView::zoomPixelForPixel() {
  zoomBy(1 / (scale() * devicePixelRatioF()), QRectF(rect()).center());
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
  painter.setPen(QPen(look::mark::muted, 1.5, Qt::DashLine));
  const QRectF box = QRectF(rect()).adjusted(60, 50, -60, -50);
  painter.drawRoundedRect(box, 14, 14);
  painter.setPen(look::mark::text);
  QFont big = look::heading();
  big.setPixelSize(look::px(20));
  painter.setFont(big);
  painter.drawText(box.adjusted(20, 0, -20, -30), Qt::AlignCenter, words("Drop a photograph here"));
  painter.setFont(font());
  painter.setPen(look::mark::muted);
  painter.drawText(
      box.adjusted(20, 40, -20, 0), Qt::AlignCenter | Qt::TextWordWrap,
      words("or choose one at the Plate station. Models, panoramas and projects are dropped the same way."));
}

void PictureView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), surround_);
  painter.setRenderHint(QPainter::Antialiasing);
  if (session_.shot().vantage.camera.width <= 0) return paintEmpty(painter);
  const QTransform t = toScreen();
  if (frame_) paintFrame(painter, t);
  if (!bare_) {
    painter.setRenderHint(QPainter::Antialiasing);
    paintFraming(painter, t.mapRect(QRectF(QPointF(0, 0), plateSize())), framing_);
    tool().paint(painter);
    if (pathShown_) path_->paint(painter);
    if (!dropPart_.empty()) {
      painter.setPen(look::mark::ember);
      painter.drawText(rect().adjusted(0, 10, 0, 0), Qt::AlignHCenter | Qt::AlignTop,
                       words("onto ") + QString::fromStdString(dropPart_));
    }
    if (grabbed_ && session_.station() == Station::vantage) paintLoupe(painter);
  }
  paintHint(painter, *this, hint(), isHintAbove());
}

bool PictureView::isHintAbove() const {
  if (!frame_ || !frame_->scene) return false;
  const QRectF box = hintPlace(*this, hint());
  constexpr int across = 8, down = 2;
  for (int j = 0; j <= down; ++j)
    for (int i = 0; i <= across; ++i) {
      const QPointF at(box.x() + box.width() * i / across, box.y() + box.height() * j / down);
      const Placement* under = byId(session_.shot().placements, pick(toPlate(at)).placement);
      const Product* product = under ? byId(session_.project().products, under->productId) : nullptr;
      if (product && product->piece.kind.empty()) return true;
    }
  return false;
}

void PictureView::resizeEvent(QResizeEvent*) { requestFrame(); }

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
  return DragView::event(e);
}

}  // namespace dusk
