#include <QtWidgets>

#include "app/camera_overlay.h"
#include "app/look.h"
#include "app/tools.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Slides the product on the photo's ground, and turns it by a ring about its foot.
class ProductTool : public Tool {
 public:
  using Tool::Tool;

  void paint(QPainter& painter) override {
    const Shot& shot = session_.shot();
    if (!shot.vantage.solved) return;
    const QTransform t = view_.toScreen();
    for (const Placement& p : shot.placements) {
      painter.setPen(QPen(QColor(20, 18, 26, 150), 4));
      drawGroundCircle(painter, workingCamera(shot.vantage), t, {p.xM, p.yM, 0}, ringRadius);
      painter.setPen(QPen(look::ember, 1.8));
      drawGroundCircle(painter, workingCamera(shot.vantage), t, {p.xM, p.yM, 0}, ringRadius);
      if (const auto knob = projected(workingCamera(shot.vantage), knobAt(p))) {
        painter.setBrush(look::ember);
        painter.setPen(QPen(QColor(20, 18, 26), 1.2));
        painter.drawEllipse(t.map(toPoint(*knob)), 6.5, 6.5);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(look::text);
        painter.setFont(look::small());
        painter.drawText(t.map(toPoint(*knob)) + QPointF(-14, 22),
                         QString("%1°").arg(p.turnDegrees, 0, 'f', 1));
      }
    }
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers) override {
    const Shot& shot = session_.shot();
    if (!shot.vantage.solved) return false;
    for (const Placement& p : shot.placements)
      if (const auto knob = projected(workingCamera(shot.vantage), knobAt(p));
          knob && (*knob - at).length() * view_.scale() < 11)
        return grab(p, true, at);
    const auto pick = view_.pick(at);
    session_.selectPart(pick.part);
    if (const Placement* p = byId(shot.placements, pick.placement)) return grab(*p, false, at);
    return false;
  }

  void drag(const Vec2d& at, Qt::KeyboardModifiers modifiers) override {
    const Camera camera = workingCamera(session_.shot().vantage);
    const auto ground = levelPoint(camera, at, turning_ ? 0 : grabHeight_);
    if (!ground) return;
    if (turning_) {
      double angle = degrees(std::atan2(ground->y - start_.yM, ground->x - start_.xM)) + 90;
      if (modifiers & Qt::ShiftModifier) angle = std::round(angle / 15) * 15;
      change("turn the product",
             [&](Placement& p) { p.turnDegrees = std::round(wrapDegrees(angle) * 10) / 10; });
    } else {
      const Vec3d by = *ground - grabGround_;
      change("slide the product", [&](Placement& p) { p.xM = start_.xM + by.x, p.yM = start_.yM + by.y; });
    }
  }

  bool key(int key, Qt::KeyboardModifiers modifiers) override {
    const auto& placements = session_.shot().placements;
    if (placements.empty()) return false;
    // Millimetres along the ground; with shift centimetres. Page keys turn by a degree.
    const double step = modifiers & Qt::ShiftModifier ? 0.01 : 0.001;
    start_ = placements.front();
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
    gesture_ = 0;
    change("nudge the product", [&](Placement& p) { p = to; });
    return true;
  }

  Qt::CursorShape cursor(const Vec2d& at) override {
    return view_.pick(at).part.empty() ? Qt::ArrowCursor : Qt::OpenHandCursor;
  }

  QString hint() const override {
    const Shot& shot = session_.shot();
    if (shot.vantage.camera.width <= 0) return {};
    if (!shot.vantage.solved) return "The product can be seen once the vantage is solved";
    if (shot.placements.empty()) return "Drop a STEP, OBJ, glTF, FBX, STL or PLY model here";
    return "Drag the product along the ground; drag the knob on its ring to turn it (Shift: steps of 15°)";
  }

 private:
  static constexpr double ringRadius = 0.24;
  static Vec3d knobAt(const Placement& p) {
    const double a = radians(p.turnDegrees - 90);
    return {p.xM + ringRadius * std::cos(a), p.yM + ringRadius * std::sin(a), 0};
  }

  bool grab(const Placement& p, bool turning, const Vec2d& at) {
    start_ = p, turning_ = turning;
    gesture_ = Session::newGesture();
    // The product is held where it was taken: that point's height stays under the pointer.
    const Camera camera = workingCamera(session_.shot().vantage);
    grabHeight_ = 0;
    if (const Frame* frame = view_.frame(); frame && !turning) {
      const double s = double(frame->scene->camera.width) / camera.width;
      const Ray ray{toFloat(camera.position),
                    toFloat(rayThrough(frame->scene->camera, {at.x * s, at.y * s}))};
      if (const Hit hit = frame->scene->geometry->closest(ray); hit.found())
        grabHeight_ =
            std::min(double((ray.origin + ray.direction * hit.distance).z), camera.position.z * 0.9);
    }
    const auto ground = levelPoint(camera, at, grabHeight_);
    if (!ground) return false;
    grabGround_ = *ground;
    return true;
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
  bool turning_ = false;
  int gesture_ = 0;
  double grabHeight_ = 0;
  Vec3d grabGround_{0, 0, 0};
};

}  // namespace

std::unique_ptr<Tool> makeProductTool(PictureView& view) { return std::make_unique<ProductTool>(view); }

}  // namespace dusk
