#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/views/camera_overlay.h"
#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/light/placing.h"
#include "core/product/hull.h"
#include "core/proof/balance.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Places the lamp in hand by its highlight or its shadow, picks its colour, and marks gnomons: drag from the
/// foot of something upright to the tip of its shadow; with Shift, a second one. Its top, where that is
/// wanted, is a third point.
class LightTool : public Tool {
 public:
  using Tool::Tool;

  void paint(QPainter& painter) override {
    if (const auto& g = session_.shot().gnomon) paintOne(painter, *g, "");
    if (const auto& g = session_.shot().otherGnomon) paintOne(painter, *g, words("second "));
    if (!at_ || mode() == NextDrag::own) return;
    const QPointF p = view_.toScreen().map(toPoint(*at_));
    painter.setPen(QPen(QColor(20, 18, 26, 170), 4));
    painter.drawEllipse(p, 9, 9);
    painter.setPen(QPen(look::mark::ember, 2));
    painter.drawEllipse(p, 9, 9);
  }

  bool press(const Vec2d& shown, Qt::KeyboardModifiers keys) override {
    const Vec2d at = photoPixel(vantage(), shown);
    if (session_.shot().vantage.camera.width <= 0) return false;
    if (mode() != NextDrag::own) return place(shown), mode() != NextDrag::own;
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
    if (mode() != NextDrag::own) return place(shown);
    const Vec2d at = photoPixel(vantage(), shown);
    if (grip_ == fresh && (at - from_).length() * view_.scale() < 6) return;
    session_.editShot(
        words("mark a shadow"),
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
  bool key(int key, Qt::KeyboardModifiers) override {
    if (key != Qt::Key_Escape || mode() == NextDrag::own) return false;
    session_.setNextDrag(NextDrag::own);
    return true;
  }

  QString hint() const override {
    if (mode() == NextDrag::highlight)
      return words("Drag over the product: the lamp's reflection follows the pointer. Esc leaves");
    if (mode() == NextDrag::shadowTip)
      return words("Drag over the ground: the shadow of the product's top follows the pointer. Esc leaves");
    if (mode() == NextDrag::lampColour)
      return words("Click where the photo has the lamp's colour. Esc leaves");
    return session_.shot().vantage.camera.width > 0
               ? words(
                     "Drag from the foot of something upright to the tip of "
                     "its shadow: the gnomon says where the sun stands. "
                     "Shift: a second one")
               : "";
  }

 private:
  using NextDrag = Session::NextDrag;
  NextDrag mode() const { return session_.nextDrag(); }

  void place(const Vec2d& shown) {
    const Lamp* lamp = byId(session_.shot().lamps, session_.selectedLamp());
    if (!lamp) {
      session_.setNextDrag(NextDrag::own);
      return session_.refuse(words("Choose a lamp in the cast first."));
    }
    if (mode() == NextDrag::lampColour) return pickColour(shown);
    const Shot& shot = session_.shot();
    std::optional<Lamp> moved;
    if (mode() == NextDrag::highlight) {
      Vec3d normal;
      const auto hit = view_.hitAt(shown, &normal);
      if (!hit) return;  // beside the product it stays where it was
      moved = lampMirroredAt(shot, *lamp, *hit, normal, workingCamera(shot.vantage).position);
    } else if (const Placement* p = session_.placement()) {
      const double plane = planeHeightM(shot, *p);
      const auto tip = levelPoint(workingCamera(shot.vantage), shown, plane);
      const Product* product = session_.product();
      const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
      if (!tip || !model) return;
      const Similarity world = worldFromModel(*product, *p, *model, plane);
      Vec3d top(0, 0, -1e30);
      for (const Vec3f& c : restOf(*product, *model).hull)
        if (const Vec3d at = world.point(toDouble(c)); at.z > top.z) top = at;
      moved = lampCasting(shot, *lamp, top, *tip);
    }
    at_ = shown;
    if (!moved) return;
    session_.editShot(
        mode() == NextDrag::highlight ? words("drag a highlight") : words("drag a shadow"),
        [&](Shot& s) { *byId(s.lamps, moved->id) = *moved; }, gesture_);
  }

  void pickColour(const Vec2d& shown) {
    session_.setNextDrag(NextDrag::own);
    const auto plate = session_.assets()->plate(session_.shot());
    const auto mean = plate ? patchOfPlate(**plate, session_.shot().vantage.camera, shown, 4 / view_.scale())
                            : std::nullopt;
    if (!mean || luminance(*mean) <= 1e-4f) return session_.refuse(words("The photo is black there."));
    session_.editShot(words("take a lamp's colour"), [&](Shot& s) {
      if (Lamp* l = byId(s.lamps, session_.selectedLamp())) l->colour = toDouble(*mean / luminance(*mean));
    });
  }

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
      painter.setPen(QPen(look::mark::tide, 2, i == 2 ? Qt::DotLine : Qt::SolidLine));
      painter.drawLine(lines[i].first, lines[i].second);
    }
    painter.setBrush(look::mark::tide);
    painter.setPen(QPen(QColor(20, 18, 26), 1));
    painter.drawEllipse(foot, 5, 5);
    painter.drawPolygon(
        QPolygonF({end + QPointF(0, -6), end + QPointF(6, 0), end + QPointF(0, 6), end + QPointF(-6, 0)}));
    if (gnomon.top) painter.drawRect(QRectF(place(*gnomon.top) - QPointF(4, 4), QSizeF(8, 8)));
    painter.setBrush(Qt::NoBrush);
    paintLabel(painter, foot + QPointF(10, -8), which + words("foot"));
    paintLabel(painter, end + QPointF(10, -8), which + words("shadow tip"));
    if (gnomon.top) paintLabel(painter, place(*gnomon.top) + QPointF(10, -8), which + words("top"));
  }

  enum { fresh, base, tip, top } grip_ = fresh;
  bool second_ = false;
  Vec2d from_{0, 0};
  std::optional<Vec2d> at_;
};

}  // namespace

std::unique_ptr<Tool> makeLightTool(PictureView& view, Workbench&) {
  return std::make_unique<LightTool>(view);
}

}  // namespace dusk
