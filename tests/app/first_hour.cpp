#include <QtTest>
#include <QtWidgets>

#include "app/document/preferences.h"
#include "app/window/areas.h"
#include "app/window/demos.h"
#include "app/window/horizon_bar.h"
#include "app/window/lesson.h"
#include "app/window/notices.h"
#include "app/window/preferences_panel.h"
#include "app/window/recent.h"
#include "app/window/start_page.h"
#include "core/base/files.h"
#include "core/base/log.h"
#include "core/picture/file_writer.h"
#include "core/picture/read.h"
#include "core/project/shots.h"
#include "tests/app/demo_window.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// What a new user meets: the first page, the lessons, preferences, messages.
class TestFirstHour : public DemoWindow {
  Q_OBJECT
 private slots:
  void initTestCase() {
    copyDemo();
    qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8());  // one of its functions empties it
    qputenv("XDG_DATA_HOME", folder_.filePath("data").toUtf8());
  }
  void init();
  void cleanup() { window_.reset(); }
  void theFirstPageGoesWithTheFirstThing();
  void demosAndLastWorkAreOneClickAway();
  void itIsNotShownAgainstOnesWill();
  void aSetIsBegunWithoutAPhoto();
  void aFirstPictureInTenSteps();
  void aLessonIsLeftAndTakenUp();
  void everyStationHasALesson();
  void whatIsMissingIsSaidWithTheWayThere();
  void preferencesApplyAtOnce();
  void preferencesAreFoundAndReset();
  void keysAreChangedAndClashesTold();
  void aFailureIsCopiedWithItsDetails();

 private:
  StartPage* page() { return window_->findChild<StartPage*>("start"); }
  QAbstractButton* tile(const QString& name) {
    for (auto* b : page()->findChildren<QAbstractButton*>())
      if (b->text() == name) return b;
    return nullptr;
  }
  QAction* action(const QString& text) {
    for (QAction* a : window_->findChildren<QAction*>())
      if (a->text() == text) return a;
    return nullptr;
  }
  /// Where the lesson points now, once it points at what `words` is of.
  QWidget* pointed(int step) {
    if (!QTest::qWaitFor([&] { return window_->lesson().step() == step && window_->lesson().pointedAt(); },
                         90'000))
      return nullptr;
    QTest::qWait(300);  // what is pointed at moves with the desk
    return window_->lesson().pointedAt();
  }
  /// A dialog that closed leaves no window active here.
  void wake() {
    window_->activateWindow();
    QVERIFY(QTest::qWaitForWindowActive(window_.get()));
  }
  void goTo(Station station) {
    wake();
    QTest::keyClick(window_.get(), Qt::Key(Qt::Key_1 + int(station)), Qt::ControlModifier);
    QTRY_COMPARE(session().station(), station);
  }
  void click(QWidget* control) { QTest::mouseClick(control, Qt::LeftButton, {}, control->rect().center()); }
};

void TestFirstHour::init() {
  QSettings().clear();
  window_ = std::make_unique<MainWindow>();
  window_->resize(1280, 800);
  window_->show();
  window_->activateWindow();
  QVERIFY(QTest::qWaitForWindowActive(window_.get()));
}

void TestFirstHour::theFirstPageGoesWithTheFirstThing() {
  QVERIFY(page() && page()->isVisible());
  QCOMPARE(page()->geometry(), picture().rect());
  QCOMPARE(QApplication::focusWidget(), button("Start from a photo…"));
  grab("start");
  window_->resize(1400, 900);
  QTRY_COMPARE(page()->geometry(), picture().rect());
  window_->take({demo_ + "quay-plate.jpg"});
  QTRY_VERIFY_WITH_TIMEOUT(!page()->isVisible(), 30'000);
  // Undone, there is nothing again.
  session().undo();
  QTRY_VERIFY(page()->isVisible());
  session().dropJournal();
}

void TestFirstHour::demosAndLastWorkAreOneClickAway() {
  QCOMPARE(demos().size(), size_t(4));
  for (const Demo& demo : demos()) {
    QVERIFY2(tile(demo.name), demo.name);
    QVERIFY2(!QImage(pictureOf(demo)).isNull(), demo.folder);
  }
  letEnterPress(*qApp);
  tile(demos()[0].name)->setFocus();
  QTest::keyClick(tile(demos()[0].name), Qt::Key_Return);
  QTRY_COMPARE_WITH_TIMEOUT(session().project().products.size(), size_t(1), 20'000);
  QVERIFY(
      QString::fromStdString(session().file().string()).startsWith(folder_.path()));  // a copy of one's own
  QVERIFY(!page()->isVisible());
  QTRY_VERIFY_WITH_TIMEOUT(picture().frame() && picture().frame()->samples > 0, 60'000);
  const QString file = QString::fromStdString(session().file().string());
  // Leaving it for an empty one keeps how it looked, and begins where all work begins.
  session().setStation(Station::light);
  action("New")->trigger();
  QVERIFY(session().file().empty() && session().station() == Station::plate);
  QVERIFY(recent::pictureOf(file).width() > 200);
  QVERIFY(page()->isVisible());
  window_->open(file);
  QTRY_VERIFY_WITH_TIMEOUT(picture().frame() && picture().frame()->samples > 0, 60'000);
  QVERIFY(window_->close());
  QCOMPARE(recent::files(), QStringList{file});
  QVERIFY(recent::pictureOf(file).width() > 200);
  // The next window shows it as it was left, and opens it.
  window_ = std::make_unique<MainWindow>();
  window_->resize(1280, 800);
  window_->show();
  QVERIFY2(page()->isVisible(), session().file().c_str());
  QVERIFY(tile("brackwater"));
  click(tile("brackwater"));
  QTRY_COMPARE(QString::fromStdString(session().file().string()), file);
  // What is gone is not offered.
  recent::remember(folder_.filePath("gone.dusk"));
  QCOMPARE(recent::files(), QStringList{file});
  recent::forgetAll();
  QVERIFY(recent::files().isEmpty() && recent::pictureOf(file).isNull());
}

void TestFirstHour::itIsNotShownAgainstOnesWill() {
  auto* close = tile("Close this page");
  QVERIFY(close);
  click(close);
  QVERIFY(!page()->isVisible());
  action("How to begin")->trigger();
  QVERIFY(page()->isVisible());
  QTest::keyClick(page(), Qt::Key_Escape);
  QVERIFY(!page()->isVisible());
  action("How to begin")->trigger();
  auto* keep = page()->findChild<QCheckBox*>();
  QVERIFY(keep && keep->isChecked());
  QTest::mouseClick(keep, Qt::LeftButton, {}, QPoint(8, keep->height() / 2));
  QVERIFY(!Preferences::own().value("startPage").toBool());
  window_ = std::make_unique<MainWindow>();
  window_->show();
  QVERIFY(!page()->isVisible());
}

void TestFirstHour::aSetIsBegunWithoutAPhoto() {
  click(tile("Start without one"));
  QTRY_VERIFY(!page()->isVisible());
  QVERIFY(!shot().set.kind.empty() && shot().placements.size() > 2);
  QCOMPARE(session().station(), Station::plate);
  // What to do with it is before the person's eyes.
  const auto isSeen = [this](const QString& name) {
    for (const QAbstractButton* b : window_->findChildren<QAbstractButton*>())
      if (b->text() == name && !b->visibleRegion().isEmpty()) return true;
    return false;
  };
  QTRY_VERIFY(isSeen("Throw the die"));
  session().undo();
  QVERIFY(session().base() == emptyProject());
}

void TestFirstHour::aFirstPictureInTenSteps() {
  click(tile("Show me how"));
  QCOMPARE(window_->lesson().steps(), 10);
  QVERIFY(window_->lesson().isVisible());
  int step = 0;
  grab("lesson");
  const auto press = [&](Station station, const QString& text, const QString& file = {}) {
    goTo(station);
    QWidget* control = pointed(step);
    QVERIFY2(control, qPrintable(QString::number(step)));
    auto* button = qobject_cast<QAbstractButton*>(control);
    QVERIFY(button);
    QCOMPARE(button->text(), text);
    if (!file.isEmpty()) {
      const QString there = folder_.filePath("data/gentle-dusk/demo/brackwater/" + file);
      QVERIFY2(QFileInfo::exists(there), qPrintable(there));
      answerDialog(file);
    }
    click(button);
    ++step;
  };
  // Nothing here asks about its pixels: a fourth of them are traced sooner.
  const fs::path plate = folder_.filePath("data/gentle-dusk/demo/brackwater/quay-plate.jpg").toStdString();
  const auto photo = readPhoto(plate);
  QVERIFY(photo.ok());
  PictureFileKind kind;
  kind.format = PictureFormat::jpeg, kind.tags = PictureTags{{}, {}, {}, plate};
  const fs::path small = folder_.filePath("small.jpg").toStdString();
  QVERIFY(writePicture(small, kind, resized(photo->picture, 960, 640)).ok());
  fs::rename(small, plate);
  press(Station::plate, "Choose a photo…", "quay-plate.jpg");
  // At another station the way is pointed at first.
  QTRY_VERIFY_WITH_TIMEOUT(window_->lesson().step() == 1, 30'000);
  QTRY_COMPARE(window_->lesson().pointedAt(), static_cast<QWidget*>(&window_->horizon()));
  QVERIFY(window_->lesson().told().contains("Ctrl+2"));
  press(Station::vantage, "Find edges");
  press(Station::vantage, "Add edges");
  press(Station::product, "Bring in a model…", "brackwater-gauge.step");
  QVERIFY(pointed(step) == &picture());
  QTRY_VERIFY_WITH_TIMEOUT(
      picture().frame() && picture().frame()->scene && !picture().frame()->scene->geometry->empty(), 60'000);
  QVERIFY(shot().vantage.solved);
  const Placement at = shot().placements[0];
  const QPoint on = ofWorld({at.xM, at.yM, 0.15});
  drag(picture(), on, on + QPoint(30, 12)), ++step;
  goTo(Station::surface);
  QVERIFY(pointed(step));
  QTest::mouseClick(&picture(), Qt::LeftButton, {}, on + QPoint(30, 12));
  auto* shelf = named<QListWidget>("Surfaces");
  QVERIFY(shelf && shelf->count() > 10);
  shelf->setFocus();
  shelf->setCurrentRow(3);
  QTest::keyClick(shelf, Qt::Key_Return), ++step;
  press(Station::light, "Choose a panorama…", "quay-panorama.exr");
  press(Station::light, "Align with the photo");
  press(Station::blend, "Match the photo");
  session().editShot("few", [](Shot& s) { s.render.samples = 2; });
  session().save(folder_.filePath("mine.dusk").toStdString());
  press(Station::deliver, "Deliver");
  QTRY_COMPARE_WITH_TIMEOUT(window_->lesson().step(), 10, 60'000);
  QVERIFY(window_->lesson().told().contains("F1"));
  window_->jobs().cancelAll();
  window_->jobs().finish();
}

void TestFirstHour::aLessonIsLeftAndTakenUp() {
  QTest::keyClick(&window_->lesson(), Qt::Key_Escape);
  action("Show me how: a first picture")->trigger();
  auto* skip = button("Skip");
  QVERIFY(skip && skip->isVisible());
  for (int i = 0; i < 3; ++i) click(skip);
  QCOMPARE(window_->lesson().step(), 3);
  click(button("Back"));
  QCOMPARE(window_->lesson().step(), 2);
  click(button("Leave"));
  QVERIFY(!window_->lesson().isVisible() && !window_->lesson().pointedAt());
  action("Show me how: a first picture")->trigger();
  QVERIFY(window_->lesson().isVisible() && window_->lesson().step() == 0);
  window_->close();  // with a lesson under way
}

void TestFirstHour::everyStationHasALesson() {
  window_->open(project_.isEmpty() ? demo_ + "brackwater.dusk" : project_);
  for (int i = 0; i < stationCount; ++i) {
    session().setStation(Station(i));
    action("Show me how: this station")->trigger();
    const Lesson lesson = lessonOf(Station(i));
    QVERIFY(!lesson.steps.empty());
    QTest::qWait(200);
    for (const LessonStep& step : lesson.steps) {
      QVERIFY2(step.control(*window_), step.words);  // what it points at is there
      QVERIFY2(!step.isDone(*window_, session().base()) || Station(i) == Station::deliver, step.words);
    }
  }
}

void TestFirstHour::whatIsMissingIsSaidWithTheWayThere() {
  auto* row = window_->findChild<QWidget*>("need");
  QVERIFY(row);
  const auto leadsTo = [&](Station from) -> int {
    session().setStation(from);
    if (!row->isVisible()) return -1;
    click(row->findChild<QPushButton*>());
    return int(session().station());
  };
  QCOMPARE(leadsTo(Station::plate), -1);
  QCOMPARE(leadsTo(Station::blend), int(Station::plate));
  session().editShot("a photo", [](Shot& s) { s.plate.path = "quay-plate.jpg"; });
  QCOMPARE(leadsTo(Station::vantage), -1);
  QCOMPARE(leadsTo(Station::contact), int(Station::vantage));
  session().editShot("solved", [](Shot& s) { s.vantage.solved = true; });
  QCOMPARE(leadsTo(Station::light), -1);
  QCOMPARE(leadsTo(Station::surface), int(Station::product));
  session().edit("a product", [&](Project& p) {
    p.products.emplace_back().id = "p";
    session().shotIn(p).placements = {{"pl", "p"}};
  });
  QCOMPARE(leadsTo(Station::contact), -1);
  QCOMPARE(leadsTo(Station::deliver), int(Station::light));
  session().editShot("a lamp", [](Shot& s) { s.lamps.emplace_back().id = "l"; });
  for (int i = 0; i < stationCount; ++i) QCOMPARE(leadsTo(Station(i)), -1);
  session().dropJournal();
}

void TestFirstHour::preferencesApplyAtOnce() {
  action("Preferences…")->trigger();
  auto* panel = window_->findChild<PreferencesPanel*>();
  QVERIFY(panel && panel->isVisible());
  auto* lengths = panel->findChild<QComboBox*>("lengths");
  lengths->setFocus();
  QTest::keyClick(lengths, Qt::Key_End);
  QCOMPARE(QString(session().shownUnit().name), QString("in"));
  session().setShownUnit(1);  // from a desk: the panel follows
  QCOMPARE(lengths->currentText(), QString("cm"));
  auto* text = panel->findChild<QComboBox*>("textPercent");
  const int before = look::px(100);
  text->setFocus();
  QTest::keyClick(text, Qt::Key_End);
  QCOMPARE(look::px(100), 160);
  QVERIFY(QFontInfo(qApp->font()).pixelSize() > 18);
  QTest::keyClick(text, Qt::Key_Home);
  QCOMPARE(look::px(100), before);
  panel->showPage("Work");
  auto* minutes = panel->findChild<QSpinBox*>("autosaveMinutes");
  minutes->setFocus();
  minutes->selectAll();
  QTest::keyClicks(minutes, "5");
  QCOMPARE(Preferences::own().number("autosaveMinutes"), 5);
  // Values that no panel would give are brought into range.
  Preferences::own().set("threads", 100000);
  QCOMPARE(Preferences::own().number("threads"), 256);
  QSettings().setValue("memoryGb", "rubbish");
  QCOMPARE(Preferences::own().number("memoryGb"), 6);
  Preferences::own().set("threads", 0);
  grab("preferences", panel);
}

void TestFirstHour::preferencesAreFoundAndReset() {
  action("Preferences…")->trigger();
  auto* panel = window_->findChild<PreferencesPanel*>();
  auto* words = panel->findChild<QLineEdit*>();
  auto* names = panel->findChild<QListWidget*>();
  QTest::keyClicks(words, "memory");
  QCOMPARE(names->currentItem()->text(), QString("Work"));
  QVERIFY(panel->findChild<QSpinBox*>("memoryGb")->isVisible());
  QVERIFY(!panel->findChild<QSpinBox*>("autosaveMinutes")->isVisible());
  words->clear();
  QTest::keyClicks(words, "ctrl+shift+s");  // keys are found by what they are
  QCOMPARE(names->currentItem()->text(), QString("Keys"));
  words->clear();
  QVERIFY(panel->findChild<QSpinBox*>("autosaveMinutes"));
  Preferences::own().set("autosaveMinutes", 9);
  Preferences::own().set("memoryGb", 12);
  Preferences::own().set("lengths", 2);
  panel->showPage("Work");
  for (auto* b : panel->findChildren<QPushButton*>())
    if (b->text() == "Usual values" && b->isVisible()) click(b);
  QCOMPARE(Preferences::own().number("autosaveMinutes"), 0);
  QCOMPARE(Preferences::own().number("memoryGb"), 6);
  QCOMPARE(Preferences::own().number("lengths"), 2);  // another page's
  // The cache is counted and emptied.
  QVERIFY(writeFileAtomically(fs::path(folder_.path().toStdString()) / "cache/gentle-dusk/x",
                              std::string(4096, 'x'))
              .ok());
  panel->close();
  delete panel;
  window_ = std::make_unique<MainWindow>();
  window_->show();
  action("Preferences…")->trigger();
  auto* empty = window_->findChild<QPushButton*>("emptyCache");
  QTRY_VERIFY(empty->text() != "Empty");
  window_->findChild<PreferencesPanel*>()->showPage("Files");
  click(empty);
  QTRY_VERIFY(!fs::exists(fs::path(folder_.path().toStdString()) / "cache/gentle-dusk/x"));
}

void TestFirstHour::keysAreChangedAndClashesTold() {
  action("Preferences…")->trigger();
  auto* panel = window_->findChild<PreferencesPanel*>();
  panel->showPage("Keys");
  auto* list = panel->findChild<QTreeWidget*>();
  auto* keys = panel->findChild<QKeySequenceEdit*>();
  const auto take = [&](const char* line, const QKeySequence& pressed) {
    const auto found = list->findItems(line, Qt::MatchExactly);
    QCOMPARE(found.size(), qsizetype(1));
    list->setCurrentItem(found.front());
    keys->setKeySequence(pressed);
    emit keys->editingFinished();
  };
  take("File: Gather…", QKeySequence("Ctrl+Alt+G"));
  QCOMPARE(action("Gather…")->shortcut(), QKeySequence("Ctrl+Alt+G"));
  take("File: New", QKeySequence("Ctrl+S"));
  QCOMPARE(action("New")->shortcut(), QKeySequence(QKeySequence::New));
  QVERIFY(panel->findChild<QWidget*>("clash"));
  QVERIFY(panel->findChild<QLabel*>("clash")->text().contains("File: Save"));
  window_ = std::make_unique<MainWindow>();  // kept
  QCOMPARE(action("Gather…")->shortcut(), QKeySequence("Ctrl+Alt+G"));
  window_->show();
  action("Preferences…")->trigger();
  panel = window_->findChild<PreferencesPanel*>();
  panel->showPage("Keys");
  for (auto* b : panel->findChildren<QPushButton*>())
    if (b->text() == "Usual keys") click(b);
  QVERIFY(action("Gather…")->shortcut().isEmpty());
}

void TestFirstHour::aFailureIsCopiedWithItsDetails() {
  window_->open(folder_.filePath("nowhere.dusk"));
  QVERIFY(!window_->notices().messages().isEmpty());
  auto* copy = button("Copy details");
  QVERIFY(copy && copy->isVisible());
  click(copy);
  const QString text = QGuiApplication::clipboard()->text();
  QVERIFY2(text.startsWith(window_->notices().messages().last()) && text.contains("Gentle Dusk 0."),
           qPrintable(text));
  QVERIFY(text.contains("said a failure"));
  // A report of a crash is told once, and shown as it is.
  const fs::path report = fs::path(folder_.path().toStdString()) / "crash-1.txt";
  QVERIFY(writeFileAtomically(report, "Ended because of a test.").ok());
  window_->tellOfCrash(report);
  click(button("Show the report"));
  bool shown = false;
  for (auto* browser : window_->findChildren<QTextBrowser*>())
    shown |= browser->toPlainText().contains("Ended because of a test.") && browser->isVisible();
  QVERIFY(shown);
}

DUSK_TEST(TestFirstHour, QApplication);
#include "first_hour.moc"
