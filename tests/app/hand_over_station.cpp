#include "app/window/drawer.h"
#include "app/window/queue_drawer.h"
#include "blend_hands.h"
#include "core/deliver/queue.h"
#include "core/picture/read.h"
#include "core/project/hand_over_edit.h"
#include "core/vantage/frames.h"
#include "tests/program.h"

using namespace dusk;

/// The Hand over station worked by hand: files, frames, the question about files of others, and the queue.
class TestHandOverStation : public BlendWindow {
  Q_OBJECT
  QListWidget* files() { return named<QListWidget>("Files to hand over"); }
  QListWidget* frames() { return named<QListWidget>("Frames"); }
  const Deliverable& file(int i) { return shot().deliverables[size_t(i)]; }
  /// In the demo a line of the menu begins with the shape's name.
  void addShape(const QString& shape) {
    QTest::qWait(50);
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->text() == "Add a frame" && b->isVisible())
        for (QAction* a : b->menu()->actions())
          if (a->text().startsWith(shape)) return a->trigger();
    QFAIL("no such shape");
  }
  QPoint onScreen(double x, double y) {
    const Camera& c = shot().vantage.camera;
    return picture().toScreen().map(QPointF(x * c.width, y * c.height)).toPoint();
  }
 private slots:
  void initTestCase() {
    copyDemo();
    qputenv("DUSK_QUEUE", folder_.filePath("queue").toUtf8());
    qputenv("DUSK_BATCH", DUSK_BATCH);
  }
  void init() {
    openDemo();
    session().setStation(Station::deliver);
    session().editShot("small", [](Shot& s) {
      s.render.samples = 2, s.frames.clear();
      s.deliverables = {usualOf(DeliverableKind::png, "quay"), usualOf(DeliverableKind::exr, "quay")};
    });
    QTest::qWait(100);
  }
  void cleanup() { window_.reset(); }

  void filesAreAskedFor();
  void framesAreDrawnAndDragged();
  void whatAnyFrameShowsIsBright();
  void framesShowWhatIsMadeBeyond();
  void framesGoWithTheProduct();
  void listsAreShared();
  void threeFramesAndFourKindsOfOneTrace();
  void allIsProvedWhenAsked();
  void allThatCanBeIsMended();
  void filesOfOthersAreAskedAbout();
  void queueWorksWithoutTheWindow();
  void whatTheFarmDoesIsSeen();
};

void TestHandOverStation::filesAreAskedFor() {
  QCOMPARE(files()->count(), 2);
  QVERIFY(files()->item(0)->text() == "quay.png");
  choose("Add a file", "JPEG");
  QCOMPARE(shot().deliverables.size(), size_t(3));
  QVERIFY(file(2).kind == DeliverableKind::jpeg && session().selectedFile() == 2);
  QCOMPARE(files()->item(2)->text(), QString::fromStdString(shot().name) + ".jpg");
  // Its fields are there, those of others are not.
  QVERIFY(seen<QDoubleSpinBox>("Quality") && seen<QDoubleSpinBox>("At most"));
  QVERIFY(!seen<QComboBox>("Packed by") && !seen<QComboBox>("Depth"));
  auto* quality = seen<QDoubleSpinBox>("Quality");
  quality->setFocus();
  QTest::keyClick(quality, Qt::Key_Down);
  QCOMPARE(file(2).quality, 91.0);
  auto* name = seen<QLineEdit>("Name");
  name->setFocus(), name->selectAll();
  QTest::keyClicks(name, "{shot} {size}");
  QTest::keyClick(name, Qt::Key_Return);
  QCOMPARE(file(2).fileName, std::string("{shot} {size}"));
  QVERIFY(files()->item(2)->text().contains("1920x1280.jpg"));
  files()->setCurrentRow(0);
  auto* behind = seen<QComboBox>("Behind it");
  QVERIFY(behind && behind->count() == 2);
  QTest::keyClick(behind, Qt::Key_Down);
  emit behind->activated(behind->currentIndex());
  QVERIFY(file(0).alpha == DeliveredAlpha::straight);
  QVERIFY(files()->item(0)->toolTip().contains("on nothing"));
  files()->item(1)->setCheckState(Qt::Unchecked);
  QVERIFY(!file(1).on);
  QTest::mouseClick(shown("Take it away"), Qt::LeftButton);
  QCOMPARE(shot().deliverables.size(), size_t(2));
  for (int i = 0; i < 6; ++i) QTest::keySequence(window_.get(), QKeySequence::Undo);
  QTRY_COMPARE(shot().deliverables.size(), size_t(2));
  QVERIFY(file(0).alpha == DeliveredAlpha::none && file(1).on);
}

void TestHandOverStation::framesAreDrawnAndDragged() {
  addShape("Square");
  QCOMPARE(frames()->count(), 1);
  QCOMPARE(session().selectedFrame(), shot().frames[0].id);
  const PictureFrame before = shot().frames[0];
  QVERIFY(std::abs(before.width * 1920 - 1280) < 1);  // as large as the picture lets it be
  grab("hand-over-frame");
  // A corner sizes it and keeps its shape, the middle moves it; each is one step.
  const auto place = placeOf(shot(), before, 1920, 1280);
  drag(picture(), onScreen(place[2], place[3]), onScreen(place[2] - 0.2, place[3] - 0.1));
  const PictureFrame sized = shot().frames[0];
  QVERIFY(sized.width < before.width - 0.05);
  const auto smaller = placeOf(shot(), sized, 1920, 1280);
  QVERIFY(std::abs(smaller[0] - place[0]) < 0.003 && std::abs(smaller[1] - place[1]) < 0.003);
  drag(picture(), onScreen(sized.centre.x, sized.centre.y), onScreen(sized.centre.x + 0.1, sized.centre.y));
  QVERIFY(std::abs(shot().frames[0].centre.x - sized.centre.x - 0.1) < 0.005);
  QTest::keyClick(&picture(), Qt::Key_Left);
  QVERIFY(std::abs(shot().frames[0].centre.x - sized.centre.x - 0.1 + 1.0 / 1920) < 0.005);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(shot().frames[0] == sized);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(shot().frames[0] == before);
  // Told in millimetres it is a print.
  auto* told = seen<QComboBox>("Told in");
  told->setCurrentIndex(1);
  emit told->activated(1);
  QCOMPARE(shot().frames[0].dpi, 300.0);
  auto* width = seen<QDoubleSpinBox>("Width");
  QVERIFY(std::abs(width->value() - 1080 / 300.0 * 25.4) < 0.1);
  auto* dpi = seen<QDoubleSpinBox>("Resolution");
  dpi->setFocus();
  QTest::keyClick(dpi, Qt::Key_Up);
  QVERIFY(shot().frames[0].dpi == 310 && shot().frames[0].widthPx == 1116);
  QVERIFY(std::abs(seen<QDoubleSpinBox>("Width")->value() - 1080 / 300.0 * 25.4) < 0.2);
  // A file of it shows the whole picture when it goes.
  choose("Add a file", "PNG");
  QCOMPARE(file(2).frameId, shot().frames[0].id);
  picture().setFocus();
  QTest::keyClick(&picture(), Qt::Key_Delete);
  QVERIFY(shot().frames.empty() && file(2).frameId.empty());
}

void TestHandOverStation::whatAnyFrameShowsIsBright() {
  const auto brightness = [&](double x, double y) {
    const QImage seen = picture().grab().toImage();
    const QPointF at = QPointF(onScreen(x, y)) * seen.devicePixelRatio();
    return qGray(seen.pixel(at.toPoint()));
  };
  const int middle = brightness(0.4, 0.3), corner = brightness(0.03, 0.3);
  session().editShot("two that overlap", [](Shot& s) {
    s.frames = {{"frame-1", "Wide"}, {"frame-2", "Narrow"}};
    for (PictureFrame& f : s.frames) f.centre = {0.4, 0.5}, f.width = f.id == "frame-1" ? 0.6 : 0.4;
  });
  QTest::qWait(50);
  QVERIFY(std::abs(brightness(0.4, 0.3) - middle) < 3);  // in both
  QVERIFY(brightness(0.03, 0.3) < corner - 10);          // in none
  // The list shows sizes beside the names, and hands the name alone to whoever types.
  QCOMPARE(frames()->item(0)->text(), QString("Wide"));
  frames()->item(0)->setText("Banner");
  QCOMPARE(shot().frames[0].name, std::string("Banner"));
}

void TestHandOverStation::framesShowWhatIsMadeBeyond() {
  addShape("Square");
  const auto pull = [&] { drag(picture(), onScreen(0.5, 0.5), onScreen(0.2, 0.5)); };
  const auto reaches = [&] { return picture().frame() && picture().frame()->area.x() < 0; };
  const auto says = [&](const char* text) {
    for (QLabel* l : window_->findChildren<QLabel*>())
      if (l->isVisibleTo(window_.get()) && l->text().contains(text)) return true;
    return false;
  };
  // A photo ends where it ends.
  pull();
  QVERIFY(says("moved into it"));
  QVERIFY(waitForSamples(1) && !reaches());
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  session().editShot("no photo",
                     [](Shot& s) { s.backdrop.kind = BackdropKind::plain, s.backdrop.colour = "#c04020"; });
  pull();
  QVERIFY(says("beyond the picture: that is traced for it"));
  QTRY_VERIFY_WITH_TIMEOUT(reaches(), 60'000);
  // Its colour goes on as far as the frame shows, at this station alone.
  const auto redAt = [&](double x) {
    const QColor c = picture().grab().toImage().pixelColor(onScreen(x, 0.06) * picture().devicePixelRatioF());
    return c.red() > c.blue() + 60;
  };
  QTRY_VERIFY(redAt(0.02) && redAt(-0.01));
  grab("hand-over-beyond");
  session().setStation(Station::render);
  QTRY_VERIFY(redAt(0.02) && !redAt(-0.01));
}

void TestHandOverStation::framesGoWithTheProduct() {
  addShape("Portrait");
  const auto place = [&] { return placeOf(shot(), shot().frames[0], 1920, 1280); };
  const auto before = place();
  auto* goes = named<QCheckBox>("Goes with the product");
  QTest::mouseClick(goes, Qt::LeftButton, {}, QPoint(8, goes->height() / 2));
  QVERIFY(shot().frames[0].aboutProduct);
  for (size_t i = 0; i < 4; ++i) QVERIFY(std::abs(place()[i] - before[i]) < 1e-9);
  const Vec2d spot = productSpot(shot());
  session().editShot("move", [](Shot& s) { s.placements[0].xM += 0.1; });
  const Vec2d moved = productSpot(shot()) - spot;
  QVERIFY(moved.length() > 0.01);
  QVERIFY(std::abs(place()[0] - before[0] - moved.x) < 1e-9 &&
          std::abs(place()[1] - before[1] - moved.y) < 1e-9);
}

void TestHandOverStation::listsAreShared() {
  addShape("Wide");
  choose("Add a file", "WebP");
  const std::string text = handOverText(shot());
  Shot other = shot();
  other.deliverables.clear(), other.frames.clear(), other.handOver.title = "other";
  QVERIFY(takeHandOver(other, text).ok());
  QVERIFY(other.deliverables == shot().deliverables && other.frames == shot().frames &&
          other.handOver == shot().handOver);
  const Shot was = other;
  for (const char* bad :
       {"", "{}", "{\"gentleDuskHandOver\": 1}", "{\"gentleDuskHandOver\": 99, \"deliverables\": []}",
        R"({"gentleDuskHandOver": 1, "deliverables": [{"fileName": "../x"}], "frames": [], "handOver": {}})",
        R"({"gentleDuskHandOver": 1, "deliverables": [], "frames": [{"widthPx": -4}], "handOver": {}})"}) {
    const Outcome took = takeHandOver(other, bad);
    QVERIFY2(!took.ok() && took.error().message.size() > 30, bad);
    QVERIFY(other == was);
  }
}

void TestHandOverStation::threeFramesAndFourKindsOfOneTrace() {
  takeSmallPhoto();
  for (const char* shape : {"Square", "Tall", "Banner"}) addShape(shape);
  const std::vector<PictureFrame> all = shot().frames;
  session().editShot("files", [&](Shot& s) {
    s.deliverables.clear();
    const DeliverableKind kinds[] = {DeliverableKind::png, DeliverableKind::jpeg, DeliverableKind::tiff,
                                     DeliverableKind::webp};
    for (size_t i = 0; i < 4; ++i) addDeliverable(s, kinds[i], i < 3 ? all[i].id : std::string());
  });
  QSignalSpy delivered(window_.get(), &MainWindow::delivered);
  window_->deliverInto(folder_.filePath("out"));
  QTRY_COMPARE_WITH_TIMEOUT(delivered.count(), 1, 120'000);
  QVERIFY(delivered[0][0].toBool());
  const QString stem = folder_.filePath("out/") + QString::fromStdString(shot().name);
  const std::pair<QString, QSize> expected[] = {{stem + "-Square.png", {1080, 1080}},
                                                {stem + "-Tall 9-16.jpg", {1080, 1920}},
                                                {stem + "-Banner 3-1.tif", {1800, 600}},
                                                {stem + ".webp", {480, 320}}};
  for (const auto& [name, size] : expected) {
    const auto header = readPictureHeader(name.toStdString());
    QVERIFY2(header.ok(), qPrintable(name));
    QCOMPARE(QSize(header->width, header->height), size);
    QVERIFY(QFile::exists(name + ".json"));
  }
}

void TestHandOverStation::allIsProvedWhenAsked() {
  session().editShot("the wrong way round",
                     [](Shot& s) { s.surroundings.mirrored = true, s.gnomon.reset(); });
  auto* all = button("Prove all of it");
  QVERIFY(QTest::qWaitFor([&] { return all->isEnabled() && waitForSamples(2); }, 60'000));
  const QString mend = "Mend it: panorama mirrored against the place";
  QVERIFY(!named<QPushButton>(mend));  // that takes seconds: not with each picture
  QTest::mouseClick(all, Qt::LeftButton);
  QVERIFY(button("Cancel"));
  QVERIFY(QTest::qWaitFor([&] { return named<QPushButton>(mend) != nullptr; }, 60'000));
  grab("proved", all->parentWidget());
  QTest::mouseClick(named<QPushButton>(mend), Qt::LeftButton);
  QVERIFY(QTest::qWaitFor([&] { return !shot().surroundings.mirrored; }, 60'000));
  QVERIFY(!named<QPushButton>(mend));
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(shot().surroundings.mirrored);
}

void TestHandOverStation::allThatCanBeIsMended() {
  takeSmallPhoto();
  session().editShot("much is off", [](Shot& s) {
    s.surroundings.mirrored = true, s.gnomon.reset();
    s.placements[0].liftM = 0.012, s.blend.exposureEv = 2;
  });
  const Project before = session().project();
  auto* all = button("Prove all of it");
  QVERIFY(QTest::qWaitFor([&] { return all->isEnabled() && waitForSamples(2); }, 60'000));
  QTest::mouseClick(all, Qt::LeftButton);
  const QString exposure = "Mend it: Exposure of the product against the photo's",
                mirrored = "Mend it: panorama mirrored against the place";
  QVERIFY(
      QTest::qWaitFor([&] { return named<QPushButton>(exposure) && named<QPushButton>(mirrored); }, 60'000));
  // What was found is not forgotten by the next change.
  session().editShot("a name", [](Shot& s) { s.handOver.title = "Quay"; });
  QVERIFY(named<QPushButton>(exposure) && named<QPushButton>(mirrored));
  auto* rest = button("Mend what can be");
  QVERIFY(rest && rest->isVisibleTo(window_.get()));
  QTest::mouseClick(rest, Qt::LeftButton);
  const auto isMended = [&] {
    return !shot().surroundings.mirrored && std::abs(shot().placements[0].liftM) < 0.001 &&
           std::abs(shot().blend.exposureEv) < 1;
  };
  QVERIFY(QTest::qWaitFor([&] { return isMended() && window_->jobs().all().empty(); }, 120'000));
  // In the order in which one shows in the other, and as one step.
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY(session().project() == before);
}

void TestHandOverStation::filesOfOthersAreAskedAbout() {
  QDir().mkpath(folder_.filePath("theirs"));
  QFile theirs(folder_.filePath("theirs/quay.png"));
  QVERIFY(theirs.open(QIODevice::WriteOnly) && theirs.write("theirs") == 6);
  theirs.close();
  // Whose file it is matters here, not what is in it.
  session().editShot("one", [](Shot& s) { s.deliverables.pop_back(), s.placements.clear(); });
  QSignalSpy delivered(window_.get(), &MainWindow::delivered);
  window_->deliverInto(folder_.filePath("theirs"));
  QTRY_VERIFY(shown("Keep both"));
  QVERIFY(window_->jobs().all().empty());  // nothing waits for the answer
  QTest::mouseClick(shown("Keep both"), Qt::LeftButton);
  QTRY_COMPARE_WITH_TIMEOUT(delivered.count(), 1, 120'000);
  QVERIFY(QFile::exists(folder_.filePath("theirs/quay-2.png")));
  QVERIFY(theirs.open(QIODevice::ReadOnly) && theirs.readAll() == "theirs");
}

void TestHandOverStation::queueWorksWithoutTheWindow() {
  takeSmallPhoto();
  session().editShot("one", [](Shot& s) { s.deliverables.pop_back(); });
  QVERIFY(session().save(folder_.filePath("queued.dusk").toStdString()));
  const auto put = [&] {
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->text() == "Into the queue") b->menu()->actions()[0]->trigger();
  };
  put();
  QTRY_COMPARE_WITH_TIMEOUT(window_->queue().jobs().size(), size_t(1), 10'000);
  put();
  QTRY_COMPARE_WITH_TIMEOUT(window_->queue().jobs().size(), size_t(2), 10'000);
  QCOMPARE(window_->drawer().current(), QString("Queue"));
  grab("queue-waits");
  // The second one waits while the first is worked on, and is resumed.
  const auto tool = [&](const QString& text, int which) {
    QList<QToolButton*> found;
    for (QToolButton* b : window_->queue().findChildren<QToolButton*>())
      if (b->text() == text && b->isVisible()) found << b;
    return found.value(which);
  };
  QTRY_VERIFY(tool("Pause", 1));
  QTest::mouseClick(tool("Pause", 1), Qt::LeftButton);
  QTRY_VERIFY(window_->queue().jobs()[1].state == JobState::paused);
  QTest::mouseClick(shown("Work on it"), Qt::LeftButton);
  QTRY_VERIFY_WITH_TIMEOUT(window_->queue().jobs()[0].state == JobState::running ||
                               window_->queue().jobs()[0].state == JobState::done,
                           20'000);
  grab("queue-works");
  QTRY_VERIFY_WITH_TIMEOUT(window_->queue().jobs()[0].state == JobState::done, 120'000);
  QVERIFY(window_->queue().jobs()[1].state == JobState::paused);
  QTRY_VERIFY(tool("Resume", 0));
  QTest::mouseClick(tool("Resume", 0), Qt::LeftButton);
  QTRY_VERIFY(window_->queue().jobs()[1].state == JobState::waiting);
  QTRY_VERIFY(shown("Work on it") && shown("Work on it")->isEnabled());
  QTest::mouseClick(shown("Work on it"), Qt::LeftButton);
  QTRY_VERIFY_WITH_TIMEOUT(window_->queue().jobs()[1].state == JobState::done, 120'000);
  grab("queue-done");
  QVERIFY(QFile::exists(folder_.filePath("delivered/quay.png")));
  QTest::mouseClick(shown("Take done away"), Qt::LeftButton);
  QTRY_VERIFY_WITH_TIMEOUT(window_->queue().jobs().empty(), 10'000);
  QVERIFY(QFile::exists(folder_.filePath("delivered/quay.png")));
}

// Given to a real farm of one machine, by hand: one part is lost, seen, and given to it again.
void TestHandOverStation::whatTheFarmDoesIsSeen() {
  QTemporaryDir place(QDir::tempPath() + "/farm-XXXXXX");  // sockets want short paths
  const QString script = DUSK_SOURCE "/demo/outside/farm", slurm = place.filePath("slurm");
  const auto run = [](const QString& program, const QStringList& arguments) {
    QProcess process;
    process.start(program, arguments);
    process.waitForFinished(60'000);
    return std::pair(process.exitCode(), QString(process.readAllStandardOutput()).trimmed());
  };
  const auto [code, said] = run(script, {"start", slurm});
  if (code == 3) QSKIP("Slurm is not installed here (slurmctld slurmd slurm-client munge)");
  QCOMPARE(code, 0);
  const auto stop = qScopeGuard([&] { run(script, {"stop", slurm}); });
  qputenv(said.section('=', 0, 0).toUtf8(), said.section('=', 1).toUtf8());
  qputenv("DUSK_BATCH", DUSK_BATCH);
  takeSmallPhoto();
  session().editShot("one", [](Shot& s) { s.deliverables.pop_back(); });
  QVERIFY(session().save(folder_.filePath("farmed.dusk").toStdString()));
  QCOMPARE(run("scontrol", {"update", "partition=all", "state=down"}).first, 0);
  for (QPushButton* b : window_->findChildren<QPushButton*>())
    if (b->text() == "To the farm") b->menu()->actions()[0]->trigger();
  const auto job = [&]() -> QueuedJob {
    for (const QueuedJob& j : window_->queue().jobs())
      if (j.onFarm) return j;
    return {};
  };
  QTRY_VERIFY_WITH_TIMEOUT(job().state == JobState::waiting && job().onFarm, 30'000);
  QCOMPARE(job().name, session().project().name + " · " + shot().name);
  QCOMPARE(window_->drawer().current(), QString("Queue"));
  grab("farm-waits");
  const auto press = [&](const QString& text) {
    for (QToolButton* b : window_->queue().findChildren<QToolButton*>())
      if (b->text() == text && b->isVisible()) return QTest::mouseClick(b, Qt::LeftButton), true;
    return false;
  };
  QVERIFY(press("Pause"));
  QTRY_COMPARE_WITH_TIMEOUT(job().state, JobState::paused, 15'000);
  QVERIFY2(job().message.find("held") != std::string::npos, job().message.c_str());
  QTRY_VERIFY(press("Resume"));
  QTRY_COMPARE_WITH_TIMEOUT(job().state, JobState::waiting, 15'000);
  const auto array = farmJobIn(job().home);
  QVERIFY(array.ok());
  QCOMPARE(run("scancel", {QString::fromStdString(array->array) + "_2"}).first, 0);
  QCOMPARE(run("scontrol", {"update", "partition=all", "state=up"}).first, 0);
  QTRY_VERIFY_WITH_TIMEOUT(job().state == JobState::failed, 60'000);
  QVERIFY2(job().message.find("1 lost") != std::string::npos, job().message.c_str());
  grab("farm-lost");
  QTRY_VERIFY(press("Try again"));
  QTRY_VERIFY_WITH_TIMEOUT(job().state == JobState::done, 90'000);
  QCOMPARE(window_->queue().jobs().size(), size_t(1));  // and nothing but that
  QCOMPARE(job().files.size(), size_t(1));
  QVERIFY(QFile::exists(QString::fromStdString(job().files[0])));
  QVERIFY(press("Take away"));
  QTRY_VERIFY_WITH_TIMEOUT(!job().onFarm, 10'000);
  QVERIFY(QFile::exists(folder_.filePath("delivered/quay.png")));
}

DUSK_TEST(TestHandOverStation, QApplication);
#include "hand_over_station.moc"
