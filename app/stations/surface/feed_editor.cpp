#include "app/stations/surface/feed_editor.h"

#include <QtWidgets>

#include "app/stations/outside.h"
#include "app/stations/surface/print_jobs.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/project/feed_kinds.h"
#include "core/surface/values.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

bool isPattern(const Feed& f) {
  const FeedFamily family = infoOf(f.kind).family;
  return family != FeedFamily::plain && family != FeedFamily::picture && family != FeedFamily::shape;
}
bool isMapped(const Feed& f) { return isPattern(f) || f.kind == FeedKind::picture; }
bool hasShare(const Feed& f) { return infoOf(f.kind).shareTitle != nullptr; }
bool hasStretch(const Feed& f) { return infoOf(f.kind).stretch != 1 || f.kind == FeedKind::tile; }
bool hasRange(const Feed& f) { return f.kind != FeedKind::plain; }

}  // namespace

bool hasSize(const Feed& f) {
  return isPattern(f) ||
         (infoOf(f.kind).family == FeedFamily::shape && f.kind != FeedKind::facing &&
          f.kind != FeedKind::facingUp && f.kind != FeedKind::perPart && f.kind != FeedKind::vertexColours);
}

FeedEditor::FeedEditor(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  setAccessibleName(words("Feed in hand"));
  look::setRole(*this, "branch");
  layout()->setContentsMargins(6, 4, 0, 6);
  QWidget* both = beginRow();
  button(words("Choose the picture…"),
         words("A PNG, JPEG, TIFF, EXR, SVG or PDF. It is linked, and watched: what is saved elsewhere shows "
               "here"),
         [this] { chooseTexture(bench_); });
  button(words("Open outside"), openOutsideTip, [this] {
    if (const Feed* f = now(session_.project())) openOutside(session_, f->picture);
  });
  endRow();
  onRefresh([=, this] {
    const Feed* f = now(session_.project());
    both->setVisible(f && f->kind == FeedKind::picture);
  });
  choice(
      words("Takes"),
      {words("its colour"), words("its values as they are"), words("red"), words("green"), words("blue"),
       "alpha"},
      words("What of the picture counts. Colours become light; all others stay as they are"),
      [this](const Project& p) {
        const Feed* f = now(p);
        return f && f->kind == FeedKind::picture ? int(f->channel) : -1;
      },
      [this](Project& p, int i) {
        if (Feed* f = now(p)) f->channel = PictureChannel(i);
      });
  choice(
      words("Joins"), {words("lies over"), words("multiplies"), words("adds")},
      words("What it does with the rows below it"),
      [this](const Project& p) {
        const Feed* f = now(p);
        return f ? int(f->join) : -1;
      },
      [this](Project& p, int i) {
        if (Feed* f = now(p)) f->join = FeedJoin(i);
      });
  field(words("Strength"), {0, 1, 0.05, 2, "", true, 1}, words("How much of it counts"), &Feed::strength,
        [](const Feed&) { return true; });
  field(words("Size"), {0.01, 1e5, 1, 2, "mm"}, words("Of the thing that repeats, on the real product"),
        &Feed::sizeMm, hasSize);
  field(words("Longer by"), {0.01, 1000, 1, 1, "×"}, words("How much longer than wide it is"), &Feed::stretch,
        hasStretch);
  field(words("Amount"), {0, 1, 0.05, 2, "", true},
        words("Cover, contrast, width of joints or unevenness, as the kind has it"), &Feed::share, hasShare);
  number(
      words("Octaves"), {1, 10, 1, 0, ""}, words("How many finer ones lie on the large ones"),
      [this](const Project& p) {
        const Feed* f = now(p);
        return f && infoOf(f->kind).hasDetail ? std::optional(double(f->detail)) : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Feed* f = now(p)) f->detail = int(v);
      });
  number(
      words("Seed"), {0, 9999, 1, 0, ""}, words("Another one of its kind"),
      [this](const Project& p) {
        const Feed* f = now(p);
        return f && (isPattern(*f) || f->kind == FeedKind::perPart || f->kind == FeedKind::edges)
                   ? std::optional(double(f->seed))
                   : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Feed* f = now(p)) f->seed = int(v);
      });
  ends();
  mapping();
  ruler();
  narrowChoices();
}

void FeedEditor::ends() {
  end(words("Its 0 comes to"), words("What this row gives where the pattern is at its lowest"), &Feed::low);
  end(words("Its 1 comes to"), words("What this row gives where the pattern is at its highest"), &Feed::high);
  field(words("0 from"), {-10, 10, 0.05, 2, "", false, 0},
        words("What of it counts as 0 already. Above the next field, it is turned over"), &Feed::from,
        hasRange);
  field(words("1 from"), {-10, 10, 0.05, 2, "", false, 1}, words("What of it counts as 1 already"), &Feed::to,
        hasRange);
}

/// A colour or a number, as the value is one.
void FeedEditor::end(const QString& label, const QString& tip, Vec3d Feed::*member) {
  auto* swatch = colour(
      label, tip,
      [=, this](const Project& p) {
        const Feed* f = now(p);
        return f && isColour() ? std::optional(f->*member) : std::nullopt;
      },
      [=, this](Project& p, const Vec3d& c) {
        if (Feed* f = now(p)) f->*member = c;
      });
  onRefresh([=, this] { swatch->parentWidget()->setVisible(isColour() && now(session_.project())); });
  number(
      label, {-1000, 1000, 0.05, 3, ""}, tip,
      [=, this](const Project& p) {
        const Feed* f = now(p);
        return f && !isColour() ? std::optional((f->*member).x) : std::nullopt;
      },
      [=, this](Project& p, double v) {
        if (Feed* f = now(p)) f->*member = Vec3d(v);
      });
}

void FeedEditor::mapping() {
  choice(
      words("Lies"),
      {words("through the body"), words("as the mesh unrolls"), words("on three sides"),
       words("round an axis"), words("round a ball"), words("from one side"),
       words("thrown on by the camera")},
      words("How a place on the part becomes one on the pattern"),
      [this](const Project& p) {
        const Feed* f = now(p);
        return f && isMapped(*f) ? int(f->mapping.kind) : -1;
      },
      [this](Project& p, int i) {
        Feed* f = now(p);
        if (!f) return;
        f->mapping.kind = MappingKind(i);
        if (f->mapping.kind == MappingKind::camera) fromCamera(f->mapping);
      });
  choice(
      words("Axis"), {words("X of the model"), words("Y of the model"), words("Z of the model")},
      words("What it goes round, along, or is looked at along"),
      [this](const Project& p) {
        const Feed* f = now(p);
        const bool has = f && isMapped(*f) && f->mapping.kind != MappingKind::box &&
                         f->mapping.kind != MappingKind::coordinates &&
                         f->mapping.kind != MappingKind::camera;
        return has ? int(f->mapping.axis) : -1;
      },
      [this](Project& p, int i) {
        if (Feed* f = now(p)) f->mapping.axis = MappingAxis(i);
      });
  const auto place = [this](const QString& label, const Range& range, const QString& tip,
                            std::function<double&(Mapping&)> of, bool (*has)(const Feed&)) {
    number(
        label, range, tip,
        [=, this](const Project& p) {
          const Feed* f = now(p);
          if (!f || !has(*f)) return std::optional<double>();
          Mapping m = f->mapping;
          return std::optional(of(m));
        },
        [=, this](Project& p, double v) {
          if (Feed* f = now(p)) of(f->mapping) = v;
        });
  };
  const auto isPicture = [](const Feed& f) { return f.kind == FeedKind::picture; };
  place(
      words("Picture's width"), {0, 1e6, 5, 1, "mm"},
      words("Of one picture on the real product; 0: once across the mesh's own coordinates"),
      [](Mapping& m) -> double& { return m.sizeMm.x; }, isPicture);
  place(
      words("Picture's height"), {0, 1e6, 5, 1, "mm"}, words("0: as the picture's proportions ask"),
      [](Mapping& m) -> double& { return m.sizeMm.y; }, isPicture);
  place(
      words("Right"), {-1e6, 1e6, 1, 1, "mm"}, words("How far it is moved to the right"),
      [](Mapping& m) -> double& { return m.shiftMm.x; }, isMapped);
  place(
      words("Up"), {-1e6, 1e6, 1, 1, "mm"}, words("How far it is moved up"),
      [](Mapping& m) -> double& { return m.shiftMm.y; }, isMapped);
  place(
      words("Turn"), {-360, 360, 5, 1, "°", false, 0}, words("How far it is turned"),
      [](Mapping& m) -> double& { return m.turnDegrees; }, isMapped);
  place(
      words("Each part off by"), {0, 1e5, 10, 0, "mm", false, 0},
      words("Each part is moved by another random amount up to this, so that no two look alike"),
      [](Mapping& m) -> double& { return m.scatterMm; }, isMapped);
}

void FeedEditor::fromCamera(Mapping& m) const {
  const Shot& shot = session_.shot();
  const Placement* placement = session_.placement();
  const Product* product = session_.product();
  const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
  if (!placement || !model || !shot.vantage.solved) return;
  const double unitMm = product->metresPerUnit * 1000;
  const Similarity inModel =
      worldFromModel(*product, *placement, *model, planeHeightM(shot, *placement)).inverse();
  const Camera camera = workingCamera(shot.vantage);
  Box box;
  for (const Part& part : model->parts)
    if (part.path == session_.selectedPart()) box = model->boxOf(part);
  m.eyeMm = inModel.point(camera.position) * unitMm;
  const Vec3d ahead = inModel.direction(camera.axes.z);
  const double away = std::max(1.0, (box.middle() * unitMm - m.eyeMm).dot(ahead));
  m.aheadMm = ahead * away, m.up = inModel.direction(-camera.axes.y);
  // As large as the whole frame there, so that the photo itself falls where it was seen.
  const double perPixel = away / camera.focalPx;
  m.sizeMm = Vec2d(camera.width, camera.height) * perPixel;
  m.shiftMm = {(camera.width / 2.0 - camera.cx) * perPixel, (camera.cy - camera.height / 2.0) * perPixel};
  m.turnDegrees = 0;
}

/// True lengths: what is drawn along the part, and how long that really is.
void FeedEditor::ruler() {
  auto* draw =
      forNextDrag(words("Draw a true length"),
                  words("Drag along something on the part whose length you know"), NextDrag::trueLength);
  onRefresh([=, this] {
    const Feed* f = now(session_.project());
    draw->setVisible(f && isMapped(*f) && f->mapping.kind != MappingKind::coordinates);
  });
  connect(&bench_, &Workbench::lengthDrawn, this, [this](double mm) {
    drawnMm_ = mm;
    refreshAll();
  });
  number(
      words("Really long"), {0.01, 1e6, 1, 2, "mm"},
      words("How long what was drawn along is: the feed is sized so that it is"),
      [this](const Project& p) { return now(p) && drawnMm_ > 0 ? std::optional(drawnMm_) : std::nullopt; },
      [this](Project& p, double v) {
        Feed* f = now(p);
        if (!f || drawnMm_ <= 0 || v <= 0) return;
        const double by = v / drawnMm_;
        drawnMm_ = v;
        if (f->kind == FeedKind::picture)
          f->mapping.sizeMm *= by;
        else
          f->sizeMm = std::clamp(f->sizeMm * by, 0.01, 1e5);
      });
}

void FeedEditor::field(const QString& label, const Range& range, const QString& tip, double Feed::*member,
                       bool (*has)(const Feed&)) {
  number(
      label, range, tip,
      [=, this](const Project& p) {
        const Feed* f = now(p);
        return f && has(*f) ? std::optional(f->*member) : std::nullopt;
      },
      [=, this](Project& p, double v) {
        if (Feed* f = now(p)) f->*member = v;
      });
}

const Feed* FeedEditor::now(const Project& p) const {
  const Surface* s = session_.surfaceInHand(p);
  return s ? feedAt(*s, session_.feedInHand()) : nullptr;
}

Feed* FeedEditor::now(Project& p) const { return const_cast<Feed*>(now(std::as_const(p))); }

bool FeedEditor::isColour() const {
  const FeedPlace& place = session_.feedInHand();
  const ValuePlace* value = placeOf(place.value);
  return !place.ofMask && value && value->colour;
}

}  // namespace dusk
