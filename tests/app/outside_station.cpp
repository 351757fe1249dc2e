#include "core/picture/write.h"
#include "core/surface/material_file.h"
#include "demo_window.h"
#include "tests/program.h"
#include "tests/served_shelf.h"

using namespace dusk;

/// What lies outside, worked by hand in the window: a shelf that is looked at, tried and fetched from, and a
/// camera whose exposures light the shot as they come.
class TestOutsideStation : public DemoWindow {
  Q_OBJECT
  std::unique_ptr<ServedShelf> served_;

  template <typename W>
  W* seen(const QString& name) {
    for (W* w : window_->findChildren<W*>())
      if (w->accessibleName() == name && w->isVisible()) return w;
    return nullptr;
  }
  QPushButton* shown(const QString& text) {
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->text() == text && b->isVisible()) return b;
    return nullptr;
  }
  void unfold(const QString& name) {
    for (QToolButton* fold : window_->findChildren<QToolButton*>())
      if (fold->accessibleName() == name && fold->isVisible()) fold->click();
    QTest::qWait(50);
  }
  std::string file(const std::filesystem::path& path) { return *readFile(path, 1 << 24); }
  std::string skyAs(int width) {
    const std::filesystem::path at = folder_.filePath("sky.exr").toStdString();
    Picture sky = Picture::rgb(width, width / 2);
    for (float& v : sky.pixels) v = 0.5f;
    return writeExr(at, {{"panorama", &sky, false}}) ? file(at) : "";
  }
  std::string feltAs(double grey) {
    Surface felt;
    felt.name = "Felt", felt.baseColour = Vec3d(grey, grey, grey);
    MaterialNotes notes;
    return materialFileOf({felt}, notes);
  }
  void lookAtShelf(const QStringList& how = {}) {
    auto* address = seen<QComboBox>("Address of the shelf");
    QVERIFY(address);
    address->lineEdit()->setFocus();
    address->lineEdit()->selectAll();
    QTest::keyClicks(address->lineEdit(), QString::fromStdString(served_->serve(how)));
    QTest::mouseClick(shown("Look"), Qt::LeftButton);
    QVERIFY(QTest::qWaitFor([&] { return seen<QListWidget>("On the shelf") != nullptr; }, 20'000));
  }
  QString lights() { return QString::fromStdString(shot().surroundings.panorama.path); }

 private slots:
  void initTestCase() {
    copyDemo();
    qputenv("XDG_DATA_HOME", folder_.filePath("data").toUtf8());
  }
  void init() {
    served_ = std::make_unique<ServedShelf>();
    auto& low = served_->add("low-sky", "panorama", {served_->file("a/low.exr", skyAs(256))});
    low["preview"] = {served_->file("a/small.exr", skyAs(32))};
    low["licence"] = "CC0-1.0", low["tags"] = {"evening"};
    served_->add("noon", "panorama", {served_->file("b/noon.exr", skyAs(128))});
    auto& felt = served_->add("felt", "surface", {served_->file("c/felt.mtlx", feltAs(0.25))});
    felt["preview"] = {served_->file("c/small/felt.mtlx", feltAs(0.75))};
    served_->save();
    openDemo();
  }
  void cleanup() { window_.reset(); }

  void aPanoramaIsFoundTriedAndFetched();
  void aSurfaceIsTriedOnAndFetched();
  void aShelfThatIsGoneStillGivesWhatCame();
  void aCameraLightsTheShot();
};

void TestOutsideStation::aPanoramaIsFoundTriedAndFetched() {
  session().setStation(Station::light);
  unfold("A shelf on the network");
  lookAtShelf();
  auto* list = seen<QListWidget>("On the shelf");
  QCOMPARE(list->count(), 2);
  QTest::keyClicks(seen<QLineEdit>("Find on the shelf"), "EVENING");
  QCOMPARE(list->count(), 1);
  const QString before = lights();
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
  QTest::mouseClick(shown("Try it"), Qt::LeftButton);
  QVERIFY(QTest::qWaitFor([&] { return lights().endsWith("preview/a/small.exr"); }, 20'000));
  QTest::mouseClick(shown("Fetch and use"), Qt::LeftButton);
  QVERIFY(QTest::qWaitFor([&] { return lights().endsWith("files/a/low.exr"); }, 20'000));
  QVERIFY(shown("Use it"));
  // What was tried went with the same step.
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QCOMPARE(lights(), before);
}

void TestOutsideStation::aSurfaceIsTriedOnAndFetched() {
  session().setStation(Station::surface);
  session().selectPart(session().product()->surfaceOfPart.begin()->first);
  unfold("A shelf on the network");
  lookAtShelf();
  auto* list = seen<QListWidget>("On the shelf");
  QCOMPARE(list->count(), 1);
  list->setCurrentRow(0);
  const size_t surfaces = session().project().surfaces.size();
  const auto grey = [&] {
    const Surface* s = session().surfaceInHand(session().project());
    return s && s->name.find("Felt") == 0 ? s->baseColour.x : -1;
  };
  QTest::mouseClick(shown("Try it"), Qt::LeftButton);
  QVERIFY(QTest::qWaitFor([&] { return std::abs(grey() - 0.75) < 0.01; }, 20'000));
  QTest::mouseClick(shown("Fetch and use"), Qt::LeftButton);
  QVERIFY(QTest::qWaitFor([&] { return std::abs(grey() - 0.25) < 0.01; }, 20'000));
  QCOMPARE(session().project().surfaces.size(), surfaces + 1);
}

void TestOutsideStation::aShelfThatIsGoneStillGivesWhatCame() {
  session().setStation(Station::light);
  unfold("A shelf on the network");
  lookAtShelf();
  auto* list = seen<QListWidget>("On the shelf");
  list->setCurrentRow(1);
  QTest::keyClick(list, Qt::Key_Return);
  QVERIFY(QTest::qWaitFor([&] { return lights().endsWith("files/b/noon.exr"); }, 20'000));
  served_->end();
  QTest::mouseClick(shown("Look"), Qt::LeftButton);
  const auto said = [&] {
    for (QLabel* l : window_->findChildren<QLabel*>())
      if (l->isVisible() && l->text().contains("What was fetched before can be used")) return true;
    return false;
  };
  QVERIFY(QTest::qWaitFor(said, 30'000));
  list->setCurrentRow(1);
  QVERIFY(shown("Use it"));
  list->setCurrentRow(0);
  QTest::mouseClick(shown("Fetch and use"), Qt::LeftButton);
  const auto refused = [&] {
    for (QLabel* l : window_->findChildren<QLabel*>())
      if (l->text().contains("does not answer") && l->isVisible()) return true;
    return false;
  };
  QVERIFY(QTest::qWaitFor(refused, 30'000));
  QVERIFY(lights().endsWith("files/b/noon.exr"));
}

void TestOutsideStation::aCameraLightsTheShot() {
  session().setStation(Station::light);
  unfold("Watch a camera's folder");
  const QString card = folder_.filePath("card");
  QDir().mkpath(card);
  seen<QAbstractSpinBox>("Photos in a set")->setFocus();
  static_cast<QDoubleSpinBox*>(seen<QAbstractSpinBox>("Photos in a set"))->setValue(9);
  // The folder is chosen in a dialog, where its name is typed.
  QTimer::singleShot(500, [&] {
    QWidget* dialog = QApplication::activeModalWidget();
    auto* name = dialog ? dialog->findChild<QLineEdit*>("fileNameEdit") : nullptr;
    if (!name) return dialog ? void(dialog->close()) : void();
    name->setText(card);
    QTest::keyClick(name, Qt::Key_Return);
  });
  QTest::mouseClick(shown("Watch a folder…"), Qt::LeftButton);
  QVERIFY(shown("Watch it no more"));
  QTest::qWait(1200);  // it has looked into the empty folder
  QProcess camera;
  camera.start(DUSK_SOURCE "/demo/outside/camera", {card, "--pause", "0.05"});
  QVERIFY(QTest::qWaitFor([&] { return lights().endsWith("-merged.exr"); }, 60'000));
  camera.waitForFinished();
  auto* list = seen<QListWidget>("Sets that came");
  QVERIFY(list && list->count() == 1);
  QVERIFY2(list->item(0)->text().contains("9 photos"), qPrintable(list->item(0)->text()));
  window_->activateWindow();  // the dialog was, and shortcuts are the active window's
  QVERIFY(QTest::qWaitForWindowActive(window_.get()));
  list->setFocus();  // number fields take back what was typed in them
  QTest::keySequence(window_.get(), QKeySequence::Undo);
  QVERIFY2(!lights().endsWith("-merged.exr"), qPrintable(lights()));
}

DUSK_TEST(TestOutsideStation, QApplication);
#include "outside_station.moc"
