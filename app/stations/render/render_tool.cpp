#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/views/camera_overlay.h"
#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/deliver/pass_view.h"

namespace dusk {
namespace {

/// Reads values under the pointer, flips through the passes, marks the part that is refined, picks the focus.
class RenderTool : public Tool {
 public:
  using Tool::Tool;
  using NextDrag = Session::NextDrag;

  void paint(QPainter& painter) override {
    const QTransform t = view_.toScreen();
    QRectF part = preview().detail().region;
    if (!part.isEmpty())
      part =
          QRectF(part.x() * width(), part.y() * height(), part.width() * width(), part.height() * height());
    if (dragging_) part = dragged();
    if (part.isEmpty()) return;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(QColor(20, 18, 26, 170), 3));
    painter.drawRect(t.mapRect(part));
    painter.setPen(QPen(look::mark::ember, 1.2, dragging_ ? Qt::SolidLine : Qt::DashLine));
    painter.drawRect(t.mapRect(part));
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers) override {
    if (session_.nextDrag() == NextDrag::region) {
      from_ = to_ = at;
      return dragging_ = true;
    }
    if (session_.nextDrag() == NextDrag::focus) {
      focusAt(at);
      return false;
    }
    const auto pick = view_.pick(at);
    session_.selectPart(pick.part, pick.placement);
    return false;
  }
  void drag(const Vec2d& at, Qt::KeyboardModifiers) override { to_ = at; }
  void release(const Vec2d&) override {
    if (!dragging_) return;
    dragging_ = false;
    session_.setNextDrag(NextDrag::own);
    const QRectF part = dragged();
    if (part.width() * view_.scale() < 8 || part.height() * view_.scale() < 8) return;
    ScreenDetail now = preview().detail();
    now.region = {part.x() / width(), part.y() / height(), part.width() / width(), part.height() / height()};
    preview().setDetail(now);
  }

  bool key(int key, Qt::KeyboardModifiers) override {
    if (key == Qt::Key_Escape && session_.nextDrag() != NextDrag::own)
      return session_.setNextDrag(NextDrag::own), true;
    if (key != Qt::Key_PageUp && key != Qt::Key_PageDown) return false;
    const Frame* f = view_.frame();
    if (!f || !f->named) return true;
    std::vector<std::string> names{""};  // the picture itself
    for (const NamedPass& p : *f->named) names.push_back(p.name);
    const auto now = std::find(names.begin(), names.end(), preview().shownPass());
    const size_t at = now == names.end() ? 0 : size_t(now - names.begin());
    preview().showPass(names[(at + (key == Qt::Key_PageDown ? 1 : names.size() - 1)) % names.size()]);
    return true;
  }

  void giveUp() override { dragging_ = false; }

  Qt::CursorShape cursor(const Vec2d& at) override {
    over_ = at;
    view_.update();
    return Qt::CrossCursor;
  }

  QString hint() const override {
    if (session_.nextDrag() == NextDrag::region)
      return words("Drag a rectangle: only that is refined; Esc leaves it");
    if (session_.nextDrag() == NextDrag::focus)
      return words("Click what is to be sharp on the product; Esc leaves it");
    const Frame* f = view_.frame();
    if (!f || !over_ || over_->x < 0 || over_->y < 0 || over_->x >= width() || over_->y >= height())
      return words("Page up and Page down flip through the passes; move over the picture to read its values");
    const Vec2d share = f->inArea({over_->x / width(), over_->y / height()});
    if (share.x < 0 || share.y < 0 || share.x >= 1 || share.y >= 1) return {};
    const auto in = [&](int w, int h) {
      return QPoint(std::min(w - 1, int(share.x * w)), std::min(h - 1, int(share.y * h)));
    };
    QString text;
    if (f->pass) {
      const QPoint p = in(f->pass->picture.width, f->pass->picture.height);
      text = QString::fromStdString(f->pass->name + ":  " + readOut(*f->pass, p.x(), p.y()));
    } else {
      const QColor c = f->picture.pixelColor(in(f->picture.width(), f->picture.height()));
      text = QString(words("code values %1  %2  %3")).arg(c.red()).arg(c.green()).arg(c.blue());
    }
    return text + QString(words("   at %1, %2 px")).arg(int(over_->x)).arg(int(over_->y));
  }

 private:
  Preview& preview() const { return view_.preview(); }
  double width() const { return session_.shot().vantage.camera.width; }
  double height() const { return session_.shot().vantage.camera.height; }
  QRectF dragged() const {
    return QRectF(QPointF(from_.x, from_.y), QPointF(to_.x, to_.y)).normalized() &
           QRectF(0, 0, width(), height());
  }

  void focusAt(const Vec2d& at) {
    session_.setNextDrag(NextDrag::own);
    const auto hit = view_.hitAt(at);
    if (!hit) return session_.refuse(words("There is no product there to focus on."));
    const Camera& c = session_.shot().vantage.camera;
    const double away = (*hit - c.position).dot(c.axes.z);
    session_.editShot(words("focus on a picked point"),
                      [away](Shot& s) { s.focus.on = true, s.focus.distanceM = away; });
  }

  Vec2d from_{0, 0}, to_{0, 0};
  bool dragging_ = false;
  std::optional<Vec2d> over_;
};

}  // namespace

std::unique_ptr<Tool> makeRenderTool(PictureView& view, Workbench&) {
  return std::make_unique<RenderTool>(view);
}

}  // namespace dusk
