#include <nlohmann/json.hpp>

#include "app/stations/vantage/camera_jobs.h"
#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/vantage/straighten.h"
#include "tests/app/demo_window.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// The Vantage station by mouse and keyboard.
class TestVantageStation : public DemoWindow {
  Q_OBJECT

  void choose(const QString& name) { QTest::mouseClick(named<QToolButton>(name), Qt::LeftButton); }
  void press(const QString& text) { QTest::mouseClick(button(text), Qt::LeftButton); }
  void unfold(const QString& name) {
    auto* head = named<QToolButton>(name);
    if (!head->isChecked()) head->click();
  }
  void type(const QString& field, double value) {
    QDoubleSpinBox* spin = fieldShown(field);
    QVERIFY2(spin, qPrintable(field));
    spin->setFocus();
    spin->selectAll();
    QTest::keyClicks(spin, QLocale().toString(value, 'f', spin->decimals()));
    QTest::keyClick(spin, Qt::Key_Return);
  }
  const Evidence& evidence() { return shot().evidence; }
  VantageWork& work() { return window_->bench().vantageWork; }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo();
    window_->resize(1280, 800);
    session().setStation(Station::vantage);
  }
  void cleanup() { window_.reset(); }
  void strokesByMouseFromNothing();
  void edgesFoundByButton();
  void footprintAndLengthGiveTrueSize();
  void pinsByDraggingTheProduct();
  void keyboardWalksAndNudges();
  void originAndTurnsKeepThePicture();
  void trueSizeLeavesProductsAtTheirSpots();
  void raisedLevel();
  void keptVantagesAndLock();
  void cameraFiles();
  void straightenedPlate();
};

void TestVantageStation::strokesByMouseFromNothing() {
  const auto truth = jsonFrom(*readFile(fs::path(DUSK_SOURCE) / "demo/brackwater/truth.json"))["camera"];
  const Evidence drawn = evidence();
  const Camera before = shot().vantage.camera;
  press("Start over");
  QVERIFY(!shot().vantage.solved);
  const char* names[] = {"Draw run a", "Draw run b", "Draw upright"};
  // The demo's own strokes, and as many again along other joints and boards.
  std::vector<Stroke> edges = drawn.strokes;
  const auto also = [&](Run run, Vec2d from, Vec2d to) { edges.push_back({"", run, {from, to}, {}}); };
  also(Run::a, {560, 191}, {1101, 183}), also(Run::a, {834, 454}, {1359, 460}),
      also(Run::a, {149, 571}, {420, 575});
  also(Run::b, {513, 771}, {36, 1222}), also(Run::b, {1254, 634}, {1343, 1050}),
      also(Run::b, {1024, 475}, {910, 740});
  also(Run::up, {193, 372}, {217, 545}), also(Run::up, {121, 513}, {96, 351}),
      also(Run::up, {249, 179}, {265, 309});
  for (const Stroke& s : edges) {
    choose(names[int(s.run)]);
    drag(picture(), onScreen(s.points.front()), onScreen(s.points.back()), Qt::ControlModifier);
  }
  QCOMPARE(evidence().strokes.size(), edges.size());
  const auto snapped = std::count_if(evidence().strokes.begin(), evidence().strokes.end(),
                                     [](const Stroke& s) { return !s.drawn.empty(); });
  QVERIFY2(snapped >= 12, qPrintable(QString::number(snapped)));
  for (QCheckBox* box : window_->findChildren<QCheckBox*>())
    if (box->text().contains("find k1")) box->click();
  // The paving stone's corners, each nearer by the wheel as a hand would: a screen pixel is then half one of
  // the photo.
  choose("Draw footprint");
  for (const Vec2d& c : drawn.footprint->corners) {
    picture().zoomToFit();
    for (int i = 0; i < 2; ++i) picture().zoomBy(2.4, picture().toScreen().map(QPointF(c.x, c.y)));
    QTest::mouseClick(&picture(), Qt::LeftButton, Qt::ControlModifier, onScreen(c));
  }
  picture().zoomToFit();
  QVERIFY(evidence().footprint);
  type("Footprint, a", 0.5);
  type("Footprint, b", 0.8);
  QVERIFY2(shot().vantage.solved,
           session().answer().advice.empty() ? "" : session().answer().advice[0].c_str());
  const Camera& c = shot().vantage.camera;
  const double error = c.focalPx / truth["focalPx"].get<double>() - 1;
  QVERIFY2(std::abs(error) < 0.01, qPrintable(QString("focal length off by %1, sigma %2")
                                                  .arg(error)
                                                  .arg(shot().vantage.sigma.focalPx / c.focalPx)));
  const auto axis = truth["axes"]["z"];
  const double trueTilt = degrees(std::asin(axis[2].get<double>()));
  QVERIFY2(std::abs(degrees(tilt(c)) - trueTilt) < 0.5,
           qPrintable(QString::number(degrees(tilt(c)) - trueTilt)));
  // Each stroke was one step, its snapping within it, and all of it goes back.
  for (size_t i = 0; i < edges.size() + 4; ++i) session().undo();
  QVERIFY(evidence() == Evidence{});
  session().undo();
  QVERIFY(evidence() == drawn && shot().vantage.camera == before);
}

void TestVantageStation::edgesFoundByButton() {
  press("Start over");
  const Evidence nothing = evidence();
  press("Find edges");
  QVERIFY(work().looking());
  QVERIFY(QTest::qWaitFor([&] { return work().proposal().has_value(); }, 30'000));
  const auto& strokes = work().proposal()->strokes;
  QVERIFY2(work().proposal()->answer.vantage.solved && strokes.size() >= 9,
           qPrintable(QString::number(strokes.size())));
  QVERIFY(evidence() == nothing);  // a proposal only
  // A click on one leaves it out, another takes it in again.
  const Vec2d middle = (strokes[0].points.front() + strokes[0].points.back()) * 0.5;
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, onScreen(middle));
  QCOMPARE(work().proposal()->dropped.size(), size_t(1));
  const Run first = strokes[0].run;
  press("Swap a and b");
  QVERIFY(work().proposal()->strokes[0].run != first || first == Run::up);
  press("Swap a and b");
  press("Add edges");
  QVERIFY(!work().proposal() && shot().vantage.solved);
  QCOMPARE(evidence().strokes.size(), strokes.size() - 1);
  QVERIFY(std::abs(shot().vantage.camera.focalPx / 1600 - 1) < 0.03);
  session().undo();
  QVERIFY(evidence() == nothing);
  press("Find edges");
  press("Stop looking");
  QVERIFY(QTest::qWaitFor([&] { return !work().looking(); }, 30'000));
}

void TestVantageStation::footprintAndLengthGiveTrueSize() {
  const Camera truth = shot().vantage.camera;
  const auto corners = evidence().footprint->corners;
  session().editEvidence("forget the footprint", [](Evidence& e) { e.footprint.reset(); });
  QVERIFY(!session().answer().scaleKnown);
  choose("Draw length");
  drag(picture(), onScreen(corners[0]), onScreen(corners[1]), Qt::ControlModifier);
  QCOMPARE(evidence().lengths.size(), size_t(1));
  type("True length", 0.5);
  QVERIFY(session().answer().scaleKnown);
  QVERIFY2(std::abs(shot().vantage.camera.position.z / truth.position.z - 1) < 0.03,
           qPrintable(QString::number(shot().vantage.camera.position.z)));
  QTest::keyClick(&picture(), Qt::Key_Delete);
  QVERIFY(evidence().lengths.empty());
  choose("Draw footprint");
  for (const Vec2d& c : corners) QTest::mouseClick(&picture(), Qt::LeftButton, {}, onScreen(c));
  QVERIFY(evidence().footprint && !evidence().footprint->sizeM);
  type("Its ratio a : b", 0.625);
  QVERIFY(evidence().footprint->ratio && !session().answer().scaleKnown);
  type("Footprint, a", 0.5);
  type("Footprint, b", 0.8);
  QVERIFY(session().answer().scaleKnown);
  QVERIFY(std::abs(shot().vantage.camera.position.z / truth.position.z - 1) < 0.03);
  choose("Draw horizon");
  drag(picture(), onScreen({200, 180}), onScreen({1500, 165}), Qt::ControlModifier);
  QCOMPARE(evidence().levelLine.size(), size_t(2));
}

void TestVantageStation::pinsByDraggingTheProduct() {
  QVERIFY(waitForSamples(1));
  choose("Draw pin");
  const Placement p = shot().placements[0];
  const Vec3d top(p.xM, p.yM, 0.16);
  QVERIFY(picture().hitAt(*projected(shot().vantage.camera, top)));
  drag(picture(), ofWorld(top), ofWorld(top) + QPoint(10, 0));
  QCOMPARE(evidence().pins.size(), size_t(1));
  QVERIFY(evidence().pins[0].worldM.z > 0.02);  // the product's point, not the ground's behind it
  type("Pin at z", 0.25);
  QCOMPARE(evidence().pins[0].worldM.z, 0.25);
  session().undo();
  session().undo();
  QVERIFY(evidence().pins.empty());
}

void TestVantageStation::keyboardWalksAndNudges() {
  picture().setFocus();
  QTest::keyClick(&picture(), Qt::Key_N);
  const std::string id = session().selectedStroke();
  QVERIFY(!id.empty());
  const Vec2d from = byId(evidence().strokes, id)->points[0];
  QTest::keyClick(&picture(), Qt::Key_N, Qt::ShiftModifier);
  QTest::keyClick(&picture(), Qt::Key_N);
  QCOMPARE(session().selectedStroke(), id);
  QTest::keyClick(&picture(), Qt::Key_Right);
  QTest::keyClick(&picture(), Qt::Key_Down, Qt::ShiftModifier);
  const Stroke& s = *byId(evidence().strokes, id);
  const bool moved = std::any_of(s.points.begin(), s.points.end(),
                                 [&](const Vec2d& p) { return (p - from - Vec2d(0.1, 1)).length() < 1e-9; });
  QVERIFY(moved);
  QTest::keyClick(&picture(), Qt::Key_S);
  QVERIFY(!byId(evidence().strokes, id)->drawn.empty());
  QTest::keyClick(&picture(), Qt::Key_S);
  QVERIFY(byId(evidence().strokes, id)->drawn.empty());
  const size_t count = evidence().strokes.size();
  QTest::keyClick(&picture(), Qt::Key_Delete);
  QCOMPARE(evidence().strokes.size(), count - 1);
}

void TestVantageStation::originAndTurnsKeepThePicture() {
  unfold("Origin, axes and levels");
  const auto seen = [&] {
    return *projected(shot().vantage.camera, {shot().placements[0].xM, shot().placements[0].yM, 0});
  };
  const Vec2d before = seen();
  const double azimuth = shot().lamps[0].azimuthDegrees;
  press("Set the origin");
  const Vec2d spot(1100, 1000);
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, onScreen(spot));
  QVERIFY(evidence().origin && (seen() - before).length() < 0.01);
  QVERIFY((*projected(shot().vantage.camera, {0, 0, 0}) - *evidence().origin).length() < 0.01);
  press("Quarter turn");
  QVERIFY((seen() - before).length() < 0.01);
  QVERIFY(std::abs(wrapDegrees(shot().lamps[0].azimuthDegrees - azimuth + 90)) < 0.01);
  for (int i = 0; i < 3; ++i) press("Quarter turn");
  QVERIFY(std::abs(wrapDegrees(shot().lamps[0].azimuthDegrees - azimuth)) < 0.01);
}

/// Where the true size is told later, a product looks as large as it is, where it was put in the photo.
void TestVantageStation::trueSizeLeavesProductsAtTheirSpots() {
  session().editEvidence("forget the footprint", [](Evidence& e) { e.footprint.reset(); });
  QVERIFY(!session().answer().scaleKnown);
  session().editShot("a thing of the photo", [](Shot& s) {
    StandIn box;
    box.id = "box", box.positionM = {0.4, 0.3, 0};
    s.standIns.push_back(box);
    s.lamps.push_back(s.lamps[0]);
    s.lamps.back().id = "beside", s.lamps.back().kind = LampKind::area;
    s.lamps.back().aimedAt = s.placements[0].id;
  });
  const auto seen = [&](const Vec3d& p) { return *projected(shot().vantage.camera, p); };
  const auto foot = [&] { return Vec3d(shot().placements[0].xM, shot().placements[0].yM, 0); };
  const auto corner = [&] { return shot().standIns.back().positionM + shot().standIns.back().sizeM * 0.5; };
  const Vec2d product = seen(foot()), thing = seen(corner());
  const Vec3d off = shot().lamps.back().positionM - foot();
  const double height = shot().vantage.camera.position.z;
  unfold("What is known besides");
  type("Camera height", 0.75);
  QVERIFY(session().answer().scaleKnown);
  QVERIFY2(std::abs(shot().vantage.camera.position.z / height - 0.5) < 0.02,
           qPrintable(QString("%1 %2").arg(shot().vantage.camera.position.z).arg(height)));
  QVERIFY2((seen(foot()) - product).length() < 0.01, qPrintable(QString::number(seen(foot()).x - product.x)));
  QVERIFY((seen(corner()) - thing).length() < 1);
  QVERIFY((shot().lamps.back().positionM - foot() - off).length() < 1e-9);
  session().undo();
  QVERIFY((seen(foot()) - product).length() < 1e-9);
}

void TestVantageStation::raisedLevel() {
  const Camera c = shot().vantage.camera;
  choose("Draw raised level");
  drag(picture(), ofWorld({0.3, 1.2, 0}), ofWorld({0.3, 1.2, 0.4}), Qt::ControlModifier);
  QCOMPARE(shot().levels.size(), size_t(1));
  QVERIFY2(std::abs(shot().levels[0].heightM - 0.4) < 0.02,
           qPrintable(QString::number(shot().levels[0].heightM)));
  QVERIFY(c == shot().vantage.camera);
  session().undo();
  QVERIFY(shot().levels.empty());
}

void TestVantageStation::keptVantagesAndLock() {
  unfold("Kept vantages and files");
  press("Keep this one");
  QCOMPARE(shot().keptVantages.size(), size_t(1));
  const Vantage kept = shot().vantage;
  session().editEvidence("spoil it", [](Evidence& e) { e.focalMm35 = 24; });
  QVERIFY(shot().vantage.camera != kept.camera);
  press("Use");
  QVERIFY(shot().vantage.camera == kept.camera && shot().vantage.locked && !evidence().focalMm35);
  // Locked: neither mouse nor keys move it.
  const Evidence before = evidence();
  drag(picture(), onScreen({300, 300}), onScreen({800, 320}));
  QTest::keyClick(&picture(), Qt::Key_Delete);
  QVERIFY(evidence() == before && shot().vantage.camera == kept.camera);
  press("Forget");
  QVERIFY(shot().keptVantages.empty());
}

void TestVantageStation::cameraFiles() {
  const Camera before = shot().vantage.camera;
  for (const char* name : {"camera.gltf", "camera.json"}) {
    const QString file = folder_.filePath(name);
    saveCamera(window_->bench(), file);
    window_->jobs().finish();
    session().editEvidence("spoil it", [](Evidence& e) { e.focalMm35 = 24; });
    loadCamera(window_->bench(), file);
    window_->jobs().finish();
    QVERIFY(shot().vantage.locked && std::abs(shot().vantage.camera.focalPx / before.focalPx - 1) < 1e-9);
    session().undo();
    session().undo();
    QVERIFY(shot().vantage.camera == before);
  }
  loadCamera(window_->bench(), project_);
  window_->jobs().finish();  // not a camera: said, and nothing changes
  QVERIFY(shot().vantage.camera == before);
}

void TestVantageStation::straightenedPlate() {
  QVERIFY(waitForSamples(1));
  const QImage bent = picture().frame()->bare;
  session().editShot("straighten", [](Shot& s) { s.vantage.straightened = true; });
  QTest::qWait(50);
  session().setStation(Station::blend);
  QVERIFY(QTest::qWaitFor(
      [&] { return picture().frame()->scene->camera.k1 == 0 && picture().frame()->bare != bent; }, 30'000));
  session().setStation(Station::vantage);  // where evidence lies on the photo as taken
  QVERIFY(QTest::qWaitFor(
      [&] { return picture().frame()->scene->camera.k1 != 0 && picture().frame()->bare == bent; }, 30'000));
}

DUSK_TEST(TestVantageStation, QApplication);
#include "vantage_station.moc"
