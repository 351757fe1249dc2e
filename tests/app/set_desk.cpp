#include "app/stations/plate/piece_list.h"
#include "app/stations/status.h"
#include "app/widgets/number_field.h"
#include "app/window/lesson.h"
#include "core/set/furnish.h"
#include "demo_window.h"
#include "tests/program.h"

using namespace dusk;

/// A picture without a photo, made by hand: a set chosen, its die thrown, a piece dragged in and measured.
class TestSetDesk : public DemoWindow {
  Q_OBJECT
  template <typename W>
  W* seen(const QString& name) {
    for (W* w : window_->findChildren<W*>())
      if (w->accessibleName() == name && w->isVisible()) return w;
    return nullptr;
  }
  void unfold(const QString& name) {
    if (auto* fold = seen<QToolButton>(name)) fold->click();
    QTest::qWait(50);
  }
  void choose(const QString& set) {
    auto* kind = seen<QComboBox>("Set");
    QVERIFY(kind);
    kind->setCurrentIndex(kind->findText(set));
    emit kind->activated(kind->currentIndex());
    QTest::qWait(50);  // its fields are laid out
  }
  bool isLoaded() {
    for (const Placement& p : shot().placements)
      if (!session().assets()->loadedModel(*byId(session().project().products, p.productId))) return false;
    return true;
  }
  bool isFinished() {
    return isLoaded() && picture().frame() && picture().frame()->samples > 0 &&
           picture().frame()->samples == picture().frame()->wanted &&
           picture().frame()->scene->geometry->instances().size() >= shot().placements.size();
  }
 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo();
    session().setStation(Station::plate);
    unfold("A set of its own");
  }
  void cleanup() { window_.reset(); }

  void aSetIsGivenAndTaken();
  void theDieAndTheSliders();
  void aPieceIsDraggedIn();
  void theCameraIsTakenInHand();
  void camerasAreKeptAndLocked();
  void aPanoramaIsWalkedAbout();
  void aRoundFloorIsLaid();
};

void TestSetDesk::aRoundFloorIsLaid() {
  session().editBackdrop("one colour",
                         [](Backdrop& b) { b.kind = BackdropKind::plain, b.colour = "#405060"; });
  unfold("Round floor");
  auto* radius = seen<NumberField>("Floor radius");
  QVERIFY(radius && !seen<NumberField>("Softness"));
  session().editBackdrop("aside", [](Backdrop& b) { b.floorXM = 3; });
  radius->setFocus();
  radius->selectAll();
  QTest::keyClicks(radius, "0.5");
  QTest::keyClick(radius, Qt::Key_Return);
  QCOMPARE(shot().backdrop.floorRadiusM, 0.5);
  QVERIFY(QTest::qWaitFor([&] { return seen<NumberField>("Softness") != nullptr; }, 2000));
  auto* under = button("Under the product");
  bringIntoView(under);
  QTest::mouseClick(under, Qt::LeftButton);
  QCOMPARE(shot().backdrop.floorXM, shot().placements[0].xM);
  // What is seen before the product is the floor's own colour; a corner is the backdrop's.
  const Placement& p = shot().placements[0];
  const auto code = [&](const Vec2d& at) {
    const auto frame = picture().frame();
    if (!frame || frame->bare.isNull()) return QColor();
    return QColor(frame->bare.pixel(int(at.x * frame->bare.width()), int(at.y * frame->bare.height())));
  };
  const Camera& camera = shot().vantage.camera;
  const Vec2d spot = *projected(camera, {p.xM, p.yM, 0});
  QVERIFY(QTest::qWaitFor(
      [&] {
        return code({spot.x / camera.width, spot.y / camera.height}) == QColor("#d8d4cc");
      },
      30'000));
  QCOMPARE(code({0.01, 0.01}), QColor("#405060"));
}

void TestSetDesk::aSetIsGivenAndTaken() {
  const Shot before = shot();
  choose("Plinths, a thrown pattern");
  QCOMPARE(shot().set.kind, std::string("plinths"));
  QVERIFY(shot().backdrop.kind == BackdropKind::plain && shot().placements.size() > 5);
  QVERIFY(QTest::qWaitFor([&] { return isFinished(); }, 90'000));
  grab("set-plinths");
  // The set covers the picture: no pixel is the backdrop's alone in its lower half.
  const QImage& image = picture().frame()->picture;
  std::set<QRgb> colours;
  for (int x = 0; x < image.width(); x += 7)
    for (int y = image.height() / 2; y < image.height(); y += 7) colours.insert(image.pixel(x, y));
  QVERIFY(colours.size() > 300);
  // What would be measured against a photo says that there is none.
  const auto* lines = seen<QAbstractButton>("Proof: Lines on the photo");
  QVERIFY(lines);
  QTRY_VERIFY2(lines->toolTip().contains("has none"), qPrintable(lines->toolTip()));
  QCOMPARE(lightStatus({session()}).figure, QString("lights: 2"));
  QCOMPARE(productStatus({session()}).figure, QString("1 placed"));  // the gauge; pieces are the set's
  QCOMPARE(blendStatus({session()}).figure, QString("no photo to match"));
  choose("none");
  QCOMPARE(shot().placements.size(), before.placements.size());
  session().undo(), session().undo();
  QVERIFY(shot() == before);
}

void TestSetDesk::theDieAndTheSliders() {
  choose("Corner by a window");
  const auto placed = shot().placements;
  QVERIFY(button("Throw the die")->isVisible() && button("Throw the die")->isEnabled());
  QTest::mouseClick(button("Throw the die"), Qt::LeftButton);
  QVERIFY(shot().set.seed != 1);
  QVERIFY(shot().placements != placed);
  const size_t pieces = shot().placements.size();
  auto* clutter = seen<QDoubleSpinBox>("Clutter");
  QVERIFY(clutter && !seen<QDoubleSpinBox>("Pattern"));
  clutter->setValue(1);
  QVERIFY(shot().placements.size() > pieces);
  QTest::mouseClick(button("Make it mine…"), Qt::LeftButton);
  // It goes through what is left, each a real action at its place.
  LessonStrip& lesson = window_->lesson();
  QVERIFY(lesson.isVisible());
  QCOMPARE(lesson.steps(), 3);
  QVERIFY(lesson.told().contains("Go to Product"));
  session().setStation(Station::product);
  QTRY_VERIFY(lesson.told().contains("Drag a piece"));
  session().editShot("move a piece", [](Shot& s) { s.placements.back().xM += 0.1; });
  QTRY_COMPARE(lesson.step(), 1);
  session().setStation(Station::light);
  session().editShot("a stronger lamp", [](Shot& s) { s.lamps.back().powerEv += 1; });
  QTRY_COMPARE(lesson.step(), 2);
  session().setStation(Station::plate);
  QTRY_VERIFY(lesson.pointedAt() == &picture());
  drag(picture(), picture().rect().center(), picture().rect().center() + QPoint(60, 0));
  QTRY_COMPARE(lesson.step(), 3);
  QSignalSpy said(&session(), &Session::said);
  QTest::mouseClick(button("Make it mine…"), Qt::LeftButton);
  QVERIFY(said.size() == 1 && said[0][0].toString().contains("it is yours"));
}

void TestSetDesk::aPieceIsDraggedIn() {
  unfold("Pieces");
  auto* list = seen<PieceList>("Pieces");
  QVERIFY(list && list->count() > 25);
  const size_t before = shot().placements.size();
  // By keys: on the ground in the middle.
  list->setFocus();
  list->setCurrentRow(0);
  QTest::keyClick(list, Qt::Key_Return);
  QCOMPARE(shot().placements.size(), before + 1);
  QVERIFY(QTest::qWaitFor([&] { return isFinished(); }, 60'000));
  // By hand: onto the plinth that is there now, moved to where nothing stands before it.
  session().editShot("aside", [](Shot& s) { s.placements.back().xM = -0.45, s.placements.back().yM = 0.5; });
  const Placement plinth = shot().placements.back();
  QTest::qWait(1000);  // the picture of before is finished, too
  QVERIFY(QTest::qWaitFor([&] { return isFinished(); }, 60'000));
  const QPoint top = ofWorld({plinth.xM, plinth.yM, 0.2});
  QMimeData data;
  data.setData("application/x-dusk-piece", "vessel");
  QDragEnterEvent enter(top, Qt::CopyAction, &data, Qt::LeftButton, {});
  QApplication::sendEvent(&picture(), &enter);
  QVERIFY(enter.isAccepted());
  QDragMoveEvent over(top, Qt::CopyAction, &data, Qt::LeftButton, {});
  QApplication::sendEvent(&picture(), &over);
  QVERIFY(over.isAccepted());
  QDropEvent drop(top, Qt::CopyAction, &data, Qt::LeftButton, {});
  QApplication::sendEvent(&picture(), &drop);
  QCOMPARE(shot().placements.size(), before + 2);
  QVERIFY2(std::abs(shot().placements.back().liftM - 0.2) < 0.002,
           qPrintable(QString::number(shot().placements.back().liftM)));
  QVERIFY(std::abs(shot().placements.back().xM - plinth.xM) < 0.05);
  // Its measures are fields at Product.
  session().setStation(Station::product);
  QTest::qWait(50);
  auto* height = seen<QDoubleSpinBox>("Height");
  QVERIFY(height);
  height->setValue(height->value() * 2);
  const Product& product = *byId(session().project().products, shot().placements.back().productId);
  QVERIFY(std::abs(product.piece.measures.at("height") - 0.48) < 1e-6);
  QVERIFY(QTest::qWaitFor([&] { return isFinished(); }, 60'000));
  const auto model = session().assets()->loadedModel(product);
  QVERIFY(std::abs(model->box().size().z - 0.48) < 0.02);
  grab("set-piece");
}

void TestSetDesk::theCameraIsTakenInHand() {
  QVERIFY(!seen<QCheckBox>("Uprights straight") &&
          !seen<QDoubleSpinBox>("Other lens"));  // a photo has its own
  session().editBackdrop("one colour", [](Backdrop& b) {
    b.kind = BackdropKind::plain, b.width = 600, b.height = 400, b.distanceM = 1.4;
    b.aimXM = 0.17;
  });
  QVERIFY(QTest::qWaitFor([&] { return isFinished(); }, 90'000));
  const Backdrop before = shot().backdrop;
  const Vec3d foot(shot().placements[0].xM, shot().placements[0].yM, 0.05);
  const auto distance = [&](const Vec3d& p) { return (shot().vantage.camera.position - p).length(); };
  // A drag on the product goes round it: what was taken keeps its place in the picture.
  const QPoint on = ofWorld(foot);
  const auto taken = picture().hitAt(picture().toPlate(on));
  QVERIFY(taken);
  const double away = distance(*taken);
  drag(picture(), on, on + QPoint(90, 0));
  QVERIFY(std::abs(shot().backdrop.azimuthDegrees - before.azimuthDegrees) > 5);
  QVERIFY2(std::abs(distance(*taken) - away) < 1e-6, qPrintable(QString::number(distance(*taken) - away)));
  QVERIFY((ofWorld(*taken) - on).manhattanLength() <= 3);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(shot().backdrop == before);  // one step
  // With Shift nearer, with Ctrl along, by the arrows a step.
  drag(picture(), on, on + QPoint(0, 60), Qt::ShiftModifier);
  QVERIFY(distance(*taken) < away);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  drag(picture(), on, on + QPoint(50, 0), Qt::ControlModifier);
  QVERIFY((ofWorld(*taken) - on - QPoint(50, 0)).manhattanLength() <= 4);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  picture().setFocus();
  QTest::keyClick(&picture(), Qt::Key_Up);
  QVERIFY(distance(*taken) < away);
  QTest::keyClick(&picture(), Qt::Key_PageUp);
  QVERIFY(shot().backdrop.cameraHeightM > before.cameraHeightM);
  // Another lens keeps the size; uprights are straightened by shifting it.
  auto* lens = seen<QDoubleSpinBox>("Other lens");
  QVERIFY(lens);
  const double per = shot().vantage.camera.focalPx / shot().backdrop.distanceM;
  lens->setValue(140);
  QVERIFY(std::abs(shot().backdrop.focalMm35 - 140) < 1e-9);
  QVERIFY(std::abs(shot().vantage.camera.focalPx / shot().backdrop.distanceM / per - 1) < 1e-6);
  QTest::mouseClick(seen<QCheckBox>("Uprights straight"), Qt::LeftButton, {}, {8, 8});
  QVERIFY(shot().backdrop.uprightsStraight && std::abs(shot().vantage.camera.axes.z.z) < 1e-9);
  // Lines to frame by lie over the picture.
  const QImage bare = picture().grab().toImage();
  picture().setFraming(Framing::thirds);
  QVERIFY(picture().grab().toImage() != bare);
  grab("camera-by-hand");
}

void TestSetDesk::camerasAreKeptAndLocked() {
  choose("Studio sweep");
  const auto press = [&](const char* text) { QTest::mouseClick(button(text), Qt::LeftButton); };
  const Backdrop first = shot().backdrop;
  press("Keep this camera");
  QCOMPARE(shot().cameras.size(), size_t(1));
  session().editBackdrop("x",
                         [](Backdrop& b) { b.focalMm35 = 35, b.azimuthDegrees = 60, b.cameraHeightM = 1.5; });
  press("Keep this camera");
  auto* list = seen<QListWidget>("Kept cameras");
  QVERIFY(list && list->count() == 2);
  QVERIFY(list->item(1)->font().bold() && !list->item(0)->font().bold());  // where one is
  // Enter goes to the one in hand.
  list->setFocus();
  QTest::keyClick(list, Qt::Key_Up);
  QCOMPARE(list->currentRow(), 0);
  QTest::keyClick(list, Qt::Key_Return);
  QVERIFY(shot().backdrop == first);
  session().undo();
  QCOMPARE(shot().backdrop.focalMm35, 35.0);
  session().redo();
  // F2 gives it a name.
  list->setCurrentRow(0);
  QTest::keyClick(list, Qt::Key_F2);
  auto* editor = list->findChild<QLineEdit*>();
  QVERIFY(editor);
  QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClicks(editor, "From the front");
  QTest::keyClick(editor, Qt::Key_Return);
  QTRY_COMPARE(shot().cameras[0].name, std::string("From the front"));
  // No name is none.
  list->setCurrentRow(1);
  QTest::keyClick(list, Qt::Key_F2);
  editor = list->findChild<QLineEdit*>();
  QVERIFY(editor);
  QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClick(editor, Qt::Key_Delete);
  QTest::keyClick(editor, Qt::Key_Return);
  QTRY_COMPARE(list->item(1)->text(), QString("Camera 2"));
  QCOMPARE(shot().cameras[1].name, std::string("Camera 2"));
  grab("cameras", seen<QWidget>("Cameras by hand"));
  // Locked, nothing moves it: no drag, no key, no number, no set that is made anew.
  QTest::mouseClick(seen<QCheckBox>("Locked"), Qt::LeftButton, {},
                    QPoint(8, seen<QCheckBox>("Locked")->height() / 2));
  QVERIFY(shot().backdrop.locked);
  const Camera held = shot().vantage.camera;
  drag(picture(), picture().rect().center(), picture().rect().center() + QPoint(60, 10));
  QTest::keyClick(&picture(), Qt::Key_Up);
  QVERIFY(!seen<QDoubleSpinBox>("Camera away")->isEnabled());
  QVERIFY(!button("Go there")->isEnabled());
  press("Throw the die");
  QVERIFY(shot().vantage.camera == held);
  list->setFocus();
  list->setCurrentRow(1);
  QTest::keyClick(list, Qt::Key_Delete);
  QCOMPARE(shot().cameras.size(), size_t(1));
}

void TestSetDesk::aPanoramaIsWalkedAbout() {
  session().editBackdrop("the panorama", [](Backdrop& b) {
    b.kind = BackdropKind::panorama, b.width = 480, b.height = 320;
    b.focalMm35 = 30, b.cameraHeightM = 1.3, b.aimHeightM = 0.9;
  });
  QVERIFY(waitForSamples(1));
  const Camera there = shot().vantage.camera;
  // From where it was taken it is looked about in, no more.
  QVERIFY(!seen<QDoubleSpinBox>("Camera away"));
  picture().setFocus();
  QTest::keyClick(&picture(), Qt::Key_Up);
  QVERIFY(shot().vantage.camera == there);
  auto* walls = seen<QDoubleSpinBox>("Walls at");
  QVERIFY(walls);
  walls->setFocus(), walls->selectAll();
  QTest::keyClicks(walls, "6 m");
  QTest::keyClick(walls, Qt::Key_Return);
  QCOMPARE(shot().surroundings.domeRadiusM, 6.0);
  QVERIFY((shot().vantage.camera.position - there.position).length() < 1e-9);  // it begins where it was
  QTRY_VERIFY(seen<QDoubleSpinBox>("Camera away"));
  picture().setFocus();
  for (int i = 0; i < 8; ++i) QTest::keyClick(&picture(), Qt::Key_Up);
  QVERIFY((shot().vantage.camera.position - there.position).dot(there.axes.z) > 0.3);
  QCOMPARE(*shot().surroundings.captureM, there.position);
  grab("walked");
  // Not out of it.
  session().editBackdrop("far off", [](Backdrop& b) { b.aimYM += 80; });
  QVERIFY((shot().vantage.camera.position - there.position).length() < 6);
  while (session().history().canUndo()) session().undo();
  QVERIFY(shot().backdrop.kind == BackdropKind::photo);
}

DUSK_TEST(TestSetDesk, QApplication);
#include "set_desk.moc"
