#include "app/views/motion_path.h"

#include <QtWidgets>

#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/motion/edit.h"
#include "core/motion/track.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

constexpr double reachPx = 9;  ///< of the screen
constexpr int mostDots = 2000;

}  // namespace

const MotionTrack* MotionPath::track() const {
  const Placement* p = session_.placement();
  if (!p || !session_.shot().vantage.solved) return nullptr;
  return trackAt(session_.shot().motion, placeOfPlacement(session_.shot(), p->id));
}

std::optional<Vec3d> MotionPath::placeAt(double seconds) const {
  const MotionTrack* t = track();
  const auto value = t ? valueAt(*t, seconds) : std::nullopt;
  const Placement* p = session_.placement();
  if (!value || !value->is_object() || !p) return {};
  const auto of = [&](const char* name, double otherwise) {
    const auto found = value->find(name);
    return found != value->end() && found->is_number() ? found->get<double>() : otherwise;
  };
  return Vec3d(of("xM", p->xM), of("yM", p->yM), planeHeightM(session_.shot(), *p) + of("liftM", p->liftM));
}

std::optional<Vec2d> MotionPath::seenAt(double seconds) const {
  const auto place = placeAt(seconds);
  return place ? projected(workingCamera(session_.shot().vantage), *place) : std::nullopt;
}

std::optional<Vec2d> MotionPath::sunAt(size_t key) const {
  const MotionTrack* t = track();
  return t && key < t->keys.size() ? seenAt(t->keys[key].seconds) : std::nullopt;
}

double MotionPath::speed() const {
  const double half = 0.5 / session_.shot().motion.picturesPerSecond;
  const auto a = placeAt(session_.moment() - half), b = placeAt(session_.moment() + half);
  return a && b ? (*b - *a).length() / (2 * half) : 0;
}

std::optional<size_t> MotionPath::sunUnder(const Vec2d& at) const {
  const MotionTrack* t = track();
  std::optional<size_t> best;
  double nearest = reachPx / view_.scale();
  for (size_t i = 0; t && i < t->keys.size(); ++i)
    if (const auto sun = sunAt(i))
      if (const double off = (*sun - at).length(); off < nearest) nearest = off, best = i;
  return best;
}

void MotionPath::paint(QPainter& p) {
  const MotionTrack* t = track();
  if (!t) return;
  const QTransform toScreen = view_.toScreen();
  const auto screen = [&](const Vec2d& at) { return toScreen.map(QPointF(at.x, at.y)); };
  const Motion& m = session_.shot().motion;
  QPainterPath way;
  std::vector<QPointF> dots;
  const int count = std::min(picturesOf(m), mostDots);
  bool drawing = false;
  for (int i = 0; i <= count; ++i) {
    const auto at = seenAt(momentOf(m, i));
    if (at) dots.push_back(screen(*at));
    if (at && drawing) way.lineTo(dots.back());
    if (at && !drawing) way.moveTo(dots.back());
    drawing = at.has_value();
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(QColor(0, 0, 0, 110), 3));
  p.drawPath(way);
  p.setPen(QPen(look::mark::tide, 1.2));
  p.drawPath(way);
  p.setPen(Qt::NoPen), p.setBrush(look::mark::tide);
  for (const QPointF& dot : dots) p.drawEllipse(dot, 1.8, 1.8);
  for (size_t i = 0; i < t->keys.size(); ++i) {
    const bool dense = t->keys.size() > 40;  // one for each picture: the dots tell enough
    const auto sun = sunAt(i);
    if (!sun || dense) continue;
    p.setPen(QPen(look::mark::ember, 1.6)), p.setBrush(look::mark::panel);
    p.drawEllipse(screen(*sun), 5, 5);
  }
  if (const auto now = seenAt(session_.moment())) {
    p.setPen(QPen(look::mark::ember, 1.6)), p.setBrush(look::mark::ember);
    p.drawEllipse(screen(*now), 3.5, 3.5);
    paintLabel(p, screen(*now) + QPointF(12, 19), QString("%L1 m/s").arg(speed(), 0, 'f', 2),
               look::mark::tide);
  }
}

bool MotionPath::press(const Vec2d& at, Qt::KeyboardModifiers) {
  const auto sun = sunUnder(at);
  if (!sun || track()->keys.size() > 40) return false;
  pulled_ = *sun;
  return true;
}

void MotionPath::drag(const Vec2d& at, Qt::KeyboardModifiers) {
  const MotionTrack* t = track();
  if (!t || pulled_ >= t->keys.size()) return;
  const auto place = placeAt(t->keys[pulled_].seconds);
  const auto spot = place ? levelPoint(workingCamera(session_.shot().vantage), at, place->z) : std::nullopt;
  if (!spot) return;
  session_.editShot(
      words("move a key on the ground"),
      [&, id = t->id](Shot& shot) {
        MotionTrack* own = byId(shot.motion.tracks, id);
        if (!own || pulled_ >= own->keys.size()) return;
        auto value = jsonFrom(own->keys[pulled_].to);
        if (!value.is_object()) return;
        value["xM"] = spot->x, value["yM"] = spot->y;
        own->keys[pulled_].to = jsonText(value);
      },
      gesture_);
}

Qt::CursorShape MotionPath::cursor(const Vec2d& at) {
  return sunUnder(at) ? Qt::SizeAllCursor : Qt::ArrowCursor;
}

}  // namespace dusk
