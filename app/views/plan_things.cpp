#include "app/views/plan_things.h"

#include "core/product/model.h"

namespace dusk {
namespace {

PlanThing placed(const Session& session, const Product& product, const Placement& p) {
  PlanThing thing;
  thing.kind = product.piece.kind.empty() ? PlanThing::Kind::product : PlanThing::Kind::piece;
  thing.id = p.id, thing.name = product.name, thing.at = {p.xM, p.yM};
  const double c = std::cos(radians(p.turnDegrees)), s = std::sin(radians(p.turnDegrees));
  const auto turned = [&](double x, double y) { return Vec2d(p.xM + c * x - s * y, p.yM + s * x + c * y); };
  std::vector<Vec2d> points;
  Vec3d size(0.3, 0.3, 0.3);
  if (const auto model = session.assets()->loadedModel(product)) {
    size = trueSize(product, model->box());
    const Similarity world = worldFromModel(product, p, *model, planeHeightM(session.shot(), p));
    for (const Vec3f& corner : model->rest.hull) {
      const Vec3d at = world.point(toDouble(corner));
      points.emplace_back(at.x, at.y);
    }
  }
  if (points.size() < 3)
    for (const auto& [x, y] : {std::pair(-1, -1), {1, -1}, {1, 1}, {-1, 1}})
      points.push_back(turned(x * size.x / 2, y * size.y / 2));
  thing.outline = hullOf(std::move(points));
  if (thing.kind == PlanThing::Kind::product) thing.front = turned(0, -size.y / 2);
  return thing;
}

PlanThing standing(const StandIn& s) {
  PlanThing thing;
  thing.kind = PlanThing::Kind::standIn;
  thing.id = s.id, thing.name = s.name, thing.on = s.on, thing.at = {s.positionM.x, s.positionM.y};
  const double turn = radians(s.turnDegrees), c = std::cos(turn), n = std::sin(turn);
  const bool round = s.kind == StandInKind::cylinder || s.kind == StandInKind::ball;
  const double lean = s.kind == StandInKind::sheet ? std::cos(radians(s.leanDegrees)) : 1,
               halfX = s.sizeM.x / 2, halfY = round ? halfX : std::abs(s.sizeM.y / 2 * lean);
  std::vector<Vec2d> points;
  constexpr int corners = 32;
  for (int i = 0; i < (round ? corners : 4); ++i) {
    const double a = 2 * pi * i / corners;
    const double x = round ? halfX * std::cos(a) : (i == 0 || i == 3 ? -halfX : halfX),
                 y = round ? halfY * std::sin(a) : (i < 2 ? -halfY : halfY);
    points.push_back(thing.at + Vec2d(c * x - n * y, n * x + c * y));
  }
  thing.outline = hullOf(std::move(points));
  return thing;
}

}  // namespace

double PlanThing::areaM2() const {
  double sum = 0;
  for (qsizetype i = 0; i < outline.size(); ++i) {
    const QPointF a = outline[i], b = outline[(i + 1) % outline.size()];
    sum += a.x() * b.y() - b.x() * a.y();
  }
  return std::abs(sum) / 2;
}

QPolygonF hullOf(std::vector<Vec2d> points) {
  std::sort(points.begin(), points.end(),
            [](const Vec2d& a, const Vec2d& b) { return a.x != b.x ? a.x < b.x : a.y < b.y; });
  const auto turns = [](const Vec2d& a, const Vec2d& b, const Vec2d& c) {
    return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
  };
  QPolygonF hull;
  const auto half = [&](auto begin, auto end) {
    std::vector<Vec2d> side;
    for (auto p = begin; p != end; ++p) {
      while (side.size() > 1 && turns(side[side.size() - 2], side.back(), *p) <= 0) side.pop_back();
      side.push_back(*p);
    }
    for (size_t i = 0; i + 1 < side.size(); ++i) hull << QPointF(side[i].x, side[i].y);
  };
  half(points.begin(), points.end()), half(points.rbegin(), points.rend());
  return hull;
}

std::vector<PlanThing> planThings(const Session& session) {
  std::vector<PlanThing> all;
  const Shot& shot = session.shot();
  if (shot.backdrop.kind == BackdropKind::photo || shot.backdrop.kind == BackdropKind::panorama)
    for (const StandIn& s : shot.standIns) {
      all.push_back(standing(s));
      all.back().selected = s.id == session.selectedStandIn();
    }
  const Placement* inHand = session.placement();
  for (const Placement& p : shot.placements)
    if (const Product* product = byId(session.project().products, p.productId)) {
      all.push_back(placed(session, *product, p));
      all.back().selected = inHand && inHand->id == p.id;
    }
  std::stable_sort(all.begin(), all.end(),
                   [](const PlanThing& a, const PlanThing& b) { return a.areaM2() > b.areaM2(); });
  return all;
}

const PlanThing* thingAt(const std::vector<PlanThing>& things, const Vec2d& at, double reach, double mostM2) {
  const auto last = [&](const auto& is) -> const PlanThing* {
    for (auto t = things.rbegin(); t != things.rend(); ++t)
      if (is(*t) && (t->selected || t->areaM2() <= mostM2)) return &*t;
    return nullptr;
  };
  if (const auto* t = last([&](const PlanThing& thing) {
        return thing.outline.containsPoint(QPointF(at.x, at.y), Qt::OddEvenFill);
      }))
    return t;
  return last([&](const PlanThing& thing) { return (thing.at - at).length() < reach; });
}

}  // namespace dusk
