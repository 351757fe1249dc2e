#include <QtWidgets>

#include "app/stations/blend/clean_hands.h"
#include "app/stations/blend/mask_hands.h"
#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/views/camera_overlay.h"
#include "app/views/picture_view.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/project/by_id.h"
#include "core/proof/balance.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// Pulls the curtain, draws masks and loops, and picks the two patches that should look alike.
class BlendTool : public Tool {
 public:
  BlendTool(PictureView& view, Workbench& bench) : Tool(view), masks_(view), clean_(view, bench) {}
  using NextDrag = Session::NextDrag;

  void paint(QPainter& painter) override {
    masks_.paint(painter);
    clean_.paint(painter);
    if (session_.nextDrag() == NextDrag::own && !photo_) return;
    const QTransform t = view_.toScreen();
    const auto ring = [&](const Patch& patch, const QColor& colour, Qt::PenStyle dash, const QString& name) {
      const QPointF c = t.map(toPoint(patch.at));
      const double r = std::max(4.0, patch.radius * view_.scale());
      painter.setBrush(Qt::NoBrush);
      painter.setPen(QPen(QColor(20, 18, 26, 170), 4));
      painter.drawEllipse(c, r, r);
      painter.setPen(QPen(colour, 2, dash));
      painter.drawEllipse(c, r, r);
      paintLabel(painter, c + QPointF(r + 9, 4), name);
    };
    if (photo_) ring(*photo_, look::mark::tide, Qt::DashLine, words("photo"));
    if (product_) ring(*product_, look::mark::ember, Qt::SolidLine, words("product"));
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers modifiers) override {
    if (session_.nextDrag() == NextDrag::photoPatch) return (photo_ = Patch{at, small()}), true;
    if (session_.nextDrag() == NextDrag::productPatch) return (product_ = Patch{at, small()}), true;
    if (clean_.press(at) || masks_.press(at, modifiers)) return true;
    if (overCurtain(at)) return pulls_ = true;
    const auto pick = view_.pick(at);
    session_.selectPart(pick.part, pick.placement);
    return false;
  }
  void drag(const Vec2d& at, Qt::KeyboardModifiers) override {
    if (pulls_) return view_.setCurtain(at.x / width());
    clean_.drag(at);
    if (session_.nextDrag() != NextDrag::photoPatch && session_.nextDrag() != NextDrag::productPatch)
      return masks_.drag(at, gesture_);
    auto& patch = session_.nextDrag() == NextDrag::photoPatch ? photo_ : product_;
    if (patch) patch->radius = std::max(small(), (at - patch->at).length());
  }
  void giveUp() override { masks_.giveUp(), clean_.giveUp(), pulls_ = false; }
  void release(const Vec2d&) override {
    pulls_ = false;
    if (clean_.release()) return;
    masks_.release(gesture_);
    if (session_.nextDrag() == NextDrag::photoPatch) return session_.setNextDrag(NextDrag::productPatch);
    if (session_.nextDrag() != NextDrag::productPatch) return;
    session_.setNextDrag(NextDrag::own);
    match();
  }
  bool key(int key, Qt::KeyboardModifiers) override {
    if (key == Qt::Key_Delete) return masks_.removePoint();
    if (key != Qt::Key_Escape || session_.nextDrag() == NextDrag::own) return false;
    session_.setNextDrag(NextDrag::own);
    return true;
  }
  Qt::CursorShape cursor(const Vec2d& at) override {
    if (masks_.isOver(at)) return Qt::SizeAllCursor;
    if (session_.nextDrag() == NextDrag::own && overCurtain(at)) return Qt::SplitHCursor;
    return session_.nextDrag() == NextDrag::own ? Qt::ArrowCursor : Qt::CrossCursor;
  }
  QString hint() const override {
    if (session_.nextDrag() == NextDrag::photoPatch)
      return words("Click or drag over a patch of the photo: a grey, a white. Esc leaves");
    if (session_.nextDrag() == NextDrag::productPatch)
      return words("Click or drag over the patch of the product that should look like it. Esc leaves");
    if (session_.nextDrag() == NextDrag::cleanUp)
      return words("Drag a loop round what must go, with its shadow. Esc leaves");
    if (session_.nextDrag() == NextDrag::cleanUpFrom)
      return words("Click on what the spot is to be filled with. Esc leaves");
    if (session_.nextDrag() == NextDrag::mask) return words("Draw the mask's line in one drag. Esc leaves");
    if (session_.nextDrag() == NextDrag::cutOut)
      return words("Drag a rough loop round a thing of the photo: its edge is found. Esc leaves");
    if (session_.nextDrag() == NextDrag::cutOutKeep)
      return words("Draw over what belongs to the cut-out. Esc leaves");
    if (session_.nextDrag() == NextDrag::cutOutLeave)
      return words("Draw over what does not belong to it. Esc leaves");
    return masks_.hint();
  }

 private:
  double width() const { return session_.shot().vantage.camera.width; }
  bool overCurtain(const Vec2d& at) const {
    const Frame* f = view_.frame();
    return f && !f->other.isNull() && f->compared.as == Compared::As::curtain &&
           std::abs(at.x - view_.curtain() * width()) * view_.scale() < 7;
  }
  struct Patch {
    Vec2d at{0, 0};
    double radius = 4;
  };
  double small() const { return 5 / view_.scale(); }

  void match() {
    const Frame* f = view_.frame();
    const auto plate = session_.assets()->plate(session_.shot());
    if (!photo_ || !product_) return session_.refuse(words("Choose the patch of the photo first."));
    if (!f || !f->passes || !plate) return session_.refuse(words("There is no picture to compare yet."));
    const double shown = session_.shot().vantage.camera.width;
    const double s = double(f->whole.width()) / f->area.width() * f->passes->width() / shown,
                 high = session_.shot().vantage.camera.height;
    const Vec2d share = f->inArea({product_->at.x / shown, product_->at.y / high}),
                at(share.x * f->passes->width(), share.y * f->passes->height());
    const auto wanted = patchOfPlate(**plate, session_.shot().vantage.camera, photo_->at, photo_->radius),
               light = patchMean(f->passes->beauty, at, product_->radius * s);
    const auto cover = coverOf(f->passes->alpha, at, product_->radius * s);
    if (!wanted || !light || cover < 0.98)
      return session_.refuse(words("The second patch must lie on the product, all of it."));
    const auto b = balanceBetween(*light, *wanted);
    if (!b) return session_.refuse(words("One of the patches is black."));
    session_.editShot(words("balance the product"), [&](Shot& shot) {
      shot.blend.exposureEv = b->ev, shot.blend.white = b->white, shot.blend.warmth = 0;
    });
  }
  static double coverOf(const Picture& alpha, const Vec2d& at, double radius) {
    double least = 1;
    for (int y = int(at.y - radius); y <= int(at.y + radius); ++y)
      for (int x = int(at.x - radius); x <= int(at.x + radius); ++x)
        if (std::hypot(x + 0.5 - at.x, y + 0.5 - at.y) <= radius)
          least = std::min<double>(
              least, x >= 0 && y >= 0 && x < alpha.width && y < alpha.height ? alpha.at(x, y)[0] : 0);
    return least;
  }

  MaskHands masks_;
  CleanHands clean_;
  bool pulls_ = false;
  std::optional<Patch> photo_, product_;
};

}  // namespace

std::unique_ptr<Tool> makeBlendTool(PictureView& view, Workbench& bench) {
  return std::make_unique<BlendTool>(view, bench);
}

}  // namespace dusk
