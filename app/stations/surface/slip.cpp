#include "app/stations/surface/slip.h"

#include "app/stations/surface/print_jobs.h"
#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {

std::optional<Slip> Slip::of(PictureView& view, const Product& product, const std::string& placement,
                             const Decal& decal) {
  const std::string part = decal.parts.empty() ? view.session().selectedPart() : *decal.parts.begin();
  auto world = view.worldFromModel(part, placement);
  if (!world || decal.lay == DecalLay::coordinates) return {};
  const double unitMm = product.metresPerUnit * 1000;
  world->scale /= unitMm;  // from millimetres
  return Slip(view, decal, frameOf(decal, unitMm, proportionOf(view.session(), decal)), *world, unitMm);
}

std::optional<Vec2d> Slip::seen(const Vec2f& on, bool evenBehind) const {
  Vec3f outward;
  const Vec3d at = worldFromMm_.point(toDouble(pointOf(decal_, frame_, on, &outward)));
  const Camera camera = workingCamera(view_.session().shot().vantage);
  if (!evenBehind && worldFromMm_.direction(toDouble(outward)).dot(camera.position - at) < 0) return {};
  return projected(camera, at);
}

QPolygonF Slip::outline() const {
  constexpr int steps = 24;
  QPolygonF line;
  const Vec2f half = frame_.size / 2, corners[] = {{-half.x, -half.y},
                                                   {half.x, -half.y},
                                                   {half.x, half.y},
                                                   {-half.x, half.y},
                                                   {-half.x, -half.y}};
  const QTransform t = view_.toScreen();
  for (int side = 0; side < 4; ++side)
    for (int i = 0; i < steps; ++i)
      if (const auto at = seen(corners[side] + (corners[side + 1] - corners[side]) * (float(i) / steps)))
        line << t.map(toPoint(*at));
  return line;
}

void Slip::paint(QPainter& p) const {
  const QPolygonF line = outline();
  if (line.size() < 3) return;
  p.setPen(QPen(QColor(20, 18, 26, 170), 3.2));
  p.drawPolygon(line);
  p.setPen(QPen(look::mark::ember, 1.5));
  p.drawPolygon(line);
  const QTransform t = view_.toScreen();
  const auto knob = [&](const Vec2f& on, bool round) {
    const auto at = seen(on);
    if (!at) return;
    const QPointF c = t.map(toPoint(*at));
    p.setPen(QPen(QColor(20, 18, 26), 1.2));
    p.setBrush(look::mark::ember);
    if (round)
      p.drawEllipse(c, 5.5, 5.5);
    else
      p.drawRect(QRectF(c - QPointF(4, 4), QSizeF(8, 8)));
    p.setBrush(Qt::NoBrush);
  };
  const Vec2f half = frame_.size / 2;
  for (const Vec2f& corner :
       {Vec2f(-half.x, -half.y), Vec2f(half.x, -half.y), Vec2f(half.x, half.y), Vec2f(-half.x, half.y)})
    knob(corner, false);
  knob(bow(), true);
  if (decal_.lay == DecalLay::wrapped)
    for (const float x : {-half.x, half.x})
      if (const auto at = seen({x, 0})) {
        p.setPen(QPen(look::mark::ember, 3));
        const QPointF c = t.map(toPoint(*at));
        p.drawLine(c - QPointF(0, 8), c + QPointF(0, 8));
      }
  if (const auto at = seen({half.x, -half.y}, true))
    paintLabel(
        p, t.map(toPoint(*at)) + QPointF(10, 16),
        QString("%L1 × %L2 mm").arg(double(frame_.size.x), 0, 'f', 1).arg(double(frame_.size.y), 0, 'f', 1));
}

Slip::Grip Slip::gripAt(const Vec2d& plate) const {
  const auto away = [&](const Vec2f& on) {
    const auto at = seen(on);
    return at ? (*at - plate).length() * view_.scale() : 1e9;
  };
  // Where a print is small on the screen its grips lie close together: its middle can still be taken.
  const double fromMiddle = away(Vec2f(0));
  const auto near = [&](const Vec2f& on, double reach) { return away(on) < std::min(reach, fromMiddle); };
  const Vec2f half = frame_.size / 2;
  if (near(bow(), 11)) return Grip::bow;
  for (const Vec2f& corner :
       {Vec2f(-half.x, -half.y), Vec2f(half.x, -half.y), Vec2f(half.x, half.y), Vec2f(-half.x, half.y)})
    if (near(corner, 10)) return Grip::corner;
  if (decal_.lay == DecalLay::wrapped) {
    if (near({-half.x, 0}, 10)) return Grip::start;
    if (near({half.x, 0}, 10)) return Grip::end;
  }
  return outline().containsPoint(view_.toScreen().map(toPoint(plate)), Qt::OddEvenFill) ? Grip::body
                                                                                        : Grip::none;
}

/// Where the pointer is on the sheet: by what it meets of the product, or of the sheet's own plane.
std::optional<Vec2f> Slip::onSheet(const Vec2d& plate) const {
  Decal endless = decal_;
  endless.reachMm = 1e5, endless.steepDegrees = 180;
  DecalFrame wide = frame_;
  wide.size = Vec2f(1e6f);
  if (const auto spot = view_.spotAt(plate))
    return onDecal(endless, wide, toFloat(spot->at * unitMm_), toFloat(spot->normal));
  if (decal_.lay == DecalLay::wrapped) return {};
  const Similarity mmFromWorld = worldFromMm_.inverse();
  const Camera camera = workingCamera(view_.session().shot().vantage);
  const Vec3d eye = mmFromWorld.point(camera.position),
              way = mmFromWorld.direction(rayThrough(camera, plate));
  const double down = way.dot(toDouble(frame_.normal));
  if (std::abs(down) < 1e-6) return {};
  const Vec3d to =
      eye + way * ((toDouble(frame_.at) - eye).dot(toDouble(frame_.normal)) / down) - toDouble(frame_.at);
  return Vec2f(float(to.dot(toDouble(frame_.right))), float(to.dot(toDouble(frame_.up))));
}

Decal Slip::dragged(const Decal& from, Grip grip, const Vec2d& grabbed, const Vec2d& plate,
                    const Model& model) const {
  Decal d = from;
  const auto now = onSheet(plate), then = onSheet(grabbed);
  if (!now || (grip == Grip::body && !then)) return d;
  const auto rounded = [](double v) { return std::round(v * 100) / 100; };
  switch (grip) {
    case Grip::body:
      if (d.lay == DecalLay::flat) {
        if (const auto spot = view_.spotAt(plate)) layDecal(d, *spot, model, unitMm_);
      } else {
        d.at = toDouble(pointOf(from, frame_, *now - *then)) / unitMm_;
      }
      break;
    case Grip::corner: {
      const double by = std::max(std::abs(double(now->x)) / double(frame_.size.x),
                                 std::abs(double(now->y)) / double(frame_.size.y)) *
                        2;
      d.widthMm = std::max(0.5, rounded(from.widthMm * by));
      if (from.heightMm > 0) d.heightMm = std::max(0.5, rounded(from.heightMm * by));
      break;
    }
    case Grip::bow:
      d.turnDegrees =
          rounded(wrapDegrees(from.turnDegrees + degrees(std::atan2(double(-now->x), double(now->y)))));
      break;
    case Grip::start:
    case Grip::end: {
      // The other end stays where it is, and so does the height.
      const float fixed = (grip == Grip::start ? 1 : -1) * frame_.size.x / 2, moved = now->x;
      const float width = std::max(0.5f, grip == Grip::start ? fixed - moved : moved - fixed);
      d.widthMm = rounded(double(width)), d.heightMm = rounded(double(frame_.size.y));
      d.at =
          toDouble(pointOf(from, frame_, {fixed + (grip == Grip::start ? -width : width) / 2, 0})) / unitMm_;
      break;
    }
    case Grip::none:
      break;
  }
  return d;
}

}  // namespace dusk
