#include "app/stations/product/product_desk.h"

#include <QtWidgets>

#include "app/stations/product/model_jobs.h"
#include "app/stations/product/piece_desk.h"
#include "app/stations/product/size_doubt.h"
#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/product/formats.h"
#include "core/product/settle.h"
#include "core/product/side_files.h"

namespace dusk {

ProductDesk::ProductDesk(Workbench& bench)
    : Desk(bench.session, words("Product"),
           words("The CAD model at its true size. Its lowest point stands on the ground.")) {
  buildProduct(bench);
  buildPlace();
  add(new PieceDesk(session_));
  beginFold(words("What came in"), true);
  buildFile();
  endFold();
  beginFold(words("Part in hand"), false);
  buildPart();
  endFold();
  beginFold(words("Height references"), false);
  buildReferences();
  endFold();
  stretch();
}

void ProductDesk::forProduct(QPushButton* button) {
  onRefresh([this, button] { button->setEnabled(session_.placement() != nullptr); });
}

void ProductDesk::buildProduct(Workbench& bench) {
  button(
      words("Bring in a model…"),
      words("STEP, IGES, OBJ, glTF, FBX, STL, PLY, 3MF or DAE; or drop one on the picture"),
      [&bench] { chooseModels(bench); }, true);
  inHand_ = new QComboBox;
  inHand_->setToolTip(words("The placed product that the fields below are about"));
  inHand_->setAccessibleName(words("Product in hand"));
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
        inHand_->addItem(
            QString::fromStdString(product->name) + (n > 1 ? QString(words(", copy %1")).arg(n) : ""),
            QString::fromStdString(p.id));
        if (&p == session_.placement()) inHand_->setCurrentIndex(inHand_->count() - 1);
      }
    inHand_->setVisible(inHand_->count() > 0);
  });
  beginRow();
  forProduct(button(words("Copy"),
                    words("A second one of the product in hand, beside it; both share surfaces and parts"),
                    [this] { session_.copyPlacement(); }));
  forProduct(button(words("Take away"), words("Takes the product in hand out of the shot"),
                    [this] { session_.removePlacement(); }));
  forProduct(
      button(words("Revise…"),
             words("Chooses a newer file of the product in hand; shows what becomes of each part first"),
             [&bench] { chooseRevision(bench); }));
  endRow();
}

void ProductDesk::buildFile() {
  facts_ = note();
  correct_ = button("", words("Reads the file in the unit that fits the place"),
                    [this] { correctUnit(session_, correct_->property("unit").toDouble()); });
  onRefresh([this] { showFacts(); });
  QStringList units;
  for (const LengthUnit& u : lengthUnits()) units << words(u.name);
  choice(
      words("Unit"), units, words("What one unit of the file means"),
      [this](const Project&) {
        const Product* p = session_.product();
        return p ? int(&nearestUnit(p->metresPerUnit) - lengthUnits().data()) : -1;
      },
      [this](Project& p, int i) { readIn(session_, p, lengthUnits()[size_t(i)].metres); });
  choice(
      words("Up in the file"), {"X", "Y", "Z"}, words("Which axis of the file points up"),
      [this](const Project&) { return session_.product() ? int(session_.product()->up) : -1; },
      [this](Project& p, int i) {
        if (Product* product = session_.productIn(p)) product->up = UpAxis(i);
      });
  choice(
      words("Parts by"), {words("assembly"), words("material"), words("each alone")},
      words("How the cast at the left groups the parts"),
      [this](const Project&) { return session_.product() ? int(session_.product()->grouping) : -1; },
      [this](Project& p, int i) {
        if (Product* product = session_.productIn(p)) product->grouping = Grouping(i);
      });
  const auto isCad = [this] {
    const Product* p = session_.product();
    return p && isCadFile(p->model.path);
  };
  number(
      words("Facet tolerance"), {0, 10, 0.01, 3, "mm"},
      words("How far facets may be off the CAD surface. 0: a quarter of a pixel where the product stands "
            "nearest"),
      [=, this](const Project&) {
        return isCad() ? std::optional(session_.product()->chordMm.value_or(0)) : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Product* product = session_.productIn(p))
          product->chordMm = v > 0 ? std::optional(v) : std::nullopt;
      })
      ->setSpecialValueText(words("by the picture"));
  number(
      words("Crease"), {0, 180, 5, 0, "°"},
      words("Edges that bend by more stay sharp. 0: the normals of the file"),
      [=, this](const Project&) {
        return session_.product() && !isCad() ? std::optional(session_.product()->creaseDegrees.value_or(0))
                                              : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Product* product = session_.productIn(p))
          product->creaseDegrees = v > 0 ? std::optional(v) : std::nullopt;
      })
      ->setSpecialValueText(words("as in the file"));
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
  heading(words("Where it stands"));
  standing_ = note();
  onRefresh([this] { showStanding(); });
  auto* on = new QComboBox;
  on->setToolTip(words(
      "What it stands on (L in the picture: next level plane); levels are added at the Vantage station, "
      "stand-ins at Contact"));
  on->setAccessibleName(words("Stands on"));
  connect(on, &QComboBox::activated, this, [this, on](int i) {
    session_.editShot(words("stand it on another level"), [&](Shot& shot) {
      if (Placement* p = session_.placementIn(shot)) p->levelId = on->itemData(i).toString().toStdString();
    });
  });
  add(on);
  onRefresh([this, on] {
    const QSignalBlocker quiet(on);
    on->clear();
    on->addItem(words("on the ground"), "");
    for (const LevelPlane& l : session_.shot().levels)
      on->addItem(
          QString(words("on %1, %2 m up")).arg(QString::fromStdString(l.name)).arg(l.heightM, 0, 'f', 3),
          QString::fromStdString(l.id));
    for (const StandIn& s : session_.shot().standIns)
      if (s.on && s.hasTop())
        on->addItem(
            QString(words("on %1, %2 m up")).arg(QString::fromStdString(s.name)).arg(s.topM(), 0, 'f', 3),
            QString::fromStdString(s.id));
    const Placement* p = session_.placement();
    on->setCurrentIndex(p ? std::max(0, on->findData(QString::fromStdString(p->levelId))) : 0);
    on->setVisible(p && on->count() > 1);
  });
  placedLength(words("Position a"), words("Spot on the plane along run a, from the origin"), &Placement::xM);
  placedLength(words("Position b"), words("Spot on the plane along run b, from the origin"), &Placement::yM);
  placedAngle(words("Turn"), {-360, 360, 1, 1, "°"},
              words("Turn about the upright, counter-clockwise from above"), &Placement::turnDegrees);
  placedLength(words("Lift"), words("Height of the lowest point above the plane"), &Placement::liftM);
  placedAngle(
      words("Lean about a"), {-180, 180, 0.1, 2, "°"},
      words("Rotation about the product's own level axis, before the turn: things are a little askew"),
      &Placement::leanXDegrees);
  placedAngle(words("Lean about b"), {-180, 180, 0.1, 2, "°"},
              words("Rotation about the product's other level axis, before the turn"),
              &Placement::leanYDegrees);
  beginRow();
  forProduct(button(
      words("Settle"),
      words(
          "Lets the product down on its true contact points, by its hull and centre of mass, until it rests"),
      [this] { settle(); }));
  forProduct(button(words("Stand upright"), words("No lean, and the lowest point on the plane"), [this] {
    session_.editShot(words("stand upright"), [this](Shot& shot) {
      if (Placement* p = session_.placementIn(shot)) p->liftM = p->leanXDegrees = p->leanYDegrees = 0;
    });
  }));
  endRow();
  beginRow();
  toggle(
      words("Cut at ground"),
      words("Leaves out what is below the plane it stands on: a post set in the earth"),
      [this](const Project&) {
        const Placement* p = session_.placement();
        return p ? std::optional(p->cutAtGround) : std::nullopt;
      },
      [this](Project& project, bool cut) {
        if (Placement* p = session_.placementIn(session_.shotIn(project))) p->cutAtGround = cut;
      });
  auto* unit = new QComboBox;
  for (const ShownUnit& u : shownUnits()) unit->addItem(QString(words("lengths in ")) + u.name);
  unit->setToolTip(words("The unit lengths are shown and typed in"));
  unit->setAccessibleName(words("Lengths in"));
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
  const QString on = landing.on.empty() ? QString() : words(" on ") + QString::fromStdString(landing.on);
  if (landing.tips)
    return session_.say(
        words("It would fall off") + on.mid(3) + words(": its weight is not over what it touches there."),
        true);
  session_.say(leaning < 0.005
                   ? words("It rests upright") + on + "."
                   : QString(words("It rests%1 leaning by %2°.")).arg(on).arg(leaning, 0, 'f', 2));
}

void ProductDesk::showStanding() {
  const Placement* p = session_.placement();
  const Product* product = session_.product();
  const auto model = p && product ? session_.assets()->loadedModel(*product) : nullptr;
  standing_->setVisible(model != nullptr);
  // Only while nothing is hidden or moved is the gap had at once; else the proof strip tells it.
  if (!model || !product->hiddenParts.empty() || !product->moves.empty()) return standing_->hide();
  const double gap = gapM(*product, *p, *model) * 1000;
  const char* where = p->levelId.empty() ? words("the ground") : words("its level");
  if (std::abs(gap) < 0.005) return standing_->setText(QString(words("It touches %1.")).arg(where));
  const QString off =
      QString(gap > 0 ? words("It hovers %1 mm over %2.") : words("It is sunk %1 mm into %2."))
          .arg(std::abs(gap), 0, 'f', 2)
          .arg(where);
  // What furnishes a set stands on other pieces and is let into the floor.
  standing_->setText(product->piece.kind.empty() ? look::spanned(off, look::rose()) : off);
}

void ProductDesk::showFacts() {
  const Product* product = session_.product();
  correct_->hide();
  if (!product) return facts_->setText(words("No product yet."));
  const auto model = session_.assets()->loadedModel(*product);
  QString text = "<b>" + QString::fromStdString(product->name).toHtmlEscaped() + "</b>";
  if (!model) return facts_->setText(text + words("<br>being read…"));
  const Vec3d s = trueSize(*product, model->box());
  text += QString(words("<br>%1 part, %2 triangles%3<br>", "<br>%1 parts, %2 triangles%3<br>",
                        long(model->parts.size())) +
                  look::spanned("%4 × %5 × %6 mm", look::tide()) +
                  words(" true size"
                        "<br>%7: %8 m tall"))
              .arg(model->parts.size())
              .arg(grouped(model->triangles()))
              .arg(model->chordM > 0
                       ? QString(words(", off by %1 mm at most")).arg(model->chordM * 1000, 0, 'g', 2)
                       : "")
              .arg(s.x * 1000, 0, 'f', 0)
              .arg(s.y * 1000, 0, 'f', 0)
              .arg(s.z * 1000, 0, 'f', 0)
              .arg(QString::fromStdString(words(model->unitReason)).toHtmlEscaped())
              .arg(s.z, 0, 'g', 3);
  const Repairs& r = model->repairs;
  QStringList repaired;
  const auto count = [&](uint64_t n, const char* what) {
    if (n) repaired << grouped(n) + " " + what;
  };
  count(r.degenerate, words("triangles without area left out"));
  count(r.flipped, words("triangles turned outward"));
  count(r.withoutNormals, words("normals made"));
  count(r.duplicateVertices, words("vertices joined"));
  if (!repaired.isEmpty()) text += words("<br>Repaired: ") + repaired.join(", ");
  QStringList missing;
  for (const std::string& name : SideFiles::missing(model->sideFiles))
    missing << QString::fromStdString(name);
  if (constexpr qsizetype most = 5; missing.size() > most) missing = missing.first(most) << "…";
  if (!missing.isEmpty())
    text += "<br>" + look::spanned(QString(words("✕ The model names files that are not there or cannot be "
                                                 "read: %1. Put them beside it: they are taken at once."))
                                       .arg(missing.join(", ").toHtmlEscaped()),
                                   look::rose());
  if (const auto doubt = sizeDoubt(session_)) {
    text += "<br>" + look::spanned("✕ " + QString::fromStdString(doubt->sentence), look::rose());
    correct_->setVisible(!doubt->units.empty());
    if (!doubt->units.empty()) {
      correct_->setText(readAs(doubt->units[0]));
      correct_->setProperty("unit", doubt->units[0].metres);
    }
  }
  facts_->setText(text);
}

Desk* makeProductDesk(Workbench& bench) { return new ProductDesk(bench); }

}  // namespace dusk
