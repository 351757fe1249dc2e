#include "app/stations/surface/cross.h"

#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/project/feed_kinds.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Where a spot lies on the pattern; the plane that shows most where there are several.
Vec2d onPattern(const Mapping& mapping, const PartFacts& part, const Site& site) {
  if (mapping.kind == MappingKind::solid) {
    const PatternPoint at = inSpace(mapping, part, site);
    return {double(at.mm.x), double(at.mm.y)};
  }
  const OnPlanes planes = onPlanes(mapping, part, site);
  const OnPlane* best = &planes.list[0];
  for (int i = 1; i < planes.count; ++i)
    if (planes.list[size_t(i)].weight > best->weight) best = &planes.list[size_t(i)];
  return {double(best->mm.x), double(best->mm.y)};
}

}  // namespace

std::optional<Cross> Cross::of(PictureView& view, const Product& product, const Feed& feed,
                               const PictureView::Spot& spot) {
  const FeedFamily family = infoOf(feed.kind).family;
  if (family == FeedFamily::plain || family == FeedFamily::shape ||
      feed.mapping.kind == MappingKind::coordinates)
    return {};
  const auto model = view.session().assets()->loadedModel(product);
  auto world = view.worldFromModel(spot.pick.part, spot.pick.placement);
  if (!model || !world) return {};
  const auto part = std::find_if(model->parts.begin(), model->parts.end(),
                                 [&](const Part& p) { return p.path == spot.pick.part; });
  if (part == model->parts.end()) return {};
  const double unitMm = product.metresPerUnit * 1000;
  PartShape shape{model->boxOf(*part), 0};
  const PartFacts facts = factsOf(*part, shape, product, shape.box, 0);
  Cross cross(view, feed);
  world->scale /= unitMm;
  cross.worldFromMm_ = *world, cross.middle_ = spot.at * unitMm, cross.normal_ = spot.normal;
  // How the pattern moves with a millimetre along the surface, and so the other way round.
  Mapping unshifted = feed.mapping;
  const Triadf around = triadAround(toFloat(spot.normal));
  Site site;
  site.mm = toFloat(cross.middle_), site.normal = toFloat(spot.normal);
  const Vec2d here = onPattern(unshifted, facts, site);
  const auto change = [&](const Vec3f& by) {
    return (onPattern(unshifted, facts, site.moved(by * 0.05f, Vec2f(0))) - here) / 0.05;
  };
  const Vec2d a = change(around.x), b = change(around.y);
  const double whole = a.x * b.y - a.y * b.x;
  const Vec3d x = toDouble(around.x), y = toDouble(around.y);
  if (std::abs(whole) < 0.1) {  // a pattern through the body, cut along its own axis
    cross.right_ = x, cross.up_ = y;
  } else {
    cross.right_ = (x * b.y - y * a.y) / whole, cross.up_ = (y * a.x - x * b.x) / whole;
  }
  return cross;
}

double Cross::size() const {
  if (feed_.kind != FeedKind::picture) return feed_.sizeMm;
  return feed_.mapping.sizeMm.x > 0 ? feed_.mapping.sizeMm.x : 100;
}

std::optional<Vec2d> Cross::seen(const Vec2d& on) const {
  return projected(workingCamera(view_.session().shot().vantage),
                   worldFromMm_.point(middle_ + right_ * on.x + up_ * on.y));
}

std::optional<Vec2d> Cross::under(const Vec2d& plate) const {
  const Camera camera = workingCamera(view_.session().shot().vantage);
  const Similarity mmFromWorld = worldFromMm_.inverse();
  const Vec3d eye = mmFromWorld.point(camera.position),
              way = mmFromWorld.direction(rayThrough(camera, plate));
  const double down = way.dot(normal_);
  if (std::abs(down) < 1e-6) return {};
  const Vec3d to = eye + way * ((middle_ - eye).dot(normal_) / down) - middle_;
  const double rr = right_.dot(right_), uu = up_.dot(up_), ru = right_.dot(up_), whole = rr * uu - ru * ru;
  const double r = to.dot(right_), u = to.dot(up_);
  return whole > 1e-12 ? std::optional(Vec2d((r * uu - u * ru) / whole, (u * rr - r * ru) / whole))
                       : std::nullopt;
}

void Cross::paint(QPainter& p) const {
  const QTransform t = view_.toScreen();
  const auto at = [&](const Vec2d& on) {
    const auto pixel = seen(on);
    return pixel ? std::optional(t.map(toPoint(*pixel))) : std::nullopt;
  };
  const double arm = armLength();
  for (const bool dark : {true, false}) {
    p.setPen(QPen(dark ? QColor(20, 18, 26, 170) : look::mark::ember, dark ? 3.5 : 1.5));
    for (const Vec2d& way : {Vec2d(1, 0), Vec2d(0, 1)}) {
      const auto from = at(way * -arm), to = at(way * arm);
      if (from && to) p.drawLine(*from, *to);
      const Vec2d across(-way.y * size() * 0.12, way.x * size() * 0.12);
      for (int i = -2; i <= 2; ++i) {
        const auto a = at(way * (size() * i) - across), b = at(way * (size() * i) + across);
        if (i != 0 && a && b) p.drawLine(*a, *b);
      }
    }
  }
  p.setPen(QPen(QColor(20, 18, 26), 1.2));
  p.setBrush(look::mark::ember);
  if (const auto c = at({0, 0})) p.drawRect(QRectF(*c - QPointF(4.5, 4.5), QSizeF(9, 9)));
  if (const auto c = at({arm, 0})) p.drawEllipse(*c, 5.5, 5.5);
  p.setBrush(look::mark::tide);
  if (const auto c = at({size(), 0})) {
    p.drawEllipse(*c, 4.5, 4.5);
    paintLabel(p, *c + QPointF(8, 18), QString("%L1 mm").arg(size(), 0, 'g', 3));
  }
  p.setBrush(Qt::NoBrush);
}

Cross::Grip Cross::gripAt(const Vec2d& plate) const {
  const auto near = [&](const Vec2d& on) {
    const auto at = seen(on);
    return at && (*at - plate).length() * view_.scale() < 10;
  };
  return near({0, 0})             ? Grip::middle
         : near({armLength(), 0}) ? Grip::arm
         : near({size(), 0})      ? Grip::tick
                                  : Grip::none;
}

Feed Cross::dragged(const Feed& from, Grip grip, const Vec2d& grabbed, const Vec2d& plate) const {
  Feed feed = from;
  const auto now = under(plate), then = under(grabbed);
  if (!now || !then) return feed;
  const auto rounded = [](double v) { return std::round(v * 100) / 100; };
  if (grip == Grip::middle) {
    // The arms are turned with the pattern; shifts are from before that.
    const double a = radians(from.mapping.turnDegrees);
    const Vec2d by = *now - *then;
    feed.mapping.shiftMm = {rounded(from.mapping.shiftMm.x + by.x * std::cos(a) - by.y * std::sin(a)),
                            rounded(from.mapping.shiftMm.y + by.x * std::sin(a) + by.y * std::cos(a))};
  } else if (grip == Grip::arm) {
    feed.mapping.turnDegrees =
        rounded(wrapDegrees(from.mapping.turnDegrees + degrees(std::atan2(now->y, now->x))));
  } else if (grip == Grip::tick) {
    const double to = std::max(0.05, rounded(now->length()));
    if (from.kind == FeedKind::picture) {
      if (from.mapping.sizeMm.y > 0) feed.mapping.sizeMm.y = from.mapping.sizeMm.y * to / size();
      feed.mapping.sizeMm.x = to;
    } else {
      feed.sizeMm = to;
    }
  }
  return feed;
}

}  // namespace dusk
