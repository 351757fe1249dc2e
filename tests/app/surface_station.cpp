#include "tests/app/demo_window.h"

#include <fstream>

#include "app/stations/surface/own_surfaces.h"
#include "app/stations/surface/strips.h"
#include "app/widgets/number_field.h"
#include "core/project/feed_kinds.h"
#include "core/surface/library.h"

using namespace dusk;

/// Dressing the product by hand: the shelf, feeds, coats, prints, and artwork that is saved elsewhere.
class TestSurfaceStation : public DemoWindow {
  Q_OBJECT
  static constexpr const char* body_ = "Brackwater tide gauge/Housing/Body casting";

  QPoint onBody() {
    // Where the camera sees the body casting.
    const Camera& c = shot().vantage.camera;
    for (int y = 0; y < 60; ++y)
      for (int x = 0; x < 60; ++x)
        if (const Vec2d at((x + 0.5) / 60 * c.width, (y + 0.5) / 60 * c.height);
            picture().pick(at).part == body_ && picture().pick(at + Vec2d(30, 0)).part == body_ &&
            picture().pick(at + Vec2d(0, 30)).part == body_)
          return onScreen(at);
    return {};
  }
  const Surface* worn() { return session().surfaceInHand(session().project()); }
  void giveSurface(const char* id = "preset-harbour-enamel") {
    session().selectPart(body_);
    session().edit("dress", [&](Project& p) {
      Surface s = *librarySurface(id);
      s.id = "mine", s.coats.clear();
      p.surfaces.push_back(s);
      session().productIn(p)->surfaceOfPart[body_] = "mine";
    });
  }
  QListWidget& shelf() { return *window_->findChild<QListWidget*>("presets"); }
  QWidget* feedRow(const QString& begins) {
    for (QWidget* w : window_->findChildren<QWidget*>())
      if (w->isVisible() && w->accessibleName().startsWith(begins + ", strength")) return w;
    return nullptr;
  }
  void openRow(const QString& name) {
    QTest::mouseClick(named<QToolButton>(name + ", its feeds"), Qt::LeftButton);
  }
  void addFeed(FeedKind kind) {
    const QString title = infoOf(kind).title;
    for (QToolButton* b : window_->findChildren<QToolButton*>())
      if (b->isVisible() && b->accessibleName() == "Add a feed")
        for (QAction* a : b->menu()->findChildren<QAction*>())
          if (a->text() == title) return a->trigger();
    QFAIL("no such feed on offer");
  }
  void hover(const QPoint& at, const QByteArray& surface) {
    static QMimeData data;
    data.setData("application/x-dusk-surface", surface);
    if (!entered_) {
      QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, {});
      QApplication::sendEvent(&picture(), &enter);
      entered_ = true;
    }
    QDragMoveEvent over(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&picture(), &over);
  }
  void leave() {
    QDragLeaveEvent out;
    QApplication::sendEvent(&picture(), &out);
    entered_ = false;
  }
  void drop(const QPoint& at) {
    QMimeData data;
    data.setData("application/x-dusk-surface", "preset-signal-enamel");
    QDropEvent let(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&picture(), &let);
    entered_ = false;
  }
  QString drawing(const char* colour) {
    const QString file = folder_.filePath("label.svg");
    const QString half = file + ".half";  // as most programs save: beside it, then in its place
    std::ofstream(half.toStdString())
        << R"(<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="20mm" viewBox="0 0 40 20"><rect width="40" height="20" fill=")"
        << colour << "\"/></svg>";
    std::filesystem::rename(half.toStdString(), file.toStdString());
    return file;
  }
  const Decal* decal() {
    return session().project().products[0].decals.empty() ? nullptr
                                                          : &session().project().products[0].decals.back();
  }
  bool printAt(const QPoint& onPicture, const QString& file) {
    if (!window_->print({file}, picture().mapTo(window_.get(), onPicture))) return false;
    return QTest::qWaitFor([&] { return decal() != nullptr; }, 20'000);
  }
  bool entered_ = false;
  Project before_;

 private slots:
  void initTestCase() {
    copyDemo();
    openDemo();
    QVERIFY(waitForSamples(1));
  }
  void init() {
    while (session().history().canUndo()) session().undo();
    session().setStation(Station::surface);
    session().takeFeed({});
    session().selectDecal({});
    session().selectPart({});
    before_ = session().project();
    QVERIFY(QTest::qWaitFor([&] { return picture().frame() && !onBody().isNull(); }, 20'000));
  }
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
  void aPictureIsPrintedWhereItIsDropped();
  void aPrintIsHeldByItsSlip();
  void savedElsewhereShownHere();
  void aMissingPictureLeavesTheSurface();
  void stripsShowThePart();
  void undoTakesItAllBack();
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
  auto* size = named<NumberField>("Size");
  QVERIFY(size && size->isVisible());
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

void TestSurfaceStation::aPictureIsPrintedWhereItIsDropped() {
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

void TestSurfaceStation::aPrintIsHeldByItsSlip() {
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
  auto* opacity = named<NumberField>("Opacity");
  QVERIFY(opacity && opacity->isVisible());
  opacity->setValue(0.5);
  QCOMPARE(decal()->opacity, 0.5);
  QTest::keyClick(&picture(), Qt::Key_Delete);
  QVERIFY(!decal());
}

void TestSurfaceStation::savedElsewhereShownHere() {
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

void TestSurfaceStation::aMissingPictureLeavesTheSurface() {
  giveSurface();
  Feed lost = newFeed(FeedKind::picture);
  lost.picture = {"gone.png", "0123"};
  session().edit("feed",
                 [&](Project& p) { session().surfaceInHand(p)->feeds[SurfaceValue::baseColour] = {lost}; });
  QVERIFY(QTest::qWaitFor([&] { return picture().frame() && !picture().frame()->notes.empty(); }, 10'000));
  QVERIFY(QString::fromStdString(picture().frame()->notes[0]).contains("gone.png"));
  QVERIFY(worn()->feeds.contains(SurfaceValue::baseColour));
}

void TestSurfaceStation::stripsShowThePart() {
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

void TestSurfaceStation::undoTakesItAllBack() {
  giveSurface();
  openRow("Roughness");
  addFeed(FeedKind::brushing);
  QTest::mouseClick(button("Coat over it"), Qt::LeftButton);
  QVERIFY(printAt(onBody(), drawing("#808080")));
  QVERIFY(session().project() != before_);
  while (session().history().canUndo()) session().undo();
  QVERIFY(session().project() == before_);
}

QTEST_MAIN(TestSurfaceStation)
#include "surface_station.moc"
