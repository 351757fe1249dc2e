#include "demo_window.h"
#include "tests/program.h"

using namespace dusk;

/// The Render station worked by hand: passes looked at, values read, parts refined, the focus picked.
class TestRenderStation : public DemoWindow {
  Q_OBJECT
  QListWidget* passes() { return named<QListWidget>("Passes"); }
  const Frame* frame() { return picture().frame(); }
  int rowOf(const QString& name) {
    for (int i = 0; i < passes()->count(); ++i)
      if (passes()->item(i)->data(Qt::UserRole).toString() == name) return i;
    return -1;
  }
  bool waitFor(const std::function<bool()>& done) { return QTest::qWaitFor(done, 60'000); }
  void hover(const QPoint& at) {
    QMouseEvent move(QEvent::MouseMove, at, picture().mapToGlobal(at), Qt::NoButton, Qt::NoButton, {});
    QApplication::sendEvent(&picture(), &move);
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo("brackwater.dusk", false);
    session().setStation(Station::render);
    QVERIFY(waitFor([&] { return frame()->named && frame()->samples == frame()->wanted; }));
  }
  void cleanup() { window_.reset(); }

  void passesAreFlippedThroughAndRead();
  void passesAreListedThoughTheLastPictureCameUnseen();
  void partOfThePictureIsRefined();
  void coarserDetailTracesFewerPixels();
  void denoiseStrengthTracesNothingAnew();
  void focusIsPickedOnTheProduct();
};

void TestRenderStation::passesAreFlippedThroughAndRead() {
  // A frame is handed to each that asked for it by a message of its own: the list may hear of it last.
  QVERIFY(passes()->isVisible());
  QTRY_VERIFY(passes()->count() > 15);
  // The demo's gauge gives off no light of its own: known and marked.
  const int emission = rowOf("emission"), depth = rowOf("depth");
  QVERIFY(emission > 0 && depth > 0);
  QVERIFY(passes()->item(emission)->text().contains("nothing in it"));
  QVERIFY(!passes()->item(depth)->text().contains("nothing in it"));
  const QImage before = frame()->picture;
  passes()->setCurrentRow(depth);
  QVERIFY(waitFor([&] { return frame()->pass && frame()->pass->name == "depth"; }));
  QVERIFY(frame()->picture != before);
  // The value under the pointer is the distance of the gauge from the camera.
  const Placement& p = shot().placements[0];
  const Vec3d at(p.xM, p.yM, 0.15);
  hover(ofWorld(at));
  const double away = (at - shot().vantage.camera.position).dot(shot().vantage.camera.axes.z);
  const QString hint = picture().hint();
  const QRegularExpressionMatch read = QRegularExpression("depth:  Z ([0-9.]+) m   at").match(hint);
  QVERIFY2(read.hasMatch(), qPrintable(hint));
  QVERIFY2(std::abs(read.captured(1).toDouble() - away) < 0.15, qPrintable(hint));
  // By key to the next, and back to the picture as it was.
  QTest::keyClick(&picture(), Qt::Key_PageDown);
  QVERIFY(waitFor([&] { return frame()->pass && frame()->pass->name == "position"; }));
  QTRY_COMPARE(passes()->currentRow(), depth + 1);
  passes()->setCurrentRow(0);
  QVERIFY(waitFor([&] { return !frame()->pass; }));
  QCOMPARE(frame()->picture, before);
  // At another station it is the picture again.
  passes()->setCurrentRow(depth);
  session().setStation(Station::blend);
  QVERIFY(waitFor([&] { return !frame()->pass && !frame()->named; }));
}

void TestRenderStation::passesAreListedThoughTheLastPictureCameUnseen() {
  openDemo("brackwater.dusk", false);
  passes()->hide();
  session().setStation(Station::render);
  QVERIFY(waitFor([&] { return frame()->named && frame()->samples == frame()->wanted; }));
  QTest::qWait(50);
  QVERIFY(passes()->count() < 3);
  passes()->show();
  QVERIFY(passes()->count() > 15);
}

void TestRenderStation::partOfThePictureIsRefined() {
  const QImage whole = frame()->picture;
  QTest::mouseClick(button("Part of the picture…"), Qt::LeftButton);
  const Placement& p = shot().placements[0];
  const QPoint foot = ofWorld({p.xM, p.yM, 0}), top = ofWorld({p.xM, p.yM, 0.2});
  drag(picture(), QPoint(foot.x() - 25, top.y()), QPoint(foot.x() + 25, foot.y()));
  QVERIFY(!button("Part of the picture…")->isChecked());
  QVERIFY(waitFor([&] { return frame()->samples == frame()->wanted && frame()->picture != whole; }));
  // Inside, it is the same picture to the bit; outside, a coarse one.
  const QPointF in = picture().toScreen().inverted().map(QPointF((foot + top) / 2));
  const double s = double(whole.width()) / shot().vantage.camera.width;
  const QPoint middle(int(in.x() * s), int(in.y() * s));
  QCOMPARE(frame()->picture.pixel(middle), whole.pixel(middle));
  QTest::mouseClick(button("All of it"), Qt::LeftButton);
  QVERIFY(waitFor([&] { return frame()->samples == frame()->wanted && frame()->picture == whole; }));
}

void TestRenderStation::coarserDetailTracesFewerPixels() {
  const int whole = frame()->named->front().picture.width;
  auto* detail = named<QComboBox>("Detail on screen");
  detail->setCurrentIndex(1);
  emit detail->activated(1);
  QVERIFY(waitFor([&] { return frame()->named && frame()->named->front().picture.width == whole / 2; }));
  QCOMPARE(frame()->picture.width(), whole);  // the photo itself stays sharp
  detail->setCurrentIndex(0);
  emit detail->activated(0);
  QVERIFY(waitFor([&] { return frame()->named && frame()->named->front().picture.width == whole; }));
}

void TestRenderStation::denoiseStrengthTracesNothingAnew() {
  const auto scene = frame()->scene;
  const QImage clean = frame()->picture;
  named<QDoubleSpinBox>("Denoise")->setValue(0);
  QVERIFY(waitFor([&] { return frame()->picture != clean; }));
  QVERIFY(frame()->scene == scene && frame()->samples == frame()->wanted);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(waitFor([&] { return frame()->picture == clean; }));
  QVERIFY(frame()->scene == scene);
}

void TestRenderStation::focusIsPickedOnTheProduct() {
  auto* fold = named<QToolButton>("Depth of field");
  if (!fold->isChecked()) QTest::mouseClick(fold, Qt::LeftButton);
  const Placement& p = shot().placements[0];
  const Vec3d at(p.xM, p.yM, 0.15);
  QTest::mouseClick(button("Pick in the picture"), Qt::LeftButton);
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, ofWorld(at));
  const double away = (at - shot().vantage.camera.position).dot(shot().vantage.camera.axes.z);
  QVERIFY(shot().focus.on);
  QVERIFY2(std::abs(shot().focus.distanceM - away) < 0.15,
           qPrintable(QString::number(shot().focus.distanceM)));
  QVERIFY(!button("Pick in the picture")->isChecked());
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(!shot().focus.on);
}

DUSK_TEST(TestRenderStation, QApplication);
#include "render_station.moc"
