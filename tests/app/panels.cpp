#include <QAbstractItemModelTester>
#include <QtTest>
#include <QtWidgets>

#include "app/cast/cast.h"
#include "app/cast/cast_panel.h"
#include "app/stations/parts.h"
#include "app/stations/surface/swatches.h"
#include "app/stations/workbench.h"
#include "app/views/plan_view.h"
#include "app/widgets/colours.h"
#include "app/widgets/desk.h"
#include "app/widgets/look.h"
#include "app/window/horizon_bar.h"
#include "app/window/proof_strip.h"
#include "core/surface/library.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// The window's panels one by one, without a renderer behind them.
class TestPanels : public QObject {
  Q_OBJECT
  std::unique_ptr<Session> session_;
  std::unique_ptr<Jobs> jobs_;
  std::unique_ptr<Preview> preview_;
  std::unique_ptr<Workbench> bench_;
  const Shot& shot() { return session_->shot(); }
  template <typename W>
  static W* named(QWidget& in, const char* accessibleName) {
    for (W* w : in.findChildren<W*>())
      if (w->accessibleName() == accessibleName) return w;
    return nullptr;
  }
  static void type(QDoubleSpinBox* field, const char* text) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  }
  static void press(QWidget& on, const QPointF& from, const QPointF& to) {
    QTest::mousePress(&on, Qt::LeftButton, {}, from.toPoint());
    for (int i = 1; i <= 4; ++i) QTest::mouseMove(&on, (from + (to - from) * i / 4).toPoint());
    QTest::mouseRelease(&on, Qt::LeftButton, {}, to.toPoint());
  }

 private slots:
  void initTestCase();
  void init();
  void cleanup() { bench_.reset(), preview_.reset(), jobs_.reset(), session_.reset(); }
  void castIsAProperModel();
  void castHidesPartsAndLamps();
  void castAndSelectionAreOne();
  void castColoursAreTheSurfaces();
  void castFindsParts();
  void castIsolatesAndShowsAll();
  void planMapsBothWays();
  void planDragsTheProductInOneStep();
  void planDragsAnAreaLampAndLeavesItsHeight();
  void horizonShowsHowFarTheWorkIs();
  void horizonGoesByClickAndByKey();
  void proofCardsLeadToTheirStation();
  void deskFieldsReadAndWrite();
  void sliderDragIsOneStep();
  void fieldsWithoutAValueAreAway();
  void deliverDeskAsksForFiles();
  void swatchesShowTheirSurface();
};

void TestPanels::initTestCase() {
  QStandardPaths::setTestModeEnabled(true);
  look::apply(*qApp);
}

void TestPanels::init() {
  session_ = std::make_unique<Session>();
  QVERIFY(session_->open(fs::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk"));
  Progress progress;
  QVERIFY(session_->assets()->model(session_->project().products[0], progress).ok());
  jobs_ = std::make_unique<Jobs>(*session_);
  preview_ = std::make_unique<Preview>();
  bench_ = std::make_unique<Workbench>(*session_, *jobs_, *preview_);
}

void TestPanels::castIsAProperModel() {
  CastModel model(*session_);
  const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::QtTest);
  QCOMPARE(model.rowCount({}), 6);  // the gauge, the sun, four stand-ins
  const QModelIndex gauge = model.index(0, 0, {});
  QCOMPARE(model.rowCount(gauge), 7);
  QVERIFY(gauge.data().toString().startsWith("Brackwater field tide gauge"));
  int parts = 0;
  for (int g = 0; g < 7; ++g) parts += model.rowCount(model.index(g, 0, gauge));
  QCOMPARE(parts, 41);
  // Edits of every kind leave it proper; the tester watches.
  session_->editShot("lamp", [](Shot& s) { s.lamps.push_back(s.lamps[0]), s.lamps.back().id = "lamp-9"; });
  QCOMPARE(model.rowCount({}), 7);
  session_->undo();
  QCOMPARE(model.rowCount({}), 6);
  session_->edit("none", [](Project& p) { p.products.clear(), p.shots[0].placements.clear(); });
  QCOMPARE(model.rowCount({}), 5);
}

void TestPanels::castHidesPartsAndLamps() {
  CastModel model(*session_);
  const QModelIndex lid = model.indexOfPart("Brackwater tide gauge/Housing/Lid");
  QVERIFY(lid.isValid());
  QCOMPARE(lid.data(Qt::CheckStateRole).toInt(), int(Qt::Checked));
  QVERIFY(model.setData(lid, Qt::Unchecked, Qt::CheckStateRole));
  QVERIFY(session_->project().products[0].hiddenParts.contains("Brackwater tide gauge/Housing/Lid"));
  session_->undo();
  QVERIFY(session_->project().products[0].hiddenParts.empty());
  QVERIFY(model.setData(model.index(1, 0, {}), Qt::Checked, Qt::CheckStateRole));
  QVERIFY(shot().lamps[0].on);
  QVERIFY(!model.setData({}, Qt::Checked, Qt::CheckStateRole));
}

void TestPanels::castAndSelectionAreOne() {
  Cast cast(*session_);
  cast.show();
  session_->selectPart("Brackwater tide gauge/Dial/Bezel");
  QCOMPARE(cast.currentIndex().data().toString(), QString("Bezel"));
  cast.setCurrentIndex(cast.model().indexOfPart("Brackwater tide gauge/Feet/Foot back left"));
  QCOMPARE(session_->selectedPart(), std::string("Brackwater tide gauge/Feet/Foot back left"));
  cast.toggleShown();
  QCOMPARE(session_->project().products[0].hiddenParts.size(), size_t(1));
  cast.setCurrentIndex(cast.model().index(1, 0, {}));
  QCOMPARE(session_->selectedLamp(), shot().lamps[0].id);
  QCOMPARE(session_->station(), Station::light);
}

void TestPanels::castColoursAreTheSurfaces() {
  for (const char* hex : {"#000000", "#ffffff", "#427985", "#0a0b0c", "#fe80c0"})
    QCOMPARE(shownColour(linearColour(QColor(hex))).name(), QString(hex));
}

void TestPanels::castFindsParts() {
  CastPanel panel(*session_);
  panel.show();
  auto* search = named<QLineEdit>(panel, "Find parts");
  const int all = panel.cast().model().matches();
  QTest::keyClicks(search, "SCREW");
  const int screws = panel.cast().model().matches();
  QVERIFY(screws > 0 && screws < all);
  QTest::keyClicks(search, " nothing-of-that-name");
  QCOMPARE(panel.cast().model().matches(), 0);
  search->setText("foot back");
  QTest::keyClick(search, Qt::Key_Return);
  QVERIFY(session_->selectedPart().find("Foot back") != std::string::npos);
  // The tree stays as it is while parts are hidden.
  const QModelIndex now = panel.cast().currentIndex();
  panel.cast().toggleShown();
  QVERIFY(panel.cast().currentIndex() == now && panel.cast().isExpanded(now.parent()));
  search->setFocus();
  QTest::keyClick(search, Qt::Key_Escape);
  QCOMPARE(panel.cast().model().matches(), all);
}

void TestPanels::castIsolatesAndShowsAll() {
  Cast cast(*session_);
  cast.show();
  const auto hidden = [&] { return session_->project().products[0].hiddenParts; };
  const std::string lid = "Brackwater tide gauge/Housing/Lid";
  cast.setCurrentIndex(cast.model().indexOfPart(lid));
  cast.isolate();
  const size_t parts = session_->assets()->loadedModel(session_->project().products[0])->parts.size();
  QCOMPARE(hidden().size(), parts - 1);
  QVERIFY(!hidden().contains(lid));
  cast.isolate();
  QVERIFY(hidden().empty());
  cast.setCurrentIndex(cast.model().indexOfPart(lid).parent());  // a whole group
  cast.isolate();
  QVERIFY(hidden().size() < parts - 1 && !hidden().contains(lid));
  cast.showAll();
  QVERIFY(hidden().empty());
  session_->undo();
  QVERIFY(!hidden().empty());
}

void TestPanels::planMapsBothWays() {
  PlanView plan(*session_);
  plan.resize(700, 500);
  for (const Vec2d& w : {Vec2d(0, 0), Vec2d(-1.3, 2.2), Vec2d(4, -0.5)}) {
    QVERIFY((plan.toWorld(plan.toScreen(w)) - w).length() < 1e-9);
  }
  QVERIFY(plan.toScreen({0, 1}).y() < plan.toScreen({0, 0}).y());  // +Y is up
  // Zooming keeps what is under the pointer.
  plan.show();
  const QPointF at(200, 150);
  const Vec2d under = plan.toWorld(at);
  QWheelEvent wheel(at, plan.mapToGlobal(at), {}, {0, 240}, {}, {}, Qt::NoScrollPhase, false);
  QApplication::sendEvent(&plan, &wheel);
  QVERIFY((plan.toWorld(at) - under).length() < 1e-9);
}

void TestPanels::planDragsTheProductInOneStep() {
  PlanView plan(*session_);
  plan.resize(700, 500);
  plan.show();
  const Placement before = shot().placements[0];
  const QPointF from = plan.toScreen({before.xM, before.yM});
  press(plan, from, from + QPointF(60, -40));
  const Vec2d scale = plan.toWorld({60, 0}) - plan.toWorld({0, 0});
  QVERIFY(std::abs(shot().placements[0].xM - before.xM - scale.x) < 0.02);
  QVERIFY(shot().placements[0].yM > before.yM + 0.1);
  session_->undo();
  QVERIFY(shot().placements[0] == before);
}

void TestPanels::planDragsAnAreaLampAndLeavesItsHeight() {
  session_->editShot("lamp", [](Shot& s) {
    Lamp lamp;
    lamp.id = "window", lamp.kind = LampKind::area, lamp.positionM = {-0.8, 1.2, 1.7};
    s.lamps.push_back(lamp);
  });
  PlanView plan(*session_);
  plan.resize(700, 500);
  plan.show();
  const QPointF from = plan.toScreen({-0.8, 1.2});
  press(plan, from, from + QPointF(0, -50));
  QVERIFY(shot().lamps[1].positionM.y > 1.4);
  QCOMPARE(shot().lamps[1].positionM.z, 1.7);
  QCOMPARE(session_->selectedLamp(), std::string("window"));
}

void TestPanels::horizonShowsHowFarTheWorkIs() {
  HorizonBar bar(*session_);
  using State = StationStatus::State;
  QCOMPARE(bar.status(Station::plate).figure, QString("1920 × 1280"));
  QVERIFY(bar.status(Station::vantage).state == State::proved);
  QVERIFY(bar.status(Station::vantage).figure.contains("30.0 mm"));
  QVERIFY(bar.status(Station::light).state == State::begun);  // nothing measured yet
  auto proofs = std::make_shared<Proofs>();
  proofs->shotId = shot().id;
  proofs->findings = {{"shadow-angle", "", 12.3, 0, 3, "deg", "turn it", "Light"}};
  bar.setProofs(proofs);
  QVERIFY(bar.status(Station::light).state == State::off);
  QVERIFY(bar.status(Station::light).figure.contains("12.3"));
  session_->startEmpty();
  for (Station s : {Station::plate, Station::vantage, Station::product, Station::surface, Station::contact})
    QVERIFY(bar.status(s).state == State::untouched);
}

void TestPanels::horizonGoesByClickAndByKey() {
  HorizonBar bar(*session_);
  bar.resize(900, 74);
  bar.show();
  QTest::mouseClick(&bar, Qt::LeftButton, {}, {900 * 4 / 9 + 40, 40});
  QCOMPARE(session_->station(), Station::light);
  QTest::keyClick(&bar, Qt::Key_Right);
  QCOMPARE(session_->station(), Station::contact);
  for (int i = 0; i < 12; ++i) QTest::keyClick(&bar, Qt::Key_Left);
  QCOMPARE(session_->station(), Station::plate);
}

void TestPanels::proofCardsLeadToTheirStation() {
  ProofStrip strip(*session_);
  strip.resize(1200, 118);
  strip.show();
  const struct {
    const char* name;
    Station station;
  } cards[] = {{"Proof: Edge beside edge", Station::blend},
               {"Proof: Shadow beside shadow", Station::light},
               {"Proof: Lines on the photo", Station::vantage},
               {"Proof: Foot on the ground", Station::contact}};
  for (const auto& card : cards) {
    auto* button = named<QAbstractButton>(strip, card.name);
    QVERIFY(button && !button->toolTip().isEmpty());
    QTest::mouseClick(button, Qt::LeftButton);
    QCOMPARE(session_->station(), card.station);
  }
  // What is off says how it is put right.
  auto proofs = std::make_shared<Proofs>();
  proofs->findings = {{"contact-gap", "gap", 4, -0.5, 0.5, "mm", "Set the lift to 0.", "Product"}};
  strip.setProofs(proofs);
  QVERIFY(
      named<QAbstractButton>(strip, "Proof: Foot on the ground")->toolTip().contains("Set the lift to 0."));
  // What is off and has no card of its own has one with all such, which leads where the first is put right.
  auto* others = named<QAbstractButton>(strip, "Proof: Also off");
  QVERIFY(!others->isVisible());
  auto more = std::make_shared<Proofs>(*proofs);
  more->findings.push_back({"jpeg-worn", "steps", 3, 0, 9, "%", "Take another.", "Plate"});
  more->findings.push_back({"tones-lost", "blank", 40, 0, 5, "%", "Take exposure back.", "Blend"});
  more->findings.push_back({"fireflies", "specks", 90, 0, 40, "", "Trace more samples.", "Render"});
  strip.setProofs(more);
  QVERIFY(others->isVisible() && others->toolTip().contains("Take exposure back."));
  QTest::mouseClick(others, Qt::LeftButton);
  QCOMPARE(session_->station(), Station::blend);
  strip.setProofs(proofs);
  QVERIFY(!others->isVisible());
}

void TestPanels::deskFieldsReadAndWrite() {
  const std::unique_ptr<Desk> desk(makeProductDesk(*bench_));
  desk->show();
  auto* along = named<QDoubleSpinBox>(*desk, "Position a");
  QVERIFY(std::abs(along->value() - shot().placements[0].xM * 1000) < 0.06);
  QCOMPARE(along->suffix(), QString(" mm"));
  type(along, "250");
  QCOMPARE(shot().placements[0].xM, 0.25);
  session_->undo();
  QVERIFY(std::abs(along->value() - shot().placements[0].xM * 1000) < 0.06);
  auto* unit = named<QComboBox>(*desk, "Unit");
  QCOMPARE(unit->currentText(), QString("millimetre"));
  unit->setCurrentIndex(3);
  emit unit->activated(3);
  QCOMPARE(session_->project().products[0].metresPerUnit, 0.0254);
}

void TestPanels::sliderDragIsOneStep() {
  const std::unique_ptr<Desk> desk(makeBlendDesk(*bench_));
  desk->show();
  auto* slider = named<QSlider>(*desk, "Exposure slider");
  QVERIFY(slider);
  QCOMPARE(slider->value(), 500);
  for (int at : {520, 560, 600, 650}) slider->setValue(at);
  // Finely near what is usual: by the square of how far it is pulled.
  const double pulled = 6 * 0.3 * 0.3;
  QVERIFY(std::abs(shot().blend.exposureEv - pulled) < 0.01);
  QVERIFY(std::abs(named<QDoubleSpinBox>(*desk, "Exposure")->value() - pulled) < 0.01);
  for (const auto& [at, ev] : {std::pair(1000, 6.0), {0, -6.0}, {500, 0.0}, {450, -0.06}}) {
    slider->setValue(at);
    QVERIFY(std::abs(shot().blend.exposureEv - ev) < 0.006);
    // Where the value is put on the slider is where it was taken from.
    session_->undo(), session_->redo();
    QVERIFY(std::abs(slider->value() - at) < 10);
  }
  session_->undo();
  QCOMPARE(shot().blend.exposureEv, 0.0);
  QVERIFY(!session_->history().canUndo());
}

void TestPanels::fieldsWithoutAValueAreAway() {
  const std::unique_ptr<Desk> desk(makeLightDesk(*bench_));
  desk->show();
  auto* azimuth = named<QDoubleSpinBox>(*desk, "Azimuth");
  auto* width = named<QDoubleSpinBox>(*desk, "Width");
  QVERIFY(!azimuth->isVisible() && !width->isVisible());
  session_->selectLamp("sun-1");
  QVERIFY(azimuth->isVisible() && !width->isVisible());
  type(azimuth, "45");
  QCOMPARE(shot().lamps[0].azimuthDegrees, 45.0);
}

void TestPanels::deliverDeskAsksForFiles() {
  const std::unique_ptr<Desk> desk(makeDeliverDesk(*bench_));
  desk->show();
  // How large the files will be, and what that takes, is said before.
  bool said = false;
  for (const QLabel* l : desk->findChildren<QLabel*>())
    said |= l->text().contains("1920 × 1280 pixels") && l->text().contains("of memory") &&
            !l->text().contains("are free");
  QVERIFY(said);
  session_->editShot("one more", [](Shot& s) {
    s.deliverables.push_back({DeliverableKind::exr, "mine.exr"});
  });
  const auto before = shot().deliverables;
  auto* files = named<QListWidget>(*desk, "Files to hand over");
  QCOMPARE(size_t(files->count()), before.size());
  QCOMPARE(files->item(files->count() - 1)->text(), QString("mine.exr"));
  // Only one is left out; what else there is of the kind stays.
  files->item(files->count() - 1)->setCheckState(Qt::Unchecked);
  for (size_t i = 0; i < before.size(); ++i)
    QCOMPARE(shot().deliverables[i].on, before[i].on && i + 1 < before.size());
  session_->undo();
  QVERIFY(shot().deliverables == before);
}

void TestPanels::swatchesShowTheirSurface() {
  const auto middle = [](const char* id) {
    const QImage image = tracedSwatch(*librarySurface(id), 48, 24);
    return image.pixelColor(24, 30);
  };
  const QColor red = middle("preset-signal-enamel"), blue = middle("preset-harbour-enamel"),
               white = middle("preset-chalk-paint"), rubber = middle("preset-boot-rubber");
  QVERIFY(red.red() > red.blue() + 60);
  QVERIFY(blue.blue() > blue.red() + 20);
  QVERIFY(white.lightness() > rubber.lightness() + 60);
  const QImage image = tracedSwatch(surfaceLibrary()[0].surface, 48, 8);
  QCOMPARE(image.pixelColor(0, 0).alpha(), 0);  // nothing round the ball
  QCOMPARE(image.pixelColor(24, 24).alpha(), 255);
}

DUSK_TEST(TestPanels, QApplication);
#include "panels.moc"
