#include "app/stations/vantage/vantage_desk.h"

#include <QtWidgets>

#include "app/document/clipboard.h"
#include "app/stations/vantage/run_look.h"
#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/vantage/camera.h"
#include "core/vantage/margins.h"

namespace dusk {
namespace {

constexpr int columns = 3;

const struct {
  const char *label, *tip;
  Drawing drawing;
} kinds[] = {
    {marked("run a"), marked("Strokes along one level direction (world +X). Key 1"), Drawing::strokeA},
    {marked("run b"), marked("Strokes along the other level direction (world +Y). Key 2"), Drawing::strokeB},
    {marked("upright"), marked("Strokes along upright edges (world +Z). Key 3"), Drawing::strokeUp},
    {marked("footprint"),
     marked("Four corners of a real rectangle, level and of known or unknown size. Key 4"),
     Drawing::footprint},
    {marked("length"), marked("A length you know on the ground. Key 5"), Drawing::length},
    {marked("height"), marked("The height of something upright, from its foot on the ground. Key 6"),
     Drawing::upright},
    {marked("pin"), marked("A point of the photo whose place in the world you know. Key 7"), Drawing::pin},
    {marked("horizon"), marked("The horizon itself: the sea, far plains. Key 8"), Drawing::horizon},
    {marked("raised level"), marked("A table top or shelf: from the ground straight up to its edge. Key 9"),
     Drawing::level},
};

QString measured(const QString& text) { return look::spanned(text, look::tide()); }

}  // namespace

VantageDesk::VantageDesk(Workbench& bench)
    : Desk(bench.session, words("Vantage"),
           words("The camera that took the photo, from what you draw. Two directions are enough; a third and "
                 "longer strokes "
                 "make it surer.")),
      bench_(bench),
      work_(bench.vantageWork) {
  buildEdges();
  buildDrawing();
  heading(words("What was found"));
  answer_ = note();
  answer_->setAccessibleName(words("Solved camera and its margins"));
  advice_ = note();
  onRefresh([this] { showAnswer(); });
  toggle(
      words("Lock this vantage"), words("Keeps the camera as it is, whatever happens to the evidence"),
      [this](const Project& p) {
        return session_.shotIn(p).vantage.solved ? std::optional(session_.shotIn(p).vantage.locked)
                                                 : std::nullopt;
      },
      [this](Project& p, bool on) { session_.shotIn(p).vantage.locked = on; });
  buildKnown();
  buildLens();
  buildFrame();
  buildKept();
  stretch();
  connect(&work_, &VantageWork::changed, this, &VantageDesk::refreshAll);
  refreshAll();
}

void VantageDesk::buildEdges() {
  beginRow();
  find_ = button(
      words("Find edges"), words("Looks for straight edges in the photo and proposes up to three runs"),
      [this] { work_.findEdges(); }, true);
  auto* cancel =
      button(words("Stop looking"), words("Stops looking for edges"), [this] { work_.cancelFinding(); });
  endRow();
  found_ = note();
  found_->setAccessibleName(words("Edges found"));
  QWidget* runs = beginRow();
  button(words("Swap a and b"), words("The two level runs change names"),
         [this] { work_.swapRuns(Run::a, Run::b); });
  button(words("Swap b and up"), words("Run b and the uprights change names"),
         [this] { work_.swapRuns(Run::b, Run::up); });
  endRow();
  QWidget* decide = beginRow();
  button(
      words("Add edges"), words("The edges found become strokes (one step of undo)"),
      [this] { work_.takeProposal(); }, true);
  button(words("Discard edges"), words("Leaves the evidence as it is"), [this] { work_.dropProposal(); });
  endRow();
  onRefresh([=, this] {
    const auto& proposal = work_.proposal();
    const bool looking = work_.looking() != nullptr;
    find_->setEnabled(!looking && !session_.shot().plate.empty() && !session_.shot().vantage.locked);
    find_->setText(looking ? words("Looking…") : words("Find edges"));
    cancel->setVisible(looking);
    runs->setVisible(proposal.has_value());
    decide->setVisible(proposal.has_value());
    found_->setVisible(proposal.has_value());
    if (!proposal) return;
    std::array<int, 3> counts{};
    for (const Stroke& s : proposal->strokes)
      if (!proposal->dropped.contains(s.id)) ++counts[size_t(s.run)];
    const VantageAnswer& a = proposal->answer;
    found_->setText(
        QString(words("%1 along run a, %2 along run b, %3 upright.<br>"))
            .arg(counts[0])
            .arg(counts[1])
            .arg(counts[2]) +
        (a.vantage.solved
             ? words("They would give ") +
                   measured(QString(words("%1 mm ± %2, fit %3 px"))
                                .arg(focalMm35(a.vantage.camera), 0, 'f', 1)
                                .arg(focalMm35(a.vantage.camera) * a.vantage.sigma.focalPx /
                                         a.vantage.camera.focalPx,
                                     0, 'f', 1)
                                .arg(a.vantage.rmsPx, 0, 'f', 2)) +
                   (proposal->bends ? words(", with a lens that bends lines.") : ".")
             : look::spanned(QString::fromStdString(a.advice.empty() ? "" : a.advice[0]), look::rose())));
  });
}

void VantageDesk::buildDrawing() {
  heading(words("Draw"));
  auto* holder = new QWidget;
  auto* grid = new QGridLayout(holder);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(5);
  auto* group = new QButtonGroup(this);
  int index = 0;
  for (const auto& kind : kinds) {
    auto* b = new QToolButton;
    b->setText(words(kind.label));
    b->setToolTip(words(kind.tip));
    b->setAccessibleName(QString(words("Draw ")) + words(kind.label));
    b->setCheckable(true);
    b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    b->setShortcut(QKeySequence(Qt::Key_1 + index));
    group->addButton(b);
    grid->addWidget(b, index / columns, index % columns);
    connect(b, &QToolButton::clicked, this, [this, drawing = kind.drawing] { work_.setDrawing(drawing); });
    onRefresh([this, b, drawing = kind.drawing] { b->setChecked(work_.drawing() == drawing); });
    ++index;
  }
  add(holder);
  auto* snaps = new QCheckBox(words("Snap strokes to the edge"));
  snaps->setToolTip(
      words("A rough stroke finds the photo's edge beside it, to a tenth of a pixel; S snaps or frees one"));
  connect(snaps, &QCheckBox::toggled, &work_, &VantageWork::setSnaps);
  onRefresh([this, snaps] {
    const QSignalBlocker quiet(snaps);
    snaps->setChecked(work_.snaps());
  });
  add(snaps);
  buildSelected();
  beginRow();
  auto* remove = button(words("Delete stroke"), words("Deletes the selected stroke (Delete)"), [this] {
    const std::string id = session_.selectedStroke();
    session_.editEvidence(words("delete a stroke"), [&](Evidence& e) {
      std::erase_if(e.strokes, [&](const Stroke& s) { return s.id == id; });
    });
    session_.selectStroke("");
  });
  onRefresh([this, remove] { remove->setEnabled(!session_.selectedStroke().empty()); });
  button(words("Start over"), words("Takes all evidence away; undo brings it back"), [this] {
    session_.editShot(words("clear the evidence"), [](Shot& shot) {
      shot.evidence = {};
      if (shot.vantage.locked) return;
      Vantage bare;
      bare.camera.width = shot.vantage.camera.width, bare.camera.height = shot.vantage.camera.height;
      shot.vantage = bare;
    });
  });
  endRow();
  beginRow();
  auto* copy = button(words("Copy evidence"),
                      words("All that is drawn here as text, for another shot or another project"), [this] {
                        Clip clip;
                        clip.evidence = session_.shot().evidence;
                        copyToClipboard(session_, std::move(clip));
                      });
  onRefresh([this, copy] { copy->setEnabled(session_.shot().evidence != Evidence{}); });
  button(words("Paste"), words("Takes evidence that was copied; it stands in place of what is drawn"),
         [this] { pasteFromClipboard(session_); });
  endRow();
}

void VantageDesk::evidenceNumber(const char* label, const Range& range, const char* tip,
                                 std::function<std::optional<double>(const Evidence&)> get,
                                 std::function<void(Evidence&, double)> set) {
  auto* field = number(
      label, range, tip, [get, this](const Project& p) { return get(session_.shotIn(p).evidence); },
      [this, set](Project& p, double v) {
        set(session_.shotIn(p).evidence, v);
        solveAgain(p);
      });
  if (range.low == 0) field->setSpecialValueText(words("not known"));
}

void VantageDesk::buildSelected() {
  // The pin or the length in hand: what is typed belongs to it.
  const auto pin = [this](const Evidence& e) {
    return work_.pin() >= 0 && work_.pin() < int(e.pins.size()) ? &e.pins[size_t(work_.pin())] : nullptr;
  };
  for (int axis = 0; axis < 3; ++axis) {
    static const char* names[] = {words("Pin at x"), words("Pin at y"), words("Pin at z")};
    evidenceNumber(
        names[axis], {-1e4, 1e4, 0.01, 4, "m"}, words("The pin's place in the world; z = 0 is the ground"),
        [pin, axis](const Evidence& e) {
          const Pin* p = pin(e);
          return p ? std::optional((p->worldM)[axis]) : std::nullopt;
        },
        [this, axis](Evidence& e, double v) {
          if (work_.pin() < int(e.pins.size())) e.pins[size_t(work_.pin())].worldM[axis] = v;
        });
  }
  evidenceNumber(
      words("True length"), {0.001, 1e4, 0.01, 4, "m"}, words("How long the drawn length is in the place"),
      [this](const Evidence& e) {
        return work_.length() >= 0 && work_.length() < int(e.lengths.size())
                   ? std::optional(e.lengths[size_t(work_.length())].metres)
                   : std::nullopt;
      },
      [this](Evidence& e, double v) {
        if (work_.length() >= 0 && work_.length() < int(e.lengths.size()))
          e.lengths[size_t(work_.length())].metres = v;
      });
}

void VantageDesk::buildKnown() {
  beginFold(words("What is known besides"), true);
  const auto size = [](const Evidence& e, int axis) {
    return e.footprint ? std::optional(e.footprint->sizeM.value_or(Vec2d(0, 0))[axis]) : std::nullopt;
  };
  for (int axis = 0; axis < 2; ++axis)
    evidenceNumber(
        axis ? words("Footprint, b") : words("Footprint, a"), {0, 1000, 0.01, 3, "m"},
        words("True length of the footprint along its run; 0 = not known"),
        [size, axis](const Evidence& e) { return size(e, axis); },
        [axis](Evidence& e, double v) {
          if (!e.footprint) return;
          if (v <= 0) return e.footprint->sizeM.reset();
          Vec2d s = e.footprint->sizeM.value_or(Vec2d(v, v));
          s[axis] = v;
          e.footprint->sizeM = s;
        });
  evidenceNumber(
      words("Its ratio a : b"), {0, 100, 0.01, 4, ""},
      words(
          "Shape of the footprint where its size is not known (1.4142 for a sheet of paper); 0 = not known"),
      [](const Evidence& e) {
        return e.footprint && !e.footprint->sizeM ? std::optional(e.footprint->ratio.value_or(0))
                                                  : std::nullopt;
      },
      [](Evidence& e, double v) {
        if (e.footprint) e.footprint->ratio = v > 0 ? std::optional(v) : std::nullopt;
      });
  evidenceNumber(
      words("Above the ground"), {-100, 100, 0.01, 3, "m"},
      words("Height of the footprint's plane: 0 on the ground, 0.72 on a table"),
      [](const Evidence& e) { return e.footprint ? std::optional(e.footprint->heightM) : std::nullopt; },
      [](Evidence& e, double v) {
        if (e.footprint) e.footprint->heightM = v;
      });
  evidenceNumber(
      words("Camera height"), {0, 100, 0.01, 2, "m"},
      words("Height of the camera above the ground, when you know it; 0 = not known"),
      [](const Evidence& e) { return std::optional(e.heightM.value_or(0)); },
      [](Evidence& e, double v) { e.heightM = v > 0 ? std::optional(v) : std::nullopt; });
  evidenceNumber(
      words("Focal length"), {0, 1000, 0.5, 1, "mm"},
      words("35 mm equivalent, when you know it (EXIF, believed to 2 %); 0 = to be found"),
      [](const Evidence& e) { return std::optional(e.focalMm35.value_or(0)); },
      [](Evidence& e, double v) { e.focalMm35 = v > 4 ? std::optional(v) : std::nullopt; });
  endFold();
}

void VantageDesk::solveAgain(Project& p) {
  if (!session_.shotIn(p).vantage.locked) session_.solveAgain(session_.shotIn(p));
}

void VantageDesk::showAnswer() {
  const Vantage& v = session_.shot().vantage;
  const VantageSigma& s = v.sigma;
  const VantageAnswer& answer = session_.answer();
  if (!v.solved) {
    answer_->setText(words("No camera yet."));
  } else {
    const Camera& c = v.camera;
    const double mm = focalMm35(c);
    QString table = "<table>";
    const auto row = [&](const char* name, const QString& value, const QString& margin) {
      table += QString(
                   "<tr><td style='padding-right:10px'>%1</td><td align='right'>%2</td><td "
                   "style='padding-left:8px'>%3</td></tr>")
                   .arg(name, measured(value), margin);
    };
    const auto pm = [](double x, int decimals, const char* unit) {
      return "± " + decimal(x, decimals) + unitAfter(QString::fromUtf8(unit));
    };
    row(words("35 mm equivalent"), QString("%L1 mm").arg(mm, 0, 'f', 1),
        pm(mm * s.focalPx / c.focalPx, 1, "mm"));
    const auto photo = session_.assets()->loadedPhoto(session_.shot().plate);
    if (photo && photo->info.focalMm > 0 && photo->info.focalMm35 > 0)
      row(words("focal length"),
          QString("%L1 mm").arg(mm * photo->info.focalMm / photo->info.focalMm35, 0, 'f', 2), "");
    row(words("focal, pixels"), QString("%L1 px").arg(c.focalPx, 0, 'f', 0), pm(s.focalPx, 0, "px"));
    row(words("tilt"), decimal(degrees(tilt(c)), 2) + "°", pm(s.tiltDegrees, 2, "°"));
    row(words("roll"), decimal(degrees(roll(c)), 2) + "°", pm(s.rollDegrees, 2, "°"));
    row(words("height"), QString("%L1 m").arg(c.position.z, 0, 'f', 3),
        answer.scaleKnown ? pm(s.heightM, 3, "m") : words("assumed"));
    row(words("stands at"), decimal(c.position.x, 2) + ", " + decimal(c.position.y, 2) + " m", "x, y");
    row(words("lens k1"), decimal(c.k1, 4), s.k1 > 0 ? pm(s.k1, 4, "") : words("held"));
    if (c.k2 != 0 || s.k2 > 0)
      row(words("lens k2"), decimal(c.k2, 4), s.k2 > 0 ? pm(s.k2, 4, "") : words("held"));
    row(words("fit"), QString("%L1 px").arg(v.rmsPx, 0, 'f', 2),
        QString(words("%1 items")).arg(answer.items.size()));
    if (const auto wobble = wobbleAtProduct())
      row(words("wobble at product"), QString("%L1 px").arg(*wobble, 0, 'f', 1),
          words("at the product's spot"));
    answer_->setText(table + "</table>");
  }
  QStringList lines;
  for (const std::string& line : answer.advice) lines << QString::fromStdString(line);
  advice_->setText(lines.join("\n"));
  advice_->setVisible(!lines.isEmpty());
  look::setRole(*advice_, answer.vantage.solved || answer.items.empty() ? "caption" : "trouble-caption");
}

std::optional<double> VantageDesk::wobbleAtProduct() const {
  const Shot& shot = session_.shot();
  const VantageAnswer& answer = session_.answer();
  const Camera& c = shot.vantage.camera;
  // The margins belong to the last solve: a camera loaded or kept from elsewhere has none of its own.
  if (!answer.vantage.solved || std::abs(answer.vantage.camera.focalPx / c.focalPx - 1) > 1e-3) return {};
  Vec2d spot(c.width * 0.5, c.height * 0.75);
  Vec3d size(0.3, 0.3, 0.3);
  if (!shot.placements.empty()) {
    const Placement& p = shot.placements[0];
    if (const auto at = projected(c, {p.xM, p.yM, 0})) spot = *at;
    if (const Product* product = byId(session_.project().products, p.productId))
      if (const auto model = session_.assets()->loadedModel(*product))
        size = trueSize(*product, model->box());
  }
  return wobblePx(c, answer.covariance, spot, size);
}

Desk* makeVantageDesk(Workbench& bench) { return new VantageDesk(bench); }

}  // namespace dusk
