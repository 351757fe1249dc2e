#include "app/stations/blend/scopes_desk.h"
#include "app/widgets/number_field.h"
#include "blend_hands.h"
#include "tests/program.h"

using namespace dusk;

/// The plate cleaned by hand, the picture beside other states and the reference, and its scopes.
class TestCleanStation : public BlendWindow {
  Q_OBJECT
  /// Draws a loop about a spot of the plate, in one go.
  void loop(const Vec2d& at, const Vec2d& radius) {
    const auto on = [&](int i) {
      const double a = i * M_PI / 10;
      return onScreen(at + Vec2d(std::cos(a) * radius.x, std::sin(a) * radius.y));
    };
    QTest::mousePress(&picture(), Qt::LeftButton, {}, on(0));
    for (int i = 1; i < 20; ++i) move(picture(), on(i));
    QTest::mouseRelease(&picture(), Qt::LeftButton, {}, on(19));
  }
  /// How yellow the bare plate is about a spot: the rope is, the stones are not.
  double yellow(const Vec2d& plate) {
    const QImage& bare = frame()->bare;
    const double s = double(bare.width()) / shot().vantage.camera.width;
    double sum = 0;
    for (int y = -4; y <= 4; ++y)
      for (int x = -4; x <= 4; ++x) {
        const QRgb c = bare.pixel(int(plate.x * s) + x, int(plate.y * s) + y);
        sum += (qRed(c) - qBlue(c)) / 81.0;
      }
    return sum;
  }
  void cleanTheRope() {
    openFold("Clean plate");
    QVERIFY(shown("Loop what must go"));
    shown("Loop what must go")->click();
    QVERIFY(picture().hint().contains("loop"));
    loop(rope, {250, 115});
    QVERIFY(waitFor([&] { return shot().cleanUps.size() == 1; }));
  }
  void pick(const char* box, const QString& text) {
    auto* list = seen<QComboBox>(box);
    QVERIFY(list && list->findText(text) >= 0);
    list->setCurrentIndex(list->findText(text));
    emit list->activated(list->currentIndex());
  }
  static constexpr Vec2d rope{1525, 590};

 private slots:
  void initTestCase() { copyDemo(); }
  void init() { openAtBlend(); }
  void cleanup() { window_.reset(); }

  void aThingIsLoopedAndGone();
  void itIsFilledAnotherWayAndFromElsewhere();
  void aLoopIsDrawnInOneGo();
  void statesLieSideBySide();
  void theReferenceIsLaidOver();
  void scopesSayHowTonesLie();
  void whatIsClippedIsStriped();
};

void TestCleanStation::aThingIsLoopedAndGone() {
  const double before = yellow(rope);
  cleanTheRope();
  QVERIFY(shot().cleanUps[0].horizon != Vec3d(0));
  QVERIFY(waitFor([&] { return yellow(rope) < before / 3; }));
  grab("clean-plate", seen<QListWidget>("Cleaned spots")->parentWidget());
  auto* list = seen<QListWidget>("Cleaned spots");
  QVERIFY(list && list->count() == 1);
  list->item(0)->setCheckState(Qt::Unchecked);
  QVERIFY(!shot().cleanUps[0].on);
  QVERIFY(waitFor([&] { return yellow(rope) > before / 2; }));
  session().undo(), session().undo();
  QVERIFY(shot().cleanUps.empty());
  session().redo();
  QCOMPARE(shot().cleanUps.size(), size_t{1});
  QTest::qWait(50);
  list->setCurrentRow(0);
  shown("Take the clean-up away")->click();
  QVERIFY(shot().cleanUps.empty());
}

void TestCleanStation::itIsFilledAnotherWayAndFromElsewhere() {
  cleanTheRope();
  QTest::qWait(50);
  shown("Another way")->click();
  QVERIFY(waitFor([&] { return shot().cleanUps[0].choice == 2; }));
  QTest::qWait(50);
  shown("Fill it from…")->click();
  const Vec2d there = rope + Vec2d(-420, 160);
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, onScreen(there));
  QVERIFY(waitFor([&] { return shot().cleanUps[0].from.has_value(); }));
  QVERIFY((*shot().cleanUps[0].from - Vec2d(-420, 160)).length() < 25);
  QVERIFY(waitFor([&] { return yellow(rope) < 40; }));
  grab("clean-plate-from");
}

void TestCleanStation::aLoopIsDrawnInOneGo() {
  openFold("Clean plate");
  shown("Loop what must go")->click();
  QSignalSpy said(&session(), &Session::refused);
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, onScreen(rope));
  QVERIFY(said.count() == 1 && said[0][0].toString().contains("in one go"));
  QTest::keyClick(&picture(), Qt::Key_Escape);
  QVERIFY(session().nextDrag() == NextDrag::own && shot().cleanUps.empty());
}

void TestCleanStation::statesLieSideBySide() {
  openFold("Compare");
  pick("Beside", "the bare plate"), pick("Shown as", "side by side");
  QVERIFY(waitFor(
      [&] { return frame() && !frame()->other.isNull() && frame()->compared.as == Compared::As::beside; }));
  // Both halves show the same places, and all of them.
  const Vec2d middle(shot().vantage.camera.width / 2.0, shot().vantage.camera.height / 2.0);
  const double w = picture().width();
  QVERIFY(std::abs(onScreen(middle).x() - 0.75 * w) < 2);
  for (const double x : {0.3, 0.8}) {
    const Vec2d p = picture().toPlate(QPointF(x * w, 100)),
                q = picture().toPlate(QPointF((x < 0.5 ? x + 0.5 : x - 0.5) * w, 100));
    QVERIFY((p - q).length() < 1e-6);
  }
  QVERIFY(onScreen({0, 0}).x() >= 0.5 * w && onScreen(middle * 2.0).x() <= w);
  grab("side-by-side");
  pick("Beside", "nothing");
  QVERIFY(waitFor([&] { return frame()->other.isNull(); }));
  QVERIFY(std::abs(onScreen(middle).x() - 0.5 * w) < 2);
}

void TestCleanStation::theReferenceIsLaidOver() {
  openFold("Compare");
  answerDialog(demo_ + "quay-plate.jpg");
  shown("Reference…")->click();
  QVERIFY(waitFor([&] { return !shot().blend.reference.file.empty(); }));
  QVERIFY(waitFor([&] {
    return frame() && !frame()->other.isNull() && frame()->compared.of == Compared::Of::reference;
  }));
  // It is the plate itself, as wide as the frame: away from the product both are the same.
  QVERIFY(waitFor([&] { return frame()->other.size() == frame()->bare.size(); }));
  const QRgb a = frame()->other.pixel(20, 20), b = frame()->bare.pixel(20, 20);
  QVERIFY(std::abs(qGreen(a) - qGreen(b)) < 12);
  auto* size = seen<NumberField>("Its width");
  QVERIFY(size);
  size->setFocus(), size->selectAll();
  QTest::keyClicks(size, "50"), QTest::keyClick(size, Qt::Key_Return);
  QCOMPARE(shot().blend.reference.scale, 0.5);
  // Outside of it there is the picture.
  QVERIFY(waitFor([&] { return frame()->other.pixel(3, 3) == frame()->picture.pixel(3, 3); }));
  grab("reference");
  grab("compare", size->parentWidget()->parentWidget());
  shown("Without it")->click();
  QVERIFY(shot().blend.reference.file.empty());
  QVERIFY(waitFor([&] { return frame()->other.isNull(); }));
}

void TestCleanStation::scopesSayHowTonesLie() {
  QVERIFY(!frame()->scopes);
  openFold("Scopes");
  QVERIFY(waitFor([&] { return frame()->scopes != nullptr; }));
  const double before = frame()->scopes->product.middle;
  QVERIFY(frame()->scopes->sameDepth);
  auto* scope = seen<ScopeView>("Scope");
  QVERIFY(scope && scope->accessibleDescription().startsWith("Product "));
  for (const char* kind : {"Waveform", "Colour circle", "Histogram"}) {
    pick("Show", kind);
    grab(kind, scope->parentWidget());
  }
  session().editShot("darker", [](Shot& s) { s.blend.exposureEv = -2; });
  QVERIFY(waitFor([&] { return frame()->scopes && frame()->scopes->product.middle < before - 20; }));
  openFold("Scopes");
  QVERIFY(waitFor([&] { return !frame()->scopes; }));
}

void TestCleanStation::whatIsClippedIsStriped() {
  openFold("Scopes");
  for (QCheckBox* box : window_->findChildren<QCheckBox*>())
    if (box->text() == "Mark what is clipped")
      QTest::mouseClick(box, Qt::LeftButton, {}, {8, box->height() / 2});
  QVERIFY(waitFor([&] { return frame()->ends != nullptr; }));
  session().editShot("brighter", [](Shot& s) { s.blend.exposureEv = 6; });
  QVERIFY(waitFor([&] {
    return frame()->ends && std::count(frame()->ends->begin(), frame()->ends->end(), CodeEnd::burnt) > 500;
  }));
  QTest::qWait(50);
  const QImage seen = picture().grab().toImage();
  int striped = 0;
  for (int y = 0; y < seen.height(); ++y)
    for (int x = 0; x < seen.width(); ++x) striped += seen.pixelColor(x, y) == look::mark::rose;
  QVERIFY(striped > 100);
  grab("clipped");
}

DUSK_TEST(TestCleanStation, QApplication);
#include "clean_station.moc"
