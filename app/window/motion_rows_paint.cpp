// How what moves is drawn, and what hands do with it.
#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/window/motion_rows.h"
#include "core/base/words.h"
#include "core/motion/easing.h"
#include "core/motion/edit.h"

namespace dusk {
namespace {

/// A step of time whose marks are far enough apart.
double stepOf(double secondsPerPixel) {
  for (const double step : {0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0, 300.0, 3600.0})
    if (step / secondsPerPixel > look::px(64)) return step;
  return 3600;
}

}  // namespace

void MotionRows::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  for (const MotionTrack& track : motion().tracks) paintRow(p, track);
  paintRuler(p), paintStretch(p);
  // The thread: the moment in hand, through all of it.
  const double x = xOf(session_.moment());
  p.setPen(QPen(look::ember(), 1.5));
  p.drawLine(QPointF(x, rulerHeight() - 3), QPointF(x, height()));
  if (hasFocus()) {
    p.setPen(QPen(look::ember(), 1, Qt::DotLine));
    p.setBrush(Qt::NoBrush);
    const QRect rect = row() ? rowRect(row_) : QRect(0, 0, width(), rulerHeight());
    p.drawRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5));
  }
}

void MotionRows::paintRuler(QPainter& p) {
  const Motion& m = motion();
  p.fillRect(QRect(0, 0, width(), rulerHeight()), look::chrome());
  p.setFont(look::small());
  const double step = stepOf(secondsAt(1) - secondsAt(0));
  const double x = xOf(session_.moment());
  const QString now = QString("%L1 s · %L2")
                          .arg(session_.moment(), 0, 'f', 2)
                          .arg(std::lround(session_.moment() * m.picturesPerSecond) + 1);
  const double wide = QFontMetricsF(look::small()).horizontalAdvance(now) + 10;
  QRectF label(x - wide / 2, 1, wide, rulerHeight() - 4);
  label.moveLeft(std::clamp(label.left(), 0.0, std::max(0.0, width() - wide)));
  for (int i = 0; i * step <= m.seconds + 1e-9; ++i) {
    const double at = xOf(i * step);
    p.setPen(look::line());
    p.drawLine(QPointF(at, rulerHeight() - 4), QPointF(at, rulerHeight()));
    const QRectF mark(at - 40, 0, 80, rulerHeight() - 3);
    if (mark.adjusted(24, 0, -24, 0).intersects(label)) continue;
    p.setPen(look::muted());
    p.drawText(mark, Qt::AlignCenter, QString("%L1 s").arg(i * step));
  }
  // The moment that single pictures show.
  const double still = xOf(m.stillAtSeconds);
  p.setPen(Qt::NoPen);
  p.setBrush(look::tide());
  p.drawPolygon(QPolygonF{{still - 4, 0.0}, {still + 4, 0.0}, {still, 6.0}});
  p.setPen(Qt::NoPen);
  p.setBrush(look::raised());
  p.drawRoundedRect(label, 3, 3);
  p.setPen(look::ember());
  p.drawText(label, Qt::AlignCenter, now);
}

void MotionRows::paintRow(QPainter& p, const MotionTrack& track) {
  const QRect rect = rowRect(track.id);
  const bool here = track.id == row_;
  const double ground = rect.bottom() - 4.5;
  const double from = xOf(0), to = xOf(motion().seconds);
  QPainterPath line;
  for (double x = from; x <= to + 0.5; x += 2) {
    const QPointF at(x, heightOf(track, secondsAt(x)));
    x == from ? line.moveTo(at) : line.lineTo(at);
  }
  QPainterPath under = line;
  under.lineTo(to, ground), under.lineTo(from, ground), under.closeSubpath();
  p.fillPath(under, look::hill());
  p.setPen(QPen(here ? look::text() : look::muted(), 1.2));
  p.setBrush(Qt::NoBrush);
  p.drawPath(line);
  p.setPen(QPen(look::land(), 1));
  p.drawLine(QPointF(from - 8, ground), QPointF(width() - 8, ground));
  p.setPen(here ? look::ember() : look::text());
  p.setFont(look::small());
  const QString name = QString::fromStdString(nameOf(thingOf(track), session_.base(), session_.shot()));
  const QString more = track.loop == MotionLoop::again          ? words("  again and again")
                       : track.loop == MotionLoop::backAndForth ? words("  back and forth")
                                                                : "";
  const QRect at(8, rect.top(), look::px(140), rect.height() - 4);
  p.drawText(at, Qt::AlignVCenter,
             QFontMetrics(p.font()).elidedText(name + more, Qt::ElideRight, at.width()));
  paintSuns(p, track);
}

void MotionRows::paintSuns(QPainter& p, const MotionTrack& track) {
  const auto held = held_.find(track.id);
  p.setFont(look::small());
  for (size_t i = 0; i + 1 < track.keys.size(); ++i) {
    if (track.keys[i].easing == Easing::own)
      for (int h = 0; h < 2; ++h) {
        const QPointF handle = handlesOf(track, i)[size_t(h)];
        p.setPen(QPen(look::tide(), 1, Qt::DashLine));
        p.drawLine(sunAt(track, h ? i + 1 : i), handle);
        p.setPen(Qt::NoPen), p.setBrush(look::tide());
        p.drawRect(QRectF(handle.x() - 2.5, handle.y() - 2.5, 5, 5));
      }
    const QRect chip = chipAt(track, i);
    if (chip.isNull()) continue;
    p.setPen(QPen(look::line(), 1));
    p.setBrush(look::field());
    p.drawRoundedRect(QRectF(chip).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
    p.setPen(look::muted());
    p.drawText(chip, Qt::AlignCenter, words(easingWords()[size_t(track.keys[i].easing)].word));
  }
  double before = -1e9;
  for (size_t i = 0; i < track.keys.size(); ++i) {
    const QPointF at = sunAt(track, i);
    const bool chosen =
        held != held_.end() && std::find(held->second.begin(), held->second.end(), i) != held->second.end();
    // Keys of every picture are a row of sparks.
    const bool dense =
        at.x() - before < 14 || (i + 1 < track.keys.size() && sunAt(track, i + 1).x() - at.x() < 14);
    before = at.x();
    const double r = chosen ? 5 : dense ? 1.8 : 4;
    p.setPen(QPen(chosen ? look::text() : look::ember(), chosen ? 1.5 : 1.2));
    p.setBrush(chosen ? look::ember() : look::panel());
    p.drawEllipse(at, r, r);
  }
}

void MotionRows::mousePressEvent(QMouseEvent* e) {
  setFocus();
  if (e->button() != Qt::LeftButton || pull_ != Pull::nothing) return;
  const QPointF at = e->position();
  if (const MotionTrack* under = rowUnder(at.y())) row_ = under->id;
  from_ = at;
  if (at.y() < rulerHeight() && at.x() > nameWidth() && e->modifiers() & Qt::ShiftModifier) {
    pull_ = Pull::stretch;
    markStretch({0, 0});
  } else if (const auto sun = sunUnder(at); sun) {
    pulled_ = *sun;
    const bool add = e->modifiers() & Qt::ShiftModifier, stretches = e->modifiers() & Qt::ControlModifier;
    auto& keys = held_[sun->track];
    const bool has = std::find(keys.begin(), keys.end(), sun->key) != keys.end();
    if (!has && !add && !stretches) held_ = {{sun->track, {sun->key}}};
    if (!has && (add || stretches)) keys.push_back(sun->key);
    pull_ = sun->handle >= 0 ? Pull::handle : Pull::keys;
    before_ = motion().tracks, heldBefore_ = held_;
    gesture_ = session_.newGesture();
  } else if (const auto chip = chipUnder(e->pos()); chip) {
    hold({{chip->track, {chip->key}}});
    showEasings(e->globalPosition().toPoint());
  } else if (at.x() > nameWidth()) {
    if (!(e->modifiers() & Qt::ShiftModifier)) held_.clear();
    pull_ = Pull::thread;
    emit momentWanted(onPicture(motion(), std::clamp(secondsAt(at.x()), 0.0, motion().seconds)));
  }
  say();
  update();
}

void MotionRows::mouseMoveEvent(QMouseEvent* e) {
  const QPointF at = e->position();
  if (pull_ == Pull::thread)
    emit momentWanted(onPicture(motion(), std::clamp(secondsAt(at.x()), 0.0, motion().seconds)));
  else if (pull_ == Pull::keys)
    pull(at, e->modifiers());
  else if (pull_ == Pull::handle)
    pullHandle(at);
  else if (pull_ == Pull::stretch)
    markStretch({secondsAt(from_.x()), secondsAt(at.x())});
  else
    setCursor(sunUnder(at)           ? Qt::SizeHorCursor
              : chipUnder(e->pos())  ? Qt::PointingHandCursor
              : at.x() > nameWidth() ? Qt::IBeamCursor
                                     : Qt::ArrowCursor);
}

/// Keys in hand go along; with Ctrl they are spread from the first of them on.
void MotionRows::pull(const QPointF& to, Qt::KeyboardModifiers with) {
  const int rate = motion().picturesPerSecond;
  const double by = onPicture(motion(), secondsAt(to.x()) - secondsAt(from_.x()));
  double first = 1e300, pulled = 0;
  for (const MotionTrack& track : before_)
    if (const auto keys = heldBefore_.find(track.id); keys != heldBefore_.end())
      for (const size_t key : keys->second) first = std::min(first, track.keys[key].seconds);
  for (const MotionTrack& track : before_)
    if (track.id == pulled_.track) pulled = track.keys[pulled_.key].seconds;
  const bool spreads = (with & Qt::ControlModifier) && pulled - first > 0.5 / rate;
  const double factor = spreads ? std::max(0.0, pulled + by - first) / (pulled - first) : 1;
  Held now;
  session_.editShot(
      spreads ? words("spread keys") : words("move keys"),
      [&](Shot& shot) {
        shot.motion.tracks = before_;
        for (MotionTrack& track : shot.motion.tracks) {
          const auto keys = heldBefore_.find(track.id);
          if (keys == heldBefore_.end()) continue;
          if (!spreads) {
            now[track.id] = moveKeys(track, keys->second, by, rate);
            continue;
          }
          for (const size_t key : keys->second) {
            double& seconds = track.keys[key].seconds;
            seconds = onPicture(shot.motion, first + (seconds - first) * factor);
          }
          std::stable_sort(track.keys.begin(), track.keys.end(),
                           [](const MotionKey& a, const MotionKey& b) { return a.seconds < b.seconds; });
          now[track.id] = keys->second;
        }
      },
      gesture_);
  hold(std::move(now));
}

void MotionRows::pullHandle(const QPointF& to) {
  session_.editShot(
      words("bend how it moves"),
      [&](Shot& shot) {
        MotionTrack* track = byId(shot.motion.tracks, pulled_.track);
        if (!track || pulled_.key + 1 >= track->keys.size()) return;
        const QPointF a = sunAt(*track, pulled_.key), b = sunAt(*track, pulled_.key + 1);
        auto& h = track->keys[pulled_.key].handles;
        const size_t at = pulled_.handle ? 2 : 0;
        h[at] = std::clamp((to.x() - a.x()) / std::max(1.0, b.x() - a.x()), 0.0, 1.0);
        const double high = b.y() - a.y();
        h[at + 1] = std::clamp(std::abs(high) > 1 ? (to.y() - a.y()) / high : 0.0, -2.0, 3.0);
      },
      gesture_);
}

void MotionRows::mouseReleaseEvent(QMouseEvent*) { pull_ = Pull::nothing; }

void MotionRows::mouseDoubleClickEvent(QMouseEvent* e) {
  if (e->button() != Qt::LeftButton || !rowUnder(e->position().y()) || e->position().x() < nameWidth())
    return;
  if (const auto sun = sunUnder(e->position()); sun && sun->handle < 0) {
    if (const MotionTrack* track = byId(motion().tracks, sun->track))
      emit momentWanted(track->keys[sun->key].seconds);
    return;
  }
  addKey();
}

void MotionRows::showEasings(const QPoint& global) {
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setToolTipsVisible(true);
  for (const EasingWord& word : easingWords())
    menu->addAction(QString(words(word.word)) + ": " + words(word.about), this,
                    [this, e = word.easing] { setEasing(e); });
  menu->popup(global);
}

void MotionRows::contextMenuEvent(QContextMenuEvent* e) {
  const bool byKey = e->reason() == QContextMenuEvent::Keyboard;
  if (!byKey) {
    if (const MotionTrack* under = rowUnder(e->y())) row_ = under->id;
    if (const auto sun = sunUnder(e->pos()); sun && !held_.contains(sun->track))
      hold({{sun->track, {sun->key}}});
  }
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  const bool some = !held_.empty();
  menu->addAction(words("Key here"), this, [this] { addKey(); })->setEnabled(row());
  menu->addAction(words("Copy keys"), this, [this] { copyKeys(); })->setEnabled(some);
  menu->addAction(words("Paste keys from here on"), this, [this] { pasteKeys(); });
  menu->addAction(words("Take keys away"), this, [this] { removeHeld(); })->setEnabled(some);
  if (some) {
    auto* how = menu->addMenu(words("To the next key"));
    for (const EasingWord& word : easingWords())
      how->addAction(QString(words(word.word)) + ": " + words(word.about), this,
                     [this, ease = word.easing] { setEasing(ease); });
  }
  menu->addSeparator();
  const std::pair<const char*, MotionLoop> loops[] = {{words("Once"), MotionLoop::once},
                                                      {words("Again and again"), MotionLoop::again},
                                                      {words("Back and forth"), MotionLoop::backAndForth}};
  for (const auto& [text, loop] : loops) {
    QAction* action = menu->addAction(text, this, [this, loop] {
      session_.editShot(words("change how a motion goes on"), [&](Shot& shot) {
        if (MotionTrack* track = byId(shot.motion.tracks, row_)) track->loop = loop;
      });
    });
    action->setCheckable(true);
    action->setEnabled(row()), action->setChecked(row() && row()->loop == loop);
  }
  menu->addSeparator();
  menu->addAction(words("Let it stand still"), this,
                  [this] {
                    session_.editShot(words("let it stand still"), [&](Shot& shot) {
                      std::erase_if(shot.motion.tracks,
                                    [&](const MotionTrack& track) { return track.id == row_; });
                    });
                  })
      ->setEnabled(row());
  menu->popup(byKey ? mapToGlobal(rowRect(row_).center()) : e->globalPos());
}

void MotionRows::keyPressEvent(QKeyEvent* e) {
  const double picture = 1.0 / motion().picturesPerSecond;
  const int by = e->key() == Qt::Key_Right ? 1 : -1;
  const bool moves = e->modifiers() & Qt::ShiftModifier;
  switch (e->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right:
      if (moves && !held_.empty()) {
        Held now;
        session_.editShot(words("move keys"), [&](Shot& shot) {
          for (const auto& [id, keys] : held_)
            if (MotionTrack* track = byId(shot.motion.tracks, id))
              now[id] = moveKeys(*track, keys, by * picture, shot.motion.picturesPerSecond);
        });
        hold(std::move(now));
      } else if (e->modifiers() & Qt::ControlModifier) {
        stepKey(by);
      } else {
        emit momentWanted(onPicture(motion(), session_.moment() + by * picture));
      }
      return;
    case Qt::Key_Home:
      return emit momentWanted(0);
    case Qt::Key_End:
      return emit momentWanted(motion().seconds);
    case Qt::Key_Up:
      return stepRow(-1);
    case Qt::Key_Down:
      return stepRow(1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return addKey();
    case Qt::Key_Delete:
      return removeHeld();
    default:
      break;
  }
  if (e->matches(QKeySequence::Copy)) return copyKeys();
  if (e->matches(QKeySequence::Paste)) return pasteKeys();
  if (e->matches(QKeySequence::SelectAll)) {
    if (const MotionTrack* now = row()) {
      std::vector<size_t> all(now->keys.size());
      for (size_t i = 0; i < all.size(); ++i) all[i] = i;
      hold({{row_, all}});
    }
    return;
  }
  QWidget::keyPressEvent(e);
}

QString MotionRows::told(const QPoint& at) const {
  if (const auto sun = sunUnder(at))
    if (const MotionTrack* track = byId(motion().tracks, sun->track))
      return sun->handle >= 0
                 ? QString(words("Pull it to bend how it moves"))
                 : QString(words("A key at %1 s. Drag it in time; Shift: more keys, Ctrl: spread those in "
                                 "hand; a double "
                                 "click goes there, Delete takes it away"))
                       .arg(track->keys[sun->key].seconds, 0, 'f', 2);
  if (const auto chip = chipUnder(at); chip)
    if (const MotionTrack* track = byId(motion().tracks, chip->track))
      return QString(words("%1: %2. Click for others"))
          .arg(words(easingWords()[size_t(track->keys[chip->key].easing)].word),
               words(easingWords()[size_t(track->keys[chip->key].easing)].about));
  if (rowUnder(at.y())) return words("A double click sets a key here; right click for more");
  return words("Drag to another moment; with Shift marks what plays, and a click with Shift all of it");
}

bool MotionRows::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip) {
    auto* help = static_cast<QHelpEvent*>(e);
    QToolTip::showText(help->globalPos(), told(help->pos()), this);
    return true;
  }
  // Copying is the rows' own while they have the focus, whatever the window has for it.
  if (e->type() == QEvent::ShortcutOverride) {
    auto* key = static_cast<QKeyEvent*>(e);
    if (key->matches(QKeySequence::Copy) || key->matches(QKeySequence::Paste) ||
        key->matches(QKeySequence::SelectAll) || key->key() == Qt::Key_Delete) {
      e->accept();
      return true;
    }
  }
  return QWidget::event(e);
}

}  // namespace dusk
