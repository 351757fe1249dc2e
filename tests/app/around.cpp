#include "app/views/plan_things.h"
#include "app/views/plan_view.h"
#include "core/project/lamp_kinds.h"
#include "core/trace/pick_pass.h"
#include "tests/app/demo_window.h"
#include "tests/program.h"

using namespace dusk;

/// The Around view and the plan by mouse and keyboard.
class TestAround : public DemoWindow {
  Q_OBJECT

  AroundView& view() { return window_->around(); }
  QPoint at(const Vec3d& world) {
    return QPointF(projected(view().camera(), world)->x, projected(view().camera(), world)->y).toPoint();
  }
  /// A point of the product under the middle of the view.
  Vec3d middle() {
    const auto hit = view().hitAt(QPointF(view().width() / 2.0, view().height() / 2.0));
    return hit.value_or(Vec3d(0, 0, 0));
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo();
    window_->showView(MainWindow::View::around);
    QVERIFY(QTest::qWaitFor([&] { return view().hasPicture(); }, 30'000));
  }
  void cleanup() { window_.reset(); }
  void turnsAboutWhatWasPicked();
  void neverLosesTheProduct();
  void clickSelectsAndShiftGoesBehind();
  void fliesToAPartAndBack();
  void pinFromTheProductWithoutACamera();
  void handsInAnEmptyViewDoNoHarm();
  void aLampIsSteeredByLookingThroughIt_data();
  void aLampIsSteeredByLookingThroughIt();
  void planTakesWhatIsUnderThePointer();
  void hullsHoldAllAndNoMore();
};

void TestAround::aLampIsSteeredByLookingThroughIt_data() {
  QTest::addColumn<int>("kind");
  QTest::newRow("a window") << int(LampKind::area);
  QTest::newRow("a sun") << int(LampKind::sun);
}
void TestAround::aLampIsSteeredByLookingThroughIt() {
  QFETCH(int, kind);
  session().editShot("a lamp", [&](Shot& s) {
    Lamp lamp;
    lamp.id = "led", lamp.kind = LampKind(kind), lamp.positionM = {-1.2, -0.8, 1}, lamp.targetM = {0, 0, 0.1};
    if (!isDistant(lamp)) lamp.aimedAt = s.placements[0].id;
    s.lamps.push_back(lamp);
  });
  const auto lamp = [&] { return *byId(shot().lamps, std::string("led")); };
  const auto look = [&] { return lookOf(lamp(), shot(), {0, 0, 0}); };
  const auto way = [&] { return (look().target - look().eye).normalized(); };
  const Shot before = shot();
  view().lookThrough("led", look());
  QTRY_VERIFY((view().camera().axes.z - way()).length() < 1e-6);  // once it has flown there
  QVERIFY(shot() == before);
  const QPoint middle = view().rect().center();
  drag(view(), middle, middle + QPoint(60, 20));
  QVERIFY(shot() != before);
  // It shines where the view looks, from where that is, and still goes along with the product.
  QVERIFY((view().camera().axes.z - way()).length() < 1e-6);
  if (LampKind(kind) == LampKind::area) {
    QVERIFY((view().camera().position - lamp().positionM).length() < 1e-9);
    QCOMPARE(lamp().aimedAt, before.placements[0].id);
  }
  const Shot dragged = shot();
  grab("led");
  for (int i = 0; i < 3; ++i) QTest::keyClick(&view(), Qt::Key_Left);
  QVERIFY(shot() != dragged);
  session().undo();  // a run of keys is one step, a drag another
  QVERIFY(shot() == dragged);
  session().undo();
  QVERIFY(shot() == before);
  session().redo();
  QTest::keyClick(&view(), Qt::Key_Escape);
  QVERIFY(view().steered().empty());
  drag(view(), middle, middle + QPoint(40, 0));
  QVERIFY(shot() == dragged);
}

// A peg on a table: what is small is taken off what is large; both are where they stand.
void TestAround::planTakesWhatIsUnderThePointer() {
  session().editShot("a table", [](Shot& s) {
    StandIn table;
    table.id = table.name = "table", table.positionM = {1.5, 1, 0}, table.sizeM = {2, 1, 0.7};
    table.turnDegrees = 90;
    StandIn peg;
    peg.id = peg.name = "peg", peg.kind = StandInKind::cylinder, peg.positionM = {1.5, 1.8, 0.7},
    peg.sizeM = {0.2, 0.2, 0.3};
    s.standIns = {table, peg};
  });
  window_->showView(MainWindow::View::plan);
  PlanView& plan = *window_->findChild<PlanView*>();
  const auto at = [&](size_t i) { return shot().standIns[i].positionM; };
  grab("plan");
  const QPoint peg = plan.toScreen({1.5, 1.8}).toPoint();
  drag(plan, peg, peg + QPoint(30, 0));
  QVERIFY(at(1).x > 1.55 && at(1).z == 0.7 && at(0).x == 1.5);
  QCOMPARE(session().selectedStandIn(), std::string("peg"));
  // Turned by a quarter, the table reaches along Y, and its corner is not taken along X.
  const QPoint side = plan.toScreen({1.3, 0.2}).toPoint();
  drag(plan, side, side - QPoint(0, 40));
  QVERIFY(at(0).y > 1.1 && at(0).x == 1.5);
  QCOMPARE(session().selectedStandIn(), std::string("table"));
  const Shot before = shot();
  const QPoint beside = plan.toScreen({2.3, 1}).toPoint();
  drag(plan, beside, beside + QPoint(40, 0));  // moves the plan
  QVERIFY(shot() == before);
  session().undo(), session().undo();
  QVERIFY(at(0).y == 1 && at(1).x == 1.5);
  // A floor is walked on, unless one has it in hand.
  session().editShot("a floor", [](Shot& s) { s.standIns[0].sizeM = {30, 30, 0.1}; });
  session().selectStandIn("peg");
  const Shot floor = shot();
  drag(plan, beside, beside + QPoint(0, 30));
  QVERIFY(shot() == floor);
  session().selectStandIn("table");
  drag(plan, beside, beside + QPoint(0, 30));
  QVERIFY(!(shot() == floor));
}

void TestAround::hullsHoldAllAndNoMore() {
  std::vector<Vec2d> points{{0, 0}, {2, 0}, {2, 1}, {0, 1}};
  for (int i = 0; i < 50; ++i) points.emplace_back(0.04 * i, 0.5 + 0.009 * i), points.emplace_back(1, 0);
  const QPolygonF hull = hullOf(points);
  QCOMPARE(hull.size(), 4);
  QCOMPARE(hull.boundingRect(), QRectF(0, 0, 2, 1));
  QVERIFY(hullOf({}).isEmpty());
}

void TestAround::handsInAnEmptyViewDoNoHarm() {
  const QPoint middle = view().rect().center();
  const auto turnWheel = [&](int notches) {
    QWheelEvent wheel(middle, view().mapToGlobal(QPointF(middle)), {}, {0, 120 * notches}, Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&view(), &wheel);
  };
  for (int i = 0; i < 400; ++i) turnWheel(-20);  // out of the world
  QVERIFY(view().camera().position.length() < 1e5);
  session().dropJournal();
  window_ = std::make_unique<MainWindow>();
  window_->resize(1280, 800);
  window_->show();
  window_->showView(MainWindow::View::around);
  for (int i = 0; i < 3; ++i) {
    drag(view(), middle, middle + QPoint(60, 20));
    QTest::mousePress(&view(), Qt::MiddleButton, {}, middle);
    move(view(), middle + QPoint(30, 30), {}, Qt::MiddleButton);
    QTest::mouseRelease(&view(), Qt::MiddleButton, {}, middle);
    turnWheel(i - 1);
    QTest::keyClick(&view(), Qt::Key_Plus);
  }
  window_->open(project_);
  QVERIFY(QTest::qWaitFor([&] { return view().hasPicture() && view().camera().focalPx > 0; }, 60'000));
  const Vec3d eye = view().camera().position;
  QVERIFY(std::isfinite(eye.x + eye.y + eye.z) && eye.length() < 10);
}

void TestAround::turnsAboutWhatWasPicked() {
  const Vec3d p = middle();
  QVERIFY(p.length() > 0);
  const QPoint from = at(p);
  const double distance = (view().camera().position - p).length();
  drag(view(), from, from + QPoint(90, 40));
  QVERIFY((view().pivot() - p).length() < 0.002);
  QVERIFY2((at(p) - from).manhattanLength() <= 2, "the point taken stays where it is");
  QVERIFY(std::abs((view().camera().position - p).length() - distance) < 0.002);
  QVERIFY(std::abs(view().camera().axes.x.z) < 1e-9);  // upright still
  // With V held, the point goes along.
  QTest::keyPress(&view(), Qt::Key_V);
  drag(view(), from, from + QPoint(60, -30));
  QTest::keyRelease(&view(), Qt::Key_V);
  QVERIFY((at(p) - from - QPoint(60, -30)).manhattanLength() <= 3);
}

void TestAround::neverLosesTheProduct() {
  const Vec3d pivot = view().pivot();
  drag(view(), {20, 20}, {220, 160});  // beside everything: the pivot stays on the product
  QVERIFY(view().pivot() == pivot);
  for (int i = 0; i < 12; ++i) drag(view(), {300, 60}, {300, 400});  // over the pole and on
  QVERIFY(std::abs(view().camera().axes.z.z) < 0.9999 && std::abs(view().camera().axes.x.z) < 1e-9);
  QTest::keyPress(&view(), Qt::Key_V);
  drag(view(), {300, 300}, {-2000, 300});
  QTest::keyRelease(&view(), Qt::Key_V);
  QTest::keyClick(&view(), Qt::Key_Home);
  QVERIFY(QTest::qWaitFor(
      [&] { return view().hitAt(QPointF(view().width() / 2.0, view().height() / 2.0)).has_value(); }, 5'000));
}

void TestAround::clickSelectsAndShiftGoesBehind() {
  // On the dial, where glass lies before the face.
  QPoint spot;
  std::string front;
  for (int x = 200; x < 500 && front.find("Dial") == std::string::npos; x += 15) {
    spot = QPoint(x, view().height() * 56 / 100);
    QTest::mouseClick(&view(), Qt::LeftButton, {}, spot);
    front = session().selectedPart();
  }
  QVERIFY(front.find("Dial") != std::string::npos);
  QTest::mouseClick(&view(), Qt::LeftButton, Qt::ShiftModifier, spot);
  const std::string behind = session().selectedPart();
  QVERIFY(!behind.empty() && behind != front);
  QTest::mouseClick(&view(), Qt::LeftButton, {}, QPoint(6, 6));
  QVERIFY(session().selectedPart().empty());
}

void TestAround::fliesToAPartAndBack() {
  const Camera before = view().camera();
  const auto model = session().assets()->loadedModel(session().project().products[0]);
  const std::string part = model->parts.back().path;  // a screw, small
  session().selectPart(part);
  view().showPart();
  QTRY_VERIFY((view().camera().position - view().pivot()).length() <
              0.5 * (before.position - view().pivot()).length());
  view().showPart();
  QTRY_VERIFY((view().camera().position - before.position).length() < 1e-9);
}

void TestAround::pinFromTheProductWithoutACamera() {
  session().setStation(Station::vantage);
  session().editShot("clear", [](Shot& s) {
    s.evidence = {};
    Vantage bare;
    bare.camera.width = s.vantage.camera.width, bare.camera.height = s.vantage.camera.height;
    s.vantage = bare;
  });
  QTest::mouseClick(named<QToolButton>("Draw pin"), Qt::LeftButton);
  const Vec3d p = middle();
  QTest::mouseClick(&view(), Qt::LeftButton, {}, at(p));
  QVERIFY(picture().isVisible());  // on to the photo
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, onScreen({900, 700}));
  QCOMPARE(shot().evidence.pins.size(), size_t(1));
  QVERIFY2((shot().evidence.pins[0].worldM - p).length() < 0.003, "the pin belongs to the point picked");
  QVERIFY((shot().evidence.pins[0].at - Vec2d(900, 700)).length() < 3);
}

DUSK_TEST(TestAround, QApplication);
#include "around.moc"
