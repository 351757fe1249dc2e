#include "tests/app/surface_hands.h"
#include "tests/program.h"

using namespace dusk;

/// Dressing the product by hand: the shelf, feeds and coats.
class TestSurfaceStation : public SurfaceHands {
  Q_OBJECT
 private slots:
  void initTestCase() { beginTests(); }
  void init() { beginTest(); }
  void cleanupTestCase() { window_.reset(); }
  void theShelfIsFoundByWords();
  void aSurfaceIsTriedOnWhileItIsHeld();
  void aDropIsOneStep();
  void kindsOfFeedAreOnOffer();
  void feedRowsAreWorkedByHand();
  void feedRowsAreWorkedByKeys();
  void theCrossSlidesSizesAndTurns();
  void oneFeedIsShownAloneWhileTheKeyIsHeld();
  void coatsAreLaidAndTakenOff();
  void shineAndUse();
  void fileMaterialsBecomeOnesOwn();
  void replacedEverywhere();
  void keptForOtherProjects();
};

void TestSurfaceStation::theShelfIsFoundByWords() {
  auto* words = named<QLineEdit>("Find a surface");
  auto* family = named<QComboBox>("Family");
  QVERIFY(words && family && shelf().count() >= 100);
  QTest::keyClicks(words, "enamel harb");
  QCOMPARE(shelf().count(), 1);
  QVERIFY(shelf().item(0)->text().contains("Harbour"));
  // Its picture comes by itself, and shows something.
  QVERIFY(QTest::qWaitFor(
      [&] {
        return !shelf().item(0)->icon().isNull() &&
               shelf().item(0)->icon().pixmap(52, 52).toImage().pixelColor(26, 26).alpha() > 200;
      },
      20'000));
  words->clear();
  family->setCurrentText("Wood");
  QVERIFY(shelf().count() >= 8 && shelf().count() < 20);
  setLiked("preset-felt", true);
  family->setCurrentText("Liked");
  QCOMPARE(shelf().count(), 1);
  family->setCurrentText("All families");
  // Without a part in hand it is said what is missing, and nothing changes.
  shelf().setCurrentRow(0);
  QTest::keyClick(&shelf(), Qt::Key_Return);
  QVERIFY(session().project() == before_);
}

void TestSurfaceStation::aSurfaceIsTriedOnWhileItIsHeld() {
  const QPoint at = onBody();
  hover(at, "preset-signal-enamel");
  QVERIFY(session().project() != before_);
  QCOMPARE(session().project().products[0].surfaceOfPart.at(body_), std::string("preset-signal-enamel"));
  leave();  // carried on, or Escape
  QVERIFY(session().project() == before_);
  QVERIFY(!session().history().canUndo() && !session().inGesture());
  hover(at, "preset-tide-brass");
  hover(QPoint(3, 3), "preset-tide-brass");  // beside the product
  QVERIFY(session().project() == before_);
  leave();
}

void TestSurfaceStation::aDropIsOneStep() {
  const QPoint at = onBody();
  hover(at, "preset-signal-enamel");
  drop(at);
  QCOMPARE(session().project().products[0].surfaceOfPart.at(body_), std::string("preset-signal-enamel"));
  QVERIFY(byId(session().project().surfaces, "preset-signal-enamel"));
  QVERIFY(!session().inGesture());
  session().undo();
  QVERIFY(session().project() == before_ && !session().history().canUndo());
}

void TestSurfaceStation::kindsOfFeedAreOnOffer() {
  giveSurface();
  openRow("Roughness");
  for (const FeedKindInfo& info : feedKinds()) {
    addFeed(info.kind);
    const auto& feeds = worn()->feeds.at(SurfaceValue::roughness);
    QCOMPARE(int(feeds[0].kind), int(info.kind));
    QCOMPARE(session().feedInHand().row, 0);
    session().undo();
  }
}

void TestSurfaceStation::feedRowsAreWorkedByHand() {
  giveSurface();
  openRow("Roughness");
  addFeed(FeedKind::cloud);
  QWidget* row = feedRow("Cloud");
  QVERIFY(row);
  // Dragged sideways: its strength, as one step.
  const int y = row->height() / 2;
  QTest::mousePress(row, Qt::LeftButton, {}, QPoint(row->width() - 30, y));
  for (int i = 1; i <= 4; ++i) move(*row, QPoint(row->width() - 30 - i * row->width() / 8, y));
  QTest::mouseRelease(row, Qt::LeftButton, {}, QPoint(row->width() / 2 - 30, y));
  const auto feed = [&]() -> const Feed& { return worn()->feeds.at(SurfaceValue::roughness)[0]; };
  QVERIFY(std::abs(feed().strength - 0.5) < 0.05);
  session().undo();
  QCOMPARE(feed().strength, 1.0);
  // Its eye.
  row = feedRow("Cloud");
  QTest::mouseClick(row, Qt::LeftButton, {}, QPoint(12, y));
  QVERIFY(!feed().on);
  // The fields below belong to it.
  QTest::mouseClick(row, Qt::LeftButton, {}, QPoint(row->width() / 2, y));
  auto* size = fieldShown("Size");
  QVERIFY(size);
  size->setValue(55);
  QCOMPARE(feed().sizeMm, 55.0);
}

void TestSurfaceStation::feedRowsAreWorkedByKeys() {
  giveSurface();
  openRow("Roughness");
  addFeed(FeedKind::cloud);
  addFeed(FeedKind::scratches);
  const auto feeds = [&] {
    return worn()->feeds.contains(SurfaceValue::roughness) ? worn()->feeds.at(SurfaceValue::roughness)
                                                           : std::vector<Feed>();
  };
  QCOMPARE(int(feeds()[0].kind), int(FeedKind::scratches));
  QTest::keyClick(feedRow("Scratches"), Qt::Key_Space);
  QVERIFY(!feeds()[0].on);
  QTest::keyClick(feedRow("Scratches"), Qt::Key_Left);
  QVERIFY(std::abs(feeds()[0].strength - 0.95) < 1e-9);
  QTest::keyClick(feedRow("Scratches"), Qt::Key_Down, Qt::AltModifier);
  QCOMPARE(int(feeds()[1].kind), int(FeedKind::scratches));
  QTest::keyClick(feedRow("Scratches"), Qt::Key_Right, Qt::AltModifier);  // now it masks the cloud
  QCOMPARE(feeds()[1].indent, 1);
  QTest::keyClick(feedRow("Scratches"), Qt::Key_Right, Qt::AltModifier);
  QCOMPARE(feeds()[1].indent, 1);  // no deeper than one below the row above
  QTest::keyClick(feedRow("Scratches"), Qt::Key_Delete);
  QCOMPARE(feeds().size(), size_t(1));
  QTest::keyClick(feedRow("Cloud"), Qt::Key_Delete);
  QVERIFY(!worn()->feeds.contains(SurfaceValue::roughness));
}

void TestSurfaceStation::theCrossSlidesSizesAndTurns() {
  giveSurface();
  Feed checks = newFeed(FeedKind::checker);
  checks.sizeMm = 30;
  session().edit("feed",
                 [&](Project& p) { session().surfaceInHand(p)->feeds[SurfaceValue::baseColour] = {checks}; });
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, onBody());  // the cross is laid there
  FeedPlace place;
  place.row = 0;
  session().takeFeed(place);
  const auto feed = [&]() -> const Feed& { return worn()->feeds.at(SurfaceValue::baseColour)[0]; };
  const QPoint middle = onBody();
  drag(picture(), middle, middle + QPoint(14, 0));
  QVERIFY(feed().mapping.shiftMm != Vec2d(0, 0));
  const double moved = feed().mapping.shiftMm.length();
  session().undo();
  QVERIFY(feed().mapping.shiftMm == Vec2d(0, 0));  // one drag, one step
  drag(picture(), middle, middle + QPoint(28, 0));
  QVERIFY2(std::abs(feed().mapping.shiftMm.length() / moved - 2) < 0.35,
           "twice as far is twice as many millimetres");
  session().undo();
  // Escape in the middle of it takes it back.
  QTest::mousePress(&picture(), Qt::LeftButton, {}, middle);
  move(picture(), middle + QPoint(20, 4));
  QVERIFY(feed().mapping.shiftMm != Vec2d(0, 0));
  QTest::keyClick(&picture(), Qt::Key_Escape);
  QVERIFY(feed().mapping.shiftMm == Vec2d(0, 0));
  QTest::mouseRelease(&picture(), Qt::LeftButton, {}, middle);
}

void TestSurfaceStation::oneFeedIsShownAloneWhileTheKeyIsHeld() {
  giveSurface();
  session().edit("feed", [&](Project& p) {
    Surface* s = session().surfaceInHand(p);
    s->roughness = 1;
    s->feeds.clear();
  });
  FeedPlace place;
  place.value = SurfaceValue::roughness;
  session().takeFeed(place);
  QVERIFY(waitForSamples(1));
  const auto glows = [&] {
    const Frame* f = picture().frame();
    return f && !f->scene->materials.empty() &&
           std::any_of(f->scene->materials[0].begin(), f->scene->materials[0].end(),
                       [](const auto& m) { return std::abs(m->emission().x - 1) < 1e-6f; });
  };
  QVERIFY(!glows());
  picture().setFocus();
  QTest::keyPress(&picture(), Qt::Key_A);
  QVERIFY(QTest::qWaitFor(glows, 10'000));
  QVERIFY(session().project().surfaces.back().emission == Vec3d(0));  // the document is as it was
  QTest::keyRelease(&picture(), Qt::Key_A);
  QVERIFY(QTest::qWaitFor([&] { return !glows(); }, 10'000));
}

void TestSurfaceStation::coatsAreLaidAndTakenOff() {
  giveSurface();
  QTest::mouseClick(button("Coat over it"), Qt::LeftButton);
  QCOMPARE(worn()->coats.size(), size_t(1));
  QCOMPARE(session().feedInHand().coat, 0);
  // The rows are the coat's now; its mask has one, too.
  named<NumberField>("Roughness")->setValue(0.9);
  QVERIFY(std::abs(worn()->coats[0].surface.roughness - 0.9) < 1e-9 && worn()->roughness < 0.5);
  addFeed(FeedKind::facingUp);
  QCOMPARE(worn()->coats[0].mask.size(), size_t(1));
  QTest::mouseClick(button("Take off"), Qt::LeftButton);
  QVERIFY(worn()->coats.empty() && session().feedInHand().coat == -1);
}

void TestSurfaceStation::shineAndUse() {
  giveSurface();
  auto* shine = named<NumberField>("Shine");
  QVERIFY(shine && shine->isVisible());
  const double before = worn()->roughness;
  shine->setValue(0.2);
  QVERIFY(worn()->roughness > before && std::abs(shineOf(*worn()) - 0.2) < 0.02);
  auto* used = named<NumberField>("Used");
  used->setValue(0.7);
  QCOMPARE(worn()->coats.size(), size_t(4));
  used->setValue(0);
  QVERIFY(worn()->coats.empty());
}

void TestSurfaceStation::fileMaterialsBecomeOnesOwn() {
  session().edit("bare", [&](Project& p) { session().productIn(p)->surfaceOfPart.clear(); });
  session().selectPart(body_);
  QVERIFY(!worn());
  QTest::mouseClick(button("Separate copy"), Qt::LeftButton);
  QVERIFY(worn());
  const auto model = session().assets()->loadedModel(session().project().products[0]);
  for (const Part& part : model->parts)
    if (part.path == body_)
      QVERIFY((toFloat(worn()->baseColour) - model->materialOf(part).colour).length() < 1e-5f);
  QTest::mouseClick(button("As in the file"), Qt::LeftButton);
  QVERIFY(!worn());
}

void TestSurfaceStation::replacedEverywhere() {
  giveSurface();
  session().edit("another part, too", [&](Project& p) {
    session().productIn(p)->surfaceOfPart["Brackwater tide gauge/Housing/Lid"] = "mine";
  });
  auto* words = named<QLineEdit>("Find a surface");
  words->setText("velvet");
  shelf().setCurrentRow(0);
  QTest::mouseClick(button("Replace"), Qt::LeftButton);
  words->clear();
  for (const char* part : {body_, "Brackwater tide gauge/Housing/Lid"})
    QCOMPARE(session().project().products[0].surfaceOfPart.at(part), std::string("preset-velvet"));
}

void TestSurfaceStation::keptForOtherProjects() {
  giveSurface("preset-brushed-steel");
  session().edit("name", [&](Project& p) { session().surfaceInHand(p)->name = "Boathouse steel"; });
  QTest::mouseClick(button("To the shelf"), Qt::LeftButton);
  const auto own = ownSurface("own-boathouse-steel");
  QVERIFY(own && own->feeds == worn()->feeds);
  auto* family = named<QComboBox>("Family");
  family->setCurrentText("My own");
  QVERIFY(shelf().count() >= 1);
  family->setCurrentText("All families");
  QVERIFY(!ownSurface("own-nothing"));
}

DUSK_TEST(TestSurfaceStation, QApplication);
#include "surface_station.moc"
