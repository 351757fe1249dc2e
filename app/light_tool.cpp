#include <QtWidgets>

#include "app/camera_overlay.h"
#include "app/look.h"
#include "app/tools.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Marks the gnomon: drag from the foot of something upright to the tip of its shadow.
class LightTool : public Tool {
 public:
  using Tool::Tool;

  void paint(QPainter& painter) override {
    const auto& gnomon = session_.shot().gnomon;
    if (!gnomon) return;
    const QTransform t = view_.toScreen();
    const QPointF base = t.map(toPoint(workingPixel(vantage(), gnomon->base))),
                  tip = t.map(toPoint(workingPixel(vantage(), gnomon->shadowTip)));
    painter.setPen(QPen(QColor(20, 18, 26, 170), 4.5));
    painter.drawLine(base, tip);
    painter.setPen(QPen(look::tide, 2));
    painter.drawLine(base, tip);
    painter.setBrush(look::tide);
    painter.setPen(QPen(QColor(20, 18, 26), 1));
    painter.drawEllipse(base, 5, 5);
    QPolygonF diamond;
    diamond << tip + QPointF(0, -6) << tip + QPointF(6, 0) << tip + QPointF(0, 6) << tip + QPointF(-6, 0);
    painter.drawPolygon(diamond);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(look::text);
    painter.setFont(look::small());
    painter.drawText(base + QPointF(9, -7), "foot");
    painter.drawText(tip + QPointF(9, -7), "shadow tip");
  }

  bool press(const Vec2d& shown, Qt::KeyboardModifiers) override {
    const Vec2d at = photoPixel(vantage(), shown);
    if (session_.shot().vantage.camera.width <= 0) return false;
    gesture_ = Session::newGesture();
    const auto& gnomon = session_.shot().gnomon;
    const double reach = 10 / view_.scale();
    moving_ = gnomon && (gnomon->base - at).length() < reach        ? base
              : gnomon && (gnomon->shadowTip - at).length() < reach ? tip
                                                                    : fresh;
    from_ = at;
    return true;
  }

  void drag(const Vec2d& shown, Qt::KeyboardModifiers) override {
    const Vec2d at = photoPixel(vantage(), shown);
    if (moving_ == fresh && (at - from_).length() * view_.scale() < 6) return;
    session_.editShot(
        "mark a shadow",
        [&](Shot& shot) {
          if (moving_ == fresh)
            shot.gnomon = Gnomon{from_, at};
          else if (shot.gnomon)
            (moving_ == base ? shot.gnomon->base : shot.gnomon->shadowTip) = at;
        },
        gesture_);
  }

  Qt::CursorShape cursor(const Vec2d&) override { return Qt::CrossCursor; }
  QString hint() const override {
    return session_.shot().vantage.camera.width > 0 ? "Drag from the foot of something upright to the tip of "
                                                      "its shadow: the gnomon says where the sun stands"
                                                    : "";
  }

 private:
  /// A gnomon is marked on the photo as taken, whether or not it is shown straightened.
  const Vantage& vantage() const { return session_.shot().vantage; }

  enum { fresh, base, tip } moving_ = fresh;
  Vec2d from_{0, 0};
  int gesture_ = 0;
};

}  // namespace

std::unique_ptr<Tool> makeLightTool(PictureView& view) { return std::make_unique<LightTool>(view); }

}  // namespace dusk
