#include "tests/app/demo_window.h"

#include "app/views/plan_view.h"
#include "tests/program.h"

using namespace dusk;

/// A press owns the drag until it is let go; one drag, one run of keys, one pull is one step.
class TestGestures : public DemoWindow {
  Q_OBJECT
  Project before_;
  /// Steps that can be undone, and the start.
  size_t steps() {
    History h = session().history();
    size_t n = 1;
    for (; h.canUndo(); ++n) h.undo();
    return n;
  }
  QPoint onProduct() {
    const Placement& p = shot().placements[0];
    return ofWorld({p.xM, p.yM, 0.15});
  }
  void press(QWidget& on, const QPoint& at, Qt::KeyboardModifiers keys = {}) {
    QTest::mousePress(&on, Qt::LeftButton, keys, at);
  }
  void release(QWidget& on, const QPoint& at) { QTest::mouseRelease(&on, Qt::LeftButton, {}, at); }

 private slots:
  void initTestCase() {
    copyDemo();
    openDemo();
    QVERIFY(waitForSamples(1));
  }
  void init() {
    while (session().history().canUndo()) session().undo();
    window_->showView(MainWindow::View::picture);
    session().setStation(Station::product);
    picture().setFocus();
    before_ = session().project();
  }
  void cleanupTestCase() { window_.reset(); }
  void escapeTakesADragBack();
  void keysWaitUntilTheDragIsOver();
  void stationKeysAndUndoWaitToo();
  void aSecondButtonIsNoSecondDrag();
  void modifiersAreThoseOfThePress();
  void aDragThatEndsWhereItBeganLeavesNoStep();
  void aRunOfNudgesIsOneStep();
  void nudgesDoNotJoinThePressBefore();
  void halfAFootprintCanBeLeft();
  void aStandInsStartSurvivesKeys();
  void leavingTheStationLetsGoOfWhatIsHalfDrawn();
  void heldKeysLetGoWithTheFocus();
  void planAndPanoramaDragsAreTakenBack();
  void anotherShotOrDocumentEndsTheDrag();
};

void TestGestures::escapeTakesADragBack() {
  const QPoint from = onProduct();
  press(picture(), from);
  QVERIFY(picture().isDragging());
  move(picture(), from + QPoint(70, 10));
  QVERIFY(session().project() != before_);
  QTest::keyClick(&picture(), Qt::Key_Escape);
  QVERIFY(session().project() == before_);
  QVERIFY(!picture().isDragging() && !session().inGesture());
  move(picture(), from + QPoint(90, 30));  // the button is still down: it means nothing any more
  release(picture(), from + QPoint(90, 30));
  QVERIFY(session().project() == before_);
  QVERIFY(!session().history().canUndo() && !session().history().canRedo());
}

void TestGestures::keysWaitUntilTheDragIsOver() {
  session().editShot("a level", [](Shot& s) { s.levels.push_back({"level-1", "Table", 0.4}); });
  const QPoint from = onProduct();
  press(picture(), from, Qt::ControlModifier);
  move(picture(), from + QPoint(40, 0));
  const Placement there = shot().placements[0];
  for (const int key : {Qt::Key_Left, Qt::Key_PageUp, Qt::Key_L, Qt::Key_Delete, Qt::Key_Right})
    QTest::keyClick(&picture(), Qt::Key(key));
  QVERIFY(shot().placements[0] == there);
  move(picture(), from);
  release(picture(), from);
  QVERIFY(shot().placements[0] == before_.shots[0].placements[0]);  // back to where it was taken
}

void TestGestures::stationKeysAndUndoWaitToo() {
  const QPoint from = onProduct();
  press(picture(), from);
  move(picture(), from + QPoint(40, 0));
  const Project there = session().project();
  QTest::keyClick(&picture(), Qt::Key_5, Qt::ControlModifier);
  QCOMPARE(session().station(), Station::product);
  QTest::keyClick(&picture(), Qt::Key_Z, Qt::ControlModifier);
  session().undo(), session().setStation(Station::blend);  // from whatever else
  QVERIFY(session().project() == there && session().station() == Station::product);
  release(picture(), from + QPoint(40, 0));
  QTest::keyClick(&picture(), Qt::Key_5, Qt::ControlModifier);
  QCOMPARE(session().station(), Station::light);
}

void TestGestures::aSecondButtonIsNoSecondDrag() {
  const QPoint from = onProduct();
  press(picture(), from);
  QTest::mousePress(&picture(), Qt::MiddleButton, {}, from + QPoint(5, 5));
  move(picture(), from + QPoint(50, 0));
  QTest::mouseRelease(&picture(), Qt::MiddleButton, {}, from + QPoint(50, 0));
  QVERIFY(picture().isDragging());
  release(picture(), from + QPoint(50, 0));
  QVERIFY(!picture().isDragging());
  QCOMPARE(steps(), size_t(2));
}

void TestGestures::modifiersAreThoseOfThePress() {
  const Placement p = shot().placements[0];
  const auto knob = [&](double turn) {
    const Product& product = session().project().products[0];
    const Vec3d size = trueSize(product, session().assets()->loadedModel(product)->box());
    const double a = radians(turn - 90), r = 0.6 * std::hypot(size.x, size.y);
    return ofWorld({p.xM + r * std::cos(a), p.yM + r * std::sin(a), 0});
  };
  // Begun with Ctrl: free of snapping, though Shift comes and goes on the way.
  press(picture(), knob(p.turnDegrees), Qt::ControlModifier);
  move(picture(), knob(p.turnDegrees + 24), Qt::ShiftModifier);
  move(picture(), knob(p.turnDegrees + 23), {});
  release(picture(), knob(p.turnDegrees + 23));
  const double turned = wrapDegrees(shot().placements[0].turnDegrees - p.turnDegrees);
  QVERIFY2(turned > 18 && turned < 28, qPrintable(QString::number(turned)));
  QVERIFY(std::abs(std::remainder(shot().placements[0].turnDegrees, 15)) > 0.05);
}

void TestGestures::aDragThatEndsWhereItBeganLeavesNoStep() {
  const QPoint from = onProduct();
  press(picture(), from, Qt::ControlModifier);
  for (const int x : {20, 60, 20, 0}) move(picture(), from + QPoint(x, 0), Qt::ControlModifier);
  release(picture(), from);
  QVERIFY(!session().history().canUndo());
  QVERIFY(session().isSaved());
}

void TestGestures::aRunOfNudgesIsOneStep() {
  for (int i = 0; i < 5; ++i) QTest::keyClick(&picture(), Qt::Key_Right);
  QCOMPARE(steps(), size_t(2));
  for (int i = 0; i < 3; ++i) QTest::keyClick(&picture(), Qt::Key_PageUp);
  QCOMPARE(steps(), size_t(3));
  QTest::qWait(1300);
  QTest::keyClick(&picture(), Qt::Key_PageUp);  // after a rest it is another
  QCOMPARE(steps(), size_t(4));
  QVERIFY(std::abs(shot().placements[0].xM - before_.shots[0].placements[0].xM - 0.005) < 1e-9);
  session().undo(), session().undo(), session().undo();
  QVERIFY(session().project() == before_);
}

void TestGestures::nudgesDoNotJoinThePressBefore() {
  session().setStation(Station::vantage);
  session().editShot("unlock", [](Shot& s) { s.vantage.locked = false; });
  const size_t start = steps();
  const Vec2d end = shot().evidence.strokes[0].points.front();
  drag(picture(), onScreen(end), onScreen(end) + QPoint(6, 0));
  const size_t dragged = steps();
  const Evidence after = shot().evidence;
  QCOMPARE(dragged, start + 1);
  for (int i = 0; i < 4; ++i) QTest::keyClick(&picture(), Qt::Key_Up);
  QCOMPARE(steps(), dragged + 1);
  session().undo();
  QVERIFY(shot().evidence == after);  // the nudges are gone, the drag is not
}

void TestGestures::halfAFootprintCanBeLeft() {
  session().setStation(Station::vantage);
  session().editShot("unlock", [](Shot& s) { s.vantage.locked = false; });
  window_->bench().vantageWork.setDrawing(Drawing::footprint);
  const auto begun = [&] { return picture().hint().contains("(2 of 4)"); };
  const auto click = [&](const QPoint& at) {
    QTest::mouseClick(&picture(), Qt::LeftButton, Qt::ControlModifier, at);
  };
  click(onScreen({300, 200})), click(onScreen({500, 200}));
  QVERIFY2(begun(), qPrintable(picture().hint()));
  QTest::keyClick(&picture(), Qt::Key_Escape);
  QVERIFY(picture().hint().contains("(0 of 4)"));
  click(onScreen({300, 200})), click(onScreen({500, 200}));
  session().setStation(Station::plate), session().setStation(Station::vantage);
  QVERIFY(picture().hint().contains("(0 of 4)"));
  QVERIFY(shot().evidence.footprint == before_.shots[0].evidence.footprint);
}

void TestGestures::aStandInsStartSurvivesKeys() {
  session().setStation(Station::contact);
  session().selectStandIn(shot().standIns[0].id);
  const StandIn was = shot().standIns[0];
  const QPoint from = ofWorld(was.positionM + Vec3d(0, -was.sizeM.y / 2, was.sizeM.z / 2));
  press(picture(), from);
  QVERIFY(picture().isDragging());
  move(picture(), from + QPoint(25, 0));
  QTest::keyClick(&picture(), Qt::Key_Up);
  QTest::keyClick(&picture(), Qt::Key_Delete);
  move(picture(), from + QPoint(30, 0));
  release(picture(), from + QPoint(30, 0));
  QCOMPARE(shot().standIns.size(), before_.shots[0].standIns.size());
  QCOMPARE(steps(), size_t(2));  // all of it one step
  session().undo();
  QVERIFY(shot().standIns[0] == was);
}

void TestGestures::leavingTheStationLetsGoOfWhatIsHalfDrawn() {
  session().setStation(Station::contact);
  session().setNextDrag(NextDrag::standIn);
  session().setStation(Station::product);
  QCOMPARE(session().nextDrag(), NextDrag::own);
}

void TestGestures::heldKeysLetGoWithTheFocus() {
  QTest::keyPress(&picture(), Qt::Key_B);
  QCOMPARE(picture().hint(), QString("bare plate"));
  QFocusEvent out(QEvent::FocusOut, Qt::ActiveWindowFocusReason);
  QApplication::sendEvent(&picture(), &out);
  QVERIFY(picture().hint() != "bare plate");
  // V held moves the view, not the product.
  const QPoint from = onProduct();
  QTest::keyPress(&picture(), Qt::Key_V);
  drag(picture(), from, from + QPoint(30, 12));
  QTest::keyRelease(&picture(), Qt::Key_V);
  QVERIFY(session().project() == before_);
  QVERIFY((onProduct() - from - QPoint(30, 12)).manhattanLength() <= 2);
  picture().zoomToFit();
}

void TestGestures::planAndPanoramaDragsAreTakenBack() {
  window_->showView(MainWindow::View::plan);
  auto& plan = *window_->findChild<PlanView*>();
  const Placement& p = shot().placements[0];
  const QPoint from = plan.toScreen({p.xM, p.yM}).toPoint();
  press(plan, from);
  move(plan, from + QPoint(40, 20));
  QVERIFY(session().project() != before_);
  QTest::keyClick(&plan, Qt::Key_Escape);
  QVERIFY(session().project() == before_ && !session().inGesture());
  window_->showView(MainWindow::View::panorama);
  auto& panorama = *window_->findChild<PanoramaView*>();
  const QPoint middle = panorama.rect().center();
  press(panorama, middle);
  move(panorama, middle + QPoint(60, 0));
  QVERIFY(shot().surroundings.turnDegrees != before_.shots[0].surroundings.turnDegrees);
  QTest::keyClick(&panorama, Qt::Key_Escape);
  QVERIFY(session().project() == before_);
  release(panorama, middle);
}

void TestGestures::anotherShotOrDocumentEndsTheDrag() {
  const QPoint from = onProduct();
  press(picture(), from);
  move(picture(), from + QPoint(40, 0));
  session().selectShot("no such shot");
  QVERIFY(session().inGesture());
  session().dropJournal(), session().finishWriting();
  window_->open(project_);  // whatever opens it: the drag is of the document that was
  QVERIFY(!session().inGesture() && !picture().isDragging());
  QVERIFY(session().project() == before_);
  release(picture(), from);
  QVERIFY(waitForSamples(1));
}

DUSK_TEST(TestGestures, QApplication);
#include "gestures.moc"
