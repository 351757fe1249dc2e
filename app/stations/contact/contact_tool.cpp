#include <QtWidgets>

#include "app/stations/contact/mirror_hand.h"
#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/views/camera_overlay.h"
#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/trace/place.h"
#include "core/vantage/camera.h"
#include "core/vantage/levels.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

Vec3d ofStandIn(const StandIn& s, double x, double y, double z) {
  const double a = radians(s.turnDegrees), lean = s.kind == StandInKind::sheet ? radians(s.leanDegrees) : 0;
  const double yy = y * std::cos(lean) - z * std::sin(lean), up = y * std::sin(lean) + z * std::cos(lean);
  return s.positionM + Vec3d(std::cos(a) * x - std::sin(a) * yy, std::sin(a) * x + std::cos(a) * yy, up);
}

/// Draws stand-ins as wires and shapes them by their handles; everything else is the product's.
class ContactTool : public Tool {
 public:
  ContactTool(PictureView& view, Workbench& bench)
      : Tool(view), product_(makeProductTool(view, bench)), mirror_(view, bench) {}

  void paint(QPainter& painter) override {
    product_->paint(painter);
    if (!session_.shot().vantage.solved) return;
    const QTransform t = view_.toScreen();
    painter.save();
    painter.setClipRect(t.mapRect(QRectF(0, 0, camera().width, camera().height)));
    for (const StandIn& s : session_.shot().standIns) {
      const bool mine = s.id == session_.selectedStandIn();
      painter.setBrush(Qt::NoBrush);
      painter.setPen(QPen(QColor(20, 18, 26, 160), mine ? 4 : 3));
      drawWires(painter, t, s);
      painter.setPen(QPen(mine ? look::mark::ember : look::mark::muted, mine ? 1.8 : 1.2,
                          s.on ? Qt::SolidLine : Qt::DotLine));
      drawWires(painter, t, s);
      const Vec3d top = ofStandIn(s, 0, 0, height(s));
      if (const auto at = projected(camera(), top))
        paintLabel(painter, t.map(toPoint(*at)) + QPointF(10, -8), QString::fromStdString(s.name));
      if (!mine) continue;
      painter.setPen(QPen(QColor(20, 18, 26), 1.2));
      painter.setBrush(look::mark::ember);
      for (const Grip grip : {corner, top_, knob})
        if (const auto at = gripAt(s, grip)) {
          const QPointF p = t.map(toPoint(*at));
          if (grip == knob)
            painter.drawEllipse(p, 6, 6);
          else
            painter.drawRect(QRectF(p - QPointF(5, 5), QSizeF(10, 10)));
        }
      painter.setBrush(Qt::NoBrush);
    }
    painter.restore();
    mirror_.paint(painter);
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers keys) override {
    grip_ = none;
    if (!session_.shot().vantage.solved) return false;
    if (session_.nextDrag() == Session::NextDrag::standIn) return begin(at);
    if (mirror_.isWanted()) return grip_ = mirror, mirror_.press(at), true;
    if (const StandIn* s = inHand())
      for (const Grip grip : {corner, top_, knob})
        if (const auto p = gripAt(*s, grip); p && (*p - at).length() * view_.scale() < 11) {
          grip_ = grip;
          return true;
        }
    if (!view_.hitAt(at))
      if (const auto met = standInAt(at)) {
        session_.selectStandIn(met->first);
        const StandIn* s = inHand();
        // Held where it was taken: that point's height stays under the pointer.
        grabHeight_ = std::min(met->second.z, camera().position.z * 0.95);
        const auto spot = levelPoint(camera(), at, grabHeight_);
        if (!spot || !s) return false;
        off_ = Vec2d(s->positionM.x - spot->x, s->positionM.y - spot->y);
        grip_ = slide;
        return true;
      }
    session_.selectStandIn({});
    grip_ = product_->press(at, keys) ? product : none;
    return grip_ == product;
  }

  void drag(const Vec2d& at, Qt::KeyboardModifiers keys) override {
    if (grip_ == product) return product_->drag(at, keys);
    if (grip_ == mirror) return mirror_.drag(at);
    const StandIn* s = inHand();
    if (!s) return;
    if (grip_ == fresh) return drawFoot(at);
    if (grip_ == top_) {
      if (const auto z = heightOverFoot(camera(), s->positionM, at))
        change(words("set a stand-in's height"), [&](StandIn& each) { each.sizeM.z = std::max(0.005, *z); });
      return;
    }
    const double plane = grip_ == slide ? grabHeight_ : s->positionM.z + (grip_ == corner ? height(*s) : 0);
    const auto spot = levelPoint(camera(), at, plane);
    if (!spot) return;
    const Vec2d to(spot->x, spot->y), middle(s->positionM.x, s->positionM.y);
    if (grip_ == slide)
      return change(words("slide a stand-in"), [&](StandIn& each) {
        each.positionM.x = to.x + off_.x, each.positionM.y = to.y + off_.y;
      });
    if (grip_ == knob) {
      double angle = degrees(std::atan2(to.y - middle.y, to.x - middle.x));
      if (keys & Qt::ShiftModifier) angle = std::round(angle / 15) * 15;
      return change(words("turn a stand-in"),
                    [&](StandIn& each) { each.turnDegrees = std::round(wrapDegrees(angle) * 10) / 10; });
    }
    const double a = radians(s->turnDegrees);
    const Vec2d off = to - middle,
                own(std::cos(a) * off.x + std::sin(a) * off.y, -std::sin(a) * off.x + std::cos(a) * off.y);
    change(words("size a stand-in"), [&](StandIn& each) {
      each.sizeM.x = std::max(0.01, 2 * std::abs(own.x));
      if (each.kind == StandInKind::cylinder || each.kind == StandInKind::ball)
        each.sizeM.x = std::max(0.01, 2 * off.length());
      else
        each.sizeM.y = std::max(0.01, 2 * std::abs(own.y));
    });
  }

  void release(const Vec2d& at) override {
    if (grip_ == product) product_->release(at);
    if (grip_ == fresh) session_.setNextDrag(Session::NextDrag::own);
    if (grip_ == mirror) mirror_.release();
    grip_ = none;
  }

  void giveUp() override {
    product_->giveUp(), mirror_.giveUp();
    grip_ = none;
  }
  void setGesture(int gesture) override {
    Tool::setGesture(gesture);
    product_->setGesture(gesture);
  }

  bool key(int key, Qt::KeyboardModifiers keys) override {
    if (key == Qt::Key_Escape && (session_.nextDrag() == Session::NextDrag::standIn || mirror_.isWanted()))
      return session_.setNextDrag(Session::NextDrag::own), true;
    const StandIn* s = inHand();
    if (!s) return product_->key(key, keys);
    if (key == Qt::Key_Delete) {
      const std::string id = s->id;
      session_.editShot(words("take a stand-in away"), [&](Shot& shot) {
        std::erase_if(shot.standIns, [&](const StandIn& each) { return each.id == id; });
      });
      return true;
    }
    const double step = keys & Qt::ShiftModifier ? 0.1 : 0.01;
    Vec3d by(0, 0, 0);
    double turn = 0;
    switch (key) {
      case Qt::Key_Left:
        by.x = -step;
        break;
      case Qt::Key_Right:
        by.x = step;
        break;
      case Qt::Key_Up:
        by.y = step;
        break;
      case Qt::Key_Down:
        by.y = -step;
        break;
      case Qt::Key_PageUp:
        turn = 1;
        break;
      case Qt::Key_PageDown:
        turn = -1;
        break;
      default:
        return false;
    }
    change(words("nudge a stand-in"), [&](StandIn& each) { each.positionM += by, each.turnDegrees += turn; });
    return true;
  }

  Qt::CursorShape cursor(const Vec2d& at) override {
    if (session_.nextDrag() == Session::NextDrag::standIn || mirror_.isWanted()) return Qt::CrossCursor;
    if (const StandIn* s = inHand())
      for (const Grip grip : {corner, top_, knob})
        if (const auto p = gripAt(*s, grip); p && (*p - at).length() * view_.scale() < 11)
          return grip == top_ ? Qt::SizeVerCursor : Qt::PointingHandCursor;
    return product_->cursor(at);
  }

  QString hint() const override {
    if (session_.nextDrag() == Session::NextDrag::standIn)
      return words(
          "Drag over the foot of the thing, from corner to corner; then pull up its top. Esc leaves");
    if (mirror_.isWanted())
      return words(
          "Drag from an edge of something that stands there, bright beside dark, down to the same edge in "
          "the ground. Esc leaves");
    if (inHand())
      return words(
          "Drag slides it; squares size and heighten it, the knob turns it; arrows 1 cm, Delete takes it "
          "away");
    return product_->hint();
  }

 private:
  enum Grip { none, product, mirror, fresh, slide, corner, top_, knob };

  Camera camera() const { return workingCamera(session_.shot().vantage); }
  const StandIn* inHand() const { return byId(session_.shot().standIns, session_.selectedStandIn()); }
  static double height(const StandIn& s) {
    return s.kind == StandInKind::sheet ? 0 : s.kind == StandInKind::ball ? s.sizeM.x : s.sizeM.z;
  }

  void drawWires(QPainter& painter, const QTransform& t, const StandIn& s) const {
    const Camera c = camera();
    const double x = s.sizeM.x / 2, y = s.sizeM.y / 2, z = height(s);
    if (s.kind == StandInKind::ball) {
      for (const int axis : {0, 1, 2}) {
        Vec3d last;
        for (int i = 0; i <= 48; ++i) {
          const double a = 2 * pi * i / 48, u = x * std::cos(a), v = x * std::sin(a);
          const Vec3d p = ofStandIn(s, axis == 0 ? 0 : u,
                                    axis == 0   ? u
                                    : axis == 1 ? 0
                                                : v,
                                    x + (axis == 2 ? 0 : v));
          if (i) drawWorldLine(painter, c, t, last, p);
          last = p;
        }
      }
      return;
    }
    if (s.kind == StandInKind::cylinder) {
      for (const double h : {0.0, z}) drawGroundCircle(painter, c, t, ofStandIn(s, 0, 0, h), x);
      for (int i = 0; i < 4; ++i) {
        const double a = pi / 2 * i;
        drawWorldLine(painter, c, t, ofStandIn(s, x * std::cos(a), x * std::sin(a), 0),
                      ofStandIn(s, x * std::cos(a), x * std::sin(a), z));
      }
      return;
    }
    const Vec2d corners[] = {{-x, -y}, {x, -y}, {x, y}, {-x, y}};
    for (int i = 0; i < 4; ++i) {
      const Vec2d a = corners[i], b = corners[(i + 1) % 4];
      drawWorldLine(painter, c, t, ofStandIn(s, a.x, a.y, 0), ofStandIn(s, b.x, b.y, 0));
      if (z <= 0) continue;
      drawWorldLine(painter, c, t, ofStandIn(s, a.x, a.y, z), ofStandIn(s, b.x, b.y, z));
      drawWorldLine(painter, c, t, ofStandIn(s, a.x, a.y, 0), ofStandIn(s, a.x, a.y, z));
    }
  }

  std::optional<Vec2d> gripAt(const StandIn& s, Grip grip) const {
    if (grip == top_ && (s.kind == StandInKind::sheet || s.kind == StandInKind::ball)) return {};
    const bool round = s.kind == StandInKind::cylinder || s.kind == StandInKind::ball;
    if (grip == knob && round) return {};
    const Vec3d at = grip == corner ? ofStandIn(s, s.sizeM.x / 2, round ? 0 : s.sizeM.y / 2, height(s))
                     : grip == top_
                         ? ofStandIn(s, 0, 0, height(s))
                         : ofStandIn(s, s.sizeM.x / 2 + 0.12 * std::max(s.sizeM.x, s.sizeM.y), 0, 0);
    return projected(camera(), at);
  }

  /// The stand-in met first by the ray through a pixel, and where.
  std::optional<std::pair<std::string, Vec3d>> standInAt(const Vec2d& at) const {
    const Vec3d direction = rayThrough(camera(), at);
    const Ray ray{toFloat(camera().position), toFloat(direction)};
    std::optional<std::pair<std::string, Vec3d>> nearest;
    float best = 1e30f;
    for (StandIn s : session_.shot().standIns) {
      Place alone;
      alone.ground = false;
      s.on = true;
      alone.add(s);
      const PlaceHit hit = alone.closest(ray, best, PlaceRay::photo);
      if (!hit.found()) continue;
      best = hit.distance;
      nearest = {s.id, camera().position + direction * double(hit.distance)};
    }
    return nearest;
  }

  bool begin(const Vec2d& at) {
    const auto spot = levelPoint(camera(), at);
    if (!spot) return false;
    from_ = {spot->x, spot->y};
    std::string id;
    session_.editShot(
        words("draw a stand-in"),
        [&](Shot& shot) {
          StandIn s;
          s.id = id = freshId(shot.standIns, "stand-in");
          s.name = words("Stand-in ") + s.id.substr(9);
          s.positionM = *spot, s.sizeM = {0.02, 0.02, 0.25};
          shot.standIns.push_back(s);
        },
        gesture_);
    session_.selectStandIn(id);
    grip_ = fresh;
    return true;
  }

  void drawFoot(const Vec2d& at) {
    const auto spot = levelPoint(camera(), at);
    if (!spot) return;
    change(words("draw a stand-in"), [&](StandIn& s) {
      s.positionM = {(from_.x + spot->x) / 2, (from_.y + spot->y) / 2, 0};
      s.sizeM.x = std::max(0.02, std::abs(spot->x - from_.x)),
      s.sizeM.y = std::max(0.02, std::abs(spot->y - from_.y));
    });
  }

  void change(const char* what, const std::function<void(StandIn&)>& how) {
    const std::string id = session_.selectedStandIn();
    session_.editShot(
        what,
        [&](Shot& shot) {
          if (StandIn* s = byId(shot.standIns, id)) how(*s);
        },
        gesture_);
  }

  std::unique_ptr<Tool> product_;
  MirrorHand mirror_;
  Grip grip_ = none;
  double grabHeight_ = 0;
  Vec2d off_{0, 0}, from_{0, 0};
};

}  // namespace

std::unique_ptr<Tool> makeContactTool(PictureView& view, Workbench& bench) {
  return std::make_unique<ContactTool>(view, bench);
}

}  // namespace dusk
