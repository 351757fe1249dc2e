#include "app/stations/blend/mask_hands.h"

#include <QtWidgets>

#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/base/segment.h"
#include "core/base/words.h"
#include "core/project/by_id.h"

namespace dusk {

std::vector<Vec2d> fewerPoints(const std::vector<Vec2d>& line, double off) {
  if (line.size() < 3) return line;
  double most = -1;
  size_t at = 0;
  for (size_t i = 1; i + 1 < line.size(); ++i)
    if (const double d = distanceToSegment(line[i], line.front(), line.back()); d > most) most = d, at = i;
  if (most <= off) return {line.front(), line.back()};
  std::vector<Vec2d> first = fewerPoints({line.begin(), line.begin() + long(at) + 1}, off);
  const std::vector<Vec2d> rest = fewerPoints({line.begin() + long(at), line.end()}, off);
  first.insert(first.end(), rest.begin() + 1, rest.end());
  return first;
}

Mask* MaskHands::maskIn(Shot& shot) const {
  const BlendPlace& place = session_.blendInHand();
  if (place.row.starts_with(layerRow) ? !layerOf(shot.blend, place.row) : !shot.blend.rows.count(place.row))
    return nullptr;
  BlendRow& row = *rowNamed(shot.blend, place.row);
  if (place.correction >= int(row.corrections.size())) return nullptr;
  std::vector<Mask>& masks = masksAt(row, place.correction);
  return place.mask >= 0 && size_t(place.mask) < masks.size() ? &masks[size_t(place.mask)] : nullptr;
}

const Mask* MaskHands::mask() const { return maskIn(const_cast<Shot&>(session_.shot())); }

MaskWorld MaskHands::world() const { return plateWorld(session_.shot()); }

bool MaskHands::draws() const {
  using N = NextDrag;
  const N next = session_.nextDrag();
  return (next == N::mask && mask()) || next == N::cutOut || next == N::cutOutKeep || next == N::cutOutLeave;
}

int MaskHands::pointAt(const Vec2d& at) const {
  const Mask* m = mask();
  if (!m) return -1;
  const MaskWorld w = world();
  int found = -1;
  double best = 9 / view_.scale();
  for (size_t i = 0; i < m->points.size(); ++i)
    if (const auto p = maskPointInPicture(m->points[i].at, m->hold, w))
      if (const double d = (*p - at).length(); d < best) best = d, found = int(i);
  return found;
}

int MaskHands::pieceAt(const Vec2d& at) const {
  const Mask* m = mask();
  if (!m || (m->kind != MaskKind::outline && m->kind != MaskKind::brush)) return -1;
  const auto line = maskLine(*m, world());
  if (!line || line->at.size() < 2) return -1;
  const bool closed = m->kind == MaskKind::outline;
  const size_t n = line->at.size(), pieces = closed ? n : n - 1,
               spans = closed ? m->points.size() : m->points.size() - 1;
  int found = -1;
  double best = 6 / view_.scale();
  for (size_t i = 0; i < pieces; ++i)
    if (const double d = distanceToSegment(at, Vec2d(line->at[i]), Vec2d(line->at[(i + 1) % n])); d < best)
      best = d, found = int(i * spans / pieces);
  return found;
}

bool MaskHands::press(const Vec2d& at, Qt::KeyboardModifiers modifiers) {
  if (draws()) return line_ = {at}, true;
  point_ = lastPoint_ = pointAt(at), feathers_ = modifiers & Qt::ShiftModifier;
  piece_ = point_ < 0 ? pieceAt(at) : -1;
  return point_ >= 0 || piece_ >= 0;
}

void MaskHands::movePoint(Mask& mask, const Vec2d& at) const {
  MaskPoint& p = mask.points[size_t(point_)];
  if (feathers_) {
    if (const auto here = maskPointInPicture(p.at, mask.hold, world()))
      p.feather = std::round(2 * (at - *here).length());
  } else if (const auto held = maskPointHeld(at, mask.hold, world())) {
    p.at = *held;
  }
}

void MaskHands::drag(const Vec2d& at, int gesture) {
  if (!line_.empty()) {
    if ((at - line_.back()).length() > 1.5 / view_.scale()) line_.push_back(at);
    return;
  }
  if (point_ < 0 && piece_ < 0) return;
  session_.editShot(
      feathers_ ? words("feather of a mask") : words("move a mask's point"),
      [&](Shot& shot) {
        Mask* m = maskIn(shot);
        if (!m) return;
        if (piece_ >= 0 && size_t(piece_) < m->points.size()) {
          point_ = lastPoint_ = std::exchange(piece_, -1) + 1, feathers_ = false;
          m->points.insert(m->points.begin() + point_, m->points[size_t(point_) - 1]);
        }
        if (size_t(point_) < m->points.size()) movePoint(*m, at);
      },
      gesture);
}

void MaskHands::release(int gesture) {
  point_ = piece_ = -1;
  if (line_.empty()) return;
  const bool drawn = line_.size() > 3;
  if (drawn && session_.nextDrag() == NextDrag::mask) finishMask(gesture);
  if (drawn && session_.nextDrag() != NextDrag::mask) finishCutOut(gesture);
  line_.clear();
  if (drawn)
    session_.setNextDrag(NextDrag::own);
  else
    session_.refuse(words("Keep the button down and draw the line in one go."));
}

void MaskHands::finishMask(int gesture) {
  const MaskWorld w = world();
  bool off = false;
  session_.editShot(
      words("draw a mask"),
      [&](Shot& shot) {
        Mask* m = maskIn(shot);
        if (!m) return;
        const double feather = m->points.empty() ? 0 : m->points[0].feather;
        std::vector<MaskPoint> points;
        for (const Vec2d& p : fewerPoints(line_, 1.5 / view_.scale())) {
          const auto held = maskPointHeld(p, m->hold, w);
          if (!held) return void(off = true);
          points.push_back({*held, feather});
        }
        m->points = std::move(points);
      },
      gesture);
  if (off) session_.refuse(words("Some of that line does not lie on the ground: draw it below the horizon."));
}

void MaskHands::finishCutOut(int gesture) {
  const std::vector<Vec2d> line = fewerPoints(line_, 1.5 / view_.scale());
  const NextDrag next = session_.nextDrag();
  if (next == NextDrag::cutOut) {
    CutOut made;
    made.id = freshId(session_.shot().blend.cutOuts, "cut-out");
    made.name = words("Thing ") + made.id.substr(made.id.rfind('-') + 1), made.loop = line;
    session_.editShot(
        words("cut a thing out"), [&](Shot& shot) { shot.blend.cutOuts.push_back(made); }, gesture);
    return session_.selectCutOut(made.id), session_.takeBlend({"front", -1, -1});
  }
  session_.editShot(
      next == NextDrag::cutOutKeep ? words("what belongs to a cut-out")
                                   : words("what does not belong to a cut-out"),
      [&](Shot& shot) {
        if (CutOut* c = byId(shot.blend.cutOuts, session_.selectedCutOut()))
          (next == NextDrag::cutOutKeep ? c->keeps : c->leaves).push_back(line);
      },
      gesture);
}

bool MaskHands::removePoint() {
  const Mask* m = mask();
  const size_t least = m && m->kind == MaskKind::outline ? 3 : 2;
  if (!m || lastPoint_ < 0 || size_t(lastPoint_) >= m->points.size() || m->points.size() <= least)
    return false;
  session_.editShot(words("take a mask's point away"), [&](Shot& shot) {
    if (Mask* own = maskIn(shot)) own->points.erase(own->points.begin() + lastPoint_);
  });
  lastPoint_ = -1;
  return true;
}

void paintDrawn(QPainter& painter, const QTransform& toScreen, const std::vector<Vec2d>& line, bool closed,
                const QColor& colour) {
  QPolygonF shape;
  for (const Vec2d& p : line) shape << toScreen.map(toPoint(p));
  if (closed && !shape.isEmpty()) shape << shape.first();
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(QColor(20, 18, 26, 160), 3.5));
  painter.drawPolyline(shape);
  painter.setPen(QPen(colour, 1.6, Qt::DashLine));
  painter.drawPolyline(shape);
}

/// How far a gradient goes: the ring where it has faded, or a line across at either end.
void MaskHands::paintReach(QPainter& painter, const Mask& m) const {
  if ((m.kind != MaskKind::straight && m.kind != MaskKind::round) || m.points.size() < 2) return;
  const MaskWorld w = world();
  const auto a = maskPointInPicture(m.points[0].at, m.hold, w),
             b = maskPointInPicture(m.points[1].at, m.hold, w);
  if (!a || !b) return;
  const QTransform t = view_.toScreen();
  const Vec2d way = *b - *a;
  if (m.kind == MaskKind::round) {
    std::vector<Vec2d> ring;
    for (int i = 0; i < 72; ++i) {
      const double turn = radians(5.0 * i);
      ring.push_back(*a + Vec2d(std::cos(turn), std::sin(turn)) * way.length());
    }
    return paintDrawn(painter, t, ring, true, look::mark::tide);
  }
  const Vec2d across = Vec2d(-way.y, way.x).normalized() * (60 / view_.scale());
  paintDrawn(painter, t, {*a, *b}, false, look::mark::tide);
  for (const Vec2d& end : {*a, *b})
    paintDrawn(painter, t, {end - across, end + across}, false, look::mark::tide);
}

QString MaskHands::hint() const {
  const Mask* m = mask();
  if (!m || m->points.empty()) return {};
  if (m->kind == MaskKind::straight || m->kind == MaskKind::round)
    return words("Drag its points: it fades from the first to the second");
  return words("Drag a point, or the line for a new one. Shift and a drag on a point: its soft border");
}

void MaskHands::paint(QPainter& painter) {
  const QTransform t = view_.toScreen();
  const auto draw = [&](const std::vector<Vec2d>& line, bool closed) {
    paintDrawn(painter, t, line, closed, look::mark::tide);
  };
  if (!line_.empty()) draw(line_, session_.nextDrag() == NextDrag::cutOut);
  if (session_.blendInHand().row == "front" || session_.nextDrag() == NextDrag::cutOutKeep ||
      session_.nextDrag() == NextDrag::cutOutLeave)
    if (const CutOut* c = byId(session_.shot().blend.cutOuts, session_.selectedCutOut())) draw(c->loop, true);
  const Mask* m = mask();
  if (!m || m->points.empty()) return;
  const MaskWorld w = world();
  const bool lines = m->kind == MaskKind::outline || m->kind == MaskKind::brush;
  if (line_.empty()) paintReach(painter, *m);
  if (const auto line = maskLine(*m, w); lines && line && line_.empty()) {
    std::vector<Vec2d> at;
    for (const Vec2f& p : line->at) at.emplace_back(p.x, p.y);
    draw(at, m->kind == MaskKind::outline);
  }
  for (size_t i = 0; i < m->points.size(); ++i) {
    const auto p = maskPointInPicture(m->points[i].at, m->hold, w);
    if (!p) continue;
    const QPointF c = t.map(toPoint(*p));
    // The soft border as a faint ring of its width.
    if (lines && m->points.size() < 40) {
      painter.setPen(QPen(look::faded(look::mark::tide, 70), 1));
      const double r = m->points[i].feather / 2 * view_.scale();
      painter.drawEllipse(c, r, r);
    }
    painter.setPen(QPen(QColor(20, 18, 26), 1));
    painter.setBrush(int(i) == lastPoint_ ? look::mark::ember : look::mark::tide);
    painter.drawEllipse(c, m->points.size() < 40 ? 4.5 : 2.5, m->points.size() < 40 ? 4.5 : 2.5);
    painter.setBrush(Qt::NoBrush);
  }
}

}  // namespace dusk
