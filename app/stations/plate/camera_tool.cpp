// The camera of a picture without a photo, in the picture itself.
#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/views/picture_view.h"
#include "core/base/words.h"
#include "core/light/backdrop.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

class CameraTool : public Tool {
 public:
  using Tool::Tool;

  bool press(const Vec2d& at, Qt::KeyboardModifiers) override {
    const auto pick = view_.pick(at);
    session_.selectPart(pick.part, pick.placement);
    if (!isByHand()) return false;
    from_ = at, before_ = session_.shot().backdrop;
    camera_ = workingCamera(session_.shot().vantage);
    // What is taken: a product, else the ground, unless that is far away.
    const auto on = view_.standAt(at);
    const auto hit = view_.hitAt(at);
    const Vec3d aim = lookOf(before_).aim;
    taken_ = hit ? *hit : on && (*on - aim).length() < 4 * before_.distanceM ? *on : aim;
    return true;
  }

  void drag(const Vec2d& at, Qt::KeyboardModifiers with) override {
    const Vec2d by = at - from_;
    const double degreesPerPx = 180.0 / std::max(1, camera_.width);
    edit(with & Qt::ControlModifier ? words("move the camera")
         : with & Qt::ShiftModifier ? words("go nearer")
                                    : words("turn the camera about the product"),
         [&](Backdrop& b) {
           b = before_;
           if (with & Qt::ControlModifier)
             slideBy(b, camera_, taken_, by);
           else if (with & Qt::ShiftModifier)
             goNearer(b, taken_, std::exp(-2 * by.y / std::max(1, camera_.height)));
           else
             turnAbout(b, taken_, -by.x * degreesPerPx, by.y * degreesPerPx);
         });
  }

  bool key(int key, Qt::KeyboardModifiers with) override {
    if (!isByHand()) return false;
    const double step = session_.shot().backdrop.distanceM * (with & Qt::ShiftModifier ? 0.01 : 0.05);
    Vec3d by(0, 0, 0);  // ahead, to the right, up
    if (key == Qt::Key_Up) by.x = step;
    if (key == Qt::Key_Down) by.x = -step;
    if (key == Qt::Key_Right) by.y = step;
    if (key == Qt::Key_Left) by.y = -step;
    if (key == Qt::Key_PageUp) by.z = step;
    if (key == Qt::Key_PageDown) by.z = -step;
    if (by.length() == 0) return false;
    edit(words("walk with the camera"), [&](Backdrop& b) { walk(b, by.x, by.y, by.z); });
    return true;
  }

  Qt::CursorShape cursor(const Vec2d&) override { return isByHand() ? Qt::OpenHandCursor : Qt::ArrowCursor; }

  QString hint() const override {
    if (isCameraFree(session_.shot()) && session_.shot().backdrop.locked)
      return words("The camera is locked, against accidents: Locked, in the desk, lets it go");
    return isByHand()
               ? QString(words(
                     "Drag: round what you take · Shift: nearer · Ctrl: sideways and up · arrows: walk"))
               : QString();
  }

 private:
  /// A panorama whose walls are not told is right from one place only: there the desk's numbers turn it.
  bool isByHand() const { return isCameraFree(session_.shot()) && !session_.shot().backdrop.locked; }
  void edit(const QString& what, const std::function<void(Backdrop&)>& change) {
    session_.editBackdrop(what, change, gesture_);
  }

  Vec2d from_{0, 0};
  Backdrop before_;
  Camera camera_;
  Vec3d taken_{0, 0, 0};
};

}  // namespace

std::unique_ptr<Tool> makePlateTool(PictureView& view, Workbench&) {
  return std::make_unique<CameraTool>(view);
}

}  // namespace dusk
