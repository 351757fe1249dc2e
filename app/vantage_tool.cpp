#include <QtWidgets>

#include "app/camera_overlay.h"
#include "app/look.h"
#include "app/tools.h"

namespace dusk {
namespace {

constexpr double reachPx = 9;  // how near, on screen, counts as on a handle

class VantageTool : public Tool {
 public:
  using Tool::Tool;

  void paint(QPainter& painter) override {
    const Shot& shot = session_.shot();
    const QTransform t = view_.toScreen();
    if (shot.vantage.solved && view_.gridShown()) drawGround(painter, shot.vantage.camera, t, 0.5, 0.65);
    if (shot.evidence.footprint) paintFootprint(painter, *shot.evidence.footprint, t);
    for (const Stroke& stroke : shot.evidence.strokes) paintStroke(painter, stroke, t);
    for (size_t i = 0; i < corners_.size(); ++i) {
      painter.setPen(QPen(look::moss, 2));
      painter.drawEllipse(t.map(toPoint(corners_[i])), 5, 5);
      if (i) painter.drawLine(t.map(toPoint(corners_[i - 1])), t.map(toPoint(corners_[i])));
    }
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers modifiers) override {
    if (session_.shot().vantage.camera.width <= 0) return false;
    if (session_.shot().vantage.locked) {
      session_.say("The vantage is locked against accidents. Unlock it on the desk to change it.");
      return false;
    }
    gesture_ = Session::newGesture();
    // Ctrl draws even where a handle lies.
    grabbed_ = modifiers & Qt::ControlModifier ? Handle{} : nearest(at);
    if (grabbed_.kind == Handle::stroke) {
      session_.selectStroke(session_.shot().evidence.strokes[grabbed_.item].id);
      return true;
    }
    if (grabbed_.kind == Handle::corner) return true;
    if (vantageChoice().drawing == Drawing::footprint) return addCorner(at);
    const Run run = Run(int(vantageChoice().drawing));
    const std::string id = freshId(session_.shot().evidence.strokes, "stroke");
    session_.editEvidence(
        "draw a stroke",
        [&](Evidence& e) {
          e.strokes.push_back({id, run, {at, at}});
        },
        gesture_);
    session_.selectStroke(id);
    grabbed_ = {Handle::stroke, session_.shot().evidence.strokes.size() - 1, 1};
    return true;
  }

  void drag(const Vec2d& at, Qt::KeyboardModifiers) override {
    session_.editEvidence(
        "move evidence",
        [&](Evidence& e) {
          if (grabbed_.kind == Handle::stroke && grabbed_.item < e.strokes.size())
            e.strokes[grabbed_.item].points[grabbed_.point] = at;
          if (grabbed_.kind == Handle::corner && e.footprint) e.footprint->corners[grabbed_.point] = at;
        },
        gesture_);
  }

  void release(const Vec2d&) override {
    // A stroke too short to mean anything was a click beside everything.
    const auto& strokes = session_.shot().evidence.strokes;
    if (grabbed_.kind != Handle::stroke || grabbed_.item >= strokes.size()) return;
    const Stroke& s = strokes[grabbed_.item];
    if (s.points.size() == 2 && (s.points[0] - s.points[1]).length() * view_.scale() < 6) {
      const std::string id = s.id;
      session_.editEvidence(
          "draw a stroke",
          [&](Evidence& e) { std::erase_if(e.strokes, [&](const Stroke& other) { return other.id == id; }); },
          gesture_);
      session_.selectStroke("");
    }
  }

  bool key(int key, Qt::KeyboardModifiers modifiers) override {
    const std::string id = session_.selectedStroke();
    if (id.empty() || session_.shot().vantage.locked) return false;
    if (key == Qt::Key_Delete || key == Qt::Key_Backspace) {
      session_.editEvidence("delete a stroke", [&](Evidence& e) {
        std::erase_if(e.strokes, [&](const Stroke& s) { return s.id == id; });
      });
      session_.selectStroke("");
      return true;
    }
    // Arrows nudge the last grabbed point by a tenth of a pixel, with shift by one.
    const double step = modifiers & Qt::ShiftModifier ? 1.0 : 0.1;
    const Vec2d by = key == Qt::Key_Left    ? Vec2d(-step, 0)
                     : key == Qt::Key_Right ? Vec2d(step, 0)
                     : key == Qt::Key_Up    ? Vec2d(0, -step)
                     : key == Qt::Key_Down  ? Vec2d(0, step)
                                            : Vec2d(0, 0);
    if (by.length() == 0 || grabbed_.kind != Handle::stroke) return false;
    session_.editEvidence(
        "nudge a point",
        [&](Evidence& e) {
          if (grabbed_.item < e.strokes.size() && grabbed_.point < e.strokes[grabbed_.item].points.size())
            e.strokes[grabbed_.item].points[grabbed_.point] += by;
        },
        gesture_);
    return true;
  }

  Qt::CursorShape cursor(const Vec2d& at) override {
    return nearest(at).kind == Handle::none ? Qt::CrossCursor : Qt::SizeAllCursor;
  }

  QString hint() const override {
    if (session_.shot().vantage.camera.width <= 0) return {};
    if (session_.shot().vantage.locked) return "Locked: unlock on the desk to change the vantage";
    if (vantageChoice().drawing == Drawing::footprint)
      return QString(
                 "Click the four corners of a rectangle on the ground, the origin first, then along run a "
                 "(%1 of 4)")
          .arg(corners_.size());
    return "Drag along edges that are parallel in the place; Ctrl draws beside a handle, Delete removes, "
           "arrows nudge by 0.1 px";
  }

 private:
  struct Handle {
    enum Kind { none, stroke, corner } kind = none;
    size_t item = 0, point = 0;
  };

  Handle nearest(const Vec2d& at) const {
    Handle best;
    double closest = reachPx / view_.scale();
    const auto consider = [&](const Vec2d& p, Handle h) {
      if (const double d = (p - at).length(); d < closest) closest = d, best = h;
    };
    const Evidence& e = session_.shot().evidence;
    for (size_t i = 0; i < e.strokes.size(); ++i)
      for (size_t k = 0; k < e.strokes[i].points.size(); ++k)
        consider(e.strokes[i].points[k], {Handle::stroke, i, k});
    if (e.footprint)
      for (size_t k = 0; k < 4; ++k) consider(e.footprint->corners[k], {Handle::corner, 0, k});
    return best;
  }

  bool addCorner(const Vec2d& at) {
    corners_.push_back(at);
    if (corners_.size() < 4) return false;
    Footprint f;
    std::copy(corners_.begin(), corners_.end(), f.corners.begin());
    if (session_.shot().evidence.footprint) f.sizeM = session_.shot().evidence.footprint->sizeM;
    corners_.clear();
    session_.editEvidence("draw the footprint", [&](Evidence& e) { e.footprint = f; });
    return false;
  }

  void paintStroke(QPainter& painter, const Stroke& stroke, const QTransform& t) const {
    const bool selected = stroke.id == session_.selectedStroke();
    const RunLook look = runLook(stroke.run);
    QPolygonF line;
    for (const Vec2d& p : stroke.points) line << t.map(toPoint(p));
    painter.setPen(QPen(QColor(20, 18, 26, 170), selected ? 5 : 4));
    painter.drawPolyline(line);
    painter.setPen(QPen(look.colour, selected ? 2.6 : 1.8, look.dash));
    painter.drawPolyline(line);
    painter.setPen(QPen(QColor(20, 18, 26), 1));
    painter.setBrush(selected ? look::text : look.colour);
    for (const QPointF& p : line) painter.drawEllipse(p, 3.6, 3.6);
    painter.setBrush(Qt::NoBrush);
    for (const EvidenceItem& item : session_.answer().items)
      if (item.what == "stroke" && item.id == stroke.id && (selected || item.outlier)) {
        painter.setPen(item.outlier ? look::rose : look::text);
        painter.setFont(look::small());
        painter.drawText(
            line.last() + QPointF(8, -6),
            QString("%1 px%2").arg(item.rmsPx, 0, 'f', 1).arg(item.outlier ? " - does not fit" : ""));
      }
  }

  void paintFootprint(QPainter& painter, const Footprint& footprint, const QTransform& t) const {
    QPolygonF shape;
    for (const Vec2d& p : footprint.corners) shape << t.map(toPoint(p));
    QColor fill = look::moss;
    fill.setAlpha(36);
    painter.setBrush(fill);
    painter.setPen(QPen(look::moss, 2));
    painter.drawPolygon(shape);
    painter.setBrush(look::moss);
    painter.setPen(QPen(QColor(20, 18, 26), 1));
    for (int i = 0; i < 4; ++i) painter.drawRect(QRectF(shape[i] - QPointF(3.5, 3.5), QSizeF(7, 7)));
    painter.setBrush(Qt::NoBrush);
  }

  Handle grabbed_;
  int gesture_ = 0;
  std::vector<Vec2d> corners_;
};

}  // namespace

std::unique_ptr<Tool> makeVantageTool(PictureView& view) { return std::make_unique<VantageTool>(view); }

}  // namespace dusk
