#include <QtWidgets>

#include "app/camera_overlay.h"
#include "app/look.h"
#include "app/tools.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Marks gnomons: drag from the foot of something upright to the tip of its shadow; with Shift, a second one.
/// Its top, where that is wanted, is a third point.
class LightTool : public Tool {
 public:
  using Tool::Tool;

  void paint(QPainter& painter) override {
    if (const auto& g = session_.shot().gnomon) paintOne(painter, *g, "");
    if (const auto& g = session_.shot().otherGnomon) paintOne(painter, *g, "second ");
  }

  bool press(const Vec2d& shown, Qt::KeyboardModifiers keys) override {
    const Vec2d at = photoPixel(vantage(), shown);
    if (session_.shot().vantage.camera.width <= 0) return false;
    gesture_ = Session::newGesture();
    const double reach = 10 / view_.scale();
    grip_ = fresh, second_ = keys & Qt::ShiftModifier;
    for (const bool second : {false, true}) {
      const auto& g = second ? session_.shot().otherGnomon : session_.shot().gnomon;
      if (!g || grip_ != fresh) continue;
      const auto near = [&](const Vec2d& p) { return (p - at).length() < reach; };
      grip_ = g->top && near(*g->top) ? top : near(g->base) ? base : near(g->shadowTip) ? tip : fresh;
      if (grip_ != fresh) second_ = second;
    }
    from_ = at;
    return true;
  }

  void drag(const Vec2d& shown, Qt::KeyboardModifiers) override {
    const Vec2d at = photoPixel(vantage(), shown);
    if (grip_ == fresh && (at - from_).length() * view_.scale() < 6) return;
    session_.editShot(
        "mark a shadow",
        [&](Shot& shot) {
          auto& g = second_ ? shot.otherGnomon : shot.gnomon;
          if (grip_ == fresh) {
            const auto kept = g ? g->top : std::nullopt;
            g = Gnomon{from_, at};
            // A top that was there goes along with the foot.
            if (kept) g->top = from_ - Vec2d(0, 90 / view_.scale());
          } else if (g) {
            (grip_ == base ? g->base : grip_ == tip ? g->shadowTip : *g->top) = at;
          }
        },
        gesture_);
  }

  Qt::CursorShape cursor(const Vec2d&) override { return Qt::CrossCursor; }
  QString hint() const override {
    return session_.shot().vantage.camera.width > 0 ? "Drag from the foot of something upright to the tip of "
                                                      "its shadow: the gnomon says where the sun stands. "
                                                      "Shift: a second one"
                                                    : "";
  }

 private:
  /// A gnomon is marked on the photo as taken, whether or not it is shown straightened.
  const Vantage& vantage() const { return session_.shot().vantage; }

  void paintOne(QPainter& painter, const Gnomon& gnomon, const QString& which) const {
    const QTransform t = view_.toScreen();
    const auto place = [&](const Vec2d& p) { return t.map(toPoint(workingPixel(vantage(), p))); };
    const QPointF foot = place(gnomon.base), end = place(gnomon.shadowTip);
    std::vector<std::pair<QPointF, QPointF>> lines{{foot, end}};
    if (gnomon.top) lines.push_back({foot, place(*gnomon.top)}), lines.push_back({place(*gnomon.top), end});
    for (size_t i = 0; i < lines.size(); ++i) {
      painter.setPen(QPen(QColor(20, 18, 26, 170), 4.5));
      painter.drawLine(lines[i].first, lines[i].second);
      painter.setPen(QPen(look::tide, 2, i == 2 ? Qt::DotLine : Qt::SolidLine));
      painter.drawLine(lines[i].first, lines[i].second);
    }
    painter.setBrush(look::tide);
    painter.setPen(QPen(QColor(20, 18, 26), 1));
    painter.drawEllipse(foot, 5, 5);
    painter.drawPolygon(
        QPolygonF({end + QPointF(0, -6), end + QPointF(6, 0), end + QPointF(0, 6), end + QPointF(-6, 0)}));
    if (gnomon.top) painter.drawRect(QRectF(place(*gnomon.top) - QPointF(4, 4), QSizeF(8, 8)));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(look::text);
    painter.setFont(look::small());
    painter.drawText(foot + QPointF(9, -7), which + "foot");
    painter.drawText(end + QPointF(9, -7), which + "shadow tip");
    if (gnomon.top) painter.drawText(place(*gnomon.top) + QPointF(9, -7), which + "top");
  }

  enum { fresh, base, tip, top } grip_ = fresh;
  bool second_ = false;
  Vec2d from_{0, 0};
  int gesture_ = 0;
};

}  // namespace

std::unique_ptr<Tool> makeLightTool(PictureView& view) { return std::make_unique<LightTool>(view); }

}  // namespace dusk
