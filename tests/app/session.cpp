#include "app/document/session.h"

#include <QtTest>

#include "core/base/files.h"
#include "core/project/file.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestSession : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  const fs::path demo_ = fs::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk";
  fs::path copy(const char* name) {
    const fs::path file = fs::path(folder_.path().toStdString()) / name;
    fs::copy_file(demo_, file, fs::copy_options::overwrite_existing);
    return file;
  }

 private slots:
  void initTestCase() { QStandardPaths::setTestModeEnabled(true); }
  void everyEditIsOneUndoableStep();
  void changedTellsWhatMustBeMadeAnew();
  void nothingChangedSaysNothing();
  void evidenceSolvesUnlessLocked();
  void impossibleEvidenceKeepsTheLastCamera();
  void undoAlsoBringsBackTheAnswer();
  void anotherPhotoSizeTakesTheEvidenceAway();
  void newProductStandsInView();
  void failedSaveLosesNothing();
  void failedOpenKeepsWhatIsOpen();
  void journalLivesOnlyWhileThereIsUnsavedWork();
  void whatWasLetGoStaysAway();
  void brokenJournalIsIgnored();
  void emptyProjectHasAShot();
};

void TestSession::everyEditIsOneUndoableStep() {
  Session s;
  QVERIFY(s.open(demo_));
  const Project start = s.project();
  s.edit("a", [](Project& p) { p.name = "a"; });
  s.editShot("b", [](Shot& shot) { shot.render.samples = 7; });
  s.editEvidence("c", [](Evidence& e) { e.strokes.pop_back(); });
  QCOMPARE(s.history().undoText(), std::string("c"));
  s.undo(), s.undo(), s.undo();
  QVERIFY(s.project() == start);
  QVERIFY(!s.history().canUndo());
  s.redo();
  QCOMPARE(s.project().name, std::string("a"));
}

void TestSession::changedTellsWhatMustBeMadeAnew() {
  Session s;
  QVERIFY(s.open(demo_));
  Changes last;
  connect(&s, &Session::changed, this, [&](const Changes& what) { last = what; });
  s.editShot("grade", [](Shot& shot) { shot.blend.warmth = 0.1; });
  QVERIFY(last.blend && !last.trace);
  s.undo();
  QVERIFY(last.blend && !last.trace);
  s.edit("surface", [](Project& p) { p.surfaces[0].roughness = 0.11; });
  QVERIFY(last.trace && !last.geometry);
}

void TestSession::nothingChangedSaysNothing() {
  Session s;
  QVERIFY(s.open(demo_));
  QSignalSpy changed(&s, &Session::changed);
  s.edit("nothing", [](Project&) {});
  s.editShot("the same", [](Shot& shot) { shot.render.samples = shot.render.samples + 0; });
  QCOMPARE(changed.count(), 0);
  QVERIFY(s.isSaved() && !s.history().canUndo());
}

void TestSession::evidenceSolvesUnlessLocked() {
  Session s;
  QVERIFY(s.open(demo_));
  const Camera before = s.shot().vantage.camera;
  const auto nudge = [](Evidence& e) { e.strokes[0].points[0] += Vec2d(2, 1); };
  s.editShot("lock", [](Shot& shot) { shot.vantage.locked = true; });
  s.editEvidence("nudge", nudge);
  QVERIFY(s.shot().vantage.camera == before);
  s.undo(), s.undo();
  s.editEvidence("nudge", nudge);
  QVERIFY(s.shot().vantage.solved && !(s.shot().vantage.camera == before));
  QVERIFY(std::abs(s.shot().vantage.camera.focalPx / before.focalPx - 1) < 0.02);
}

void TestSession::impossibleEvidenceKeepsTheLastCamera() {
  Session s;
  QVERIFY(s.open(demo_));
  const Camera before = s.shot().vantage.camera;
  s.editEvidence("take all away", [](Evidence& e) { e = {}; });
  QVERIFY(s.shot().vantage.solved);
  QVERIFY(s.shot().vantage.camera == before);
  QVERIFY(!s.answer().vantage.solved && !s.answer().advice.empty());  // and it is said
}

void TestSession::undoAlsoBringsBackTheAnswer() {
  Session s;
  QVERIFY(s.open(demo_));
  const size_t items = s.answer().items.size();
  QVERIFY(items > 5);
  s.editEvidence("fewer", [](Evidence& e) { e.strokes.pop_back(); });
  QCOMPARE(s.answer().items.size(), items - 1);
  s.undo();
  QCOMPARE(s.answer().items.size(), items);
}

void TestSession::anotherPhotoSizeTakesTheEvidenceAway() {
  Session s;
  QVERIFY(s.open(demo_));
  Photo same, other;
  same.picture = Picture::rgb(1920, 1280);
  other.picture = Picture::rgb(640, 480);
  other.info.focalMm35 = 28;
  s.editShot("loop", [](Shot& shot) { shot.cleanUps.resize(1); });
  s.setPlate({"same.jpg", "1"}, same);
  QVERIFY(s.shot().cleanUps.size() == 1 && s.shot().vantage.solved && !s.shot().evidence.strokes.empty());
  s.setPlate({"other.jpg", "2"}, other);
  QVERIFY(!s.shot().vantage.solved && s.shot().evidence.strokes.empty() && !s.shot().gnomon);
  QVERIFY(s.shot().cleanUps.empty());
  QCOMPARE(s.shot().vantage.camera.width, 640);
  QCOMPARE(*s.shot().evidence.focalMm35, 28.0);  // EXIF as a prior
  s.undo();
  QVERIFY(s.shot().vantage.solved);
}

void TestSession::newProductStandsInView() {
  Session s;
  QVERIFY(s.open(demo_));
  Model model;
  model.metresPerUnit = 0.01, model.up = UpAxis::y;
  s.addProduct({"x.obj", "1"}, model, "Thing");
  QCOMPARE(s.project().products.size(), size_t(2));
  QCOMPARE(s.project().products[1].metresPerUnit, 0.01);
  const Placement& p = s.shot().placements[1];
  QCOMPARE(p.productId, s.project().products[1].id);
  const auto pixel = projected(s.shot().vantage.camera, {p.xM, p.yM, 0});
  QVERIFY(pixel && pixel->x > 0 && pixel->x < 1920 && pixel->y > 0 && pixel->y < 1280);
  // Before one colour the camera goes to the first, unless it is locked, and stays for others.
  for (const bool locked : {false, true}) {
    Session made;
    model.add({"part", "part"}, Mesh{{{0, 0, 0}, {400, 0, 0}, {0, 900, 0}}, {}, {}, {}, {0, 1, 2}});
    made.editBackdrop("plain", [&](Backdrop& b) { b.kind = BackdropKind::plain, b.locked = locked; });
    const Backdrop before = made.shot().backdrop;
    made.addProduct({"x.obj", "1"}, model, "Large");
    const Backdrop after = made.shot().backdrop;
    QCOMPARE(after == before, locked);
    QVERIFY(locked || (after.distanceM > 5 && made.shot().placements[0].xM == after.aimXM));
    made.addProduct({"y.obj", "1"}, model, "Other");
    QVERIFY(made.shot().backdrop == after);
  }
}

void TestSession::failedSaveLosesNothing() {
  Session s;
  const fs::path file = copy("keep.dusk");
  QVERIFY(s.open(file));
  const std::string before = *readFile(file);
  s.edit("x", [](Project& p) { p.name = "changed"; });
  QStringList trouble;
  connect(&s, &Session::said, this, [&](const QString& text, bool bad) {
    if (bad) trouble << text;
  });
  QVERIFY(!s.save("/no/such/folder/keep.dusk"));
  QCOMPARE(trouble.size(), 1);
  QCOMPARE(s.project().name, std::string("changed"));
  QVERIFY(!s.isSaved() && s.file() == file);
  QCOMPARE(*readFile(file), before);
}

void TestSession::failedOpenKeepsWhatIsOpen() {
  Session s;
  QVERIFY(s.open(demo_));
  const Project before = s.project();
  QVERIFY(!s.open("/no/such.dusk"));
  QVERIFY(writeFileAtomically(fs::path(folder_.path().toStdString()) / "bad.dusk", "{").ok());
  QVERIFY(!s.open(fs::path(folder_.path().toStdString()) / "bad.dusk"));
  QVERIFY(s.project() == before && s.file() == demo_);
}

void TestSession::journalLivesOnlyWhileThereIsUnsavedWork() {
  Session s;
  const fs::path file = copy("journal.dusk"), journal = journalOf(file);
  QVERIFY(s.open(file));
  s.edit("x", [](Project& p) { p.name = "changed"; });
  QVERIFY(QTest::qWaitFor([&] { return fs::exists(journal); }, 5000));
  QTest::qWait(50);
  QCOMPARE(loadProject(journal)->name, std::string("changed"));
  s.undo();
  QVERIFY(QTest::qWaitFor([&] { return !fs::exists(journal); }, 5000));
  s.redo();
  QVERIFY(QTest::qWaitFor([&] { return fs::exists(journal); }, 5000));
  QTest::qWait(50);
  QVERIFY(s.save(file));
  QVERIFY(!fs::exists(journal));
}

void TestSession::whatWasLetGoStaysAway() {
  Session s;
  const fs::path file = copy("let-go.dusk");
  QVERIFY(s.open(file));
  for (int i = 0; i < 5; ++i) {
    s.edit("x", [&](Project& p) { p.name = "changed " + std::to_string(i); });
    QVERIFY(QTest::qWaitFor([&] { return fs::exists(journalOf(file)); }, 5000));
    s.dropJournal();
    QVERIFY(s.open(file));  // at once: the journal is being taken away
    QVERIFY(s.isSaved() && !s.history().canUndo());
  }
}

void TestSession::brokenJournalIsIgnored() {
  const fs::path file = copy("broken.dusk");
  QVERIFY(writeFileAtomically(journalOf(file), "half a proj").ok());
  Session s;
  QVERIFY(s.open(file));
  QVERIFY(s.isSaved());
}

void TestSession::emptyProjectHasAShot() {
  Session s;
  s.startEmpty();
  QCOMPARE(s.project().shots.size(), size_t(1));
  QVERIFY(s.isSaved() && s.file().empty());
  QVERIFY(!s.shot().vantage.solved);
  // Evidence without a photo is harmless.
  s.editEvidence("draw", [](Evidence& e) { e.strokes.push_back({"s", Run::a, {{0, 0}, {1, 1}}}); });
  QVERIFY(!s.shot().vantage.solved);
}

DUSK_TEST(TestSession, QCoreApplication);
#include "session.moc"
