#include "app/window/motion_rows.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/motion/easing.h"
#include "core/motion/edit.h"

namespace dusk {
namespace {

constexpr double sunRadius = 5;
int rowHeight() { return look::px(34); }

}  // namespace

MotionRows::MotionRows(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("motionRows");
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  connect(&session_, &Session::changed, this, &MotionRows::refresh);
  connect(&session_, &Session::momentChanged, this, [this] {
    say();
    update();
  });
  refresh();
}

int MotionRows::nameWidth() { return look::px(150); }
int MotionRows::rulerHeight() const { return look::px(18); }

void MotionRows::refresh() {
  const Motion& m = motion();
  if (!byId(m.tracks, row_)) row_ = m.tracks.empty() ? "" : m.tracks.front().id;
  for (auto it = held_.begin(); it != held_.end();) {
    const MotionTrack* track = byId(m.tracks, it->first);
    std::erase_if(it->second, [&](size_t key) { return !track || key >= track->keys.size(); });
    it = it->second.empty() ? held_.erase(it) : std::next(it);
  }
  lines_.clear();
  for (const MotionTrack& track : m.tracks) {
    Line line{tellingNumber(track), 1e300, -1e300};
    for (int i = 0; i <= 120; ++i) {
      const auto value = valueAt(track, m.seconds * i / 120);
      const auto numbers = value ? numbersIn(*value) : std::vector<double>();
      const double n = line.number < numbers.size() ? numbers[line.number] : 0;
      line.low = std::min(line.low, n), line.high = std::max(line.high, n);
    }
    if (line.high - line.low < 1e-12) line.high = line.low + 1;
    lines_[track.id] = line;
  }
  setMinimumHeight(rulerHeight() + rowHeight() * int(m.tracks.size()) + 2);
  say();
  update();
}

/// What a screen reader says of it: the row, the moment, the keys in hand.
void MotionRows::say() {
  QString text = words("What moves. ");
  if (const MotionTrack* now = row()) {
    text += QString::fromStdString(nameOf(thingOf(*now), session_.base(), session_.shot()));
    text += QString(words(", %1 key", ", %1 keys", long(now->keys.size()))).arg(now->keys.size());
  } else {
    text += words("Nothing yet");
  }
  text += QString(words(", at %1 seconds")).arg(session_.moment(), 0, 'f', 2);
  if (!held_.empty()) {
    size_t count = 0;
    for (const auto& [id, keys] : held_) count += keys.size();
    text += QString(words(", %1 key in hand", ", %1 keys in hand", long(count))).arg(count);
  }
  setAccessibleName(text);
}

const MotionTrack* MotionRows::row() const { return byId(motion().tracks, row_); }

void MotionRows::hold(Held keys) {
  held_ = std::move(keys);
  say();
  update();
}

double MotionRows::xOf(double seconds) const {
  const double from = nameWidth() + 12, to = width() - 24;
  return from + seconds / std::max(1e-6, motion().seconds) * (to - from);
}
double MotionRows::secondsAt(double x) const {
  const double from = nameWidth() + 12, to = width() - 24;
  return (x - from) / std::max(1.0, to - from) * motion().seconds;
}

QRect MotionRows::rowRect(const std::string& id) const {
  const auto& tracks = motion().tracks;
  for (size_t i = 0; i < tracks.size(); ++i)
    if (tracks[i].id == id) return {0, rulerHeight() + int(i) * rowHeight(), width(), rowHeight()};
  return {};
}

double MotionRows::heightOf(const MotionTrack& track, double seconds) const {
  const QRect rect = rowRect(track.id);
  const double ground = rect.bottom() - 5, top = rect.top() + 9;
  const auto line = lines_.find(track.id);
  const auto value = valueAt(track, seconds);
  if (line == lines_.end() || !value) return ground;
  if (value->is_string()) {  // options: each its own height
    std::vector<std::string> words;
    for (const MotionKey& key : track.keys)
      if (std::find(words.begin(), words.end(), key.to) == words.end()) words.push_back(key.to);
    const auto at = std::find(words.begin(), words.end(), value->dump()) - words.begin();
    return ground - (ground - top) * double(at) / double(std::max<size_t>(1, words.size() - 1));
  }
  const auto numbers = numbersIn(*value);
  const double n = line->second.number < numbers.size() ? numbers[line->second.number] : line->second.low;
  return ground - (ground - top) * (n - line->second.low) / (line->second.high - line->second.low);
}

QPointF MotionRows::sunAt(const MotionTrack& track, size_t key) const {
  return {xOf(track.keys[key].seconds), heightOf(track, track.keys[key].seconds)};
}

std::array<QPointF, 2> MotionRows::handlesOf(const MotionTrack& track, size_t key) const {
  const QPointF a = sunAt(track, key), b = sunAt(track, key + 1);
  const auto& h = track.keys[key].handles;
  const auto at = [&](double time, double way) {
    return QPointF(a.x() + time * (b.x() - a.x()), a.y() + way * (b.y() - a.y()));
  };
  return {at(h[0], h[1]), at(h[2], h[3])};
}

QRect MotionRows::chipAt(const MotionTrack& track, size_t key) const {
  if (key + 1 >= track.keys.size()) return {};
  const double a = xOf(track.keys[key].seconds), b = xOf(track.keys[key + 1].seconds);
  const int wide = look::px(58), high = look::px(15);
  if (b - a < wide + 2 * sunRadius + 4) return {};
  return {int((a + b - wide) / 2), rowRect(track.id).bottom() - high - 5, wide, high};
}

std::optional<MotionRows::Sun> MotionRows::sunUnder(const QPointF& at) const {
  std::optional<Sun> best;
  double nearest = sunRadius + 3;
  const auto look = [&](const QPointF& spot, const Sun& sun) {
    if (const double off = QLineF(spot, at).length(); off < nearest) nearest = off, best = sun;
  };
  if (const MotionTrack* track = rowUnder(at.y())) {
    for (size_t i = 0; i < track->keys.size(); ++i) look(sunAt(*track, i), {track->id, i});
    for (size_t i = 0; i + 1 < track->keys.size(); ++i)
      if (track->keys[i].easing == Easing::own)
        for (int h = 0; h < 2; ++h) look(handlesOf(*track, i)[size_t(h)], {track->id, i, h});
  }
  return best;
}

std::optional<MotionRows::Sun> MotionRows::chipUnder(const QPoint& at) const {
  if (const MotionTrack* track = rowUnder(at.y()))
    for (size_t i = 0; i + 1 < track->keys.size(); ++i)
      if (chipAt(*track, i).contains(at)) return Sun{track->id, i};
  return {};
}

const MotionTrack* MotionRows::rowUnder(double y) const {
  for (const MotionTrack& track : motion().tracks)
    if (const QRect rect = rowRect(track.id); y >= rect.top() && y <= rect.bottom()) return &track;
  return nullptr;
}

void MotionRows::addKey() {
  const MotionTrack* now = row();
  if (!now) return;
  const Thing thing = thingOf(*now);
  session_.editShot(words("set a key"),
                    [&](Shot& shot) { putKeyOf(shot, session_.project(), thing, session_.moment()); });
  const MotionTrack* after = row();
  const int key = after ? keyNear(*after, session_.moment(), motion().picturesPerSecond) : -1;
  if (key >= 0) hold({{row_, {size_t(key)}}});
}

void MotionRows::removeHeld() {
  if (held_.empty()) return;
  session_.editShot(words("take keys away"), [&](Shot& shot) {
    for (const auto& [id, keys] : held_) removeKeys(shot.motion, id, keys);
  });
  hold({});
}

void MotionRows::setEasing(Easing easing) {
  session_.editShot(words("change how it moves"), [&](Shot& shot) {
    for (const auto& [id, keys] : held_)
      if (MotionTrack* track = byId(shot.motion.tracks, id))
        for (const size_t key : keys) track->keys[key].easing = easing;
  });
}

void MotionRows::copyKeys() {
  if (!held_.empty())
    QGuiApplication::clipboard()->setText(QString::fromStdString(keysAsText(motion(), held_)));
}

void MotionRows::pasteKeys() {
  const std::string text = QGuiApplication::clipboard()->text().toStdString();
  bool any = false;
  session_.editShot(words("paste keys"),
                    [&](Shot& shot) { any = dusk::pasteKeys(shot.motion, text, session_.moment(), row_); });
  if (!any) session_.refuse(words("There are no keys in the clipboard that fit a row here."));
}

void MotionRows::stepRow(int by) {
  const auto& tracks = motion().tracks;
  if (!row()) return;
  const int at = int(row() - tracks.data()) + by;
  if (at >= 0 && at < int(tracks.size())) row_ = tracks[size_t(at)].id;
  say();
  update();
}

void MotionRows::stepKey(int by) {
  double best = by > 0 ? 1e300 : -1e300;
  const double half = 0.5 / motion().picturesPerSecond;
  for (const MotionTrack& track : motion().tracks)
    for (const MotionKey& key : track.keys)
      if (by > 0 ? key.seconds > session_.moment() + half && key.seconds < best
                 : key.seconds < session_.moment() - half && key.seconds > best)
        best = key.seconds;
  if (std::abs(best) < 1e299) emit momentWanted(best);
}

MotionRows::Stretch MotionRows::stretch() const {
  const double end = motion().seconds;
  if (!stretch_ || stretch_->first >= end) return {0, end};
  return {stretch_->first, std::min(stretch_->second, end)};
}

void MotionRows::markStretch(const Stretch& s) {
  const double end = motion().seconds;
  const Stretch in{onPicture(motion(), std::clamp(std::min(s.first, s.second), 0.0, end)),
                   onPicture(motion(), std::clamp(std::max(s.first, s.second), 0.0, end))};
  const bool isAll = in.first <= 0 && in.second >= end - 0.5 / motion().picturesPerSecond;
  stretch_.reset();
  if (!isAll && in.second - in.first >= 1.5 / motion().picturesPerSecond) stretch_ = in;
  update();
}

/// A band on the ruler with a post at either end.
void MotionRows::paintStretch(QPainter& p) {
  if (!stretch_) return;
  const auto [from, to] = stretch();
  const QRectF band(xOf(from), rulerHeight() - 4, xOf(to) - xOf(from), 4);
  p.fillRect(band, look::tide());
  for (const double x : {band.left(), band.right()})
    p.fillRect(QRectF(x - 1, rulerHeight() - 7, 2, 7), look::tide());
}

}  // namespace dusk
