#include "app/stations/parts.h"
#include "app/stations/surface/cross.h"
#include "app/stations/surface/print_jobs.h"
#include "app/stations/surface/slip.h"
#include "app/stations/workbench.h"
#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {
namespace {

/// Takes parts in hand, holds the print in hand by its slip, and the feed in hand by its cross.
class SurfaceTool : public Tool {
 public:
  explicit SurfaceTool(PictureView& view, Workbench& bench) : Tool(view), bench_(bench) {
    QObject::connect(&bench, &Workbench::printWanted, &view, [this, &bench](const QString& file) {
      if (const auto spot = spotInHand())
        takePrint(bench, file, *spot);
      else
        session_.refuse(words("Choose a part that the camera sees first: click it in the picture."));
    });
  }

  void paint(QPainter& painter) override {
    paintDrawn(painter);
    if (const auto slip = slipInHand()) slip->paint(painter);
    if (const auto cross = crossInHand()) cross->paint(painter);
  }

  bool press(const Vec2d& at, Qt::KeyboardModifiers) override {
    grabbed_ = at;
    if (forNext()) return drawn_ = {at, at}, true;
    if (const auto cross = crossInHand(); cross && (crossGrip_ = cross->gripAt(at)) != Cross::Grip::none) {
      feedWas_ = *feedInHand(session_.project());
      heldCross_.emplace(*cross);
      return true;
    }
    if (const auto slip = slipInHand(); slip && (slipGrip_ = slip->gripAt(at)) != Slip::Grip::none) {
      decalWas_ = *session_.decalInHand(session_.project());
      heldSlip_.emplace(*slip);
      return true;
    }
    if (takeDecalAt(at)) return false;
    session_.selectDecal({});
    spot_ = view_.spotAt(at);
    const auto pick = view_.pick(at);
    session_.selectPart(pick.part, pick.placement);
    return false;
  }

  void drag(const Vec2d& at, Qt::KeyboardModifiers) override {
    if (drawn_) {
      drawn_->second = at;
      view_.update();
    } else if (heldCross_) {
      const Feed to = heldCross_->dragged(feedWas_, crossGrip_, grabbed_, at);
      session_.edit(
          words("move a feed on the part"),
          [&](Project& p) {
            if (Feed* feed = feedInHand(p)) *feed = to;
          },
          gesture_);
    } else if (heldSlip_) {
      const Product* product = session_.product();
      const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
      if (!model) return;
      const Decal to = heldSlip_->dragged(decalWas_, slipGrip_, grabbed_, at, *model);
      session_.edit(
          words("move a print"),
          [&](Project& p) {
            if (Decal* decal = session_.decalInHand(p)) *decal = to;
          },
          gesture_);
    }
  }
  void release(const Vec2d& at) override {
    if (drawn_) drawn_->second = at, endDrawn();
    giveUp();
  }
  void giveUp() override { heldCross_.reset(), heldSlip_.reset(), drawn_.reset(); }

  bool key(int key, Qt::KeyboardModifiers modifiers) override {
    if (!session_.decalInHand(session_.project())) return false;
    if (key == Qt::Key_Delete) {
      takeOffPrint(session_);
      return true;
    }
    const double step = modifiers & Qt::ShiftModifier ? 5 : 0.5;
    Vec2f by(0);
    if (key == Qt::Key_Left) by.x = -1;
    if (key == Qt::Key_Right) by.x = 1;
    if (key == Qt::Key_Up) by.y = 1;
    if (key == Qt::Key_Down) by.y = -1;
    const bool turns = key == Qt::Key_PageUp || key == Qt::Key_PageDown;
    if (by.length() == 0 && !turns) return false;
    const double unitMm = session_.product()->metresPerUnit * 1000;
    session_.edit(
        words("nudge a print"),
        [&](Project& p) {
          Decal* d = session_.decalInHand(p);
          if (turns) d->turnDegrees = wrapDegrees(d->turnDegrees + (key == Qt::Key_PageUp ? 1 : -1));
          if (by.length() > 0)
            d->at = toDouble(pointOf(*d, frameOf(*d, unitMm, 1), by * float(step))) / unitMm;
        },
        gesture_);
    return true;
  }

  Qt::CursorShape cursor(const Vec2d& at) override {
    if (const auto cross = crossInHand(); cross && cross->gripAt(at) != Cross::Grip::none)
      return Qt::PointingHandCursor;
    if (const auto slip = slipInHand(); slip && slip->gripAt(at) != Slip::Grip::none)
      return slip->gripAt(at) == Slip::Grip::body ? Qt::SizeAllCursor : Qt::PointingHandCursor;
    return Qt::ArrowCursor;
  }

  QString hint() const override {
    if (session_.nextDrag() == NextDrag::fitPatch)
      return words(
          "Drag a frame over the part as the photo shows the real one, a highlight and plain places in it");
    if (session_.nextDrag() == NextDrag::flatPatch)
      return words("Drag a frame over a level place of the photo: a table, a floor, a pavement");
    if (session_.nextDrag() == NextDrag::trueLength)
      return words("Drag along something on the part whose length you know: a brick, a plank");
    if (session_.decalInHand(session_.project()))
      return words(
          "Drag the print, its corners, its bow; arrow keys move it, Page keys turn it, Delete takes it "
          "off");
    if (feedInHand(session_.project()))
      return words(
          "The cross slides, turns and sizes the feed; click the part to lay it elsewhere; hold A: it "
          "alone");
    const std::string& part = session_.selectedPart();
    return part.empty()
               ? words(
                     "Click a part to see its surface, or hold a surface over it; drop a picture to print it")
               : QString::fromStdString(part.substr(part.rfind('/') + 1));
  }

 private:
  bool forNext() const {
    return session_.nextDrag() == NextDrag::fitPatch || session_.nextDrag() == NextDrag::flatPatch ||
           session_.nextDrag() == NextDrag::trueLength;
  }
  /// The drag was for something the desk asked for.
  void endDrawn() {
    const auto [from, to] = *drawn_;
    const NextDrag what = session_.nextDrag();
    session_.setNextDrag(NextDrag::own);
    if (what == NextDrag::fitPatch) {
      emit bench_.fitWanted(from, to);
    } else if (what == NextDrag::flatPatch) {
      emit bench_.flatWanted(from, to);
    } else if (const auto cross = crossInHand()) {
      const auto a = cross->under(from), b = cross->under(to);
      if (a && b && (*b - *a).length() > 1e-3) emit bench_.lengthDrawn((*b - *a).length());
    } else {
      session_.refuse(
          words("Take the row of a picture or a pattern in hand first: its length is what is drawn."));
    }
  }
  void paintDrawn(QPainter& painter) const {
    if (!drawn_) return;
    const QTransform t = view_.toScreen();
    const QPointF a = t.map(toPoint(drawn_->first)), b = t.map(toPoint(drawn_->second));
    for (const bool dark : {true, false}) {
      painter.setPen(QPen(dark ? QColor(20, 18, 26, 170) : look::mark::tide, dark ? 3.5 : 1.5));
      if (session_.nextDrag() == NextDrag::trueLength)
        painter.drawLine(a, b);
      else
        painter.drawRect(QRectF(a, b).normalized());
    }
  }
  const Feed* feedInHand(const Project& p) const {
    const Surface* s = session_.surfaceInHand(p);
    return s ? feedAt(*s, session_.feedInHand()) : nullptr;
  }
  Feed* feedInHand(Project& p) const { return const_cast<Feed*>(feedInHand(std::as_const(p))); }

  std::string placementInHand() const {
    const Placement* p = session_.placement();
    return p ? p->id : std::string();
  }

  std::optional<Slip> slipInHand() const {
    const Decal* decal = session_.decalInHand(session_.project());
    return decal ? Slip::of(view_, *session_.product(), placementInHand(), *decal) : std::nullopt;
  }

  std::optional<Cross> crossInHand() const {
    const Feed* feed = feedInHand(session_.project());
    const Product* product = session_.product();
    if (!feed || !product) return {};
    const auto spot = spotInHand();
    return spot ? Cross::of(view_, *product, *feed, *spot) : std::nullopt;
  }

  /// The topmost print under the pointer is taken in hand; whether there was one.
  bool takeDecalAt(const Vec2d& at) {
    const Product* product = session_.product();
    const auto spot = view_.spotAt(at);
    if (!product || !spot) return false;
    for (auto d = product->decals.rbegin(); d != product->decals.rend(); ++d) {
      if (!d->on || std::none_of(d->parts.begin(), d->parts.end(),
                                 [&](const std::string& p) { return isUnder(spot->pick.part, p); }))
        continue;
      const auto slip = Slip::of(view_, *product, spot->pick.placement, *d);
      if (!slip || slip->gripAt(at) != Slip::Grip::body) continue;
      session_.selectPart(spot->pick.part, spot->pick.placement);
      session_.selectDecal(d->id);
      return true;
    }
    return false;
  }

  /// Where the part in hand was clicked; chosen elsewhere, near its middle.
  std::optional<PictureView::Spot> spotInHand() const {
    return spot_ && spot_->pick.part == session_.selectedPart() ? spot_ : middleOfPart();
  }

  /// Where the camera sees the part nearest to its middle; looked for on a grid of the picture.
  std::optional<PictureView::Spot> middleOfPart() const {
    const std::string& part = session_.selectedPart();
    const std::string placement = placementInHand();
    if (cachedFor_ == std::pair(part, view_.frame()) && cached_) return cached_;
    cachedFor_ = {part, view_.frame()}, cached_.reset();
    const Camera& c = session_.shot().vantage.camera;
    constexpr int steps = 40;
    std::vector<Vec2d> hits;
    Vec2d mean(0, 0);
    for (int y = 0; y < steps; ++y)
      for (int x = 0; x < steps; ++x) {
        const Vec2d at((x + 0.5) / steps * c.width, (y + 0.5) / steps * c.height);
        const auto pick = view_.pick(at);
        if (!part.empty() && pick.part == part && pick.placement == placement) hits.push_back(at), mean += at;
      }
    if (hits.empty()) return {};
    mean /= double(hits.size());
    return cached_ =
               view_.spotAt(*std::min_element(hits.begin(), hits.end(), [&](const Vec2d& a, const Vec2d& b) {
                 return (a - mean).length2() < (b - mean).length2();
               }));
  }

  Workbench& bench_;
  std::optional<std::pair<Vec2d, Vec2d>> drawn_;  ///< for what the desk asked
  std::optional<PictureView::Spot> spot_;
  mutable std::pair<std::string, const Frame*> cachedFor_;
  mutable std::optional<PictureView::Spot> cached_;
  Vec2d grabbed_{0, 0};
  std::optional<Cross> heldCross_;
  std::optional<Slip> heldSlip_;
  Cross::Grip crossGrip_ = Cross::Grip::none;
  Slip::Grip slipGrip_ = Slip::Grip::none;
  Feed feedWas_;
  Decal decalWas_;
};

}  // namespace

std::unique_ptr<Tool> makeSurfaceTool(PictureView& view, Workbench& bench) {
  return std::make_unique<SurfaceTool>(view, bench);
}

}  // namespace dusk
