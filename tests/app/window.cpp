#include <QtTest>
#include <QtWidgets>
#include <fstream>

#include "app/cast/cast.h"
#include "app/window/drawer.h"
#include "app/window/notices.h"
#include "core/picture/read.h"
#include "core/product/settle.h"
#include "tests/app/demo_window.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// Drives the real window by real events.
class TestWindow : public DemoWindow {
  Q_OBJECT
 private slots:
  void initTestCase() { copyDemo(); }
  void init() { openDemo(); }
  void cleanup() { window_.reset(); }
  void opensWithAPictureSoon();
  void nothingIsCutOffAt1280x800();
  void whatIsSaidOfTheRenderTakesNoRoom();
  void everyControlIsNamed();
  void keysAloneReachEveryArea();
  void dragSlidesTheProductAndUndoBringsItBack();
  void knobTurnsTheProduct();
  void settleLetsItDown();
  void surfaceDroppedOnAPart();
  void lightFieldsReachTheProject();
  void gradeKeepsTheSamples();
  void undoAllReturnsToTheFile();
  void deliveredEqualsHeadless();
  void saveAndOpenAgain();
  void unsavedWorkComesBackAfterACrash();
  void badFilesAreSaidAndNothingIsLost();
};

void TestWindow::opensWithAPictureSoon() {
  QVERIFY(waitForSamples(1));
  const Frame& frame = *picture().frame();
  QVERIFY(frame.picture.width() > 500);
  int different = 0;
  for (int y = 0; y < frame.picture.height(); y += 4)
    for (int x = 0; x < frame.picture.width(); x += 4)
      different += frame.picture.pixel(x, y) != frame.bare.pixel(x, y);
  QVERIFY(different > 200);
  QCOMPARE(window_->findChild<Cast*>()->model().rowCount({}), 6);  // the gauge, the sun, four stand-ins
}

void TestWindow::nothingIsCutOffAt1280x800() {
  window_->resize(1280, 800);
  // With something of each kind in hand and every fold open there is most to be shown.
  session().selectPart("Brackwater tide gauge/Housing/Lid");
  session().selectLamp(shot().lamps[0].id), session().selectStandIn(shot().standIns[0].id);
  for (int i = 0; i < stationCount; ++i) {
    session().setStation(Station(i));
    for (QToolButton* fold : window_->findChildren<QToolButton*>())
      if (fold->isVisible() && fold->arrowType() == Qt::RightArrow && !fold->isChecked()) fold->click();
    QTest::qWait(30);
    for (QScrollArea* area : window_->findChildren<QScrollArea*>())
      if (area->isVisible()) {
        const QWidget* desk = area->widget();
        QVERIFY2(desk->minimumSizeHint().width() <= area->viewport()->width(),
                 qPrintable(QString("%1 needs %2 of %3")
                                .arg(desk->accessibleName())
                                .arg(desk->minimumSizeHint().width())
                                .arg(area->viewport()->width())));
      }
  }
  QCOMPARE(window_->size(), QSize(1280, 800));
}

/// In a narrow window longer words once made the picture smaller, which was traced anew, for ever.
void TestWindow::whatIsSaidOfTheRenderTakesNoRoom() {
  window_->resize(window_->minimumSizeHint());
  auto* said = named<QLabel>("State of the render");
  const QString words = said->text();
  QTest::qWait(50);
  const QSize before = picture().size();
  bool same = true;
  QVERIFY(QTest::qWaitFor(
      [&] {
        same &= picture().size() == before;
        return said->text() != words && picture().frame()->samples >= 3;
      },
      60'000));
  QVERIFY(same);
  said->setText(QString(200, 'm'));
  QTest::qWait(50);
  QCOMPARE(picture().size(), before);
}

void TestWindow::everyControlIsNamed() {
  for (int i = 0; i < stationCount; ++i) {
    session().setStation(Station(i));
    QTest::qWait(10);
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      if (!w->isVisible() || !(qobject_cast<QAbstractSpinBox*>(w) || qobject_cast<QAbstractButton*>(w) ||
                               qobject_cast<QComboBox*>(w) || qobject_cast<QSlider*>(w)))
        continue;
      const auto* b = qobject_cast<QAbstractButton*>(w);
      const QString name = w->accessibleName().isEmpty() && b ? b->text() : w->accessibleName();
      QVERIFY2(!name.isEmpty(), w->metaObject()->className());
      if (w->parent() && qobject_cast<QWidget*>(w->parent())->objectName() != "message")
        QVERIFY2(!w->toolTip().isEmpty(), qPrintable(name + " has no tooltip"));
    }
  }
}

void TestWindow::keysAloneReachEveryArea() {
  session().setStation(Station::light);
  window_->activateWindow();
  QVERIFY(QTest::qWaitForWindowActive(window_.get()));
  picture().setFocus();
  QSet<QWidget*> reached;
  const auto next = [&](Qt::KeyboardModifiers keys) {
    QTest::keyClick(window_.get(), Qt::Key_F4, keys);
    return QApplication::focusWidget();
  };
  const auto* desk = window_->findChild<QStackedWidget*>("desks");
  QVERIFY(desk->parentWidget()->isAncestorOf(next({})));
  // In it, Tab goes on, and it is come back to where it was left.
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
  QWidget* left = QApplication::focusWidget();
  QVERIFY(desk->parentWidget()->isAncestorOf(left));
  for (int i = 0; i < 5; ++i) reached << next({});
  QCOMPARE(reached.size(), 5);
  QCOMPARE(QApplication::focusWidget(), left);
  QCOMPARE(next(Qt::ShiftModifier), &picture());
  QVERIFY(window_->drawer().isAncestorOf((next({}), next({}))));
  // A tree is come back to, too.
  auto* tree = window_->findChild<Cast*>();
  tree->setFocus();
  next({}), next(Qt::ShiftModifier);
  QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(tree));
  // What is hidden is passed over.
  QTest::keyClick(window_.get(), Qt::Key_F9);
  picture().setFocus();
  for (int i = 0; i < 4; ++i) QVERIFY(next({})->isVisible());
  QCOMPARE(QApplication::focusWidget(), &picture());
  QTest::keyClick(window_.get(), Qt::Key_F9);
}

void TestWindow::dragSlidesTheProductAndUndoBringsItBack() {
  session().setStation(Station::product);
  QVERIFY(waitForSamples(1));
  const Placement before = shot().placements[0];
  const QPoint from = ofWorld({before.xM, before.yM, 0.15});
  QVERIFY(!picture().pick(picture().toPlate(from)).part.empty());
  drag(picture(), from, from + QPoint(60, 25));
  const Placement after = shot().placements[0];
  QVERIFY(std::hypot(after.xM - before.xM, after.yM - before.yM) > 0.05);
  QCOMPARE(after.liftM, 0.0);
  // The point that was taken is still under the pointer.
  const QPoint now = ofWorld({after.xM, after.yM, 0.15});
  QVERIFY2((now - from - QPoint(60, 25)).manhattanLength() < 8,
           qPrintable(QString("%1 %2").arg(now.x() - from.x()).arg(now.y() - from.y())));
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  QVERIFY(shot().placements[0] == before);
  QVERIFY(!session().history().canUndo());  // the whole drag was one step
  QTest::keyClick(&picture(), Qt::Key_Right);
  QVERIFY(std::abs(shot().placements[0].xM - before.xM - 0.001) < 1e-9);
}

void TestWindow::knobTurnsTheProduct() {
  session().setStation(Station::product);
  const Placement p = shot().placements[0];
  const auto knob = [&](double turn) {
    const double a = radians(turn - 90);
    const Product& product = session().project().products[0];
    const Vec3d size = trueSize(product, session().assets()->loadedModel(product)->box());
    const double r = 0.6 * std::hypot(size.x, size.y);
    return ofWorld({p.xM + r * std::cos(a), p.yM + r * std::sin(a), 0});
  };
  drag(picture(), knob(p.turnDegrees), knob(p.turnDegrees + 40));
  QVERIFY2(std::abs(wrapDegrees(shot().placements[0].turnDegrees - p.turnDegrees - 40)) < 2.5,
           qPrintable(QString::number(shot().placements[0].turnDegrees)));
}

void TestWindow::settleLetsItDown() {
  session().setStation(Station::product);
  QVERIFY(waitForSamples(1));
  const Placement upright = shot().placements[0];
  session().editShot("knock it over",
                     [](Shot& s) { s.placements[0].leanYDegrees = 35, s.placements[0].liftM = 0.1; });
  QTest::mouseClick(button("Settle"), Qt::LeftButton);
  const Placement lying = shot().placements[0];
  const Product& product = session().project().products[0];
  const auto model = session().assets()->loadedModel(product);
  QVERIFY(lying.liftM == 0 && std::abs(gapM(product, lying, *model)) < 1e-6);
  QTest::mouseClick(button("Settle"), Qt::LeftButton);  // it rests: nothing moves any more
  QVERIFY(std::abs(shot().placements[0].leanXDegrees - lying.leanXDegrees) < 0.01 &&
          std::abs(shot().placements[0].leanYDegrees - lying.leanYDegrees) < 0.01);
  QTest::mouseClick(button("Stand upright"), Qt::LeftButton);
  QVERIFY(shot().placements[0].leanXDegrees == 0 && shot().placements[0].leanYDegrees == 0);
  for (int i = 0; i < 4; ++i) session().undo();
  QVERIFY(shot().placements[0] == upright);
}

void TestWindow::surfaceDroppedOnAPart() {
  session().setStation(Station::surface);
  QVERIFY(waitForSamples(1));
  const Placement p = shot().placements[0];
  const QPoint at = ofWorld({p.xM, p.yM, 0.235});  // the lid
  const std::string part = picture().pick(picture().toPlate(at)).part;
  QVERIFY(!part.empty());
  QMimeData data;
  data.setData("application/x-dusk-surface", "preset-signal-enamel");
  QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, {});
  QApplication::sendEvent(&picture(), &enter);
  QVERIFY(enter.isAccepted());
  QDropEvent drop(at, Qt::CopyAction, &data, Qt::LeftButton, {});
  QApplication::sendEvent(&picture(), &drop);
  QCOMPARE(session().project().products[0].surfaceOfPart.at(part), std::string("preset-signal-enamel"));
  QCOMPARE(session().selectedPart(), part);
  // A field of the desk changes that surface, and typing it in is one step.
  auto* roughness = named<QDoubleSpinBox>("Roughness");
  roughness->setFocus();
  roughness->selectAll();
  QTest::keyClicks(roughness, "0.77");
  QTest::keyClick(roughness, Qt::Key_Return);
  QCOMPARE(byId(session().project().surfaces, std::string("preset-signal-enamel"))->roughness, 0.77);
  session().undo();
  session().undo();
  QVERIFY(session().project().products[0].surfaceOfPart.at(part) != "preset-signal-enamel");
}

void TestWindow::lightFieldsReachTheProject() {
  session().setStation(Station::light);
  session().editShot("turn", [](Shot& s) { s.surroundings.turnDegrees = 40; });
  QVERIFY(button("Turn to gnomon"));
  QTest::mouseClick(button("Turn to gnomon"), Qt::LeftButton);
  QVERIFY2(std::abs(shot().surroundings.turnDegrees) < 1.0,
           qPrintable(QString::number(shot().surroundings.turnDegrees)));
  QTest::mouseClick(button("Add an area light"), Qt::LeftButton);
  QCOMPARE(shot().lamps.size(), size_t(2));
  QCOMPARE(session().selectedLamp(), shot().lamps[1].id);
  QTRY_VERIFY(button("Take the lamp away")->height() > 10);  // laid out
  QTest::mouseClick(button("Take the lamp away"), Qt::LeftButton);
  QCOMPARE(shot().lamps.size(), size_t(1));
  // A gnomon by one drag.
  drag(picture(), onScreen({600, 900}), onScreen({900, 880}));
  QVERIFY(shot().gnomon && std::abs(shot().gnomon->base.x - 600) < 4 &&
          std::abs(shot().gnomon->shadowTip.y - 880) < 4);
}

void TestWindow::gradeKeepsTheSamples() {
  QVERIFY(waitForSamples(3));
  session().setStation(Station::blend);
  const QImage before = picture().frame()->picture;
  const auto passes = picture().frame()->passes;
  session().editShot("set exposure", [](Shot& s) { s.blend.exposureEv = 1; });
  QVERIFY(QTest::qWaitFor([&] { return picture().frame()->picture != before; }, 5000));
  QCOMPARE(picture().frame()->samples, 3);
  QVERIFY(picture().frame()->passes == passes);  // the very same passes: nothing was traced
}

void TestWindow::undoAllReturnsToTheFile() {
  session().setStation(Station::product);
  drag(picture(), ofWorld({shot().placements[0].xM, shot().placements[0].yM, 0.12}), onScreen({700, 800}));
  session().editShot("x", [](Shot& s) { s.blend.warmth = 0.3; });
  session().edit("y", [](Project& p) { p.surfaces[0].metalness = 1; });
  QVERIFY(!session().isSaved());
  QVERIFY(window_->windowTitle().contains("not saved"));
  while (session().history().canUndo()) QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  QVERIFY(session().isSaved());
  QVERIFY(session().project() == *loadProject(project_.toStdString()));
}

void TestWindow::deliveredEqualsHeadless() {
  session().setStation(Station::deliver);
  takeSmallPhoto();
  QVERIFY(session().save(project_.toStdString()));
  const QString here = folder_.filePath("window"), there = folder_.filePath("headless");
  QSignalSpy ended(window_.get(), &MainWindow::delivered);
  window_->deliverInto(here);
  QVERIFY(button("Cancel")->isVisible());
  QVERIFY(ended.wait(300'000));
  QVERIFY(ended[0][0].toBool());
  QProcess batch;
  batch.start(DUSK_BATCH, {"render", project_, "--out", there});
  QVERIFY(batch.waitForFinished(300'000));
  QCOMPARE(batch.exitCode(), 0);
  const auto png = [](const QString& folder) {
    return readPhoto((folder + "/brackwater-quay.png").toStdString());
  };
  const auto a = png(here), b = png(there);
  QVERIFY(a.ok() && b.ok() && a->picture.width == 480);
  QVERIFY(a->picture == b->picture);
  for (const char* pass : {"beauty", "shadow_ratio", "depth"}) {
    const auto p = readExrPart((here + "/brackwater-quay.exr").toStdString(), pass),
               q = readExrPart((there + "/brackwater-quay.exr").toStdString(), pass);
    QVERIFY(p.ok() && q.ok() && *p == *q);
  }
}

void TestWindow::saveAndOpenAgain() {
  session().editShot("x", [](Shot& s) { s.placements[0].xM = 0.5; });
  const Project changed = session().project();
  const fs::path elsewhere = fs::path(folder_.path().toStdString()) / "elsewhere";
  fs::create_directories(elsewhere);
  QVERIFY(session().save(elsewhere / "copy.dusk"));
  QVERIFY(session().isSaved());
  QVERIFY(!fs::exists(journalOf(project_.toStdString())));
  window_->open(QString::fromStdString((elsewhere / "copy.dusk").string()));
  QCOMPARE(shot().placements[0].xM, 0.5);
  // The links still lead to the files in the other folder.
  QVERIFY(fs::exists(session().assets()->pathOf(shot().plate)));
  QVERIFY(waitForSamples(1));
}

void TestWindow::unsavedWorkComesBackAfterACrash() {
  session().editShot("x", [](Shot& s) { s.placements[0].turnDegrees = 77; });
  QVERIFY(QTest::qWaitFor([&] { return QFile::exists(project_ + ".journal"); }, 5000));
  window_ = std::make_unique<MainWindow>();  // as after a crash: nobody saved, nobody asked
  window_->open(project_);
  QCOMPARE(shot().placements[0].turnDegrees, 77.0);
  session().undo();
  QVERIFY(session().project() == *loadProject(project_.toStdString()));
}

void TestWindow::badFilesAreSaidAndNothingIsLost() {
  const Project before = session().project();
  const auto write = [&](const char* name, const QByteArray& content) {
    QFile file(folder_.filePath(name));
    if (file.open(QIODevice::WriteOnly)) file.write(content);
    return file.fileName();
  };
  Notices& notices = window_->notices();
  const auto told = [&](const QString& what) {
    return QTest::qWaitFor([&] { return !notices.messages().filter(what).isEmpty(); }, 20'000);
  };
  const std::pair<QString, const char*> bad[] = {
      {write("a.jpg", "nonsense"), "a.jpg"},   {write("b.exr", "nonsense"), "b.exr"},
      {write("c.step", "nonsense"), "c.step"}, {write("d.dusk", "{"), "d.dusk"},
      {write("e.txt", "text"), "e.txt"},       {folder_.filePath("gone.png"), "gone.png"}};
  for (const auto& [file, name] : bad) {
    notices.dismissAll();
    window_->take({file});
    QVERIFY2(told(name), qPrintable(file + ": " + notices.messages().join(" | ")));
    QVERIFY(session().project() == before);
  }
  // A project whose files are gone opens, and says which.
  Project lost = before;
  lost.shots[0].surroundings.panorama.path = "lost-panorama.exr";
  QVERIFY(saveProject(lost, folder_.filePath("demo/lost.dusk").toStdString()).ok());
  notices.dismissAll();
  window_->open(folder_.filePath("demo/lost.dusk"));
  QVERIFY(told("lost-panorama.exr"));
}

DUSK_TEST(TestWindow, QApplication);
#include "window.moc"
