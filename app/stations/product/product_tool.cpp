#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/views/camera_overlay.h"
#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/product/stand.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Slides the product on the plane it stands on, turns it by a ring about its foot, and marks height
/// references.
class ProductTool : public Tool {
 public:
  using Tool::Tool;

  void paint(QPainter& painter) override {
    const Shot& shot = session_.shot();
    if (!shot.vantage.solved) return;
    const QTransform t = view_.toScreen();
    paintReferences(painter, t);
    if (guide_) paintGuide(painter, t, *guide_);
    const Placement* inHand = session_.placement();
    for (const Placement& p : shot.placements) {
      const bool mine = inHand && p.id == inHand->id;
      const Product* product = byId(session_.project().products, p.productId);
      if (!mine && product && !product->piece.kind.empty()) continue;  // a set has many
      const Vec3d foot(p.xM, p.yM, planeHeightM(shot, p));
      painter.setPen(QPen(QColor(20, 18, 26, 150), mine ? 4 : 2.5));
      drawGroundCircle(painter, camera(), t, foot, radius(p));
      painter.setPen(QPen(mine ? look::mark::ember : look::mark::muted, mine ? 1.8 : 1,
                          mine ? Qt::SolidLine : Qt::DotLine));
      drawGroundCircle(painter, camera(), t, foot, radius(p));
      if (!mine) continue;
      if (const auto knob = projected(camera(), knobAt(p))) {
        painter.setBrush(look::mark::ember);
        painter.setPen(QPen(QColor(20, 18, 26), 1.2));
        painter.drawEllipse(t.map(toPoint(*knob)), 6.5, 6.5);
        painter.setBrush(Qt::NoBrush);
        // Below the knob, off the ring's own line.
        const QString angle = QString("%L1°").arg(p.turnDegrees, 0, 'f', 1);
        paintLabel(painter, t.map(toPoint(*knob)) + QPointF(8, 19), angle);
      }
    }
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers) override {
    const Shot& shot = session_.shot();
    if (!shot.vantage.solved) return false;
    if (isReference()) return beginReference(at);
    for (size_t i = 0; i < shot.heightReferences.size(); ++i)
      for (const bool top : {false, true}) {
        const HeightReference& r = shot.heightReferences[i];
        if ((workingPixel(shot.vantage, top ? r.top : r.foot) - at).length() * view_.scale() >= 9) continue;
        reference_ = i, referenceTop_ = top, grip_ = onReference;
        return true;
      }
    if (const Placement* p = session_.placement())
      if (const auto knob = projected(camera(), knobAt(*p));
          knob && (*knob - at).length() * view_.scale() < 11)
        return grab(*p, turning, at);
    const auto pick = view_.pick(at);
    session_.selectPart(pick.part, pick.placement);
    if (const Placement* p = byId(shot.placements, pick.placement)) return grab(*p, sliding, at);
    return false;
  }

  void drag(const Vec2d& at, Qt::KeyboardModifiers modifiers) override {
    if (grip_ == onReference) return dragReference(at);
    const Placement* now = session_.placement();
    if (!now) return;
    const std::string level = grip_ == turning ? now->levelId : levelUnder(at);
    Placement there = *now;
    there.levelId = level;
    const double plane = planeHeightM(session_.shot(), there);
    const auto spot = levelPoint(camera(), at, plane + (grip_ == turning ? 0 : grabHeight_));
    if (!spot) return;
    guide_.reset();
    if (grip_ == turning) {
      double angle = degrees(std::atan2(spot->y - start_.yM, spot->x - start_.xM)) + 90;
      if (modifiers & Qt::ShiftModifier)
        angle = std::round(angle / 15) * 15;
      else if (!(modifiers & Qt::ControlModifier))
        angle = snappedTurn(angle, 2);
      change(words("turn the product"),
             [&](Placement& p) { p.turnDegrees = std::round(wrapDegrees(angle) * 10) / 10; });
    } else {
      Placement to = there;
      // Back where it was taken, it is exactly where it was.
      to.xM = start_.xM + (spot->x - grabSpot_.x), to.yM = start_.yM + (spot->y - grabSpot_.y);
      if (!(modifiers & Qt::ControlModifier)) snap(to, plane);
      change(words("slide the product"),
             [&](Placement& p) { p.xM = to.xM, p.yM = to.yM, p.levelId = level; });
    }
  }

  void release(const Vec2d&) override { giveUp(); }
  void giveUp() override {
    guide_.reset();
    grip_ = idle;
    view_.update();
  }

  bool key(int key, Qt::KeyboardModifiers modifiers) override {
    if (key == Qt::Key_Escape && isReference()) return session_.setNextDrag(Session::NextDrag::own), true;
    const Placement* inHand = session_.placement();
    if (!inHand) return false;
    if (key == Qt::Key_L) return nextLevel(*inHand);
    // Millimetres along the plane; with shift centimetres. Page keys turn by a degree.
    const double step = modifiers & Qt::ShiftModifier ? 0.01 : 0.001;
    start_ = *inHand;
    Placement to = start_;
    switch (key) {
      case Qt::Key_Left:
        to.xM -= step;
        break;
      case Qt::Key_Right:
        to.xM += step;
        break;
      case Qt::Key_Up:
        to.yM += step;
        break;
      case Qt::Key_Down:
        to.yM -= step;
        break;
      case Qt::Key_PageUp:
        to.turnDegrees += 1;
        break;
      case Qt::Key_PageDown:
        to.turnDegrees -= 1;
        break;
      default:
        return false;
    }
    change(words("nudge the product"), [&](Placement& p) { p = to; });
    return true;
  }

  Qt::CursorShape cursor(const Vec2d& at) override {
    if (isReference()) return Qt::CrossCursor;
    return view_.pick(at).part.empty() ? Qt::ArrowCursor : Qt::OpenHandCursor;
  }

  QString hint() const override {
    const Shot& shot = session_.shot();
    if (shot.vantage.camera.width <= 0) return {};
    if (!shot.vantage.solved) return words("The product can be seen once the vantage is solved");
    if (isReference())
      return words("Drag from the foot of something upright of known height to its top; Esc leaves");
    if (shot.placements.empty())
      return words("Drop a STEP, IGES, OBJ, glTF, FBX, STL, PLY, 3MF or DAE model here");
    QString text = words(
        "Drag slides, the knob turns (Shift: 15° steps); both snap to runs and footprint unless Ctrl is "
        "held");
    if (!shot.levels.empty()) text += words("; L: next level");
    return text;
  }

 private:
  bool isReference() const { return session_.nextDrag() == Session::NextDrag::heightReference; }
  enum Grip { idle, sliding, turning, onReference };

  Camera camera() const { return workingCamera(session_.shot().vantage); }

  /// A little wider than what it stands on.
  double radius(const Placement& p) const {
    const Product* product = byId(session_.project().products, p.productId);
    const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
    if (!model) return 0.24;
    const Vec3d size = trueSize(*product, model->box());
    return std::max(0.6 * std::hypot(size.x, size.y), 1e-3);
  }
  Vec3d knobAt(const Placement& p) const {
    const double a = radians(p.turnDegrees - 90), r = radius(p);
    return {p.xM + r * std::cos(a), p.yM + r * std::sin(a), planeHeightM(session_.shot(), p)};
  }

  bool grab(const Placement& p, Grip grip, const Vec2d& at) {
    start_ = p, grip_ = grip;
    // The product is held where it was taken: that point's height stays under the pointer.
    const double plane = planeHeightM(session_.shot(), p);
    grabHeight_ = 0;
    if (grip == sliding)
      if (const auto hit = view_.hitAt(at))
        grabHeight_ = std::min(hit->z - plane, (camera().position.z - plane) * 0.9);
    const auto spot = levelPoint(camera(), at, plane + grabHeight_);
    if (!spot) return false;
    grabSpot_ = {spot->x, spot->y};
    return true;
  }

  /// What a product that is slid there stands on: the highest top of a stand-in that it is over then, else
  /// the plane it came from.
  std::string levelUnder(const Vec2d& at) const {
    const Shot& shot = session_.shot();
    const StandIn* best = nullptr;
    for (const StandIn& s : shot.standIns) {
      const auto spot = levelPoint(camera(), at, s.topM() + grabHeight_);
      if (spot && (!best || s.topM() > best->topM()) &&
          isOnTop(s, Vec2d(start_.xM + spot->x - grabSpot_.x, start_.yM + spot->y - grabSpot_.y)))
        best = &s;
    }
    if (best) return best->id;
    return byId(shot.levels, start_.levelId) ? start_.levelId : std::string();
  }

  /// Pulls the placement onto a line it is nearer to than eight screen pixels, and remembers the line to
  /// show.
  void snap(Placement& to, double plane) {
    const Product* product = byId(session_.project().products, to.productId);
    const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
    const double away = (Vec3d(to.xM, to.yM, plane) - camera().position).dot(camera().axes.z);
    if (!model || away <= 0) return;
    const double reach = 8 * away / camera().focalPx / view_.scale();
    const auto snapped = snappedToLines(linesOn(plane), *product, to, *model, reach);
    to.xM = snapped.xM, to.yM = snapped.yM;
    if (!snapped.lines.empty()) guide_ = Guide{snapped.lines, plane};
  }

  /// The runs through the origin, and the sides of a footprint that lies on the plane.
  StandLines linesOn(double plane) const {
    StandLines lines;
    const Shot& shot = session_.shot();
    const auto& footprint = shot.evidence.footprint;
    if (!footprint || std::abs(footprint->heightM - plane) > 1e-6) return lines;
    for (const Vec2d& corner : footprint->corners)
      if (const auto p = levelPoint(shot.vantage.camera, corner, plane))
        lines.alongA.push_back(p->y), lines.alongB.push_back(p->x);
    return lines;
  }

  bool nextLevel(const Placement& p) {
    const auto& levels = session_.shot().levels;
    if (levels.empty()) return false;
    size_t next = 0;
    for (size_t i = 0; i < levels.size(); ++i)
      if (levels[i].id == p.levelId) next = i + 1;
    const LevelPlane level = next < levels.size() ? levels[next] : LevelPlane{"", words("the ground"), 0};
    start_ = p;
    // It stays under the pointer, or where it is seen.
    const double from = planeHeightM(session_.shot(), p), to = level.heightM;
    Vec2d spot(p.xM, p.yM);
    if (const auto seen = projected(camera(), {p.xM, p.yM, from}))
      if (const auto there = levelPoint(camera(), *seen, to)) spot = {there->x, there->y};
    change(words("stand it on another level"),
           [&](Placement& each) { each.levelId = level.id, each.xM = spot.x, each.yM = spot.y; });
    session_.say(words("It stands on ") + QString::fromStdString(level.name) + ".");
    return true;
  }

  struct Guide {
    std::vector<StandLine> lines;
    double plane;
  };
  void paintGuide(QPainter& painter, const QTransform& t, const Guide& guide) {
    painter.setPen(QPen(look::mark::tide, 1.6, Qt::DashLine));
    for (const StandLine& line : guide.lines) {
      QPolygonF shown;
      for (int i = -24; i <= 24; ++i) {
        const Vec2d p = line.point + line.direction * (i * 0.125);
        if (const auto at = projected(camera(), {p.x, p.y, guide.plane})) shown << t.map(toPoint(*at));
      }
      painter.drawPolyline(shown);
    }
  }

  bool beginReference(const Vec2d& at) {
    grip_ = onReference, referenceTop_ = true;
    session_.editShot(
        words("mark a height reference"),
        [&](Shot& shot) {
          HeightReference r;
          r.id = freshId(shot.heightReferences, "height");
          r.name = words("Height ") + r.id.substr(7);
          r.foot = r.top = photoPixel(shot.vantage, at);
          shot.heightReferences.push_back(r);
          reference_ = shot.heightReferences.size() - 1;
        },
        gesture_);
    session_.setNextDrag(Session::NextDrag::own);
    return true;
  }

  void dragReference(const Vec2d& at) {
    session_.editShot(
        words("mark a height reference"),
        [&](Shot& shot) {
          if (reference_ >= shot.heightReferences.size()) return;
          HeightReference& r = shot.heightReferences[reference_];
          (referenceTop_ ? r.top : r.foot) = photoPixel(shot.vantage, at);
        },
        gesture_);
  }

  void paintReferences(QPainter& painter, const QTransform& t) {
    const Shot& shot = session_.shot();
    for (const HeightReference& r : shot.heightReferences) {
      const QPointF foot = t.map(toPoint(workingPixel(shot.vantage, r.foot))),
                    top = t.map(toPoint(workingPixel(shot.vantage, r.top)));
      painter.setPen(QPen(QColor(20, 18, 26, 170), 4));
      painter.drawLine(foot, top);
      painter.setPen(QPen(look::mark::tide, 1.8, Qt::DashDotLine));
      painter.drawLine(foot, top);
      painter.setPen(QPen(look::mark::tide, 1.8));
      for (const QPointF& end : {foot, top}) painter.drawLine(end - QPointF(6, 0), end + QPointF(6, 0));
      paintLabel(painter, top + QPointF(9, 4),
                 QString("%L1, %L2 m").arg(QString::fromStdString(r.name)).arg(r.metres, 0, 'g', 4));
    }
  }

  void change(const char* what, const std::function<void(Placement&)>& how) {
    session_.editShot(
        what,
        [&](Shot& shot) {
          if (Placement* p = byId(shot.placements, start_.id)) how(*p);
        },
        gesture_);
  }

  Placement start_;
  Grip grip_ = idle;
  double grabHeight_ = 0;
  Vec2d grabSpot_{0, 0};
  size_t reference_ = 0;
  bool referenceTop_ = true;
  std::optional<Guide> guide_;
};

}  // namespace

std::unique_ptr<Tool> makeProductTool(PictureView& view, Workbench&) {
  return std::make_unique<ProductTool>(view);
}

}  // namespace dusk
