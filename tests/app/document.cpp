#include <QtTest>
#include <QtWidgets>

#include "app/stations/light/light_jobs.h"
#include "app/stations/plate/photo_jobs.h"
#include "app/stations/product/model_jobs.h"
#include "app/window/notices.h"
#include "tests/app/demo_window.h"

#include "core/base/files.h"
#include "core/project/shots.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// Nothing a person does is lost, lands in the wrong place, or gets stuck.
class TestDocument : public DemoWindow {
  Q_OBJECT
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  fs::path copyOf(const char* name) {
    const fs::path to = fs::path(demo_.toStdString()) / name;
    fs::copy_file(demo_.toStdString() + "brackwater.dusk", to, fs::copy_options::overwrite_existing);
    fs::remove(journalOf(to));
    return to;
  }
  /// Presses a button of the question that comes up next; which question it was.
  QString* answerNext(const QString& button) {
    auto* question = new QString;
    auto* timer = new QTimer(this);
    connect(timer, &QTimer::timeout, this, [=] {
      auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
      if (!box) return;
      *question = box->text() + " " + box->informativeText();
      timer->deleteLater();
      timer->stop();
      for (QAbstractButton* b : box->buttons())
        if (b->text() == button) return QTest::mouseClick(b, Qt::LeftButton);
      box->reject();
    });
    timer->start(20);
    return question;
  }
  QString untitledFolder() { return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation); }
  void removeUntitled() {
    for (const QFileInfo& f :
         QDir(untitledFolder()).entryInfoList({"untitled-*"}, QDir::Files | QDir::Hidden))
      QFile::remove(f.absoluteFilePath());
  }

 private slots:
  void initTestCase() {
    copyDemo();
    QCoreApplication::setApplicationName("dusk-test-document");
  }
  void init() { removeUntitled(); }
  void cleanup() { window_.reset(); }
  void untitledWorkComesBack();
  void untitledWorkOfAnotherWindowIsNot();
  void discardedUntitledWorkStaysAway();
  void aContinuousDragIsKeptToo();
  void workOnAnotherFileIsSetAside();
  void saveElsewhereKeepsUndoValid();
  void twoWindowsOfOneProject();
  void savingOverAnOpenProjectIsRefused();
  void theCloseQuestion();
  void closingWhileDeliveringAsks();
  void newAndOpenStopTheOldTrace();
  void recentFilesOpen();
  void aPhotoOnAPlainBackdropBecomesIt();
  void sunFromTimeAndPlaceMakesOne();
  void jobsOfTheOldDocumentNeverLand_data();
  void jobsOfTheOldDocumentNeverLand();
  void severalModelsAtOnce();
  void changedFilesAreToldAndTaken();
  void remoteLinksAreRefused();
  void filesDropAnywhere();
};

void TestDocument::untitledWorkComesBack() {
  {
    Session lost;
    lost.edit("x", [](Project& p) { p.name = "never saved"; });
    QTRY_VERIFY(!QDir(untitledFolder()).entryList({"untitled-*.journal"}, QDir::Files).isEmpty());
    lost.finishWriting();
  }  // ends without a word, as by a crash: nobody saved and nobody let it go
  Session next;
  QSignalSpy said(&next, &Session::said);
  QVERIFY(next.bringBackUntitled());
  QCOMPARE(next.project().name, std::string("never saved"));
  QVERIFY(!next.isSaved() && said.count() == 1);
  next.undo();
  QVERIFY(next.project() == emptyProject());
  next.redo();
  QVERIFY(next.save(in("kept.dusk")));
  next.finishWriting();
  QVERIFY(QDir(untitledFolder()).entryList({"untitled-*.journal"}, QDir::Files).isEmpty());
  Session third;
  QVERIFY(!third.bringBackUntitled());
}

void TestDocument::untitledWorkOfAnotherWindowIsNot() {
  Session other;
  other.edit("x", [](Project& p) { p.name = "still open"; });
  QTRY_VERIFY(!QDir(untitledFolder()).entryList({"untitled-*.journal"}, QDir::Files).isEmpty());
  Session next;
  QVERIFY(!next.bringBackUntitled());
  next.edit("y", [](Project& p) { p.name = "mine"; });
  QTRY_COMPARE(QDir(untitledFolder()).entryList({"untitled-*.journal"}, QDir::Files).size(), 2);
}

void TestDocument::discardedUntitledWorkStaysAway() {
  Session s;
  for (int i = 0; i < 5; ++i) {
    s.edit("x", [i](Project& p) { p.name = std::to_string(i); });
    QTest::qWait(i * 180);  // at any moment of the writing
    s.dropJournal();
    s.finishWriting();
    QVERIFY(QDir(untitledFolder()).entryList({"untitled-*.journal"}, QDir::Files).isEmpty());
  }
  QTest::qWait(900);
  QVERIFY(QDir(untitledFolder()).entryList({"untitled-*.journal"}, QDir::Files).isEmpty());
}

void TestDocument::aContinuousDragIsKeptToo() {
  const fs::path file = copyOf("dragged.dusk");
  Session s;
  QVERIFY(s.open(file));
  QElapsedTimer clock;
  clock.start();
  const int gesture = Session::newGesture();
  while (clock.elapsed() < 1500 && !fs::exists(journalOf(file))) {
    s.editShot(
        "slide", [](Shot& shot) { shot.placements[0].xM += 1e-4; }, gesture);
    QTest::qWait(15);
  }
  QVERIFY(fs::exists(journalOf(file)));  // though there was never a rest
}

void TestDocument::workOnAnotherFileIsSetAside() {
  const fs::path file = copyOf("aside.dusk");
  Session s;
  QVERIFY(s.open(file));
  s.editShot("x", [](Shot& shot) { shot.placements[0].turnDegrees = 33; });
  QTRY_VERIFY(fs::exists(journalOf(file)));
  s.finishWriting();
  // Something else writes the project meanwhile.
  Project other = *loadProject(file);
  other.name = "by somebody else";
  QVERIFY(saveProject(other, file).ok());
  Session next;
  QVERIFY(next.open(file, Session::OpenAs::look));  // only looks: touches nothing
  QVERIFY(fs::exists(journalOf(file)));
  s.startEmpty();
  QVERIFY(next.open(file));
  QVERIFY(next.project() == other && next.isSaved());
  const fs::path aside = file.parent_path() / "aside (unsaved work).dusk";
  QVERIFY(fs::exists(aside) && !fs::exists(journalOf(file)));
  QCOMPARE(loadProject(aside)->shots[0].placements[0].turnDegrees, 33.0);
}

void TestDocument::saveElsewhereKeepsUndoValid() {
  openDemo();
  session().editShot("a", [](Shot& s) { s.placements[0].xM = 0.3; });
  fs::create_directories(in("far/away"));
  QVERIFY(session().save(in("far/away/copy.dusk")));
  const auto linked = [&] { return fs::exists(session().assets()->pathOf(shot().plate)); };
  QVERIFY(linked());
  QVERIFY(session().assets()->loadedModel(session().project().products[0]));  // nothing is read again
  QCOMPARE(session().history().undoText(), std::string("a"));                 // saving is no step
  session().undo();
  QVERIFY(linked());
  QVERIFY(waitForSamples(1));
  session().redo();
  QVERIFY(linked() && session().isSaved());
}

void TestDocument::twoWindowsOfOneProject() {
  const fs::path file = copyOf("shared.dusk");
  openDemo("shared.dusk");
  MainWindow other;
  QString* question = answerNext("Only look");
  other.open(QString::fromStdString(file.string()));
  QVERIFY2(question->contains("open in another window"), qPrintable(*question));
  QVERIFY(other.session().file() == file && other.session().needsPlace());
  QVERIFY(other.windowTitle().contains("only looking"));
  other.session().editShot("x", [](Shot& s) { s.blend.warmth = 1; });
  QTest::qWait(900);
  QVERIFY(!fs::exists(journalOf(file)));  // what the first window has is not this one's to keep
  other.session().dropJournal();
  question = answerNext("Work on a copy");
  other.open(QString::fromStdString(file.string()));
  QVERIFY(other.session().file().empty());
  QVERIFY(fs::exists(other.session().assets()->pathOf(other.session().shot().plate)));
  // Once it is closed here, it opens there.
  session().startEmpty();
  QVERIFY(!other.session().heldElsewhere(file));
}

void TestDocument::savingOverAnOpenProjectIsRefused() {
  const fs::path file = copyOf("held.dusk");
  openDemo("held.dusk");
  Session other;
  QSignalSpy said(&other, &Session::said);
  other.edit("x", [](Project& p) { p.name = "intruder"; });
  QVERIFY(!other.save(file));
  QCOMPARE(said.count(), 1);
  QVERIFY(loadProject(file)->name != "intruder");
  QVERIFY(other.save(in("own.dusk")));
}

void TestDocument::theCloseQuestion() {
  openDemo();
  QVERIFY(window_->close());  // nothing to lose: nothing asked
  openDemo();
  session().editShot("x", [](Shot& s) { s.blend.warmth = 0.5; });
  QString* question = answerNext("Cancel");
  QVERIFY(!window_->close());
  QVERIFY(question->contains("Changes since the last save will be lost."));
  QVERIFY(window_->isVisible() && !session().isSaved());
  answerNext("Save");
  QVERIFY(window_->close());
  QCOMPARE(loadProject(project_.toStdString())->shots[0].blend.warmth, 0.5);
  openDemo();
  session().editShot("x", [](Shot& s) { s.blend.warmth = 0.9; });
  QTRY_VERIFY(QFile::exists(project_ + ".journal"));
  answerNext("Discard");
  QVERIFY(window_->close());
  QVERIFY(!QFile::exists(project_ + ".journal"));
  QCOMPARE(loadProject(project_.toStdString())->shots[0].blend.warmth, 0.5);
}

void TestDocument::closingWhileDeliveringAsks() {
  openDemo();
  window_->deliverInto(folder_.filePath("asked"));
  answerNext("Cancel");
  QVERIFY(!window_->close());
  QVERIFY(window_->jobs().isRunning("deliver"));
  QString* question = answerNext("Give them up");
  QVERIFY(window_->close());
  QVERIFY2(question->contains("still being written"), qPrintable(*question));
  window_.reset();
  for (const QString& file : QDir(folder_.filePath("asked")).entryList(QDir::Files | QDir::Hidden))
    QVERIFY2(!file.startsWith(".half"), qPrintable(file));
}

void TestDocument::newAndOpenStopTheOldTrace() {
  openDemo();
  QVERIFY(waitForSamples(1));
  session().editShot("long", [](Shot& s) { s.render.samples = 4000; });
  QTest::qWait(400);
  QSignalSpy frames(&window_->preview(), &Preview::frameReady);
  session().startEmpty();
  QTest::qWait(300);
  frames.clear();
  QTest::qWait(700);
  QCOMPARE(frames.count(), 0);
  QVERIFY(!picture().frame());
}

void TestDocument::recentFilesOpen() {
  openDemo();
  const fs::path other = copyOf("recent.dusk");
  window_->open(QString::fromStdString(other.string()));
  QMenu* recent = nullptr;
  for (QMenu* m : window_->findChildren<QMenu*>())
    if (m->title() == "Recent") recent = m;
  QVERIFY(recent && recent->actions().size() >= 2);
  QVERIFY(recent->actions()[0]->text().startsWith("recent.dusk"));
  recent->actions()[1]->trigger();
  QVERIFY(session().file() == fs::path(project_.toStdString()));
}

void TestDocument::aPhotoOnAPlainBackdropBecomesIt() {
  openDemo();
  session().editBackdrop("plain", [](Backdrop& b) { b.kind = BackdropKind::plain; });
  session().setStation(Station::blend);
  window_->take({demo_ + "quay-plate.jpg"});
  QTRY_COMPARE_WITH_TIMEOUT(shot().backdrop.kind, BackdropKind::photo, 20'000);
  QCOMPARE(shot().vantage.camera.width, 1920);
  QVERIFY(!shot().vantage.solved);  // the hand-set camera was not the photo's
  session().undo();
  QCOMPARE(shot().backdrop.kind, BackdropKind::plain);
}

void TestDocument::sunFromTimeAndPlaceMakesOne() {
  openDemo();
  session().setStation(Station::light);
  session().editShot("no sun", [](Shot& s) { s.lamps.clear(), s.surroundings.sunApart = false; });
  const size_t steps = session().history().size();
  auto* fold = named<QToolButton>("Sun from time and place");
  if (!fold->isChecked()) fold->click();
  auto* when = window_->findChild<QDateTimeEdit*>();
  when->setDateTime(QDateTime(QDate(2026, 6, 21), QTime(12, 0)));
  QTRY_VERIFY(button("Sun from time and place")->height() > 10);
  QTest::mouseClick(button("Sun from time and place"), Qt::LeftButton);
  QCOMPARE(shot().lamps.size(), size_t(1));
  // Noon at midsummer, 54 degrees north, ten degrees east by a clock on UTC: high and a little past south.
  QVERIFY2(shot().lamps[0].elevationDegrees > 55 && shot().lamps[0].elevationDegrees < 60,
           qPrintable(QString::number(shot().lamps[0].elevationDegrees)));
  QCOMPARE(session().history().size(), steps + 1);  // made and set in one step
}

void TestDocument::jobsOfTheOldDocumentNeverLand_data() {
  QTest::addColumn<int>("job");
  int i = 0;
  for (const char* name : {"photo", "panorama", "model", "project's own model", "align", "match the ground",
                           "find edges", "revise", "brackets", "camera", "gather"})
    QTest::newRow(name) << i++;
}

void TestDocument::jobsOfTheOldDocumentNeverLand() {
  QFETCH(int, job);
  openDemo();
  Workbench& bench = window_->bench();
  const fs::path other = copyOf("other.dusk");
  switch (job) {
    case 0:
      takePhoto(bench, demo_ + "quay-plate.jpg");
      break;
    case 1:
      takePanorama(bench, demo_ + "quay-panorama.exr");
      break;
    case 2:
      takeModels(bench, {demo_ + "brackwater-mini.step"});
      break;
    case 3:
      window_->open(demo_ + "brackwater-pair.dusk");
      break;
    case 4:
    case 5:
      session().setStation(Station::light);
      for (QPushButton* b : window_->findChildren<QPushButton*>())
        if (b->text() == (job == 4 ? "Align with the photo" : "Match the ground")) b->click();
      break;
    case 6:
      bench.vantageWork.findEdges();
      break;
    case 7:
      takeRevision(bench, demo_ + "brackwater-mini.step");
      break;
    case 8:
      takeBrackets(bench, {demo_ + "quay-plate.jpg", demo_ + "quay-plate.jpg"});
      break;
    case 9:
      bench.jobs.run<int>(
          {"Camera", "camera"}, [](Progress&) -> Result<int> { return 1; },
          [this](int&) { session().edit("spoil it", [](Project& p) { p.name = "spoilt"; }); });
      break;
    default:
      bench.jobs.run<int>(
          {"Out", "gather", Lane::outgoing}, [](Progress&) -> Result<int> { return 1; },
          [this](int&) { session().edit("spoil it", [](Project& p) { p.name = "spoilt"; }); });
  }
  QVERIFY2(job == 5 || !window_->jobs().all().empty(), "it takes its time");
  QSignalSpy changed(&session(), &Session::changed);
  window_->open(QString::fromStdString(other.string()));
  const Project opened = session().project();
  window_->jobs().finish();
  QTest::qWait(50);
  QVERIFY(session().project() == opened);
  QVERIFY(session().isSaved() && !session().history().canUndo());
  QVERIFY(!window_->findChild<QDialog*>("revise"));
  QVERIFY(!bench.vantageWork.proposal());
}

void TestDocument::severalModelsAtOnce() {
  openDemo();
  const size_t before = shot().placements.size();
  window_->take({demo_ + "brackwater-mini.step", demo_ + "brackwater-gauge.step"});
  QVERIFY(QTest::qWaitFor([&] { return shot().placements.size() == before + 2; }, 120'000));
  QCOMPARE(session().project().products.size(), size_t(3));
}

void TestDocument::changedFilesAreToldAndTaken() {
  Project p = *loadProject(demo_.toStdString() + "brackwater.dusk");
  const fs::path plate = fs::path(demo_.toStdString()) / "changing.jpg",
                 file = fs::path(demo_.toStdString()) / "changing.dusk";
  fs::copy_file(demo_.toStdString() + "quay-plate.jpg", plate, fs::copy_options::overwrite_existing);
  p.shots[0].plate = *AssetStore(demo_.toStdString()).refer(plate);
  const std::string hash = p.shots[0].plate.hash;
  QVERIFY(saveProject(p, file).ok());
  std::string bytes = *readFile(plate);
  bytes += '\0';  // the same picture, but not the same file
  QVERIFY(writeFileAtomically(plate, bytes).ok());
  openDemo("changing.dusk");
  const auto told = [&] {
    return !window_->notices().messages().filter("changing.jpg has changed").isEmpty();
  };
  QTRY_VERIFY_WITH_TIMEOUT(told(), 30'000);
  QTest::mouseClick(button("Take it as it is"), Qt::LeftButton);
  QTRY_VERIFY_WITH_TIMEOUT(shot().plate.hash != hash, 10'000);
  QVERIFY(!told());
  session().undo();
  QCOMPARE(shot().plate.hash, hash);
}

void TestDocument::remoteLinksAreRefused() {
  openDemo();
  const Project before = session().project();
  QMimeData data;
  data.setUrls({QUrl("https://example.org/quay.jpg")});
  QDragEnterEvent enter({200, 200}, Qt::CopyAction, &data, Qt::LeftButton, {});
  QApplication::sendEvent(window_.get(), &enter);
  QDropEvent drop({200, 200}, Qt::CopyAction, &data, Qt::LeftButton, {});
  QApplication::sendEvent(window_.get(), &drop);
  QCOMPARE(window_->notices().messages().filter("quay.jpg").size(), 1);
  QVERIFY(session().project() == before);
}

void TestDocument::filesDropAnywhere() {
  openDemo();
  QMimeData data;
  data.setUrls({QUrl::fromLocalFile(demo_ + "brackwater-mini.step")});
  window_->showView(MainWindow::View::plan);
  for (const char* name : {"desk", "cast", "drawer", "horizon", "header"}) {
    QWidget* at = nullptr;
    for (QWidget* w : window_->findChildren<QWidget*>(name))
      if (w->isVisible()) at = w;
    QVERIFY2(at, name);
    // As the window system does: whoever takes the drag, from the widget under the pointer upwards.
    bool taken = false;
    for (QWidget* w = at; w && !taken; w = w->parentWidget()) {
      if (!w->acceptDrops()) continue;
      QDragEnterEvent enter({5, 5}, Qt::CopyAction, &data, Qt::LeftButton, {});
      QApplication::sendEvent(w, &enter);
      taken = enter.isAccepted();
    }
    QVERIFY2(taken, name);
  }
  const size_t before = shot().placements.size();
  QDropEvent drop({5, 5}, Qt::CopyAction, &data, Qt::LeftButton, {});
  QApplication::sendEvent(window_.get(), &drop);
  QVERIFY(QTest::qWaitFor([&] { return shot().placements.size() == before + 1; }, 60'000));
}

DUSK_TEST(TestDocument, QApplication);
#include "document.moc"
