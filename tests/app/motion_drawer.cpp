#include "app/window/motion_drawer.h"

#include "app/stations/deliver/delivery.h"
#include "app/window/drawer.h"
#include "app/window/motion_rows.h"
#include "core/motion/edit.h"
#include "core/motion/track.h"
#include "demo_window.h"
#include "tests/program.h"

using namespace dusk;

/// What moves, worked by hand: keys set and dragged, easings chosen, a way bent in the picture, a fall,
/// playing.
class TestMotionDrawer : public DemoWindow {
  Q_OBJECT
  MotionRows& rows() { return window_->motion().rows(); }
  const Motion& motion() { return session().base().shots[0].motion; }
  const MotionTrack& track(size_t i = 0) { return motion().tracks[i]; }
  std::string placed() { return "/shots/" + shot().id + "/placements/" + shot().placements[0].id; }
  QPoint sun(size_t key, size_t of = 0) { return rows().sunAt(track(of), key).toPoint(); }
  QPoint atTime(double seconds, int y) { return {int(std::lround(rows().xOf(seconds))), y}; }
  void open() {
    window_->drawer().open("Motion");
    QTest::qWait(50);
  }
  /// Chooses an entry of a menu button by hand.
  void choose(const QString& menuButton, const QString& entry) {
    QMenu* menu = button(menuButton)->menu();
    emit menu->aboutToShow();
    for (QAction* action : menu->actions())
      if (action->text() == entry) {
        QVERIFY2(action->isEnabled(), qPrintable(entry));
        return action->trigger();
      }
    QFAIL(qPrintable("no " + entry));
  }
  /// Slides the product by half a metre in two seconds: by two keys.
  void slide() {
    open();
    choose("Move", QString::fromStdString(session().product()->name));
    QTest::mouseClick(&rows(), Qt::LeftButton, {}, atTime(2, 5));
    session().editShot("slide", [](Shot& s) { s.placements[0].xM += 0.5; });
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void init() {
    openDemo();
    QVERIFY(waitForSamples(1));
  }
  void cleanup() { window_.reset(); }

  void keysAreSetByChangingWhatIsSeen();
  void keysAreDragged();
  void easingsAreChosen();
  void keysAreCopiedAndSpread();
  void theWayIsBentInThePicture();
  void whatIsChangedBeginsToMove();
  void itFalls();
  void theOpenShutterIsSeen();
  void itPlays();
  void aStretchPlays();
  void aFilmIsHandedOver();
  void scrubbingFollows();
};

void TestMotionDrawer::keysAreSetByChangingWhatIsSeen() {
  const double stood = shot().placements[0].xM;
  slide();
  QCOMPARE(session().moment(), 2.0);
  QCOMPARE(motion().tracks.size(), size_t(1));
  QCOMPARE(track().at, placed());
  QCOMPARE(track().keys.size(), size_t(2));
  QCOMPARE(session().base().shots[0].placements[0].xM, stood);  // where it lies without moving
  // The product is where it is then, and the picture follows.
  QTest::keyClick(&rows(), Qt::Key_Home);
  QCOMPARE(session().moment(), 0.0);
  QCOMPARE(shot().placements[0].xM, stood);
  QVERIFY(waitForSamples(2));
  const QImage first = picture().frame()->picture;
  QTest::mouseClick(&rows(), Qt::LeftButton, {}, atTime(2, 5));
  QCOMPARE(shot().placements[0].xM, stood + 0.5);
  QVERIFY(QTest::qWaitFor([&] { return picture().frame()->picture != first; }, 30'000));
  // By the arrows a picture at a time; with Ctrl from key to key.
  QTest::keyClick(&rows(), Qt::Key_Left);
  QVERIFY(std::abs(session().moment() - (2 - 1 / 24.0)) < 1e-9);
  QTest::keyClick(&rows(), Qt::Key_Left, Qt::ControlModifier);
  QCOMPARE(session().moment(), 0.0);
  // Undo as ever: the key, then that it moves at all.
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(track().keys.size(), size_t(1));
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(motion().tracks.empty());
  QVERIFY(rows().accessibleName().contains("Nothing yet"));
}

void TestMotionDrawer::keysAreDragged() {
  slide();
  drag(rows(), sun(1), atTime(1, sun(1).y()));
  QVERIFY2(std::abs(track().keys[1].seconds - 1) < 0.06,
           qPrintable(QString::number(track().keys[1].seconds)));
  QCOMPARE(std::round(track().keys[1].seconds * 24), track().keys[1].seconds * 24);  // on a whole picture
  // Past the other one: they change places, and one undo brings all back.
  drag(rows(), sun(0), atTime(2.5, sun(0).y()));
  QVERIFY(track().keys[1].seconds > 2.4);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(track().keys[0].seconds, 0.0);
  // By keys, a picture at a time, and away.
  QTest::mouseClick(&rows(), Qt::LeftButton, {}, sun(1));
  const double before = track().keys[1].seconds;
  QTest::keyClick(&rows(), Qt::Key_Right, Qt::ShiftModifier);
  QVERIFY(std::abs(track().keys[1].seconds - before - 1 / 24.0) < 1e-9);
  QTest::keyClick(&rows(), Qt::Key_Delete);
  QCOMPARE(track().keys.size(), size_t(1));
  // A double click in a row sets one.
  QTest::mouseDClick(&rows(), Qt::LeftButton, {}, atTime(2.5, sun(0).y() + 3));
  QTest::qWait(20);
  QTest::keyClick(&rows(), Qt::Key_Return);
  QVERIFY(track().keys.size() >= 2);
}

void TestMotionDrawer::easingsAreChosen() {
  slide();
  if (const QByteArray to = qgetenv("DUSK_GRABS"); !to.isEmpty()) {
    (void)session().open(DUSK_SOURCE "/demo/brackwater/brackwater-settling.dusk");
    session().setMoment(0.5);
    QTest::qWait(20'000);
    window_->grab().save(to + "/motion.png");
    openDemo(), open(), slide();
  }
  const QRect chip = rows().chipAt(track(), 0);
  QVERIFY(!chip.isNull());
  QTest::mouseClick(&rows(), Qt::LeftButton, {}, chip.center());
  QTest::qWait(20);
  auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
  QVERIFY(menu);
  for (QAction* action : menu->actions())
    if (action->text().startsWith("own")) action->trigger();
  menu->close();
  QCOMPARE(track().keys[0].easing, Easing::own);
  // Its handles are pulled: the first to the middle of the way.
  const QPointF a = rows().sunAt(track(), 0), b = rows().sunAt(track(), 1);
  const auto& h = track().keys[0].handles;
  const QPointF handle(a.x() + h[0] * (b.x() - a.x()), a.y() + h[1] * (b.y() - a.y()));
  drag(rows(), handle.toPoint(), ((a + b) / 2).toPoint());
  QVERIFY(std::abs(track().keys[0].handles[0] - 0.5) < 0.05);
  QVERIFY(std::abs(track().keys[0].handles[1] - 0.5) < 0.15);
  QVERIFY(std::abs(track().keys[0].handles[2] - 0.6) < 1e-9);
}

void TestMotionDrawer::keysAreCopiedAndSpread() {
  slide();
  rows().setFocus();
  QTest::keySequence(&rows(), QKeySequence::SelectAll);
  QTest::keySequence(&rows(), QKeySequence::Copy);
  QVERIFY(QGuiApplication::clipboard()->text().contains("gentleDuskKeys"));
  QTest::mouseClick(&rows(), Qt::LeftButton, {}, atTime(1, 5));
  QTest::keySequence(&rows(), QKeySequence::Paste);
  QCOMPARE(track().keys.size(), size_t(4));
  QVERIFY(std::abs(track().keys[3].seconds - 3) < 0.05);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  // With Ctrl, keys are spread from the first on.
  QTest::keySequence(&rows(), QKeySequence::SelectAll);
  drag(rows(), sun(1), atTime(3, sun(1).y()), Qt::ControlModifier);
  QCOMPARE(track().keys[0].seconds, 0.0);
  QVERIFY(std::abs(track().keys[1].seconds - 3) < 0.06);
  choose("More", "Twice as fast");
  QVERIFY(std::abs(track().keys[1].seconds - 1.5) < 0.03);
  QCOMPARE(motion().seconds, 1.5);
  QVERIFY(session().moment() <= 1.5);
  // Nothing that fits: said, and nothing done.
  QGuiApplication::clipboard()->setText("words");
  QTest::keySequence(&rows(), QKeySequence::Paste);
  QCOMPARE(track().keys.size(), size_t(2));
}

void TestMotionDrawer::theWayIsBentInThePicture() {
  slide();
  QTest::keyClick(&rows(), Qt::Key_Home);
  window_->session().setStation(Station::blend);  // whatever the station
  QTest::qWait(30);
  const auto seen = picture().path().sunAt(1);
  QVERIFY(seen);
  const Vec2d to = *seen + Vec2d(-60, 20);
  drag(picture(), onScreen(*seen), onScreen(to));
  const auto now = picture().path().sunAt(1);
  QVERIFY2((*now - to).length() < 4, qPrintable(QString("%1 %2").arg(now->x - to.x).arg(now->y - to.y)));
  QCOMPARE(track().keys.size(), size_t(2));
  QVERIFY(picture().path().speed() >= 0);
  // Escape makes a drag not have been.
  const std::string kept = track().keys[1].to;
  QTest::mousePress(&picture(), Qt::LeftButton, {}, onScreen(*now));
  move(picture(), onScreen(*now + Vec2d(80, 0)));
  QVERIFY(track().keys[1].to != kept);
  QTest::keyClick(&picture(), Qt::Key_Escape);
  QTest::mouseRelease(&picture(), Qt::LeftButton, {}, onScreen(*now));
  QCOMPARE(track().keys[1].to, kept);
  // With another drawer it is out of the way.
  window_->drawer().open("Proofs");
  drag(picture(), onScreen(*now), onScreen(*now + Vec2d(50, 0)));
  QCOMPARE(track().keys[1].to, kept);
}

void TestMotionDrawer::whatIsChangedBeginsToMove() {
  open();
  const double fNumber = shot().focus.fNumber;
  QTest::mouseClick(button("Begin to move"), Qt::LeftButton);
  QVERIFY(session().recordsKeys());
  QTest::mouseClick(&rows(), Qt::LeftButton, {}, atTime(3, 5));
  session().editShot("focus", [](Shot& s) { s.focus.fNumber = 2; });
  QCOMPARE(motion().tracks.size(), size_t(1));
  QCOMPARE(session().base().shots[0].focus.fNumber, fNumber);
  QTest::mouseClick(button("Begin to move"), Qt::LeftButton);
  session().editShot("samples", [](Shot& s) { s.blend.exposureEv = 0.5; });
  QCOMPARE(motion().tracks.size(), size_t(1));
  QCOMPARE(session().base().shots[0].blend.exposureEv, 0.5);
  // Saved and opened again, it stands at the still's moment.
  choose("More", "Stills show this moment");
  QVERIFY(session().save((demo_ + "moved.dusk").toStdString()));
  const double at = session().moment();
  window_.reset();
  openDemo("moved.dusk");
  QCOMPARE(session().moment(), at);
  QCOMPARE(shot().focus.fNumber, 2.0);
}

void TestMotionDrawer::theOpenShutterIsSeen() {
  slide();
  session().setMoment(1);
  session().editShot("calm", [](Shot& s) {
    s.render.samples = 24, s.render.denoise = 0;
    s.motion.picturesPerSecond = 2;  // a long way while it is open
  });
  const auto partly = [&] {
    size_t count = 0;
    for (const float a : picture().frame()->passes->alpha.pixels) count += a > 0.02f && a < 0.98f;
    return count;
  };
  const auto isDone = [&] {
    const auto frame = picture().frame();
    return frame && frame->samples == 24;
  };
  QTRY_VERIFY_WITH_TIMEOUT(isDone(), 60'000);
  const size_t sharp = partly();
  QCheckBox* blur = nullptr;
  for (QCheckBox* box : window_->motion().findChildren<QCheckBox*>())
    if (box->text() == "Blur") blur = box;
  QVERIFY(blur);
  QTest::mouseClick(blur, Qt::LeftButton, {}, {8, blur->height() / 2});
  QVERIFY(session().opensShutter());
  QTRY_VERIFY_WITH_TIMEOUT(isDone() && partly() > 2 * sharp, 60'000);
  grab("open-shutter");
  // Another shutter is another picture; a shut one is sharp.
  session().editShot("shut", [](Shot& s) { s.motion.shutterDegrees = 0; });
  QTRY_VERIFY_WITH_TIMEOUT(isDone() && partly() < 1.2 * sharp, 60'000);
}

void TestMotionDrawer::itFalls() {
  open();
  session().editShot("lift",
                     [](Shot& s) { s.placements[0].liftM = 0.15, s.placements[0].leanXDegrees = 25; });
  choose("Move", "Drop and settle");
  QVERIFY(QTest::qWaitFor([&] { return !motion().tracks.empty(); }, 30'000));
  QVERIFY(track().keys.size() > 8);
  QTest::keyClick(&rows(), Qt::Key_End);
  session().setMoment(track().keys.back().seconds);
  QVERIFY(std::abs(shot().placements[0].liftM) < 0.001);
  session().setMoment(0);
  QVERIFY(std::abs(shot().placements[0].liftM - 0.15) < 1e-9);
}

void TestMotionDrawer::itPlays() {
  slide();
  QTest::keyClick(&rows(), Qt::Key_Home);
  QTest::keyClick(window_.get(), Qt::Key_F5);
  QVERIFY(window_->motion().isPlaying());
  QSet<double> moments;
  QElapsedTimer time;
  time.start();
  while (time.elapsed() < 1500) {
    QTest::qWait(5);
    moments.insert(session().moment());
  }
  qInfo() << "pictures a second while it plays:" << moments.size() / (time.elapsed() / 1000.0);
  QVERIFY(moments.size() > 3);
  QTest::mouseClick(button("Stop"), Qt::LeftButton);
  QVERIFY(!window_->motion().isPlaying());
  const double stays = session().moment();
  QTest::qWait(300);
  QCOMPARE(session().moment(), stays);
  // To scrub stops it, too.
  window_->motion().play(true);
  QTest::mouseClick(&rows(), Qt::LeftButton, {}, atTime(0.5, 5));
  QVERIFY(!window_->motion().isPlaying());
  QVERIFY(std::abs(session().moment() - 0.5) < 0.05);
}

void TestMotionDrawer::aStretchPlays() {
  slide();
  auto* drawer = window_->findChild<MotionDrawer*>();
  QCOMPARE(rows().stretch().second, motion().seconds);
  drag(rows(), atTime(1, 4), atTime(1.5, 4), Qt::ShiftModifier);
  QVERIFY(std::abs(rows().stretch().first - 1) < 0.06 && std::abs(rows().stretch().second - 1.5) < 0.06);
  grab("motion-stretch");
  // What plays stays within, over and over.
  session().setMoment(0);
  double low = 9, high = 0;
  int turns = 0;
  double last = 0;
  connect(&session(), &Session::momentChanged, this, [&] {
    if (!drawer->isPlaying()) return;
    const double now = session().moment();
    low = std::min(low, now), high = std::max(high, now), turns += now < last, last = now;
  });
  drawer->play(true);
  QVERIFY(QTest::qWaitFor([&] { return turns >= 2; }, 20'000));
  drawer->play(false);
  QVERIFY2(low > 0.94 && high < 1.56, qPrintable(QString("%1 to %2").arg(low).arg(high)));
  choose("More", "Play all of it");
  QCOMPARE(rows().stretch(), (MotionRows::Stretch{0, motion().seconds}));
  session().setMoment(0.5);
  choose("More", "Play up to here");
  QCOMPARE(rows().stretch().second, 0.5);
  QTest::mouseClick(&rows(), Qt::LeftButton, Qt::ShiftModifier, atTime(2, 4));
  QCOMPARE(rows().stretch().second, motion().seconds);
}

void TestMotionDrawer::aFilmIsHandedOver() {
  takeSmallPhoto();
  slide();
  session().editShot("short", [](Shot& s) {
    s.motion.seconds = 0.125, s.render.samples = 1;
    s.deliverables.clear();
  });
  choose("More", "Hand over as MP4");
  QCOMPARE(session().station(), Station::deliver);
  QCOMPARE(shot().deliverables.size(), size_t(1));
  QCOMPARE(shot().deliverables[0].kind, DeliverableKind::mp4);
  const QString out = folder_.filePath("film");
  QSignalSpy delivered(window_.get(), &MainWindow::delivered);
  window_->deliverInto(out);
  QVERIFY(delivered.wait(300'000));
  QVERIFY(delivered[0][0].toBool());
  QCOMPARE(QDir(out).entryList({"*.mp4"}).size(), 1);
  // A film of others is not written over unasked.
  const QString film = out + "/" + QDir(out).entryList({"*.mp4"}).first();
  QVERIFY(QFile::remove(film + ".json"));
  QSignalSpy asked(&window_->bench(), &Workbench::asked);
  window_->deliverInto(out);
  QTRY_COMPARE(asked.size(), 1);
  QVERIFY(asked[0][0].toString().contains(".mp4"));
}

void TestMotionDrawer::scrubbingFollows() {
  slide();
  // The window's own share of going to another moment.
  std::vector<double> spent;
  for (int i = 0; i < 40; ++i) {
    QElapsedTimer time;
    time.start();
    session().setMoment(i / 24.0);
    spent.push_back(double(time.nsecsElapsed()) / 1e6);
  }
  std::sort(spent.begin(), spent.end());
  qInfo() << "the window's thread for another moment, ms: median" << spent[20] << "worst" << spent.back();
  QVERIFY(std::abs(session().moment() - 39 / 24.0) < 1e-9);
  // And of an edit made at a moment, which is routed into keys: as a drag makes many of.
  spent.clear();
  const int gesture = Session::newGesture();
  for (int i = 0; i < 40; ++i) {
    QElapsedTimer time;
    time.start();
    session().editShot(
        "drag", [](Shot& s) { s.placements[0].yM += 0.002; }, gesture);
    spent.push_back(double(time.nsecsElapsed()) / 1e6);
  }
  std::sort(spent.begin(), spent.end());
  qInfo() << "the window's thread for an edit of what moves, ms: median" << spent[20] << "worst"
          << spent.back();
  QCOMPARE(track().keys.size(), size_t(3));
}

DUSK_TEST(TestMotionDrawer, QApplication);
#include "motion_drawer.moc"
