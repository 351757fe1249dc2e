#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/vantage/vantage_handles.h"
#include "app/stations/vantage/vantage_hints.h"
#include "app/stations/vantage/vantage_overlay.h"
#include "app/stations/workbench.h"
#include "app/views/camera_overlay.h"
#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/vantage/camera.h"
#include "core/vantage/levels.h"

namespace dusk {
namespace {

constexpr double reachPx = 9;  // how near, on screen, counts as on a handle

class VantageTool : public Tool {
 public:
  VantageTool(PictureView& view, Workbench& bench) : Tool(view), work_(bench.vantageWork) {
    QObject::connect(&work_, &VantageWork::changed, &view, qOverload<>(&QWidget::update));
  }

  void paint(QPainter& painter) override {
    const Shot& shot = session_.shot();
    const Evidence& e = shot.evidence;
    const QTransform t = view_.toScreen();
    if (shot.vantage.solved && view_.gridShown()) {
      const double spacing = gridSpacing(shot.vantage.camera);
      drawGround(painter, shot.vantage.camera, t, spacing, 0.8);
      paintGridNote(painter, t, spacing, scaleIsKnown(e));
      for (const LevelPlane& level : shot.levels) paintLevel(painter, t, shot.vantage.camera, level);
      paintVanishingPoints(painter, t, shot.vantage.camera);
      paintOrigin(painter, t, shot.vantage.camera);
    }
    if (e.footprint) paintFootprint(painter, t, *e.footprint);
    for (const Stroke& stroke : e.strokes)
      paintStroke(painter, t, stroke, {stroke.id == session_.selectedStroke(), itemOf(stroke.id)});
    for (size_t i = 0; i < e.lengths.size(); ++i)
      paintLength(painter, t, e.lengths[i], int(i) == work_.length());
    for (size_t i = 0; i < e.pins.size(); ++i)
      paintPin(painter, t, e.pins[i], int(i) + 1, shot.vantage, int(i) == work_.pin());
    if (!e.levelLine.empty()) paintHorizonPoints(painter, t, e.levelLine);
    if (const auto& proposal = work_.proposal())
      for (const Stroke& s : proposal->strokes)
        paintProposed(painter, t, s, proposal->dropped.contains(s.id));
    if (work_.box() && shot.vantage.solved) paintBox(painter, t, shot.vantage.camera, *work_.box());
    for (size_t i = 0; i < corners_.size(); ++i) {
      painter.setPen(QPen(look::mark::moss, 2));
      painter.drawEllipse(t.map(toPoint(corners_[i])), 5, 5);
      if (i) painter.drawLine(t.map(toPoint(corners_[i - 1])), t.map(toPoint(corners_[i])));
    }
    if (level_) {
      painter.setPen(QPen(look::mark::moss, 2, Qt::DashLine));
      painter.drawLine(t.map(toPoint(level_->first)), t.map(toPoint(level_->second)));
    }
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers modifiers) override {
    if (session_.shot().vantage.camera.width <= 0) return false;
    work_.setReach(12 / view_.scale());
    if (work_.proposal()) return pressProposal(at);
    // Ctrl draws even where a handle lies.
    grabbed_ = modifiers & Qt::ControlModifier ? Handle{} : nearest(at);
    boxBefore_ = work_.box();
    if (grabbed_.kind == Handle::box) return true;
    if (session_.shot().vantage.locked && work_.drawing() != Drawing::level) {
      session_.say(words("The vantage is locked against accidents. Unlock it on the desk to change it."));
      return false;
    }
    if (grabbed_.kind != Handle::none) return grab();
    return begin(at);
  }

  void drag(const Vec2d& at, Qt::KeyboardModifiers) override {
    if (grabbed_.kind == Handle::box) {
      const auto ground = levelPoint(session_.shot().vantage.camera, at);
      if (!ground || !work_.box()) return;
      auto box = *work_.box();
      box.at = {ground->x, ground->y};
      return work_.setBox(box);
    }
    if (level_) {
      level_->second = at;
      return;
    }
    move([&](Vec2d& value) { value = at; }, words("move evidence"));
  }

  void release(const Vec2d&) override {
    if (level_) return finishLevel();
    const Evidence& e = session_.shot().evidence;
    const auto tooShort = [&](const Vec2d& a, const Vec2d& b) {
      return (a - b).length() * view_.scale() < 6;
    };
    // What is too short to mean anything was a click beside everything.
    if (grabbed_.kind == Handle::length && grabbed_.item < e.lengths.size() &&
        tooShort(e.lengths[grabbed_.item].from, e.lengths[grabbed_.item].to)) {
      remove(words("draw a length"),
             [&](Evidence& x) { x.lengths.erase(x.lengths.begin() + long(grabbed_.item)); });
      return work_.selectLength(-1);
    }
    if (grabbed_.kind == Handle::horizon && e.levelLine.size() == 2 &&
        tooShort(e.levelLine[0], e.levelLine[1]))
      return remove(words("draw the horizon"), [](Evidence& x) { x.levelLine.clear(); });
    if (grabbed_.kind != Handle::stroke || grabbed_.item >= e.strokes.size()) return;
    const Stroke s = e.strokes[grabbed_.item];
    if (s.points.size() == 2 && tooShort(s.points[0], s.points[1])) {
      remove(words("draw a stroke"),
             [&](Evidence& x) { std::erase_if(x.strokes, [&](const Stroke& o) { return o.id == s.id; }); });
      return session_.selectStroke("");
    }
    if (work_.snaps() && s.points.size() == 2 && s.drawn.empty()) work_.snapStroke(s.id, gesture_);
  }

  void giveUp() override {
    if (grabbed_.kind == Handle::box) work_.setBox(boxBefore_);
    grabbed_ = {};
    corners_.clear();
    level_.reset();
  }

  bool key(int key, Qt::KeyboardModifiers modifiers) override {
    if (key == Qt::Key_Escape && (!corners_.empty() || work_.pinPoint())) {
      work_.setPinPoint({});
      return giveUp(), true;
    }
    if (session_.shot().vantage.locked) return false;
    if (key == Qt::Key_Delete || key == Qt::Key_Backspace) return deleteSelected();
    if (key == Qt::Key_N) return selectNext(modifiers & Qt::ShiftModifier);
    const std::string id = session_.selectedStroke();
    if (key == Qt::Key_S && !id.empty()) {
      const Stroke* s = byId(session_.shot().evidence.strokes, id);
      work_.setReach(12 / view_.scale());
      if (s && s->drawn.empty())
        work_.snapStroke(id, gesture_);
      else
        work_.freeStroke(id);
      return true;
    }
    // Arrows nudge the grabbed point by a tenth of a pixel, with shift by one.
    const double step = modifiers & Qt::ShiftModifier ? 1.0 : 0.1;
    const Vec2d by = key == Qt::Key_Left    ? Vec2d(-step, 0)
                     : key == Qt::Key_Right ? Vec2d(step, 0)
                     : key == Qt::Key_Up    ? Vec2d(0, -step)
                     : key == Qt::Key_Down  ? Vec2d(0, step)
                                            : Vec2d(0, 0);
    if (by.length() == 0 || grabbed_.kind == Handle::none) return false;
    move([&](Vec2d& value) { value += by; }, words("nudge a point"));
    return true;
  }

  Qt::CursorShape cursor(const Vec2d& at) override {
    if (work_.proposal()) return Qt::PointingHandCursor;
    return nearest(at).kind == Handle::none ? Qt::CrossCursor : Qt::SizeAllCursor;
  }

  QString hint() const override {
    if (session_.shot().vantage.camera.width <= 0) return {};
    if (work_.proposal())
      return words("Click an edge to leave it out or take it in; then take them all on the desk");
    if (session_.shot().vantage.locked && work_.drawing() != Drawing::level)
      return words("Locked: unlock on the desk to change the vantage");
    return drawingHint(work_, corners_.size());
  }

 private:
  const EvidenceItem* itemOf(const std::string& id) const {
    for (const EvidenceItem& item : session_.answer().items)
      if (item.what == "stroke" && item.id == id) return &item;
    return nullptr;
  }

  Handle nearest(const Vec2d& at) const {
    Handle best;
    double closest = reachPx / view_.scale();
    Evidence e = session_.shot().evidence;
    for (const Handle& h : handlesOf(e))
      if (const Vec2d* p = handleValue(e, h); p && (*p - at).length() < closest)
        closest = (*p - at).length(), best = h;
    const Camera& camera = session_.shot().vantage.camera;
    if (work_.box() && session_.shot().vantage.solved)
      if (const auto foot = projected(camera, {work_.box()->at.x, work_.box()->at.y, 0});
          foot && (*foot - at).length() < closest)
        best = {Handle::box, 0, 0};
    return best;
  }

  /// Selects what the grabbed handle belongs to; a snapped stroke becomes a plain one between its ends.
  bool grab() {
    const Evidence& e = session_.shot().evidence;
    work_.selectPin(grabbed_.kind == Handle::pin ? int(grabbed_.item) : -1);
    if (grabbed_.kind == Handle::length) work_.selectLength(int(grabbed_.item));
    session_.selectStroke(grabbed_.kind == Handle::stroke ? e.strokes[grabbed_.item].id : "");
    return true;
  }

  bool pressProposal(const Vec2d& at) {
    std::string best;
    double closest = 2 * reachPx / view_.scale();
    for (const Stroke& s : work_.proposal()->strokes) {
      const Vec2d along = (s.points.back() - s.points.front()).normalized(), d = at - s.points.front();
      const double t = std::clamp(d.dot(along), 0.0, (s.points.back() - s.points.front()).length());
      if (const double off = (d - along * t).length(); off < closest) closest = off, best = s.id;
    }
    if (!best.empty()) work_.toggle(best);
    return false;
  }

  bool begin(const Vec2d& at) {
    const Evidence& e = session_.shot().evidence;
    switch (work_.drawing()) {
      case Drawing::footprint:
        return addCorner(at);
      case Drawing::pin: {
        const size_t index = e.pins.size();
        const Vec3d world = pointFor(at);
        session_.editEvidence(
            words("set a pin"),
            [&](Evidence& x) {
              x.pins.push_back({at, world});
            },
            gesture_);
        grabbed_ = {Handle::pin, index, 0};
        work_.selectPin(int(index));
        return true;
      }
      case Drawing::length:
      case Drawing::upright: {
        const size_t index = e.lengths.size();
        const LengthOn on = work_.drawing() == Drawing::length ? LengthOn::ground : LengthOn::upright;
        session_.editEvidence(
            words("draw a length"),
            [&](Evidence& x) {
              x.lengths.push_back({at, at, 1.0, on});
            },
            gesture_);
        grabbed_ = {Handle::length, index, 1};
        work_.selectLength(int(index));
        return true;
      }
      case Drawing::horizon:
        session_.editEvidence(
            words("draw the horizon"),
            [&](Evidence& x) {
              x.levelLine = {at, at};
            },
            gesture_);
        grabbed_ = {Handle::horizon, 0, 1};
        return true;
      case Drawing::origin:
        if (!session_.shot().vantage.solved || !levelPoint(session_.shot().vantage.camera, at))
          session_.refuse(
              words("The origin lies on the ground: solve the vantage first, and click below the horizon."));
        else if (!e.pins.empty())
          session_.refuse(words("The pins say where the origin is."));
        else
          work_.editFrame(words("move the origin"), [&](Evidence& x) { x.origin = at; });
        return false;
      case Drawing::level:
        if (!session_.shot().vantage.solved) {
          session_.refuse(words("Solve the vantage first: then a raised plane can be measured."));
          return false;
        }
        level_ = {at, at};
        return true;
      default:
        break;
    }
    const Run run = Run(int(work_.drawing()));
    const std::string id = freshId(e.strokes, "stroke");
    session_.editEvidence(
        words("draw a stroke"),
        [&](Evidence& x) {
          x.strokes.push_back({id, run, {at, at}, {}});
        },
        gesture_);
    session_.selectStroke(id);
    work_.selectPin(-1);
    grabbed_ = {Handle::stroke, session_.shot().evidence.strokes.size() - 1, 1};
    return true;
  }

  /// The world point a new pin belongs to: the product's where the pointer is on it, else the ground's.
  Vec3d pointFor(const Vec2d& at) {
    const Shot& shot = session_.shot();
    if (const auto picked = work_.pinPoint()) {
      work_.setPinPoint({});
      return *picked;
    }
    if (const auto hit = view_.hitAt(at)) return *hit;
    const auto ground = shot.vantage.solved ? levelPoint(shot.vantage.camera, at) : std::nullopt;
    return ground ? Vec3d(std::round(ground->x * 1000) / 1000, std::round(ground->y * 1000) / 1000, 0)
                  : Vec3d(0, 0, 0);
  }

  template <typename How>
  void move(const How& how, const char* what) {
    if (grabbed_.kind == Handle::none) return;
    session_.editEvidence(
        what,
        [&](Evidence& e) {
          if (grabbed_.kind == Handle::stroke && grabbed_.item < e.strokes.size())
            if (Stroke& s = e.strokes[grabbed_.item]; !s.drawn.empty()) {
              // Taken off its edge: a plain stroke between the ends, until it snaps again.
              grabbed_.point = grabbed_.point == 0 ? 0 : 1;
              s.points = {s.points.front(), s.points.back()};
              s.drawn.clear();
            }
          if (Vec2d* value = handleValue(e, grabbed_)) how(*value);
        },
        gesture_);
  }

  void remove(const char* what, const std::function<void(Evidence&)>& how) {
    session_.editEvidence(what, how, gesture_);
    grabbed_ = {};
  }

  bool deleteSelected() {
    const std::string id = session_.selectedStroke();
    const size_t pin = size_t(work_.pin()), length = size_t(work_.length());
    if (!id.empty()) {
      remove(words("delete a stroke"),
             [&](Evidence& e) { std::erase_if(e.strokes, [&](const Stroke& s) { return s.id == id; }); });
      session_.selectStroke("");
    } else if (work_.pin() >= 0) {
      remove(words("delete a pin"), [&](Evidence& e) {
        if (pin < e.pins.size()) e.pins.erase(e.pins.begin() + long(pin));
      });
      work_.selectPin(-1);
    } else if (work_.length() >= 0) {
      remove(words("delete a length"), [&](Evidence& e) {
        if (length < e.lengths.size()) e.lengths.erase(e.lengths.begin() + long(length));
      });
      work_.selectLength(-1);
    } else if (grabbed_.kind == Handle::corner) {
      remove(words("delete the footprint"), [](Evidence& e) { e.footprint.reset(); });
    } else if (grabbed_.kind == Handle::horizon) {
      remove(words("delete the horizon"), [](Evidence& e) { e.levelLine.clear(); });
    } else {
      return false;
    }
    return true;
  }

  /// Walks through every point by keyboard.
  bool selectNext(bool back) {
    const auto all = handlesOf(session_.shot().evidence);
    if (all.empty()) return false;
    size_t index = 0;
    for (size_t i = 0; i < all.size(); ++i)
      if (all[i] == grabbed_) index = (i + (back ? all.size() - 1 : 1)) % all.size();
    grabbed_ = all[index];
    return grab();
  }

  bool addCorner(const Vec2d& at) {
    corners_.push_back(at);
    if (corners_.size() < 4) return false;
    Footprint f = session_.shot().evidence.footprint.value_or(Footprint{});
    std::copy(corners_.begin(), corners_.end(), f.corners.begin());
    corners_.clear();
    session_.editEvidence(words("draw the footprint"), [&](Evidence& e) { e.footprint = f; });
    return false;
  }

  void finishLevel() {
    const auto height = heightOver(session_.shot().vantage.camera, level_->first, level_->second);
    const double length = (level_->first - level_->second).length() * view_.scale();
    level_.reset();
    if (length < 6) return;
    if (height)
      work_.addLevel(std::round(*height * 1000) / 1000);
    else
      session_.refuse(words("Begin on the ground, below the horizon."));
  }

  VantageWork& work_;
  Handle grabbed_;
  std::vector<Vec2d> corners_;
  std::optional<VantageWork::Box> boxBefore_;
  std::optional<std::pair<Vec2d, Vec2d>> level_;
};

}  // namespace

std::unique_ptr<Tool> makeVantageTool(PictureView& view, Workbench& bench) {
  return std::make_unique<VantageTool>(view, bench);
}

}  // namespace dusk
