#include "app/views/panorama_view.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/preview/images.h"
#include "app/preview/screen.h"
#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/project/blend_edit.h"
#include "core/project/lamp_kinds.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {

PanoramaView::PanoramaView(Session& session, QWidget* parent) : DragView(session, parent) {
  setObjectName("panorama");
  setAccessibleName(words("Panorama: the light all round"));
  setFocusPolicy(Qt::StrongFocus);
  connect(&session_, &Session::changed, this, [this] {
    if (isVisible()) make();
    update();
  });
  connect(&session_, &Session::selectionChanged, this, qOverload<>(&QWidget::update));
}

QRectF PanoramaView::field() const {
  const double w = std::min<double>(width() - 28, 2 * (height() - 60)), h = w / 2;
  return {(width() - w) / 2, (height() - h) / 2 - 6, w, h};
}

QPointF PanoramaView::pointOf(const Vec3d& d) const {
  const Vec2f uv = panoramaUv(toFloat(d.normalized()));
  const QRectF f = field();
  return {f.left() + (uv.x - std::floor(uv.x)) * f.width(), f.top() + uv.y * f.height()};
}

Vec3d PanoramaView::directionAt(const QPointF& at) const {
  const QRectF f = field();
  return toDouble(panoramaDirection({float((at.x() - f.left()) / f.width()),
                                     float(std::clamp((at.y() - f.top()) / f.height(), 0.001, 0.999))}));
}

/// Where directions are seen from: the product in hand, a hand above its foot.
Vec3d PanoramaView::middle() const {
  const Placement* p = session_.placement();
  return p ? Vec3d(p->xM, p->yM, planeHeightM(session_.shot(), *p) + 0.1) : Vec3d(0, 0, 0.1);
}

Vec3d PanoramaView::lampDirection(const Lamp& lamp) const {
  return isDistant(lamp) ? toDouble(sunDirection(lamp)) : (lamp.positionM - middle()).normalized();
}

std::optional<Vec3d> PanoramaView::sunOfItsOwn() const {
  const Surroundings& s = session_.shot().surroundings;
  if (!s.sunApart || s.panorama.empty()) return {};
  if (s.sunMovedDegrees) {
    Lamp at;
    at.azimuthDegrees = s.sunMovedDegrees->x, at.elevationDegrees = s.sunMovedDegrees->y;
    return toDouble(sunDirection(at));
  }
  return sun_ ? std::optional(turned(*sun_, Vec3d(0, 0, 1), -radians(s.turnDegrees))) : std::nullopt;
}

/// The panorama as it stands but for its turn, at a third of a degree a pixel; on a worker.
void PanoramaView::make() {
  const Shot& shot = session_.shot();
  if (shot.surroundings.panorama.empty()) {
    image_ = {};
    return;
  }
  Surroundings wanted = shot.surroundings;
  wanted.turnDegrees = 0;
  if (shown_ == wanted) return;
  shown_ = wanted;
  const int request = ++request_;
  struct Made {
    QImage image;
    std::optional<Vec3d> sun;
  };
  runAside([s = wanted, view = viewOnly(shot.blend), assets = session_.assets()]() -> Made {
    const auto dome = assets->dome(s);
    const auto how = assets->view(view);
    if (!dome || !how) return {};
    Picture small = Picture::rgb(1024, 512);
    const Picture from = resized(dome->panorama->picture(), 1024, 512);
    const auto flat = Panorama::make(from);
    const Lights lights(flat, s, {}, Rgb(0));
    for (int y = 0; y < small.height; ++y)
      for (int x = 0; x < small.width; ++x) {
        const Rgb c = lights.sky(panoramaDirection({(x + 0.5f) / small.width, (y + 0.5f) / small.height}));
        std::copy_n(&c.x, 3, small.at(x, y));
      }
    return {toImage(displayed(small, **how)),
            dome->sun ? std::optional(toDouble(dome->sun->direction)) : std::nullopt};
  }).then(this, [this, request](const Made& made) {
    if (request != request_) return;
    image_ = made.image, sun_ = made.sun;
    update();
  });
}

void PanoramaView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), look::surround);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  const Shot& shot = session_.shot();
  const QRectF f = field();
  if (shot.surroundings.panorama.empty()) {
    painter.setPen(look::mark::text);
    painter.drawText(
        f, Qt::AlignCenter | Qt::TextWordWrap,
        words("No panorama yet: an even sky stands in.\nDrop one here, or choose one at the Light station."));
  } else if (!image_.isNull()) {
    painter.save();
    painter.setClipRect(f);
    const double shift = std::remainder(shot.surroundings.turnDegrees, 360.0) / 360 * f.width();
    for (const int copy : {-1, 0, 1})
      painter.drawImage(f.translated(shift + copy * f.width(), 0), screen::shown(image_));
    painter.restore();
  }
  // The horizon, and the four ways.
  painter.setPen(QPen(look::faded(look::mark::tide, 150), 1, Qt::DashLine));
  painter.drawLine(QPointF(f.left(), f.center().y()), QPointF(f.right(), f.center().y()));
  painter.setFont(look::small());
  const char* ways[] = {words("against b"), words("against a"), words("along b"), words("along a"),
                        words("against b")};
  for (int i = 0; i < 5; ++i) {
    const double x = f.left() + f.width() * i / 4;
    painter.setPen(QPen(look::faded(look::mark::tide, 90), 1));
    painter.drawLine(QPointF(x, f.bottom()), QPointF(x, f.bottom() + 6));
    painter.setPen(look::mark::muted);
    const double place = i == 0 ? x : i == 4 ? x - 90 : x - 45;
    painter.drawText(QRectF(place, f.bottom() + 7, 90, 15),
                     i == 0   ? Qt::AlignLeft
                     : i == 4 ? Qt::AlignRight
                              : Qt::AlignHCenter,
                     ways[i]);
  }
  if (shot.vantage.solved) paintFrame(painter);
  if (const auto sun = sunOfItsOwn()) mark(painter, *sun, words("the panorama's sun"), false, true);
  for (const Lamp& lamp : shot.lamps)
    mark(painter, lampDirection(lamp), QString::fromStdString(lamp.name), lamp.id == session_.selectedLamp(),
         lamp.on);
  paintHint(
      painter, *this,
      shot.surroundings.panorama.empty() && shot.lamps.empty()
          ? ""
          : words("Drag turns the panorama (arrows: 1°); drag a lamp's mark to move it about the product"));
}

/// Where the picture's border looks.
void PanoramaView::paintFrame(QPainter& painter) {
  const Camera camera = workingCamera(session_.shot().vantage);
  QPolygonF line;
  const auto flush = [&] {
    for (const auto& [colour, wide] : {std::pair(QColor(20, 18, 26, 170), 4.0), {look::mark::tide, 1.8}}) {
      painter.setPen(QPen(colour, wide));
      painter.drawPolyline(line);
    }
    line.clear();
  };
  const Vec2d corners[] = {{0, 0},
                           {double(camera.width), 0},
                           {double(camera.width), double(camera.height)},
                           {0, double(camera.height)},
                           {0, 0}};
  for (int side = 0; side < 4; ++side)
    for (int i = 0; i <= 40; ++i) {
      const Vec2d at = corners[side] + (corners[side + 1] - corners[side]) * (i / 40.0);
      const QPointF p = pointOf(rayThrough(camera, at));
      // Over the seam it goes on at the other border.
      if (!line.isEmpty() && std::abs(p.x() - line.last().x()) > field().width() / 2) flush();
      line << p;
    }
  flush();
  paintLabel(painter, pointOf(rayThrough(camera, corners[0])) + QPointF(6, -7), words("the picture"));
}

void PanoramaView::mark(QPainter& painter, const Vec3d& direction, const QString& name, bool inHand,
                        bool on) {
  const QPointF p = pointOf(direction);
  const QColor colour = inHand ? look::mark::ember : on ? QColor("#ffd9a0") : look::mark::muted;
  painter.setBrush(Qt::NoBrush);
  for (const auto& [pen, wide] : {std::pair(QColor(20, 18, 26, 190), 4.5), {colour, 2.0}}) {
    painter.setPen(QPen(pen, wide));
    painter.drawEllipse(p, 8, 8);
    for (int i = 0; i < 8; ++i) {
      const double a = pi / 4 * i;
      painter.drawLine(p + QPointF(std::cos(a), std::sin(a)) * 11,
                       p + QPointF(std::cos(a), std::sin(a)) * 15);
    }
  }
  const double w = painter.fontMetrics().horizontalAdvance(name);
  paintLabel(painter, p + QPointF(p.x() + 20 + w < width() ? 19 : -19 - w, 4), name);
}

void PanoramaView::showEvent(QShowEvent*) { make(); }

void PanoramaView::mousePressEvent(QMouseEvent* e) {
  setFocus(Qt::MouseFocusReason);
  if (grab_) return;
  grab_ = Grab{e->position(), session_.shot().surroundings.turnDegrees, {}, false, beginDrag(true)};
  const auto near = [&](const Vec3d& d) {
    const QPointF off = pointOf(d) - e->position();
    return std::hypot(off.x(), off.y()) < 14;
  };
  for (const Lamp& lamp : session_.shot().lamps)
    if (near(lampDirection(lamp))) {
      grab_->lamp = lamp.id;
      return session_.selectLamp(lamp.id);
    }
  if (const auto sun = sunOfItsOwn(); sun && near(*sun)) grab_->sun = true;
}

void PanoramaView::mouseMoveEvent(QMouseEvent* e) {
  if (!grab_) return;
  const Vec3d d = directionAt(e->position());
  const double azimuth = degrees(std::atan2(d.x, d.y)),
               elevation = degrees(std::asin(std::clamp(d.z, -1.0, 1.0)));
  if (grab_->sun)
    return session_.editShot(
        words("move the sun"), [&](Shot& s) { s.surroundings.sunMovedDegrees = Vec2d(azimuth, elevation); },
        grab_->gesture);
  if (grab_->lamp.empty())
    return turnTo(grab_->turn + (e->position().x() - grab_->from.x()) / field().width() * 360,
                  grab_->gesture);
  session_.editShot(
      words("move a lamp"),
      [&](Shot& shot) {
        Lamp* lamp = byId(shot.lamps, grab_->lamp);
        if (!lamp) return;
        lamp->azimuthDegrees = azimuth, lamp->elevationDegrees = elevation;
        if (isDistant(*lamp)) return;
        const Vec3d at = middle() + d * (lamp->positionM - middle()).length();
        if (at.z > 0) lamp->positionM = at;
      },
      grab_->gesture);
}

void PanoramaView::mouseReleaseEvent(QMouseEvent*) { endDrag(false); }

void PanoramaView::turnTo(double to, int gesture) {
  if (session_.shot().surroundings.panorama.empty()) return;
  session_.editShot(
      words("turn the panorama"),
      [&](Shot& s) { s.surroundings.turnDegrees = std::round(wrapDegrees(to) * 10) / 10; }, gesture);
}

bool PanoramaView::viewKey(QKeyEvent* e) {
  if (e->key() != Qt::Key_Left && e->key() != Qt::Key_Right) return false;
  const double step = e->modifiers() & Qt::ShiftModifier ? 10 : 1;
  turnTo(session_.shot().surroundings.turnDegrees + (e->key() == Qt::Key_Right ? step : -step),
         keyRun_.gesture());
  return true;
}

}  // namespace dusk
