#include "app/stations/product/product_desk.h"

#include <QtWidgets>

#include "app/stations/product/model_jobs.h"
#include "app/stations/product/piece_desk.h"
#include "app/widgets/look.h"
#include "core/product/formats.h"
#include "core/product/plausible.h"
#include "core/product/settle.h"

namespace dusk {

ProductDesk::ProductDesk(Workbench& bench)
    : Desk(bench.session, "Product",
           "The CAD model at its true size. Its lowest point stands on the photo's ground.") {
  buildProduct(bench);
  buildPlace();
  add(new PieceDesk(session_));
  beginFold("What came in", true);
  buildFile();
  endFold();
  beginFold("Part in hand", false);
  buildPart();
  endFold();
  beginFold("Height references", false);
  buildReferences();
  endFold();
  stretch();
}

void ProductDesk::buildProduct(Workbench& bench) {
  button(
      "Bring in a model…", "STEP, IGES, OBJ, glTF, FBX, STL, PLY, 3MF or DAE; or drop one on the picture",
      [&bench] { chooseModels(bench); }, true);
  inHand_ = new QComboBox;
  inHand_->setToolTip("The placed product that the fields below are about");
  inHand_->setAccessibleName("Product in hand");
  inHand_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  connect(inHand_, &QComboBox::activated, this,
          [this](int i) { session_.selectPlacement(inHand_->itemData(i).toString().toStdString()); });
  add(inHand_);
  onRefresh([this] {
    const QSignalBlocker quiet(inHand_);
    inHand_->clear();
    std::map<std::string, int> copies;
    for (const Placement& p : session_.shot().placements)
      if (const Product* product = byId(session_.project().products, p.productId)) {
        const int n = ++copies[product->id];
        inHand_->addItem(QString::fromStdString(product->name) + (n > 1 ? QString(", copy %1").arg(n) : ""),
                         QString::fromStdString(p.id));
        if (&p == session_.placement()) inHand_->setCurrentIndex(inHand_->count() - 1);
      }
    inHand_->setVisible(inHand_->count() > 0);
  });
  beginRow();
  button("Copy", "A second one of the product in hand, beside it; both share surfaces and parts",
         [this] { session_.copyPlacement(); });
  button("Take away", "Takes the product in hand out of the shot", [this] { session_.removePlacement(); });
  button("Revise…", "Chooses a newer file of the product in hand; shows what becomes of each part first",
         [&bench] { chooseRevision(bench); });
  endRow();
}

void ProductDesk::buildFile() {
  facts_ = note();
  correct_ = button("", "Reads the file in the unit that fits the place", [this] {
    const double unit = correct_->property("unit").toDouble();
    session_.edit("correct the unit", [&](Project& p) {
      if (Product* product = session_.productIn(p)) product->metresPerUnit = unit;
    });
  });
  onRefresh([this] { showFacts(); });
  QStringList units;
  for (const LengthUnit& u : lengthUnits()) units << u.name;
  choice(
      "Unit", units, "What one unit of the file means",
      [this](const Project&) {
        const Product* p = session_.product();
        return p ? int(&nearestUnit(p->metresPerUnit) - lengthUnits().data()) : -1;
      },
      [this](Project& p, int i) {
        if (Product* product = session_.productIn(p))
          product->metresPerUnit = lengthUnits()[size_t(i)].metres;
      });
  choice(
      "Up in the file", {"X", "Y", "Z"}, "Which axis of the file points up",
      [this](const Project&) { return session_.product() ? int(session_.product()->up) : -1; },
      [this](Project& p, int i) {
        if (Product* product = session_.productIn(p)) product->up = UpAxis(i);
      });
  choice(
      "Parts by", {"assembly", "material", "each alone"}, "How the cast at the left groups the parts",
      [this](const Project&) { return session_.product() ? int(session_.product()->grouping) : -1; },
      [this](Project& p, int i) {
        if (Product* product = session_.productIn(p)) product->grouping = Grouping(i);
      });
  const auto isCad = [this] {
    const Product* p = session_.product();
    return p && isCadFile(p->model.path);
  };
  number(
      "Facet tolerance", {0, 10, 0.01, 3, "mm"},
      "How far facets may be off the CAD surface. 0: a quarter of a pixel where the product stands nearest",
      [=, this](const Project&) {
        return isCad() ? std::optional(session_.product()->chordMm.value_or(0)) : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Product* product = session_.productIn(p))
          product->chordMm = v > 0 ? std::optional(v) : std::nullopt;
      })
      ->setSpecialValueText("by the picture");
  number(
      "Crease", {0, 180, 5, 0, "°"}, "Edges that bend by more stay sharp. 0: the normals of the file",
      [=, this](const Project&) {
        return session_.product() && !isCad() ? std::optional(session_.product()->creaseDegrees.value_or(0))
                                              : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Product* product = session_.productIn(p))
          product->creaseDegrees = v > 0 ? std::optional(v) : std::nullopt;
      })
      ->setSpecialValueText("as in the file");
}

void ProductDesk::placedLength(const char* label, const char* tip, double Placement::*field) {
  length(
      label, tip,
      [=, this](const Project&) {
        const Placement* p = session_.placement();
        return p ? std::optional(p->*field) : std::nullopt;
      },
      [=, this](Project& project, double v) {
        if (Placement* p = session_.placementIn(session_.shotIn(project))) p->*field = v;
      });
}

void ProductDesk::placedAngle(const char* label, const Range& range, const char* tip,
                              double Placement::*field) {
  number(
      label, range, tip,
      [=, this](const Project&) {
        const Placement* p = session_.placement();
        return p ? std::optional(p->*field) : std::nullopt;
      },
      [=, this](Project& project, double v) {
        if (Placement* p = session_.placementIn(session_.shotIn(project))) p->*field = v;
      });
}

void ProductDesk::buildPlace() {
  heading("Where it stands");
  standing_ = note();
  onRefresh([this] { showStanding(); });
  auto* on = new QComboBox;
  on->setToolTip(
      "What it stands on (L in the picture: next level plane); levels are added at the Vantage station, "
      "stand-ins at Contact");
  on->setAccessibleName("Stands on");
  connect(on, &QComboBox::activated, this, [this, on](int i) {
    session_.editShot("stand it on another level", [&](Shot& shot) {
      if (Placement* p = session_.placementIn(shot)) p->levelId = on->itemData(i).toString().toStdString();
    });
  });
  add(on);
  onRefresh([this, on] {
    const QSignalBlocker quiet(on);
    on->clear();
    on->addItem("on the ground", "");
    for (const LevelPlane& l : session_.shot().levels)
      on->addItem(QString("on %1, %2 m up").arg(QString::fromStdString(l.name)).arg(l.heightM, 0, 'f', 3),
                  QString::fromStdString(l.id));
    for (const StandIn& s : session_.shot().standIns)
      if (s.on && s.hasTop())
        on->addItem(QString("on %1, %2 m up").arg(QString::fromStdString(s.name)).arg(s.topM(), 0, 'f', 3),
                    QString::fromStdString(s.id));
    const Placement* p = session_.placement();
    on->setCurrentIndex(p ? std::max(0, on->findData(QString::fromStdString(p->levelId))) : 0);
    on->setVisible(p && on->count() > 1);
  });
  placedLength("Position a", "Spot on the plane along run a, from the origin", &Placement::xM);
  placedLength("Position b", "Spot on the plane along run b, from the origin", &Placement::yM);
  placedAngle("Turn", {-360, 360, 1, 1, "°"}, "Turn about the upright, counter-clockwise from above",
              &Placement::turnDegrees);
  placedLength("Lift", "Height of the lowest point above the plane", &Placement::liftM);
  placedAngle("Lean about a", {-180, 180, 0.1, 2, "°"},
              "Rotation about the product's own level axis, before the turn: things are a little askew",
              &Placement::leanXDegrees);
  placedAngle("Lean about b", {-180, 180, 0.1, 2, "°"},
              "Rotation about the product's other level axis, before the turn", &Placement::leanYDegrees);
  beginRow();
  button("Settle",
         "Lets the product down on its true contact points, by its hull and centre of mass, until it rests",
         [this] { settle(); });
  button("Stand upright", "No lean, and the lowest point on the plane", [this] {
    session_.editShot("stand upright", [this](Shot& shot) {
      if (Placement* p = session_.placementIn(shot)) p->liftM = p->leanXDegrees = p->leanYDegrees = 0;
    });
  });
  endRow();
  beginRow();
  toggle(
      "Cut at ground", "Leaves out what is below the plane it stands on: a post set in the earth",
      [this](const Project&) {
        const Placement* p = session_.placement();
        return p ? std::optional(p->cutAtGround) : std::nullopt;
      },
      [this](Project& project, bool cut) {
        if (Placement* p = session_.placementIn(session_.shotIn(project))) p->cutAtGround = cut;
      });
  auto* unit = new QComboBox;
  for (const ShownUnit& u : shownUnits()) unit->addItem(QString("lengths in ") + u.name);
  unit->setToolTip("The unit lengths are shown and typed in");
  unit->setAccessibleName("Lengths in");
  connect(unit, &QComboBox::activated, this, [this](int i) { session_.setShownUnit(i); });
  onRefresh([this, unit] { unit->setCurrentIndex(int(&session_.shownUnit() - shownUnits().data())); });
  add(unit);
  endRow();
}

void ProductDesk::settle() {
  double leaning = 0;
  Landing landing;
  session_.editShot("settle", [&](Shot& shot) {
    Placement* p = session_.placementIn(shot);
    const Product* product = session_.product();
    const auto model = p && product ? session_.assets()->loadedModel(*product) : nullptr;
    if (!model) return;
    landing = landed(shot, *product, *p, *model);
    *p = landing.placement;
    leaning = std::hypot(p->leanXDegrees, p->leanYDegrees);
  });
  const QString on = landing.on.empty() ? QString() : " on " + QString::fromStdString(landing.on);
  if (landing.tips)
    return session_.say("It would fall off" + on.mid(3) + ": its weight is not over what it touches there.",
                        true);
  session_.say(leaning < 0.005 ? "It rests upright" + on + "."
                               : QString("It rests%1 leaning by %2°.").arg(on).arg(leaning, 0, 'f', 2));
}

void ProductDesk::showStanding() {
  const Placement* p = session_.placement();
  const Product* product = session_.product();
  const auto model = p && product ? session_.assets()->loadedModel(*product) : nullptr;
  standing_->setVisible(model != nullptr);
  // Only while nothing is hidden or moved is the gap had at once; else the proof strip tells it.
  if (!model || !product->hiddenParts.empty() || !product->moves.empty()) return standing_->hide();
  const double gap = gapM(*product, *p, *model) * 1000;
  const char* where = p->levelId.empty() ? "the ground" : "its level";
  standing_->setText(
      std::abs(gap) < 0.005 ? QString("It touches %1.").arg(where)
      : gap > 0
          ? look::spanned(QString("It hovers %1 mm over %2.").arg(gap, 0, 'f', 2).arg(where), look::rose())
          : look::spanned(QString("It is sunk %1 mm into %2.").arg(-gap, 0, 'f', 2).arg(where),
                          look::rose()));
}

void ProductDesk::showFacts() {
  const Product* product = session_.product();
  correct_->hide();
  if (!product) return facts_->setText("No product yet.");
  const auto model = session_.assets()->loadedModel(*product);
  QString text = "<b>" + QString::fromStdString(product->name).toHtmlEscaped() + "</b>";
  if (!model) return facts_->setText(text + "<br>being read…");
  const QLocale english(QLocale::English);
  const Vec3d s = trueSize(*product, model->box());
  text += QString("<br>%1 parts, %2 triangles%3<br>" + look::spanned("%4 × %5 × %6 mm", look::tide()) +
                  " true size"
                  "<br>%7: %8 m tall")
              .arg(model->parts.size())
              .arg(english.toString(qlonglong(model->triangles())))
              .arg(model->chordM > 0 ? QString(", off by %1 mm at most").arg(model->chordM * 1000, 0, 'g', 2)
                                     : "")
              .arg(s.x * 1000, 0, 'f', 0)
              .arg(s.y * 1000, 0, 'f', 0)
              .arg(s.z * 1000, 0, 'f', 0)
              .arg(QString::fromStdString(model->unitReason).toHtmlEscaped())
              .arg(s.z, 0, 'g', 3);
  const Repairs& r = model->repairs;
  QStringList repaired;
  const auto count = [&](uint64_t n, const char* what) {
    if (n) repaired << english.toString(qulonglong(n)) + " " + what;
  };
  count(r.degenerate, "triangles without area left out");
  count(r.flipped, "triangles turned outward");
  count(r.withoutNormals, "normals made");
  count(r.duplicateVertices, "vertices joined");
  if (!repaired.isEmpty()) text += "<br>Repaired: " + repaired.join(", ");
  if (const Placement* p = session_.placement())
    if (const auto doubt =
            sizeDoubt(*product, *p, *model, session_.shot().vantage, planeHeightM(session_.shot(), *p))) {
      text += "<br>" + look::spanned("✕ " + QString::fromStdString(doubt->sentence), look::rose());
      if (doubt->metresPerUnit > 0) {
        correct_->setText(QString("Read as %1").arg(nearestUnit(doubt->metresPerUnit).name));
        correct_->setProperty("unit", doubt->metresPerUnit);
        correct_->show();
      }
    }
  facts_->setText(text);
}

Desk* makeProductDesk(Workbench& bench) { return new ProductDesk(bench); }

}  // namespace dusk
