#include "app/window/notices.h"
#include "tests/app/demo_window.h"

#include "app/cast/cast.h"
#include "app/stations/stations.h"
#include "app/widgets/number_field.h"
#include "app/window/drawer.h"
#include "app/window/help_panel.h"
#include "app/window/horizon_bar.h"
#include "app/window/picture_grip.h"
#include "app/window/shot_strip.h"
#include "tests/program.h"

using namespace dusk;

/// The campaign's shots in the drawer, the cast's manners, and the window as a whole.
class TestShotsStrip : public DemoWindow {
  Q_OBJECT
  ShotStrip& strip() { return window_->shots(); }
  const std::vector<Shot>& shots() { return session().project().shots; }
  QAbstractButton* card(const char* name) {
    QCoreApplication::processEvents();
    for (QAbstractButton* b : strip().findChildren<QAbstractButton*>())
      if (b->isVisible() && b->accessibleName().startsWith(QString("Shot: ") + name)) return b;
    return nullptr;
  }
  Cast& cast() { return *window_->findChild<Cast*>(); }

 private slots:
  void initTestCase() {
    copyDemo();
    openDemo();
    QVERIFY(waitForSamples(2));
    window_->drawer().open("Shots");
  }
  void init() {
    while (session().history().canUndo()) session().undo();
    window_->resize(1280, 800);
    // Other windows come and go in here; keys go to the active one.
    window_->activateWindow();
    QVERIFY(QTest::qWaitForWindowActive(window_.get()));
  }
  void cleanupTestCase() { window_.reset(); }
  void shotsAreAddedCopiedAndSwitched();
  void everythingGoesByTheShotInHand();
  void undoBringsADeletedShotBack();
  void shotsAreRenamedAndMoved();
  void shotsAreCarriedAlongTheLine();
  void evidenceGoesToAnotherShot();
  void surfacesGoToAnotherPart();
  void lightIsBroughtFromAnotherShot();
  void thumbnailsAreDrawn();
  void theCastFollowsEverySelectionAndBack();
  void lampsAreRenamedCopiedPastedDeleted();
  void thePictureIsTakenAlong();
  void drawersAreRemembered();
  void helpFollowsTheWorkAndIsSearched();
  void theWindowFitsItsScreen();
  void zoomedInOnlyWhatIsSeenIsTraced();
  void zoomKeysActOnTheViewThatIsShown();
  void rightAtTwiceThePixels();
  void everyControlIsReachedByTab();
  void screenReadersHearTheStations();
  void textFollowsTheSystem();
};

void TestShotsStrip::shotsAreAddedCopiedAndSwitched() {
  QTest::mouseClick(button("New shot"), Qt::LeftButton);
  QCOMPARE(shots().size(), size_t(2));
  QVERIFY(shot().plate.empty() && shot().id == shots()[1].id);
  QVERIFY(!picture().frame());  // nothing of the other shot stays on screen
  QTest::mouseClick(card(shots()[0].name.c_str()), Qt::LeftButton);
  QCOMPARE(shot().id, shots()[0].id);
  QVERIFY(waitForSamples(1));
  QTest::mouseClick(button("Copy shot"), Qt::LeftButton);
  QCOMPARE(shots().size(), size_t(3));
  QVERIFY(shot().plate == shots()[0].plate && shot().id == shots()[1].id);
  QTest::keySequence(window_.get(), QKeySequence("Ctrl+PgDown"));
  QCOMPARE(session().shotIndex(), size_t(2));
  QTest::keySequence(window_.get(), QKeySequence("Ctrl+PgUp"));
  QCOMPARE(session().shotIndex(), size_t(1));
}

void TestShotsStrip::everythingGoesByTheShotInHand() {
  QTest::mouseClick(button("Copy shot"), Qt::LeftButton);
  const Shot first = shots()[0];
  session().setStation(Station::blend);
  auto* exposure = named<NumberField>("Exposure");
  exposure->setFocus();
  exposure->selectAll();
  QTest::keyClicks(exposure, "1.5");
  QTest::keyClick(exposure, Qt::Key_Return);
  QCOMPARE(shots()[1].blend.exposureEv, 1.5);
  session().setStation(Station::product);
  QVERIFY(waitForSamples(1));
  const Placement p = shot().placements[0];
  drag(picture(), ofWorld({p.xM, p.yM, 0.15}), ofWorld({p.xM, p.yM, 0.15}) + QPoint(50, 0));
  QVERIFY(shots()[1].placements[0] != p);
  QVERIFY(shots()[0] == first);  // none of it touched the other
  session().selectShot(first.id);
  session().setStation(Station::blend);
  QCOMPARE(exposure->value(), 0.0);
}

void TestShotsStrip::undoBringsADeletedShotBack() {
  QTest::mouseClick(button("Copy shot"), Qt::LeftButton);
  const Project two = session().project();
  const std::string id = shot().id;
  strip().setFocus();
  QTest::keyClick(&strip(), Qt::Key_Delete);
  QCOMPARE(shots().size(), size_t(1));
  QCOMPARE(shot().id, shots()[0].id);
  QVERIFY(waitForSamples(1));
  session().undo();
  QVERIFY(session().project() == two);
  session().selectShot(id);
  session().undo();  // the copying: the shot in hand goes, another is in hand
  QCOMPARE(shots().size(), size_t(1));
  QCOMPARE(shot().id, shots()[0].id);
  QTest::keyClick(&strip(), Qt::Key_Delete);  // the last one stays
  QCOMPARE(shots().size(), size_t(1));
}

void TestShotsStrip::shotsAreRenamedAndMoved() {
  QTest::mouseClick(button("New shot"), Qt::LeftButton);
  const std::string id = shot().id;
  strip().setFocus();
  QTest::keyClick(&strip(), Qt::Key_F2);
  auto* editor = strip().findChild<QLineEdit*>();
  QVERIFY(editor);
  QTest::keySequence(editor, QKeySequence::SelectAll);
  QTest::keyClicks(editor, "Harbour wall");
  QTest::keyClick(editor, Qt::Key_Return);
  QCOMPARE(shot().name, std::string("Harbour wall"));
  QVERIFY(card("Harbour wall"));
  strip().setFocus();
  QTest::keyClick(&strip(), Qt::Key_Left, Qt::ControlModifier);
  QCOMPARE(shots()[0].id, id);
  QTest::keyClick(&strip(), Qt::Key_Left, Qt::ControlModifier);  // there is nothing further left
  QCOMPARE(shots()[0].id, id);
  QTest::keyClick(&strip(), Qt::Key_Right);
  QVERIFY(shot().id != id);
}

void TestShotsStrip::shotsAreCarriedAlongTheLine() {
  for (int i = 0; i < 3; ++i) QTest::mouseClick(button("New shot"), Qt::LeftButton);
  const auto ids = [&] {
    std::vector<std::string> all;
    for (const Shot& s : shots()) all.push_back(s.id);
    return all;
  };
  const auto before = ids();
  QCOMPARE(before.size(), size_t(4));
  const std::string inHand = shot().id;
  QAbstractButton* first = card(shots()[0].name.c_str());
  const int w = first->width();
  const QPoint from = first->rect().center();
  drag(*first, from, from + QPoint(2 * w + w / 4, 0));  // over the next two
  QCOMPARE(ids(), (std::vector{before[1], before[2], before[0], before[3]}));
  QCOMPARE(shot().id, inHand);  // what is in hand stays so: a drag is no click
  session().undo();             // and one step
  QCOMPARE(ids(), before);
  // Given up in the middle, and put down where it was: nothing.
  first = card(shots()[0].name.c_str());
  QTest::mousePress(first, Qt::LeftButton, {}, from);
  move(*first, from + QPoint(3 * w, 0));
  QTest::keyClick(&strip(), Qt::Key_Escape);
  QTest::mouseRelease(first, Qt::LeftButton, {}, from + QPoint(3 * w, 0));
  QCOMPARE(ids(), before);
  drag(*first, from, from + QPoint(w / 4, 0));
  QCOMPARE(ids(), before);
}

void TestShotsStrip::evidenceGoesToAnotherShot() {
  const Evidence evidence = shot().evidence;
  const Camera camera = shot().vantage.camera;
  session().setStation(Station::vantage);
  QTest::mouseClick(button("Copy evidence"), Qt::LeftButton);
  QTest::mouseClick(button("New shot"), Qt::LeftButton);
  QVERIFY(!button("Copy evidence")->isEnabled());
  session().editShot("a photo of the same camera", [&](Shot& s) {
    s.vantage.camera.width = camera.width, s.vantage.camera.height = camera.height;
  });
  QTest::mouseClick(button("Paste"), Qt::LeftButton);
  QVERIFY(shot().evidence == evidence);
  QVERIFY(shot().vantage.solved && std::abs(shot().vantage.camera.focalPx / camera.focalPx - 1) < 1e-3);
  session().undo();
  QVERIFY(shot().evidence == Evidence{});
}

void TestShotsStrip::surfacesGoToAnotherPart() {
  session().setStation(Station::surface);
  const Product& product = session().project().products[0];
  const auto [part, surface] = *product.surfaceOfPart.begin();
  std::string other;
  for (const auto& [path, worn] : product.surfaceOfPart)
    if (worn != surface) other = path;
  QVERIFY(!other.empty());
  const size_t surfaces = session().project().surfaces.size();
  session().selectPart(part);
  QTest::mouseClick(button("Copy surface"), Qt::LeftButton);
  session().selectPart(other);
  QTest::mouseClick(button("Paste surface"), Qt::LeftButton);
  QCOMPARE(session().project().products[0].surfaceOfPart.at(other), surface);
  QCOMPARE(session().project().surfaces.size(), surfaces);  // it is there already: shared
  QGuiApplication::clipboard()->setText("a letter");
  QTest::mouseClick(button("Paste surface"), Qt::LeftButton);
  QCOMPARE(session().project().surfaces.size(), surfaces);
}

void TestShotsStrip::lightIsBroughtFromAnotherShot() {
  const Shot first = shots()[0];
  QTest::mouseClick(button("New shot"), Qt::LeftButton);
  QMenu menu;
  strip().fillBringMenu(&menu);
  QCOMPARE(menu.actions().size(), 1);
  QMenu* of = menu.actions()[0]->menu();
  for (QAction* a : of->actions()) {
    if (a->text() == "camera") QVERIFY(!a->isEnabled() && !a->toolTip().isEmpty());  // another photo's pixels
    if (a->text() == "light") a->trigger();
  }
  QVERIFY(shot().surroundings == first.surroundings && shot().lamps == first.lamps);
  QVERIFY(shot().plate.empty());
  QCOMPARE(session().history().undoText(), "bring the light of " + first.name);
}

void TestShotsStrip::thumbnailsAreDrawn() {
  QVERIFY(waitForSamples(2));
  QTest::mouseClick(button("Copy shot"), Qt::LeftButton);
  session().editShot("bluer", [](Shot& s) { s.blend.exposureEv = 3; });
  QTRY_VERIFY_WITH_TIMEOUT(
      window_->jobs().all().empty() && picture().frame() && picture().frame()->samples >= 2, 30'000);
  session().selectShot(shots()[0].id);
  const auto look = [&](const char* name) {
    const QImage image = card(name)->grab().toImage();
    double sum = 0;
    for (int y = 12; y < 60; ++y)
      for (int x = 20; x < 100; ++x) sum += qGray(image.pixel(x, y));
    return sum / (48 * 80);
  };
  const std::string copy = shots()[1].name;
  QVERIFY(look(copy.c_str()) > 60);  // a picture of the quay, not an empty field
  // One that is not on screen is drawn in the background when it changes.
  session().edit("empty the other", [](Project& p) {
    p.shots[1].backdrop.kind = BackdropKind::plain, p.shots[1].backdrop.colour = "#000000";
  });
  QTRY_VERIFY_WITH_TIMEOUT(look(copy.c_str()) < 40, 30'000);
}

void TestShotsStrip::theCastFollowsEverySelectionAndBack() {
  session().editShot("lamp", [](Shot& s) { s.lamps.push_back(s.lamps[0]), s.lamps.back().id = "lamp-7"; });
  const auto current = [&](CastModel::Role role) {
    return cast().currentIndex().data(role).toString().toStdString();
  };
  session().selectLamp("lamp-7");
  QCOMPARE(current(CastModel::lampRole), std::string("lamp-7"));
  session().selectStandIn(shot().standIns[1].id);
  QCOMPARE(current(CastModel::standInRole), shot().standIns[1].id);
  session().selectPart("Brackwater tide gauge/Housing/Lid");
  QCOMPARE(current(CastModel::pathRole), std::string("Brackwater tide gauge/Housing/Lid"));
  const QModelIndex lamp = cast().model().indexOf(CastModel::lampRole, shot().lamps[0].id);
  cast().scrollTo(lamp);
  QTest::mouseClick(cast().viewport(), Qt::LeftButton, {}, cast().visualRect(lamp).center());
  QCOMPARE(session().selectedLamp(), shot().lamps[0].id);
  QCOMPARE(session().station(), Station::light);
}

void TestShotsStrip::lampsAreRenamedCopiedPastedDeleted() {
  const QModelIndex lamp = cast().model().indexOf(CastModel::lampRole, shot().lamps[0].id);
  cast().setCurrentIndex(lamp);
  cast().setFocus();
  QTest::keyClick(&cast(), Qt::Key_F2);
  auto* editor = cast().viewport()->findChild<QLineEdit*>();
  QVERIFY(editor);
  QTest::keySequence(editor, QKeySequence::SelectAll);
  QTest::keyClicks(editor, "Low sun");
  QTest::keyClick(editor, Qt::Key_Return);
  QTRY_COMPARE(shot().lamps[0].name, std::string("Low sun"));
  cast().setCurrentIndex(cast().model().indexOf(CastModel::lampRole, shot().lamps[0].id));
  QTest::keySequence(&cast(), QKeySequence::Copy);
  QVERIFY(QGuiApplication::clipboard()->text().contains("Low sun"));
  QTest::keySequence(&cast(), QKeySequence::Paste);
  QVERIFY2(shot().lamps.size() == 2, qPrintable(window_->notices().messages().join(" | ")));
  // To another shot, which has none.
  QTest::mouseClick(button("New shot"), Qt::LeftButton);
  cast().setFocus();
  QTest::keySequence(&cast(), QKeySequence::Paste);
  QCOMPARE(shot().lamps.size(), size_t(1));
  QGuiApplication::clipboard()->setText("nothing of ours");
  QTest::keySequence(&cast(), QKeySequence::Paste);
  QCOMPARE(shot().lamps.size(), size_t(1));
  session().selectShot(shots()[0].id);
  cast().selectAll();
  QTest::keyClick(&cast(), Qt::Key_Delete);
  QVERIFY(shot().lamps.empty() && shot().standIns.empty() && shot().placements.empty());
  QVERIFY(session().project().products.empty());
  session().undo();
  QCOMPARE(shot().lamps.size(), size_t(2));
}

void TestShotsStrip::thePictureIsTakenAlong() {
  QVERIFY(waitForSamples(1));
  auto* grip = window_->findChild<PictureGrip*>();
  const std::unique_ptr<QMimeData> data(grip->taken());
  QVERIFY(data && data->hasImage() && data->urls().size() == 1);
  const QImage png(data->urls()[0].toLocalFile());
  QCOMPARE(png.size(), picture().frame()->picture.size());
  QTest::mouseClick(grip, Qt::LeftButton);
  QVERIFY(QGuiApplication::clipboard()->mimeData()->hasImage());
}

void TestShotsStrip::drawersAreRemembered() {
  for (const char* name : {"Proofs", "Shots"}) {
    QAbstractButton* tab = named<QToolButton>((QString("Drawer: ") + name).toUtf8());
    QTest::mouseClick(tab, Qt::LeftButton);
    QCOMPARE(window_->drawer().current(), QString(name));
    MainWindow other;
    QCOMPARE(other.drawer().current(), QString(name));
  }
}

void TestShotsStrip::helpFollowsTheWorkAndIsSearched() {
  session().setStation(Station::vantage);
  QTest::keySequence(window_.get(), QKeySequence::HelpContents);
  auto* help = window_->findChild<HelpPanel*>();
  auto* text = help->findChild<QTextBrowser*>();
  QVERIFY(help->isVisible() && text->toPlainText().contains("footprint", Qt::CaseInsensitive));
  for (const StationInfo& info : stations()) {  // every station has its page, and it stays open
    session().setStation(info.station);
    QVERIFY2(text->toPlainText().startsWith(info.name), info.name);
    QVERIFY(text->toPlainText().size() > 200);
  }
  auto* words = help->findChild<QLineEdit*>();
  QTest::keyClicks(words, "gnomon shadow");
  QVERIFY(text->toPlainText().contains("Light") && text->toPlainText().contains("tip of its shadow"));
  QTest::keyClicks(words, " xyzzy");
  QVERIFY(text->toPlainText().contains("Nothing of that"));
  words->clear();
  QVERIFY(text->toPlainText().startsWith("Hand over"));
  help->hide();
}

void TestShotsStrip::theWindowFitsItsScreen() {
  QSettings().remove("window");
  MainWindow fresh;
  const QSize room = fresh.screen()->availableGeometry().size();
  QVERIFY(fresh.width() <= std::max(room.width(), fresh.minimumWidth()) &&
          fresh.height() <= room.height() - 30);  // with a title bar
  fresh.resize(700, 640);
  fresh.show();
  QTest::qWait(30);
  for (QToolButton* b : fresh.findChildren<QToolButton*>())  // nothing of the header is squeezed
    if (b->isVisible() && b->parentWidget()->objectName() == "header")
      QVERIFY2(b->width() >= b->sizeHint().width(), qPrintable(b->text()));
}

void TestShotsStrip::zoomedInOnlyWhatIsSeenIsTraced() {
  window_->showView(MainWindow::View::picture);
  session().setStation(Station::product);
  picture().zoomToFit();
  QVERIFY(QTest::qWaitFor(
      [&] { return picture().frame() && picture().frame()->isWhole() && picture().frame()->samples > 1; },
      30'000));
  const Placement& p = shot().placements[0];
  const Vec3d middle(p.xM, p.yM, 0.15);
  const std::string part = picture().pick(picture().toPlate(ofWorld(middle))).part;
  for (int i = 0; i < 6; ++i) picture().zoomBy(1.5, ofWorld(middle));
  const auto zoomed = [&] {
    const Frame* f = picture().frame();
    return f && !f->isWhole() && f->whole.width() == 1920 && f->samples > 0;
  };
  QVERIFY(QTest::qWaitFor(zoomed, 30'000));
  const Frame& f = *picture().frame();
  QVERIFY(double(f.area.width()) * f.area.height() < 0.6 * f.whole.width() * f.whole.height());
  QCOMPARE(f.picture.size(), f.area.size());
  QCOMPARE(picture().pick(picture().toPlate(ofWorld(middle))).part, part);  // what lies where is the same
  // Where nothing was traced the plate is there, to the bit: the piece is a piece of the same picture.
  const QImage bare = f.bare;
  const auto photo = session().assets()->loadedPhoto(shot().plate);
  const int x = 5, y = 5;
  const Rgb pixel = photo->picture.rgbAt(f.area.x() + x, f.area.y() + y);
  QCOMPARE(qRed(bare.pixel(x, y)), int(std::lround(pixel[0] * 255)));
  picture().zoomToFit();
}

void TestShotsStrip::zoomKeysActOnTheViewThatIsShown() {
  window_->showView(MainWindow::View::picture);
  window_->notices().dismissAll();  // what comes and goes below changes the view's size
  QTest::qWait(50);
  const double before = picture().scale();
  window_->showView(MainWindow::View::plan);
  QTest::keySequence(window_.get(), QKeySequence("Ctrl++"));
  QCOMPARE(picture().scale(), before);
  window_->showView(MainWindow::View::picture);
  QTest::keySequence(window_.get(), QKeySequence("Ctrl++"));
  QVERIFY(std::abs(picture().scale() / before - 1.25) < 1e-9);
  QTest::keySequence(window_.get(), QKeySequence("Ctrl+0"));
  QVERIFY(std::abs(picture().scale() * picture().devicePixelRatioF() - 1) < 1e-9);
  // A single letter acts in the view, and in no field.
  session().setStation(Station::product);
  auto* search = named<QLineEdit>("Find parts");
  search->setFocus();
  QTest::keyClick(search, Qt::Key_F);
  QVERIFY(std::abs(picture().scale() * picture().devicePixelRatioF() - 1) < 1e-9);
  search->clear();
  picture().setFocus();
  QTest::keyClick(&picture(), Qt::Key_F);
  QVERIFY(std::abs(picture().scale() - before) < 1e-9);
}

void TestShotsStrip::rightAtTwiceThePixels() {
  QVERIFY(waitForSamples(1));
  QImage twice(window_->size() * 2, QImage::Format_RGB32);
  twice.setDevicePixelRatio(2);
  window_->render(&twice);
  const QImage once = window_->grab().toImage();
  // The same window, finer: every place has about the same colour.
  double off = 0;
  int count = 0;
  for (int y = 4; y < once.height() - 4; y += 9)
    for (int x = 4; x < once.width() - 4; x += 9, ++count)
      off += std::abs(qGray(once.pixel(x, y)) - qGray(twice.pixel(2 * x, 2 * y)));
  QVERIFY2(off / count < 8, qPrintable(QString::number(off / count)));
}

void TestShotsStrip::everyControlIsReachedByTab() {
  for (const StationInfo& info : stations()) {
    session().setStation(info.station);
    QTest::qWait(10);
    picture().setFocus();
    QSet<QWidget*> reached;
    for (int i = 0; i < 400; ++i) {
      QWidget* now = QApplication::focusWidget();
      if (!now || (i > 3 && now == &picture())) break;
      reached << now;
      QTest::keyClick(now, Qt::Key_Tab);
    }
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      const bool control = qobject_cast<QAbstractSpinBox*>(w) || qobject_cast<QPushButton*>(w) ||
                           qobject_cast<QComboBox*>(w) || qobject_cast<QCheckBox*>(w);
      if (control && w->isVisible() && w->isEnabled() && w->focusPolicy() & Qt::TabFocus)
        QVERIFY2(reached.contains(w),
                 qPrintable(QString("%1: %2").arg(
                     info.name, w->accessibleName() + w->metaObject()->className() + " \"" + w->toolTip() +
                                    "\" of " + QString::number(reached.size()))));
    }
    QVERIFY(reached.size() > 8);
  }
}

void TestShotsStrip::textFollowsTheSystem() {
  const QFont usual = QApplication::font();
  QCOMPARE(look::px(100), 100);
  window_.reset();
  QFont large = usual;
  large.setPixelSize(21);  // what a person with tired eyes asks for
  QApplication::setFont(large);
  look::apply(*qApp);
  QCOMPARE(look::small().pixelSize(), 14);
  openDemo();
  window_->resize(1600, 1000);
  QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
  for (const StationInfo& info : stations()) {
    session().setStation(info.station);
    QTest::qWait(10);
    for (QAbstractButton* b : window_->findChildren<QAbstractButton*>()) {
      if (!b->isVisible() || b->text().isEmpty()) continue;
      const int text = b->fontMetrics().horizontalAdvance(b->text());
      QVERIFY2(b->height() >= b->fontMetrics().height(), qPrintable(info.name + (": " + b->text())));
      if (qobject_cast<QPushButton*>(b))
        QVERIFY2(b->width() >= text, qPrintable(info.name + (": " + b->text())));
    }
  }
  window_.reset();
  QFont small = usual;
  small.setPixelSize(12);
  QApplication::setFont(small);
  look::apply(*qApp);
  QCOMPARE(look::px(100), 100);
  openDemo();
}

void TestShotsStrip::screenReadersHearTheStations() {
  auto* bar = window_->findChild<HorizonBar*>();
  QAccessibleInterface* said = QAccessible::queryAccessibleInterface(bar);
  QVERIFY(said && !said->text(QAccessible::Name).isEmpty());
  for (const StationInfo& info : stations()) {
    session().setStation(info.station);
    const QString text = said->text(QAccessible::Description);
    QVERIFY2(text.startsWith(QString(info.name) + ": ") && text.contains("Now: "), qPrintable(text));
  }
  // A field with something in it shows its button to empty it, too.
  named<QLineEdit>("Find parts")->setText("bezel");
  // Everything that can be seen has a name and a role, all the way down.
  int count = 0;
  QStringList nameless;
  const std::function<void(QAccessibleInterface*)> walk = [&](QAccessibleInterface* at) {
    if (!at || at->state().invisible) return;
    ++count;
    const auto role = at->role();
    if (role == QAccessible::Button || role == QAccessible::SpinBox || role == QAccessible::ComboBox ||
        role == QAccessible::CheckBox || role == QAccessible::Slider || role == QAccessible::EditableText)
      if (at->text(QAccessible::Name).isEmpty() && at->parent() &&
          at->parent()->role() != QAccessible::SpinBox)
        nameless << QString("%1 in %2")
                        .arg(int(role))
                        .arg(at->object() ? at->object()->metaObject()->className() : "?");
    for (int i = 0; i < std::min(at->childCount(), 200); ++i) walk(at->child(i));
  };
  walk(QAccessible::queryAccessibleInterface(window_.get()));
  QVERIFY(count > 60);
  QVERIFY2(nameless.isEmpty(), qPrintable(nameless.join('\n')));
}

DUSK_TEST(TestShotsStrip, QApplication);
#include "shots_strip.moc"
