#include "blend_hands.h"

#include "app/stations/blend/stack_list.h"
#include "app/widgets/number_field.h"
#include "core/project/blend_edit.h"
#include "tests/program.h"

using namespace dusk;

/// More of the Blend station: what masks stay with, parts, lens and grain by number, the difference, layers
/// of pictures, and that window and files show the same.
class TestBlendMore : public BlendWindow {
  Q_OBJECT
  const std::vector<Correction>& corrections(const char* name) {
    return rowOf(shot().blend, name).corrections;
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() { openAtBlend(); }
  void cleanup() { window_.reset(); }

  void masksAreBroughtToWhatTheyStayWith();
  void partsOfTheProductAreMasked();
  void lensAndGrainAreSetByNumber();
  void whatDiffersIsShown();
  void theOtherStateIsHeldByKey();
  void cutOutsAreRefinedByHand();
  void cutOutsStandInThePlace();
  void theRowInHandChangesItsPanel();
  void aConfigurationOfOnesOwnIsShown();
  void aLayerThatIsGoneIsSaid();
  void everythingCanBeUndone();
};

void TestBlendMore::masksAreBroughtToWhatTheyStayWith() {
  session().takeBlend({"product", -1, -1});
  choose("+ Correction", "Exposure");
  choose("+ Mask", "Outline");
  session().setNextDrag(Session::NextDrag::own);
  const auto mask = [&]() -> const Mask& { return corrections("product")[0].masks[0]; };
  const std::vector<MaskPoint> frameHeld = mask().points;
  auto* stays = seen<QComboBox>("Stays with");
  QVERIFY(stays);
  stays->setCurrentIndex(2), emit stays->activated(2);
  QCOMPARE(mask().hold, MaskHold::product);
  QVERIFY(std::abs(mask().points[0].at.x) < 10);  // metres now
  stays = seen<QComboBox>("Stays with");
  stays->setCurrentIndex(0), emit stays->activated(0);
  QCOMPARE(mask().hold, MaskHold::frame);
  for (size_t i = 0; i < frameHeld.size(); ++i)
    QVERIFY((mask().points[i].at - frameHeld[i].at).length() < 0.5);
  // Above the horizon there is no ground: it stays as it was, and that is said.
  session().editShot("x", [&](Shot& s) {
    s.blend.rows["product"].corrections[0].masks[0].points[0].at = {900, 2};
  });
  QSignalSpy said(&session(), &Session::refused);
  stays = seen<QComboBox>("Stays with");
  stays->setCurrentIndex(1), emit stays->activated(1);
  QCOMPARE(mask().hold, MaskHold::frame);
  QVERIFY(said.count() == 1 && said[0][0].toString().contains("ground"));
}

void TestBlendMore::partsOfTheProductAreMasked() {
  const Placement& p = shot().placements[0];
  const QPoint middle = ofWorld({p.xM, p.yM - 0.05, 0.16});
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, middle);
  QVERIFY(!session().selectedPart().empty());
  session().takeBlend({"product", -1, -1});
  choose("+ Correction", "Exposure");
  choose("+ Mask", "Parts");
  QCOMPARE(corrections("product")[0].masks[0].parts, std::vector<std::string>{session().selectedPart()});
  const QImage before = frame()->picture;
  session().editShot("x", [](Shot& s) { s.blend.rows["product"].corrections[0].values["ev"] = 3; });
  // Mattes come with the next development of the film.
  QVERIFY(waitFor([&] { return frame()->picture != before; }));
  QTest::qWait(1500);
  int brighter = 0, same = 0;
  for (int y = 0; y < before.height(); y += 2)
    for (int x = 0; x < before.width(); x += 2) {
      const int by = qGray(frame()->picture.pixel(x, y)) - qGray(before.pixel(x, y));
      by > 25 ? ++brighter : by == 0 ? ++same : 0;
    }
  QVERIFY2(brighter > 30 && same > 20 * brighter, qPrintable(QString("%1 %2").arg(brighter).arg(same)));
}

void TestBlendMore::lensAndGrainAreSetByNumber() {
  session().takeBlend({"lens", -1, -1});
  auto* soft = seen<NumberField>("Softness, green");
  QVERIFY(soft);
  soft->setFocus();
  soft->selectAll();
  QTest::keyClicks(soft, "2.5");
  QTest::keyClick(soft, Qt::Key_Return);
  QCOMPARE(shot().blend.lens.softPx, Vec3d(0, 2.5, 0));
  session().takeBlend({"grain", -1, -1});
  QTest::qWait(50);
  bool told = false;
  for (QLabel* l : window_->findChildren<QLabel*>())
    told = told || (l->isVisible() && l->text().startsWith("No grain yet"));
  QVERIFY(told);
  session().editShot("x", [](Shot& s) { s.blend.grain.sigma.assign(17, Vec3d(6)); });
  // The product is grainy now, the place is not.
  const Placement& p = shot().placements[0];
  const Vec2d on = *projected(shot().vantage.camera, {p.xM, p.yM - 0.05, 0.2});
  const QImage before = frame()->picture;
  QVERIFY(waitFor([&] { return frame()->picture != before; }));
  const double s = double(frame()->picture.width()) / shot().vantage.camera.width;
  int differ = 0;
  for (int k = -4; k <= 4; ++k)
    differ += frame()->picture.pixel(int(on.x * s) + k, int(on.y * s)) !=
              before.pixel(int(on.x * s) + k, int(on.y * s));
  QVERIFY(differ > 4);
  QCOMPARE(frame()->picture.pixel(5, 5), before.pixel(5, 5));
}

void TestBlendMore::whatDiffersIsShown() {
  openFold("Compare");
  auto* beside = seen<QComboBox>("Beside");
  auto* as = seen<QComboBox>("Shown as");
  beside->setCurrentIndex(1), as->setCurrentIndex(3), emit as->activated(3);
  QVERIFY(
      waitFor([&] { return !frame()->other.isNull() && frame()->compared.as == Compared::As::difference; }));
  // Beside the plate only the product and its shadow differ; all else is the middle grey of nothing.
  QCOMPARE(frame()->other.pixel(5, 5), qRgb(128, 128, 128));
  const Placement& p = shot().placements[0];
  const double s = double(frame()->picture.width()) / shot().vantage.camera.width;
  const Vec2d on = *projected(shot().vantage.camera, {p.xM, p.yM, 0.15});
  QVERIFY(frame()->other.pixel(int(on.x * s), int(on.y * s)) != qRgb(128, 128, 128));
}

void TestBlendMore::theOtherStateIsHeldByKey() {
  session().editShot("x", [](Shot& s) { s.blend.exposureEv = -2; });
  openFold("Compare");
  auto* beside = seen<QComboBox>("Beside");
  beside->setCurrentIndex(2), emit beside->activated(2);  // as rendered
  QVERIFY(waitFor([&] { return !frame()->other.isNull(); }));
  const Placement& p = shot().placements[0];
  const QPoint on = ofWorld({p.xM, p.yM - 0.02, 0.16});
  picture().setCurtain(0);
  const auto grey = [&] { return qGray(picture().grab().toImage().pixel(on)); };
  const int now = grey();
  picture().setFocus();
  QTest::keyPress(&picture(), Qt::Key_C);
  const int then = grey();
  QTest::keyRelease(&picture(), Qt::Key_C);
  QVERIFY2(then > now + 10, qPrintable(QString("%1 %2").arg(now).arg(then)));
  QCOMPARE(grey(), now);
}

void TestBlendMore::cutOutsAreRefinedByHand() {
  openFold("In front of the product");
  session().editShot("x", [](Shot& s) {
    CutOut c;
    c.id = "cut-out-1", c.name = "Bollard", c.loop = {{1600, 280}, {1800, 280}, {1800, 540}, {1600, 540}};
    s.blend.cutOuts = {c};
  });
  session().selectCutOut("cut-out-1");
  QTest::mouseClick(shown("Belongs to it"), Qt::LeftButton);
  QTest::mousePress(&picture(), Qt::LeftButton, {}, onScreen({1690, 330}));
  for (int y = 350; y <= 500; y += 30) move(picture(), onScreen({1690, double(y)}));
  QTest::mouseRelease(&picture(), Qt::LeftButton, {}, onScreen({1690, 500}));
  QCOMPARE(shot().blend.cutOuts[0].keeps.size(), size_t(1));
  QCOMPARE(session().nextDrag(), Session::NextDrag::own);
  auto* soft = seen<NumberField>("Soft border");
  soft->setValue(9);
  QCOMPARE(shot().blend.cutOuts[0].softPx, 9.0);
  // A short press draws nothing, and says how it is done.
  QSignalSpy said(&session(), &Session::refused);
  QTest::mouseClick(shown("Loop a thing"), Qt::LeftButton);
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, onScreen({1000, 500}));
  QCOMPARE(shot().blend.cutOuts.size(), size_t(1));
  QVERIFY(said.count() == 1);
  QTest::keyClick(&picture(), Qt::Key_Escape);
  QCOMPARE(session().nextDrag(), Session::NextDrag::own);
  QTest::mouseClick(shown("Take the cut-out away"), Qt::LeftButton);
  QVERIFY(shot().blend.cutOuts.empty());
}

// The product stands between the sun and the bollard: cut out, that is as bright as in the photo; with a
// stand-in of its own it lies in the product's shadow.
void TestBlendMore::cutOutsStandInThePlace() {
  openFold("In front of the product");
  session().editShot("x", [](Shot& s) {
    CutOut c;
    c.id = "cut-out-1", c.name = "Bollard", c.loop = {{1590, 290}, {1790, 290}, {1790, 519}, {1590, 519}};
    s.blend.cutOuts = {c};
    s.placements[0].xM = 1.2, s.placements[0].yM = 2.27;
  });
  session().selectCutOut("cut-out-1");
  const auto settled = [&] { return frame() && frame()->samples > 0 && frame()->samples == frame()->wanted; };
  const auto grey = [&] {
    const QImage seen = picture().grab().toImage();
    int sum = 0;
    for (const double z : {0.04, 0.07, 0.1}) sum += qGray(seen.pixel(ofWorld({1.52, 2.39, z})));
    return sum;
  };
  QTest::qWait(200);
  QVERIFY(waitFor(settled));
  const int lit = grey();
  QTest::mouseClick(shown("Give it a stand-in"), Qt::LeftButton);
  QCOMPARE(shot().standIns.back().id, shot().blend.cutOuts[0].standInId);
  QVERIFY(!shown("Give it a stand-in"));
  const auto placed = [&] {
    const Camera& c = shot().vantage.camera;
    return settled() && frame()->scene &&
           frame()
               ->scene->place.inFront({toFloat(c.position), toFloat(rayThrough(c, {1690, 420}))}, 100)
               .found();
  };
  QVERIFY(waitFor(placed));
  grab("cut-out");
  QVERIFY2(grey() < lit - 6, qPrintable(QString("%1 of %2").arg(grey()).arg(lit)));
  auto* takes = seen<QCheckBox>("Takes the product's shadow");
  QVERIFY(takes && takes->isChecked());
  takes->click();
  QVERIFY(waitFor([&] { return !placed() && settled(); }));
  QVERIFY(std::abs(grey() - lit) < 4);
  auto* throws = seen<QCheckBox>("Throws its shadow on the product");
  throws->click();
  QVERIFY(!shot().standIns.back().blocks);
  // Another shape may stand for it, or none.
  const std::string sheet = shot().blend.cutOuts[0].standInId, other = shot().standIns.front().id;
  auto* which = seen<QComboBox>("Its stand-in");
  QVERIFY(which && which->currentData().toString().toStdString() == sheet);
  which->setFocus();
  QTest::keyClick(which, Qt::Key_Home);
  QVERIFY(shot().blend.cutOuts[0].standInId.empty() && shown("Give it a stand-in"));
  QTest::keyClick(which, Qt::Key_Down);
  QCOMPARE(shot().blend.cutOuts[0].standInId, other);
  for (int i = 0; i < 5; ++i) session().undo();
  QVERIFY(shot().blend.cutOuts[0].standInId.empty());
  // Nobody can tell where a thing in the sky stands.
  session().editShot("x", [](Shot& s) {
    s.blend.cutOuts[0].loop = {{100, 20}, {200, 20}, {200, 60}, {100, 60}};
  });
  QSignalSpy said(&session(), &Session::refused);
  QTest::mouseClick(shown("Give it a stand-in"), Qt::LeftButton);
  QVERIFY(said.count() == 1 && shot().blend.cutOuts[0].standInId.empty());
}

void TestBlendMore::theRowInHandChangesItsPanel() {
  session().takeBlend({"contact", -1, -1});
  QVERIFY(seen<NumberField>("Shadow") && !seen<NumberField>("Exposure"));
  seen<NumberField>("Shadow")->setValue(0.5);
  QCOMPARE(shot().blend.shadowStrength, 0.5);
  session().takeBlend({"view", -1, -1});
  auto* view = seen<QComboBox>("View");
  QVERIFY(view && !seen<NumberField>("Shadow"));
  view->setCurrentIndex(1), emit view->activated(1);
  QCOMPARE(shot().blend.view, std::string("soft shoulder"));
  session().takeBlend({"reflections", -1, -1});
  QVERIFY(seen<NumberField>("Mirrored"));
  session().takeBlend({"light:surroundings", -1, -1});
  seen<NumberField>("This light")->setValue(1);
  QCOMPARE(shot().blend.mix.at("surroundings").ev, 1.0);
  // A row offers what makes sense on it alone.
  session().takeBlend({"contact", -1, -1});
  QTest::qWait(50);
  for (QPushButton* b : window_->findChildren<QPushButton*>())
    if (b->text() == "+ Correction" && b->isVisible())
      for (QAction* a : b->menu()->actions())
        QVERIFY(a->text() != "Vignette" && a->text() != "Defocus by depth");
}

// A studio's configuration with a darker view: chosen, shown, its looks and displays offered, gone, let go
// of.
void TestBlendMore::aConfigurationOfOnesOwnIsShown() {
  const QString file = demo_ + "studio.ocio";
  QFile config(file);
  QVERIFY(config.open(QFile::WriteOnly));
  config.write(R"(ocio_profile_version: 2
roles: {default: lin_rec709, scene_linear: lin_rec709}
displays:
  Wall: [!<View> {name: Bright, colorspace: lin_rec709}]
  Screen sRGB: [!<View> {name: Bright, colorspace: srgb}, !<View> {name: Deep, colorspace: deep}]
active_displays: [Screen sRGB, Wall]
looks: [!<Look> {name: amber, process_space: lin_rec709, transform: !<CDLTransform> {slope: [1.5, 1, 0.5]}}]
colorspaces:
  - !<ColorSpace> {name: lin_rec709}
  - !<ColorSpace> {name: srgb, from_scene_reference: !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055, direction: inverse}}
  - !<ColorSpace> {name: deep, from_scene_reference: !<ExponentTransform> {value: 3, direction: inverse}}
)");
  config.close();
  session().takeBlend({"view", -1, -1});
  const QImage ours = frame()->picture;
  answerDialog(file);
  QTest::mouseClick(shown("Colour configuration…"), Qt::LeftButton);
  QVERIFY(
      waitFor([&] { return shot().blend.config.file.path == "studio.ocio" && seen<QComboBox>("Display"); }));
  QCOMPARE(shot().blend.view, std::string("Bright"));
  // Its view is ours by another name: the same picture, but for what is traced anew.
  QVERIFY(waitFor([&] { return frame()->samples == frame()->wanted && frame()->wanted > 0; }));
  const auto pick = [&](const char* name, int at) {
    auto* box = seen<QComboBox>(name);
    if (!box || at >= box->count()) return false;
    box->setCurrentIndex(at), emit box->activated(at);
    return true;
  };
  QCOMPARE(seen<QComboBox>("View")->count(), 2);
  QVERIFY(pick("View", 1));
  QCOMPARE(shot().blend.view, std::string("Deep"));
  QVERIFY(pick("Look", 1));
  QCOMPARE(shot().blend.config.look, std::string("amber"));
  // The photo came in by the view's inverse: what nothing touches shows as it was taken.
  QVERIFY(waitFor([&] { return frame()->picture.pixel(3, 3) == ours.pixel(3, 3); }));
  grab("view-desk", seen<QWidget>("View in hand"));
  QVERIFY(pick("Display", 1));
  QCOMPARE(shot().blend.view, std::string("Bright"));
  QCOMPARE(seen<QComboBox>("View")->count(), 1);
  QFile::remove(file);
  session().editShot("x", [](Shot& s) { s.blend.config.file.hash = "other"; });
  QVERIFY(waitFor([&] { return !frame()->notes.empty(); }));
  QVERIFY(QString::fromStdString(frame()->notes[0]).contains("studio.ocio"));
  QTest::mouseClick(shown("Our views again"), Qt::LeftButton);
  QVERIFY(shot().blend.config == ViewConfig{} && shot().blend.view == "plain sRGB");
  for (int i = 0; i < 6 && session().history().canUndo(); ++i) session().undo();
  QVERIFY(waitFor([&] { return shot().blend.config.file.empty(); }));
}

void TestBlendMore::aLayerThatIsGoneIsSaid() {
  session().editShot("x", [](Shot& s) {
    ExtraLayer l;
    l.id = "layer-1", l.name = "Logo", l.file = {"gone.png", "1"};
    s.blend.layers = {l};
  });
  QVERIFY(waitFor([&] {
    return std::any_of(frame()->notes.begin(), frame()->notes.end(),
                       [](const std::string& n) { return n.find("Logo") != std::string::npos; });
  }));
  QCOMPARE(frame()->picture.size(), frame()->bare.size());  // all else is there
}

void TestBlendMore::everythingCanBeUndone() {
  const Project before = session().project();
  choose("+ Layer", "Gradient");
  session().takeBlend({"view", -1, -1});
  for (const char* kind : {"Exposure", "White", "Tone curve", "Glow", "Noise"}) choose("+ Correction", kind);
  QCOMPARE(corrections("view").size(), size_t(5));
  choose("+ Mask", "Brightness");
  session().takeBlend({"product", -1, -1});
  choose("+ Correction", "Edge of the alpha");
  int steps = 0;
  while (session().history().canUndo()) session().undo(), ++steps;
  QVERIFY(session().project() == before);
  QVERIFY2(steps == 8, qPrintable(QString::number(steps)));
  while (session().history().canRedo()) session().redo();
  QCOMPARE(corrections("view").size(), size_t(5));
}

DUSK_TEST(TestBlendMore, QApplication);
#include "blend_more.moc"
