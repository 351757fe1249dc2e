#include "app/stations/blend/mask_hands.h"

#include <QtWidgets>

#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/project/by_id.h"

namespace dusk {

std::vector<Vec2d> fewerPoints(const std::vector<Vec2d>& line, double off) {
  if (line.size() < 3) return line;
  const Vec2d a = line.front(), way = line.back() - a;
  double most = -1;
  size_t at = 0;
  for (size_t i = 1; i + 1 < line.size(); ++i) {
    const Vec2d p = line[i] - a;
    const double t = way.length2() > 0 ? std::clamp(p.dot(way) / way.length2(), 0.0, 1.0) : 0;
    if (const double d = (p - way * t).length(); d > most) most = d, at = i;
  }
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

bool MaskHands::press(const Vec2d& at, Qt::KeyboardModifiers modifiers) {
  if (draws()) return line_ = {at}, true;
  point_ = lastPoint_ = pointAt(at), feathers_ = modifiers & Qt::ShiftModifier;
  return point_ >= 0;
}

void MaskHands::drag(const Vec2d& at, int gesture) {
  if (!line_.empty()) {
    if ((at - line_.back()).length() > 1.5 / view_.scale()) line_.push_back(at);
    return;
  }
  if (point_ < 0) return;
  session_.editShot(
      feathers_ ? words("feather of a mask") : words("move a mask's point"),
      [&](Shot& shot) {
        Mask* m = maskIn(shot);
        if (!m || size_t(point_) >= m->points.size()) return;
        MaskPoint& p = m->points[size_t(point_)];
        if (feathers_) {
          if (const auto here = maskPointInPicture(p.at, m->hold, world()))
            p.feather = std::round(2 * (at - *here).length());
        } else if (const auto held = maskPointHeld(at, m->hold, world())) {
          p.at = *held;
        }
      },
      gesture);
}

void MaskHands::release(int gesture) {
  point_ = -1;
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
    return session_.selectCutOut(made.id);
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
  if (const auto line = maskLine(*m, w); line && line_.empty()) {
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
