#include "tests/app/surface_hands.h"

#include "app/stations/surface/strips.h"
#include "tests/program.h"

using namespace dusk;

/// Prints on the product by hand, artwork that is saved elsewhere, and what is seen of it.
class TestPrintsStation : public SurfaceHands {
  Q_OBJECT
 private slots:
  void initTestCase() { beginTests(); }
  void init() { beginTest(); }
  void cleanupTestCase() { window_.reset(); }
  void aPictureIsPrintedWhereItIsDropped();
  void aPictureIsPrintedWhereThePartWasClicked();
  void aPrintIsHeldByItsSlip();
  void aDrawingTooLargeIsMadeToFit();
  void savedElsewhereShownHere();
  void aMissingPictureLeavesTheSurface();
  void stripsShowThePart();
  void undoTakesItAllBack();
};

void TestPrintsStation::aPictureIsPrintedWhereItIsDropped() {
  const QString file = drawing("#c02020");
  QVERIFY(!window_->print({file}, picture().mapTo(window_.get(), QPoint(4, 4))));  // beside the product
  const QPoint at = onBody();
  const auto spot = picture().spotAt(picture().toPlate(at));
  QVERIFY(printAt(at, file));
  QVERIFY(decal()->parts.contains(body_));
  QCOMPARE(decal()->widthMm, 40.0);  // as the drawing says
  QVERIFY(!decal()->picture.hash.empty());
  QVERIFY((decal()->at - spot->at).length() < 0.2);  // the model may have become finer since
  QCOMPARE(session().selectedDecal(), decal()->id);
  // At another station a dropped picture is a photo.
  session().setStation(Station::product);
  QVERIFY(!window_->print({file}, picture().mapTo(window_.get(), at)));
}

void TestPrintsStation::aPictureIsPrintedWhereThePartWasClicked() {
  const QString file = drawing("#c02020");
  const QPoint at = onBody();
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, at);
  QCOMPARE(session().selectedPart(), std::string(body_));
  const auto spot = picture().spotAt(picture().toPlate(at));
  // Without a print there is nothing to set about one.
  QVERIFY(!named<QCheckBox>("Mirrored")->isVisible() &&
          !named<QToolButton>("Finish of the print")->isVisible());
  answerDialog(file);
  button("Print on it…")->click();
  QVERIFY(QTest::qWaitFor([&] { return decal(); }, 10'000));
  QVERIFY((decal()->at - spot->at).length() < 0.2);
  QVERIFY(named<QToolButton>("Finish of the print")->isVisible());
}

void TestPrintsStation::aPrintIsHeldByItsSlip() {
  QVERIFY(printAt(onBody(), drawing("#2040c0")));
  const Decal first = *decal();
  QVERIFY(waitForSamples(1));
  const QPoint at = ofWorld(picture().worldFromModel(body_, shot().placements[0].id)->point(first.at));
  drag(picture(), at, at + QPoint(10, 0));
  QVERIFY(decal()->at != first.at);
  QCOMPARE(decal()->widthMm, first.widthMm);
  session().undo();
  QVERIFY(*decal() == first);
  picture().setFocus();
  QTest::keyClick(&picture(), Qt::Key_Right);
  QTest::keyClick(&picture(), Qt::Key_Right);
  QVERIFY(std::abs((decal()->at - first.at).length() * session().project().products[0].metresPerUnit * 1000 -
                   1) < 0.02);
  session().undo();
  QVERIFY(*decal() == first);  // a run of one key is one step
  QTest::keyClick(&picture(), Qt::Key_PageUp);
  QCOMPARE(decal()->turnDegrees, 1.0);
  auto* opacity = named<NumberField>("Ink opacity");
  QVERIFY(opacity && opacity->isVisible());
  opacity->setValue(0.5);
  QCOMPARE(decal()->opacity, 0.5);
  QTest::keyClick(&picture(), Qt::Key_Delete);
  QVERIFY(!decal());
}

void TestPrintsStation::aDrawingTooLargeIsMadeToFit() {
  QSignalSpy said(&session(), &Session::said);
  QVERIFY(printAt(onBody(), drawing("#2040c0", 4000)));
  QVERIFY(QTest::qWaitFor([&] { return !said.isEmpty(); }, 5'000));
  QVERIFY2(said.last()[0].toString().contains("4,000.0 mm wide"), qPrintable(said.last()[0].toString()));
  const Product& product = session().project().products[0];
  const auto model = session().assets()->loadedModel(product);
  Vec3d size(0);
  for (const Part& part : model->parts)
    if (part.path == body_) size = model->boxOf(part).size() * product.metresPerUnit * 1000;
  const double largest = std::max({size.x, size.y, size.z});
  // Whole on the part, and as large as goes there.
  QVERIFY2(decal()->widthMm <= 3.2 * largest && decal()->widthMm > 0.3 * largest,
           qPrintable(QString::number(decal()->widthMm)));
  // Its height is told, though nobody gave it one.
  QCOMPARE(decal()->heightMm, 0.0);
  auto* height = fieldShown("Height");
  QVERIFY(height);
  QVERIFY(QTest::qWaitFor([&] { return std::abs(height->value() - decal()->widthMm / 2) < 0.01; }, 5'000));
  bringIntoView(height);
  QTest::mouseClick(height, Qt::LeftButton);
  height->selectAll();
  QTest::keyClicks(height, "12");
  QTest::keyClick(height, Qt::Key_Return);
  QCOMPARE(decal()->heightMm, 12.0);
}

void TestPrintsStation::savedElsewhereShownHere() {
  QVERIFY(printAt(onBody(), drawing("#c02020")));
  const std::string hash = decal()->picture.hash;
  QElapsedTimer clock;
  clock.start();
  const QString file = drawing("#20c020");
  QVERIFY(QTest::qWaitFor([&] { return decal()->picture.hash != hash; }, 5'000));
  qInfo("a saved drawing was read again after %lld ms", clock.elapsed());
  Progress progress;
  const auto texture = session().assets()->texture(decal()->picture, true, 1, progress);
  QVERIFY(texture && (*texture)->at({0.5f, 0.5f}, Vec2f(0), Vec2f(0), false).colour.y > 0.4f);
  // A broken save leaves the last good one, and is told.
  const std::string good = decal()->picture.hash;
  QSignalSpy said(&session(), &Session::said);
  std::ofstream(file.toStdString()) << "<svg broken";
  QVERIFY(QTest::qWaitFor([&] { return !said.isEmpty(); }, 5'000));
  QVERIFY(said.last()[0].toString().contains("last good"));
  QCOMPARE(decal()->picture.hash, good);
}

void TestPrintsStation::aMissingPictureLeavesTheSurface() {
  giveSurface();
  Feed lost = newFeed(FeedKind::picture);
  lost.picture = {"gone.png", "0123"};
  session().edit("feed",
                 [&](Project& p) { session().surfaceInHand(p)->feeds[SurfaceValue::baseColour] = {lost}; });
  QVERIFY(QTest::qWaitFor([&] { return picture().frame() && !picture().frame()->notes.empty(); }, 10'000));
  QVERIFY(QString::fromStdString(picture().frame()->notes[0]).contains("gone.png"));
  QVERIFY(worn()->feeds.contains(SurfaceValue::baseColour));
}

void TestPrintsStation::stripsShowThePart() {
  giveSurface();
  Feed checks = newFeed(FeedKind::checker);
  checks.low = Vec3d(0), checks.high = Vec3d(1), checks.sizeMm = 25;
  session().edit("feed",
                 [&](Project& p) { session().surfaceInHand(p)->feeds[SurfaceValue::baseColour] = {checks}; });
  QVERIFY(QTest::qWaitFor(
      [&] {
        const Frame* f = picture().frame();
        if (!f || f->scene->materials.empty()) return false;
        const auto strips = stripsOf(*f->scene, shot().placements[0].id, body_, 72, 12);
        const auto found = strips.find(SurfaceValue::baseColour);
        if (found == strips.end()) return false;
        std::set<QRgb> seen;
        for (int x = 0; x < 72; ++x) seen.insert(found->second.pixel(x, 6));
        return seen.contains(qRgb(255, 255, 255)) && seen.contains(qRgb(0, 0, 0));
      },
      10'000));
  QVERIFY(stripsOf(*picture().frame()->scene, "nobody", body_, 72, 12).empty());
}

void TestPrintsStation::undoTakesItAllBack() {
  giveSurface();
  openRow("Roughness");
  addFeed(FeedKind::brushing);
  QTest::mouseClick(button("Coat over it"), Qt::LeftButton);
  QVERIFY(printAt(onBody(), drawing("#808080")));
  QVERIFY(session().project() != before_);
  while (session().history().canUndo()) session().undo();
  QVERIFY(session().project() == before_);
}

DUSK_TEST(TestPrintsStation, QApplication);
#include "prints_station.moc"
