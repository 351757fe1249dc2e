#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/views/camera_overlay.h"
#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/project/hand_over_edit.h"
#include "core/vantage/frames.h"

namespace dusk {
namespace {

/// Draws the frames over the picture, and drags the one in hand: its middle, or a corner.
class FramesTool : public Tool {
 public:
  using Tool::Tool;

  void paint(QPainter& painter) override {
    const auto& frames = session_.shot().frames;
    if (frames.empty()) return;
    const QTransform t = view_.toScreen();
    QPainterPath outside;
    outside.addRect(t.mapRect(shown()));
    QPainterPath inside;
    inside.setFillRule(Qt::WindingFill);  // where frames overlap is inside, too
    for (const PictureFrame& f : frames) inside.addRect(t.mapRect(rectOf(f)));
    painter.fillPath(outside.subtracted(inside), QColor(20, 18, 26, 90));
    painter.setFont(look::small());
    for (const PictureFrame& f : frames) {
      const bool own = f.id == session_.selectedFrame();
      const QRectF r = t.mapRect(rectOf(f));
      painter.setBrush(Qt::NoBrush);
      painter.setPen(QPen(QColor(20, 18, 26, 170), own ? 4 : 3));
      painter.drawRect(r);
      painter.setPen(QPen(look::mark::ember, own ? 2 : 1, own ? Qt::SolidLine : Qt::DashLine));
      painter.drawRect(r);
      const QString name = QString::fromStdString(f.name);
      const QRectF tag(std::max(0.0, r.left()), std::max(0.0, r.top()),
                       painter.fontMetrics().horizontalAdvance(name) + 12, look::px(18));
      painter.fillRect(tag, QColor(20, 18, 26, 190));
      painter.setPen(own ? look::mark::ember : look::mark::text);
      painter.drawText(tag, Qt::AlignCenter, name);
      if (!own) continue;
      painter.setBrush(look::mark::ember);
      painter.setPen(QPen(QColor(20, 18, 26), 1));
      for (const QPointF& corner : {r.topLeft(), r.topRight(), r.bottomLeft(), r.bottomRight()})
        painter.drawEllipse(corner, 5, 5);
    }
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers) override {
    corner_ = cornerAt(at);
    if (!corner_) {
      const PictureFrame* under = frameAt(at);
      if (!under) {
        const auto pick = view_.pick(at);
        session_.selectPart(pick.part, pick.placement);
        return false;
      }
      session_.selectFrame(under->id);
    }
    const PictureFrame* f = inHand();
    from_ = at, was_ = *f, rect_ = rectOf(*f);
    return drags_ = true;
  }
  void drag(const Vec2d& at, Qt::KeyboardModifiers) override {
    if (!drags_) return;
    PictureFrame now = was_;
    if (!corner_) {
      now.centre += Vec2d((at.x - from_.x) / width(), (at.y - from_.y) / height());
    } else {
      // The corner across stays; the shape is the size's.
      const QPointF fixed = *corner_ == 0   ? rect_.bottomRight()
                            : *corner_ == 1 ? rect_.bottomLeft()
                            : *corner_ == 2 ? rect_.topRight()
                                            : rect_.topLeft();
      const double shape = rect_.height() / rect_.width();
      const double w = std::max({8.0, std::abs(at.x - fixed.x()), std::abs(at.y - fixed.y()) / shape});
      const double x = *corner_ % 2 ? fixed.x() : fixed.x() - w,
                   y = *corner_ / 2 ? fixed.y() : fixed.y() - w * shape;
      const QPointF moved = QRectF(x, y, w, w * shape).center() - rect_.center();
      now.width = w / width();
      now.centre += Vec2d(moved.x() / width(), moved.y() / height());
    }
    session_.editShot(
        corner_ ? words("size a frame") : words("move a frame"),
        [&](Shot& shot) {
          if (PictureFrame* f = byId(shot.frames, was_.id)) *f = now;
        },
        gesture_);
  }
  void release(const Vec2d&) override { drags_ = false; }
  void giveUp() override { drags_ = false; }

  bool key(int key, Qt::KeyboardModifiers modifiers) override {
    if (!inHand()) return false;
    if (key == Qt::Key_Delete) {
      session_.editShot(words("take a frame away"),
                        [&](Shot& shot) { removeFrame(shot, session_.selectedFrame()); });
      return true;
    }
    const double step = (modifiers & Qt::ShiftModifier ? 10 : 1) / std::max(1.0, width());
    const Vec2d by = key == Qt::Key_Left    ? Vec2d(-step, 0)
                     : key == Qt::Key_Right ? Vec2d(step, 0)
                     : key == Qt::Key_Up    ? Vec2d(0, -step * width() / height())
                     : key == Qt::Key_Down  ? Vec2d(0, step * width() / height())
                                            : Vec2d(0, 0);
    if (by == Vec2d(0, 0)) return false;
    session_.editShot(
        words("move a frame"),
        [&](Shot& shot) {
          if (PictureFrame* f = byId(shot.frames, session_.selectedFrame())) f->centre += by;
        },
        gesture_);
    return true;
  }
  Qt::CursorShape cursor(const Vec2d& at) override {
    if (const auto corner = cornerAt(at))
      return *corner == 0 || *corner == 3 ? Qt::SizeFDiagCursor : Qt::SizeBDiagCursor;
    return frameAt(at) ? Qt::SizeAllCursor : Qt::ArrowCursor;
  }
  QString hint() const override {
    if (session_.shot().frames.empty()) return {};
    return words(
        "Drag a frame, or a corner of it. Arrows move it a pixel, with Shift ten; Delete takes it away");
  }

 private:
  double width() const { return std::max(1, session_.shot().vantage.camera.width); }
  double height() const { return std::max(1, session_.shot().vantage.camera.height); }
  /// All that is shown: the picture, and what is traced beyond it for frames.
  QRectF shown() const {
    const QRectF picture(0, 0, width(), height());
    const auto& frame = view_.frame();
    if (!frame || !frame->isWhole() || frame->whole.isEmpty()) return picture;
    const double x = width() / frame->whole.width(), y = height() / frame->whole.height();
    const QRect& a = frame->area;
    return picture | QRectF(a.x() * x, a.y() * y, a.width() * x, a.height() * y);
  }
  QRectF rectOf(const PictureFrame& f) const {
    const auto p = placeOf(session_.shot(), f, int(width()), int(height()));
    return {QPointF(p[0] * width(), p[1] * height()), QPointF(p[2] * width(), p[3] * height())};
  }
  const PictureFrame* inHand() const { return byId(session_.shot().frames, session_.selectedFrame()); }
  std::optional<int> cornerAt(const Vec2d& at) const {
    const PictureFrame* f = inHand();
    if (!f) return {};
    const QRectF r = rectOf(*f);
    const QPointF corners[] = {r.topLeft(), r.topRight(), r.bottomLeft(), r.bottomRight()};
    for (int i = 0; i < 4; ++i)
      if (std::hypot(at.x - corners[i].x(), at.y - corners[i].y()) * view_.scale() < 9) return i;
    return {};
  }
  /// The one in hand first, else the smallest: it could not be reached otherwise.
  const PictureFrame* frameAt(const Vec2d& at) const {
    const PictureFrame* best = nullptr;
    for (const PictureFrame& f : session_.shot().frames) {
      const QRectF r = rectOf(f);
      if (!r.contains(QPointF(at.x, at.y))) continue;
      if (f.id == session_.selectedFrame()) return &f;
      if (!best || r.width() * r.height() < rectOf(*best).width() * rectOf(*best).height()) best = &f;
    }
    return best;
  }

  std::optional<int> corner_;  ///< top left, top right, bottom left, bottom right
  bool drags_ = false;
  Vec2d from_{0, 0};
  PictureFrame was_;
  QRectF rect_;
};

}  // namespace

std::unique_ptr<Tool> makeDeliverTool(PictureView& view, Workbench&) {
  return std::make_unique<FramesTool>(view);
}

}  // namespace dusk
