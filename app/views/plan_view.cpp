#include "app/views/plan_view.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/preview/images.h"
#include "app/preview/screen.h"
#include "app/views/camera_overlay.h"
#include "app/views/plan_things.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/colour/view.h"
#include "core/product/model.h"
#include "core/project/lamp_kinds.h"
#include "core/proof/prove.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// The photo's ground seen from straight above; transparent where the photo does not show it.
QImage flattened(const Camera& camera, const PackedPicture& codes, const QRectF& world, const QSize& size) {
  QImage image(size, QImage::Format_ARGB32);
  image.fill(Qt::transparent);
  for (int y = 0; y < size.height(); ++y)
    for (int x = 0; x < size.width(); ++x) {
      const Vec3d p(world.left() + world.width() * (x + 0.5) / size.width(),
                    world.top() + world.height() * (1 - (y + 0.5) / size.height()), 0);
      const Vec3d to = p - camera.position;
      if (camera.axes.z.dot(to) < 0.15 || to.length() > 9) continue;
      const auto pixel = projected(camera, p);
      if (!pixel || pixel->x < 0 || pixel->y < 0 || pixel->x >= codes.width || pixel->y >= codes.height)
        continue;
      const Rgb c = sampleBilinear(codes, float(pixel->x), float(pixel->y));
      const auto code = [](float v) { return int(std::clamp(v, 0.0f, 1.0f) * 255 + 0.5f); };
      // Far away a pixel covers much ground: let it fade.
      const double fade = std::clamp((9 - to.length()) / 4, 0.0, 1.0);
      image.setPixel(x, y, qRgba(code(c.x), code(c.y), code(c.z), int(235 * fade)));
    }
  return image;
}

}  // namespace

PlanView::PlanView(Session& session, QWidget* parent) : DragView(session, parent) {
  setObjectName("plan");
  setAccessibleName(words("Plan: the place from above"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  connect(&session_, &Session::changed, this, [this](const Changes& what) {
    if (what.plate || what.trace) layPhotoFlat();
    update();
  });
}

QPointF PlanView::toScreen(const Vec2d& w) const {
  return {width() / 2.0 + (w.x - centre_.x) * pixelsPerMetre_,
          height() / 2.0 - (w.y - centre_.y) * pixelsPerMetre_};
}

Vec2d PlanView::toWorld(const QPointF& s) const {
  return {centre_.x + (s.x() - width() / 2.0) / pixelsPerMetre_,
          centre_.y - (s.y() - height() / 2.0) / pixelsPerMetre_};
}

void PlanView::layPhotoFlat() {
  const Shot& shot = session_.shot();
  if (!isVisible()) return;
  if (!shot.vantage.solved || shot.plate.empty() || shot.backdrop.kind != BackdropKind::photo) {
    ground_ = {};
    return;
  }
  const Vec2d low = toWorld({0, double(height())}), high = toWorld({double(width()), 0});
  const QRectF world(low.x, low.y, high.x - low.x, high.y - low.y);
  const int request = ++request_;
  runAside([shot, world, size = this->size(), assets = session_.assets()] {
    const auto photo = assets->photo(shot.plate);
    return photo ? flattened(shot.vantage.camera, (*photo)->picture, world, size) : QImage();
  }).then(this, [this, world, request](const QImage& image) {
    if (request != request_) return;  // a newer one is on its way
    ground_ = image;
    groundAt_ = world;
    update();
  });
}

void PlanView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), QColor("#2f2f2f"));
  painter.setRenderHint(QPainter::Antialiasing);
  if (!ground_.isNull()) {
    const QPointF topLeft = toScreen({groundAt_.left(), groundAt_.bottom()}),
                  bottomRight = toScreen({groundAt_.right(), groundAt_.top()});
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(QRectF(topLeft, bottomRight), screen::shown(ground_));
  }
  // Grid with a spacing that stays readable.
  const double spacing = pixelsPerMetre_ > 400  ? 0.1
                         : pixelsPerMetre_ > 60 ? 0.5
                         : pixelsPerMetre_ > 14 ? 2
                                                : 10;
  const Vec2d low = toWorld({0, double(height())}), high = toWorld({double(width()), 0});
  for (double x = std::ceil(low.x / spacing) * spacing; x < high.x; x += spacing) {
    painter.setPen(QPen(look::faded(look::mark::tide, std::abs(x) < 1e-9 ? 170 : 50), 1));
    painter.drawLine(toScreen({x, low.y}), toScreen({x, high.y}));
  }
  for (double y = std::ceil(low.y / spacing) * spacing; y < high.y; y += spacing) {
    painter.setPen(QPen(look::faded(look::mark::tide, std::abs(y) < 1e-9 ? 170 : 50), 1));
    painter.drawLine(toScreen({low.x, y}), toScreen({high.x, y}));
  }
  paintCamera(painter);
  paintLights(painter);
  paintThings(painter);
  // Scale bar.
  const double metres = spacing * (spacing < 1 ? 2 : 1), length = metres * pixelsPerMetre_;
  const QPointF at(18, height() - 14);
  painter.setPen(QPen(look::mark::text, 2));
  painter.drawLine(at, at + QPointF(length, 0));
  painter.setFont(look::small());
  painter.drawText(at + QPointF(0, -6), QString("%L1 m").arg(metres));
  const Shot& shot = session_.shot();
  if (shot.vantage.solved && !(shot.lamps.empty() && shot.placements.empty() && shot.standIns.empty()))
    paintHint(
        painter, *this,
        words(
            "Drag products, pieces, stand-ins and lamps; Shift lifts and lowers a lamp; drag beside them to "
            "move the plan"));
  if (!session_.shot().vantage.solved) {
    painter.setPen(look::mark::muted);
    painter.drawText(rect(), Qt::AlignCenter, words("The plan fills once the vantage is solved."));
  }
}

void PlanView::paintCamera(QPainter& painter) {
  const Shot& shot = session_.shot();
  if (!shot.vantage.solved) return;
  const Camera& camera = shot.vantage.camera;
  const QPointF eye = toScreen({camera.position.x, camera.position.y});
  QPolygonF cone;
  cone << eye;
  for (const double u : {0.0, 1.0}) {
    const Vec3d d = rayThrough(camera, {u * camera.width, camera.height / 2.0});
    const Vec2d level = Vec2d(d.x, d.y).normalized() * 6.0;
    cone << toScreen({camera.position.x + level.x, camera.position.y + level.y});
  }
  painter.setPen(QPen(look::mark::tide, 1.6));
  painter.setBrush(look::faded(look::mark::tide, 22));
  painter.drawPolygon(cone);
  painter.setBrush(look::mark::tide);
  painter.drawEllipse(eye, 6, 6);
  painter.setPen(look::mark::text);
  painter.setFont(look::small());
  painter.drawText(eye + QPointF(10, 4), QString(words("camera, %1 m up")).arg(camera.position.z, 0, 'f', 2));
}

void PlanView::paintThings(QPainter& painter) {
  using Kind = PlanThing::Kind;
  painter.setFont(look::small());
  const std::vector<PlanThing> things = planThings(session_);
  for (const PlanThing& thing : things) {
    QPolygonF outline;
    for (const QPointF& p : thing.outline) outline << toScreen({p.x(), p.y()});
    const QColor colour = thing.kind == Kind::product ? look::mark::ember
                          : thing.kind == Kind::piece ? look::mark::moss
                                                      : look::mark::tide;
    QPen pen(thing.on ? colour : look::mark::muted, thing.selected ? 2.4 : 1.3);
    if (thing.kind == Kind::standIn) pen.setStyle(Qt::DashLine);
    painter.setPen(pen);
    painter.setBrush(look::faded(colour, thing.selected ? 90 : thing.kind == Kind::product ? 60 : 20));
    painter.drawPolygon(outline);
    if (!thing.front) continue;
    const Vec2d out = (*thing.front - thing.at).normalized() * (12 / pixelsPerMetre_);
    painter.drawLine(toScreen(*thing.front), toScreen(*thing.front + out));
  }
  // Of furniture only that in hand is named: a set has dozens of pieces.
  painter.setPen(look::mark::text);
  for (const PlanThing& thing : things) {
    if (thing.kind != Kind::product && !thing.selected) continue;
    const QRectF box = thing.outline.boundingRect();
    painter.drawText(toScreen({box.right(), box.center().y()}) + QPointF(8, 4),
                     QString::fromStdString(thing.name));
  }
}

void PlanView::paintLights(QPainter& painter) {
  const Shot& shot = session_.shot();
  const Vec2d spot =
      shot.placements.empty() ? Vec2d(0, 0) : Vec2d(shot.placements[0].xM, shot.placements[0].yM);
  painter.setFont(look::small());
  // The panorama is only asked for when it is there already: painting never waits.
  const bool ready =
      shot.surroundings.panorama.empty() || session_.assets()->loadedPanorama(shot.surroundings.panorama);
  if (const auto light = ready ? mainLight(shot, *session_.assets()) : std::nullopt) {
    const Vec2d level = Vec2d(light->x, light->y).normalized();
    const QPointF from = toScreen(spot + level * 1.25), to = toScreen(spot + level * 0.32);
    painter.setPen(QPen(QColor("#ffd9a0"), 2.2));
    painter.drawLine(from, to);
    const QPointF along = (to - from) / std::hypot((to - from).x(), (to - from).y()),
                  side(-along.y(), along.x());
    painter.drawPolyline(QPolygonF{to - along * 9 + side * 5, to, to - along * 9 - side * 5});
    painter.setBrush(QColor("#ffd9a0"));
    painter.drawEllipse(from, 8, 8);
    painter.setPen(look::mark::text);
    painter.drawText(from + QPointF(12, -8),
                     QString(words("main light, %1° up")).arg(degrees(std::asin(light->z)), 0, 'f', 0));
  }
  for (const Lamp& lamp : shot.lamps) {
    if (isDistant(lamp)) continue;
    const QPointF at = toScreen({lamp.positionM.x, lamp.positionM.y});
    painter.setPen(QPen(lamp.on ? QColor("#ffd9a0") : look::mark::muted, 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(at - QPointF(9, 5), QSizeF(18, 10)));
    painter.setPen(QPen(lamp.on ? QColor("#ffd9a0") : look::mark::muted, 1, Qt::DotLine));
    painter.drawLine(at, toScreen({lamp.targetM.x, lamp.targetM.y}));
    painter.setPen(look::mark::text);
    painter.drawText(at + QPointF(13, 4), QString(words("%1, %2 m up"))
                                              .arg(QString::fromStdString(lamp.name))
                                              .arg(lamp.positionM.z, 0, 'f', 2));
  }
}

void PlanView::resizeEvent(QResizeEvent*) { layPhotoFlat(); }
void PlanView::showEvent(QShowEvent*) { layPhotoFlat(); }

void PlanView::mousePressEvent(QMouseEvent* e) {
  setFocus(Qt::MouseFocusReason);
  if (grab_) return;
  const Vec2d at = toWorld(e->position());
  Grab grab;
  grab.from = at, grab.at = e->position(), grab.raises = e->modifiers() & Qt::ShiftModifier;
  const double reach = 14 / pixelsPerMetre_;
  if (e->button() == Qt::LeftButton) {
    for (const Lamp& lamp : session_.shot().lamps)
      if (!isDistant(lamp) && (Vec2d(lamp.positionM.x, lamp.positionM.y) - at).length() < reach) {
        grab.height = lamp.positionM.z;
        grab.lamp = lamp.id, grab.from = at - Vec2d(lamp.positionM.x, lamp.positionM.y);
      }
    const std::vector<PlanThing> things = planThings(session_);
    if (const PlanThing* thing =
            grab.lamp.empty()
                ? thingAt(things, at, reach, 0.3 * width() * height() / (pixelsPerMetre_ * pixelsPerMetre_))
                : nullptr) {
      (thing->kind == PlanThing::Kind::standIn ? grab.standIn : grab.placement) = thing->id;
      grab.from = at - thing->at;
    }
  }
  grab.pan = grab.lamp.empty() && grab.placement.empty() && grab.standIn.empty();
  grab.gesture = beginDrag(!grab.pan);
  grab_ = grab;
  if (!grab.lamp.empty()) session_.selectLamp(grab.lamp);
  if (!grab.placement.empty()) session_.selectPlacement(grab.placement);
  if (!grab.standIn.empty()) session_.selectStandIn(grab.standIn);
}

void PlanView::mouseMoveEvent(QMouseEvent* e) {
  if (!grab_) return;
  const Vec2d to = toWorld(e->position()) - grab_->from;
  if (grab_->pan) {
    centre_ -= to;
  } else if (!grab_->placement.empty()) {
    session_.editShot(
        words("slide the product"),
        [&](Shot& shot) {
          if (Placement* p = byId(shot.placements, grab_->placement)) p->xM = to.x, p->yM = to.y;
        },
        grab_->gesture);
  } else if (!grab_->standIn.empty()) {
    session_.editShot(
        words("slide a stand-in"),
        [&](Shot& shot) {
          if (StandIn* s = byId(shot.standIns, grab_->standIn)) s->positionM.x = to.x, s->positionM.y = to.y;
        },
        grab_->gesture);
  } else {
    session_.editShot(
        words("move a lamp"),
        [&](Shot& shot) {
          Lamp* lamp = byId(shot.lamps, grab_->lamp);
          if (lamp && grab_->raises)
            lamp->positionM.z =
                std::max(0.0, grab_->height + (grab_->at.y() - e->position().y()) / pixelsPerMetre_);
          else if (lamp)
            lamp->positionM.x = to.x, lamp->positionM.y = to.y;
        },
        grab_->gesture);
  }
  update();
}

void PlanView::mouseReleaseEvent(QMouseEvent*) { endDrag(false); }

void PlanView::dragEnded(bool) {
  if (grab_->pan) layPhotoFlat();
  grab_.reset();
}

void PlanView::wheelEvent(QWheelEvent* e) { zoomAbout(std::pow(1.0015, e->angleDelta().y()), e->position()); }

void PlanView::zoomBy(double factor) { zoomAbout(factor, QRectF(rect()).center()); }

void PlanView::zoomAbout(double factor, const QPointF& about) {
  const Vec2d fixed = toWorld(about);
  pixelsPerMetre_ = std::clamp(pixelsPerMetre_ * factor, 4.0, 4000.0);
  centre_ += fixed - toWorld(about);
  layPhotoFlat();
  update();
}

/// Products, lamps and camera all in sight.
void PlanView::showAll() {
  const Shot& shot = session_.shot();
  Vec2d low(1e30, 1e30), high(-1e30, -1e30);
  const auto add = [&](double x, double y) {
    low = {std::min(low.x, x), std::min(low.y, y)}, high = {std::max(high.x, x), std::max(high.y, y)};
  };
  for (const PlanThing& thing : planThings(session_))
    for (const QPointF& p : thing.outline) add(p.x(), p.y());
  for (const Lamp& l : shot.lamps)
    if (!isDistant(l)) add(l.positionM.x, l.positionM.y);
  if (shot.vantage.solved) add(shot.vantage.camera.position.x, shot.vantage.camera.position.y);
  if (low.x > high.x) low = {-1, -1}, high = {1, 1};
  centre_ = (low + high) * 0.5;
  const Vec2d size = high - low + Vec2d(0.6, 0.6);
  pixelsPerMetre_ = std::clamp(0.85 * std::min(width() / size.x, height() / size.y), 4.0, 4000.0);
  layPhotoFlat();
  update();
}

}  // namespace dusk
