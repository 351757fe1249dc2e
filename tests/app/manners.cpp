#include "tests/app/demo_window.h"

#include "app/cast/cast.h"
#include "app/stations/stations.h"
#include "app/stations/surface/apply_surface.h"
#include "app/views/plan_view.h"
#include "app/widgets/colour_popover.h"
#include "app/widgets/desk.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/time_left.h"
#include "app/window/horizon_bar.h"
#include "app/window/proof_strip.h"
#include "core/project/lamp_kinds.h"
#include "core/project/light_edit.h"
#include "core/project/shots.h"
#include "core/proof/balance.h"
#include "tests/program.h"

using namespace dusk;

/// How the window behaves in small things, by real events.
class TestManners : public DemoWindow {
  Q_OBJECT
  void wheel(QWidget& on, const QPointF& at, int by) {
    QWheelEvent e(at, on.mapToGlobal(at), {}, {0, by}, {}, {}, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&on, &e);
  }
  void middleDrag(QWidget& on, const QPoint& from, const QPoint& to) {
    QTest::mousePress(&on, Qt::MiddleButton, {}, from);
    move(on, to, {}, Qt::MiddleButton);
    QTest::mouseRelease(&on, Qt::MiddleButton, {}, to);
  }
  PlanView& plan() { return *window_->findChild<PlanView*>(); }

 private slots:
  void initTestCase() {
    copyDemo();
    openDemo();
    QVERIFY(waitForSamples(1));
  }
  void init() {
    while (session().history().canUndo()) session().undo();
    window_->showView(MainWindow::View::picture);
    session().setStation(Station::product);
    picture().zoomToFit();
  }
  void cleanupTestCase() { window_.reset(); }
  void theWheelKeepsThePointUnderThePointer();
  void theMiddleButtonMovesTheView();
  void altIsLeftToTheWindowManager();
  void planZoomsAboutItsMiddleAndShowsAll();
  void shiftInThePlanRaisesALamp();
  void panoramaKeysAreARun();
  void aroundComesCloserAboutItsPivot();
  void dressingSelectedPartsTogether();
  void theTableOfStationsIsWhole();
  void desksAreShortBeforeTheirFirstFold();
  void statusesTellEachStep();
  void everyFileKindHasItsFilter();
  void fileDialogsBeginWhereOnesFilesAre();
  void timesAreSaidAsPeopleSayThem();
  void menusHaveEveryKeyOnce();
  void assumedSizeIsSaid();
  void lightWithoutAShadowIsSaid();
  void selectionsOfThingsThatGoAreHarmless();
  void aStationFollowsTheShot();
  void aColourIsPickedFromThePhotoUnderTheProduct();
  void deliveringByKeyAndCancellingOnTheDesk();
  void desksAreDraggedWider();
};

void TestManners::theWheelKeepsThePointUnderThePointer() {
  const QPointF at(300, 200);
  const Vec2d before = picture().toPlate(at);
  wheel(picture(), at, 240);
  const Vec2d after = picture().toPlate(at);
  QVERIFY((before - after).length() < 1e-6);
  QVERIFY(picture().scale() > 0);
  for (int i = 0; i < 60; ++i) wheel(picture(), at, 480);
  const double closest = picture().scale();
  wheel(picture(), at, 480);
  QCOMPARE(picture().scale(), closest);  // there is an end
}

void TestManners::theMiddleButtonMovesTheView() {
  const Project before = session().project();
  const Vec2d at = picture().toPlate(QPointF(200, 200));
  middleDrag(picture(), {200, 200}, {260, 230});
  QVERIFY((picture().toPlate(QPointF(260, 230)) - at).length() < 1e-6);
  QVERIFY(session().project() == before);
  QVERIFY(!picture().isDragging());
}

void TestManners::altIsLeftToTheWindowManager() {
  // With Alt held a drag is what it is without: the view does not move.
  const Vec2d at = picture().toPlate(QPointF(20, 20));
  drag(picture(), {200, 40}, {240, 60}, Qt::AltModifier);
  QVERIFY((picture().toPlate(QPointF(20, 20)) - at).length() < 1e-9);
}

void TestManners::planZoomsAboutItsMiddleAndShowsAll() {
  window_->showView(MainWindow::View::plan);
  const QPointF middle = QRectF(plan().rect()).center();
  const Vec2d before = plan().toWorld(middle);
  QTest::keySequence(window_.get(), QKeySequence("Ctrl++"));
  QVERIFY((plan().toWorld(middle) - before).length() < 1e-9);
  session().editShot("far", [](Shot& s) { s.placements[0].xM = 40, s.placements[0].yM = -25; });
  plan().setFocus();
  QTest::keyClick(&plan(), Qt::Key_F);
  const QRectF seen(plan().rect());
  QVERIFY(seen.contains(plan().toScreen({40, -25})));
  const Vec3d& camera = shot().vantage.camera.position;
  QVERIFY(seen.contains(plan().toScreen({camera.x, camera.y})));
  const QPointF at(100, 100);
  const Vec2d fixed = plan().toWorld(at);
  wheel(plan(), at, -240);
  QVERIFY((plan().toWorld(at) - fixed).length() < 1e-9);
}

void TestManners::shiftInThePlanRaisesALamp() {
  session().editShot("a lamp", [](Shot& s) {
    Lamp lamp;
    lamp.id = "area-1", lamp.kind = LampKind::area, lamp.positionM = {-1.2, -0.8, 1};
    s.lamps.push_back(lamp);
  });
  window_->showView(MainWindow::View::plan);
  plan().showAll();
  const auto lamp = [&] { return *byId(shot().lamps, std::string("area-1")); };
  const QPoint at = plan().toScreen({-1.2, -0.8}).toPoint();
  drag(plan(), at, at - QPoint(0, 40), Qt::ShiftModifier);
  QVERIFY(lamp().positionM.z > 1.05);
  QVERIFY(std::abs(lamp().positionM.x + 1.2) < 1e-9);
  const double z = lamp().positionM.z;
  drag(plan(), at, at + QPoint(30, 0));
  QVERIFY(lamp().positionM.x > -1.2 && lamp().positionM.z == z);
  QCOMPARE(session().selectedLamp(), std::string("area-1"));
  session().undo(), session().undo();
  QCOMPARE(lamp().positionM.z, 1.0);  // each drag was one step
}

void TestManners::panoramaKeysAreARun() {
  window_->showView(MainWindow::View::panorama);
  auto& view = *window_->findChild<PanoramaView*>();
  view.setFocus();
  const double before = shot().surroundings.turnDegrees;
  for (int i = 0; i < 4; ++i) QTest::keyClick(&view, Qt::Key_Right);
  QCOMPARE(shot().surroundings.turnDegrees, before + 4);
  session().undo();
  QCOMPARE(shot().surroundings.turnDegrees, before);
}

void TestManners::aroundComesCloserAboutItsPivot() {
  window_->showView(MainWindow::View::around);
  QVERIFY(QTest::qWaitFor([&] { return window_->around().hasPicture(); }, 30'000));
  AroundView& around = window_->around();
  const double before = (around.camera().position - around.pivot()).length();
  QTest::keySequence(window_.get(), QKeySequence("Ctrl++"));
  QVERIFY(std::abs((around.camera().position - around.pivot()).length() - before / 1.25) < 1e-6);
  QTest::keySequence(window_.get(), QKeySequence("Ctrl+-"));
  QVERIFY(std::abs((around.camera().position - around.pivot()).length() - before) < 1e-6);
}

void TestManners::dressingSelectedPartsTogether() {
  auto& cast = *window_->findChild<Cast*>();
  const std::string lid = "Brackwater tide gauge/Housing/Lid", bezel = "Brackwater tide gauge/Dial/Bezel";
  session().selectPart(lid);
  cast.selectionModel()->select(cast.model().indexOfPart(bezel), QItemSelectionModel::Select);
  QCOMPARE(session().partsInHand(lid).size(), size_t(2));
  QCOMPARE(session().partsInHand("another").size(), size_t(1));
  applySurface(session(), "preset-signal-enamel", lid);
  const auto& dress = session().project().products[0].surfaceOfPart;
  QVERIFY(dress.at(lid) == "preset-signal-enamel" && dress.at(bezel) == "preset-signal-enamel");
  session().undo();
  QVERIFY(session().project().products[0].surfaceOfPart.at(lid) != "preset-signal-enamel");
  const Project before = session().project();
  applySurface(session(), "preset-signal-enamel", "");
  QVERIFY(session().project() == before);
}

void TestManners::theTableOfStationsIsWhole() {
  QCOMPARE(stations().size(), size_t(stationCount));
  QSet<QString> names;
  for (size_t i = 0; i < stations().size(); ++i) {
    const StationInfo& info = stations()[i];
    QCOMPARE(int(info.station), int(i));
    QCOMPARE(&infoOf(info.station), &info);
    names << info.name;
    QVERIFY(QFile::exists(":/help/" + QString(info.name).toLower().replace(' ', '-') + ".md"));
    QVERIFY(info.makeDesk && info.makeTool && info.status && *info.purpose);
  }
  QCOMPARE(names.size(), qsizetype(stationCount));
  QVERIFY(names.contains("Hand over"));
}

void TestManners::desksAreShortBeforeTheirFirstFold() {
  for (const StationInfo& info : stations()) {
    session().setStation(info.station);
    QTest::qWait(10);
    for (Desk* desk : window_->findChildren<Desk*>("desk")) {
      if (!desk->isVisible() || desk->accessibleName().isEmpty()) continue;
      int controls = 0;
      for (int i = 0; i < desk->layout()->count(); ++i) {
        QWidget* row = desk->layout()->itemAt(i)->widget();
        if (qobject_cast<QToolButton*>(row)) break;  // the first fold
        controls += row && row->isVisible() && !qobject_cast<QLabel*>(row);
      }
      QVERIFY2(controls <= 16, qPrintable(QString("%1: %2").arg(info.name).arg(controls)));
    }
  }
}

void TestManners::statusesTellEachStep() {
  Session empty;
  const StatusInput in{empty};
  using State = StationStatus::State;
  for (const StationInfo& info : stations()) {
    const StationStatus s = info.status(in);
    QVERIFY2(!s.figure.isEmpty(), info.name);
    if (info.station != Station::deliver) QVERIFY2(s.state == State::untouched, info.name);
  }
  StatusInput demo{session()};
  QVERIFY(vantageStatus(demo).figure.contains("mm ±"));
  demo.samples = 3, demo.wanted = 6;
  QCOMPARE(renderStatus(demo).figure, QString("3 of 6 samples"));
  QVERIFY(renderStatus(demo).state == State::begun);
  demo.samples = 6;
  QVERIFY(renderStatus(demo).state == State::proved);
  demo.delivered = 2;
  QCOMPARE(deliverStatus(demo).figure, QString("2 written"));
}

void TestManners::everyFileKindHasItsFilter() {
  QVERIFY(filterOf(FileKind::project).contains("*.dusk"));
  for (const char* ending : {"*.jpg", "*.JPG", "*.exr", "*.webp"})
    QVERIFY2(filterOf(FileKind::photo).contains(ending), ending);
  for (const char* ending : {"*.step", "*.STEP", "*.gltf"})
    QVERIFY2(filterOf(FileKind::model).contains(ending), ending);
  QVERIFY(filterOf(FileKind::panorama).contains("*.hdr") && !filterOf(FileKind::panorama).contains("*.step"));
  QVERIFY(filterOf(FileKind::camera).contains("*.gltf") && filterOf(FileKind::delivery).isEmpty());
}

void TestManners::fileDialogsBeginWhereOnesFilesAre() {
  for (const char* key : {"photo", "model", "last"}) QSettings().remove(QString("folders/") + key);
  QString first, second;
  int tools = 0;
  const auto look = [&](QString& folder) {
    auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
    if (!dialog) return;
    folder = dialog->directory().absolutePath();
    // The icons of its tools are there to be seen.
    for (const QToolButton* b : dialog->findChildren<QToolButton*>()) {
      const QImage shown = const_cast<QToolButton*>(b)->grab().toImage();
      const QPoint middle = shown.rect().center();
      int other = 0;
      for (int y = -7; y <= 7; ++y)
        for (int x = -7; x <= 7; ++x)
          other += shown.pixel(middle + QPoint(x, y)) != shown.pixel(middle + QPoint(-11, 0));
      tools += b->isVisible() && !b->icon().isNull() && other > 30;
    }
    if (&folder == &second) return dialog->reject();
    dialog->findChild<QLineEdit*>("fileNameEdit")->setText(demo_ + "quay-plate.jpg");
    QTest::mouseClick(dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Open), Qt::LeftButton);
  };
  QTimer::singleShot(400, this, [&] { look(first); });
  const QString chosen = chooseFile(window_.get(), "A photo", FileKind::photo);
  QVERIFY2(QDir(first).exists() && first.startsWith(QDir::homePath()), qPrintable(first));
  QVERIFY2(tools >= 6, qPrintable(QString::number(tools)));
  QCOMPARE(QFileInfo(chosen).fileName(), QString("quay-plate.jpg"));
  // What is looked for next is likely to lie there, too.
  QTimer::singleShot(400, this, [&] { look(second); });
  (void)chooseFile(window_.get(), "A model", FileKind::model);
  QCOMPARE(second, QFileInfo(chosen).absolutePath());
  window_->activateWindow();
  QVERIFY(QTest::qWaitForWindowActive(window_.get()));
}

void TestManners::timesAreSaidAsPeopleSayThem() {
  QCOMPARE(timeLeft(-1), QString());
  QCOMPARE(timeLeft(0.1), QString("about 1 s left"));
  QCOMPARE(timeLeft(42.4), QString("about 42 s left"));
  QCOMPARE(timeLeft(170), QString("about 3 min left"));
  QCOMPARE(timeLeft(9000), QString("about 2.5 h left"));
  QCOMPARE(progressText(0.5, -1), QString("Getting ready…"));
  QCOMPARE(progressText(0.256, 30), QString("25 %, about 30 s left"));
}

void TestManners::menusHaveEveryKeyOnce() {
  QMap<QString, QString> keys;
  for (QMenu* menu : window_->menuBar()->findChildren<QMenu*>())
    for (QAction* action : menu->actions()) {
      if (action->isSeparator() || action->menu()) continue;
      QVERIFY2(!action->text().isEmpty(), qPrintable(menu->title()));
      const QString key = action->shortcut().toString();
      // The cast's own keys act in the cast alone, a view's letters in the view.
      if (key.isEmpty() || action->shortcutContext() != Qt::WindowShortcut) continue;
      QVERIFY2(!keys.contains(key) || keys[key] == action->text(),
               qPrintable(key + ": " + keys[key] + ", " + action->text()));
      keys[key] = action->text();
    }
  for (int i = 1; i <= stationCount; ++i) QVERIFY(keys.contains(QString("Ctrl+%1").arg(i)));
  QVERIFY(!keys.keys().filter(QRegularExpression("^Alt\\+")).size());
}

void TestManners::assumedSizeIsSaid() {
  StatusInput in{session()};
  session().editShot("unlock", [](Shot& s) { s.vantage.locked = false; });
  session().editEvidence("no size", [](Evidence& e) {
    e.lengths.clear(), e.heightM.reset(), e.pins.clear();
    if (e.footprint) e.footprint->sizeM.reset();
  });
  QVERIFY2(vantageStatus(in).figure.contains("size assumed"), qPrintable(vantageStatus(in).figure));
  session().editEvidence("a height", [](Evidence& e) { e.heightM = 1.5; });
  QVERIFY(!vantageStatus(in).figure.contains("size assumed"));
}

void TestManners::lightWithoutAShadowIsSaid() {
  using State = StationStatus::State;
  Proofs soft, sunny;
  sunny.shadows.productDegrees = 20;
  const auto now = [&](const Proofs& proofs) { return lightStatus({session(), &proofs}); };
  session().editShot("unmarked", [](Shot& s) { s.gnomon.reset(); });
  QVERIFY(now(soft) == (StationStatus{State::proved, "soft light"}));
  QVERIFY(now(sunny) == (StationStatus{State::begun, "no gnomon yet"}));
  // The photo has a shadow and the light throws none.
  session().undo();
  QVERIFY(shot().gnomon && now(soft) == (StationStatus{State::off, "casts no shadow"}));
  session().editShot("another panorama", [](Shot& s) { setPanorama(s, {"other.exr", "1234"}); });
  QVERIFY(now(soft) == (StationStatus{State::begun, "not aligned yet"}));
}

void TestManners::selectionsOfThingsThatGoAreHarmless() {
  session().selectLamp(shot().lamps[0].id);
  session().selectStandIn(shot().standIns[0].id);
  session().editShot("all gone", [](Shot& s) { s.lamps.clear(), s.standIns.clear(), s.placements.clear(); });
  for (const StationInfo& info : stations()) {
    session().setStation(info.station);
    picture().setFocus();
    for (const int key : {Qt::Key_Left, Qt::Key_PageUp, Qt::Key_Delete, Qt::Key_L, Qt::Key_N, Qt::Key_Escape})
      QTest::keyClick(&picture(), Qt::Key(key));
    QTest::mouseClick(&picture(), Qt::LeftButton, {}, {100, 60});
  }
  QVERIFY(!session().placement());
}

void TestManners::aStationFollowsTheShot() {
  session().setStation(Station::light);
  std::string id;
  session().edit("another", [&](Project& p) { id = addShot(p, 0, false); });
  session().selectShot(id);
  QCOMPARE(session().station(), Station::light);  // the work goes on where it was
  auto* bar = window_->findChild<HorizonBar*>();
  QVERIFY(bar->status(Station::plate).state == StationStatus::State::untouched);
  QVERIFY(bar->status(Station::product).figure == "none yet");
  session().selectShot(session().project().shots[0].id);
  QVERIFY(bar->status(Station::plate).state == StationStatus::State::proved);
}

void TestManners::aColourIsPickedFromThePhotoUnderTheProduct() {
  session().setStation(Station::blend);
  QVERIFY(waitForSamples(1));
  const Placement& p = shot().placements[0];
  const QPoint at = ofWorld({p.xM, p.yM, 0.15}), global = picture().mapToGlobal(at);
  auto* swatch = named<QPushButton>("White");
  QTRY_VERIFY(swatch->height() > 10);
  QTest::mouseClick(swatch, Qt::LeftButton);
  ColourPopover* popover = ColourPopover::current();
  QVERIFY(popover);
  for (QPushButton* b : popover->findChildren<QPushButton*>())
    if (b->text() == "From the photo") QTest::mouseClick(b, Qt::LeftButton);
  QMouseEvent press(QEvent::MouseButtonPress, popover->mapFromGlobal(global), global, Qt::LeftButton,
                    Qt::LeftButton, {});
  QApplication::sendEvent(popover, &press);
  QMouseEvent release(QEvent::MouseButtonRelease, popover->mapFromGlobal(global), global, Qt::LeftButton, {},
                      {});
  QApplication::sendEvent(popover, &release);
  const auto plate = session().assets()->plate(shot());
  const auto photo = patchMean(**plate, picture().toPlate(at), 1.5);
  QVERIFY(photo && (popover->colour() - toDouble(*photo)).length() < 1e-6);
  // The screen shows the product there, which is something else.
  QVERIFY((meanOfScreen(global, 3) - toDouble(*photo)).length() > 0.01);
  QTest::keyClick(popover, Qt::Key_Escape);
  QVERIFY(shot().blend.white == Vec3d(1, 1, 1));
}

void TestManners::deliveringByKeyAndCancellingOnTheDesk() {
  session().setStation(Station::render);
  QPushButton* pause = button("Pause");
  QTest::mouseClick(pause, Qt::LeftButton);
  QVERIFY(window_->preview().isHeld());
  session().setStation(Station::light);
  QTest::keySequence(window_.get(), QKeySequence("Ctrl+Return"));
  QCOMPARE(session().station(), Station::deliver);
  QVERIFY(window_->jobs().isRunning("deliver"));
  QTest::keySequence(window_.get(), QKeySequence("Ctrl+Return"));  // one at a time
  QCOMPARE(window_->jobs().all().size(), size_t(1));
  QPushButton* cancel = nullptr;
  for (QPushButton* b : window_->findChildren<QPushButton*>())
    if (b->isVisible() && b->text() == "Cancel" && b->toolTip().contains("delivery")) cancel = b;
  QVERIFY(cancel);
  QTRY_VERIFY(cancel->height() > 10);
  QTest::mouseClick(cancel, Qt::LeftButton);
  QTRY_VERIFY_WITH_TIMEOUT(window_->jobs().all().empty(), 30'000);
  QVERIFY(!cancel->isVisible());
  // What a hand held stays held when other work ends.
  QVERIFY(window_->preview().isHeld() && pause->isChecked());
  pause->click();
  QVERIFY(!window_->preview().isHeld());
  const QDir delivered(demo_ + "delivered");
  QVERIFY(!delivered.exists() || delivered.entryList(QDir::Files | QDir::Hidden).isEmpty());
}

void TestManners::desksAreDraggedWider() {
  window_->resize(1280, 800);
  QTest::qWait(50);
  auto* panels = window_->findChild<QSplitter*>();
  QSplitterHandle* handle = panels->handle(2);
  QWidget* desk = panels->widget(2);
  const int before = desk->width();
  const QPoint at = handle->rect().center();
  drag(*handle, at, at - QPoint(60, 0));
  QVERIFY2(desk->width() > before + 30, qPrintable(QString("%1 to %2").arg(before).arg(desk->width())));
  drag(*handle, handle->rect().center(), handle->rect().center() + QPoint(200, 0));
  QVERIFY(desk->width() >= 300);  // never narrower than its fields
}

DUSK_TEST(TestManners, QApplication);
#include "manners.moc"
