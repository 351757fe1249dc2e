#include <QtTest>
#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/colour_popover.h"
#include "app/widgets/colours.h"
#include "app/widgets/desk.h"
#include "app/widgets/look.h"
#include "app/widgets/number_field.h"
#include "tests/program.h"

using namespace dusk;

/// Number fields and colours under real hands.
class TestFields : public QObject {
  Q_OBJECT
  QTemporaryDir settings_;
  std::unique_ptr<Session> session_;
  std::unique_ptr<Jobs> jobs_;
  std::unique_ptr<Preview> preview_;
  std::unique_ptr<Workbench> bench_;
  std::unique_ptr<QScrollArea> area_;
  const Shot& shot() { return session_->shot(); }
  size_t steps() { return session_->history().size(); }
  template <typename W>
  W* named(const char* name) {
    for (W* w : area_->findChildren<W*>())
      if (w->accessibleName() == name) return w;
    return nullptr;
  }
  QLabel* labelOf(QWidget* field) {
    for (QLabel* l : field->parentWidget()->findChildren<QLabel*>())
      if (l->buddy() == field) return l;
    return nullptr;
  }
  void openDesk(Desk* desk) {
    area_ = std::make_unique<QScrollArea>();
    area_->setWidget(desk);
    area_->setWidgetResizable(true);
    area_->resize(320, 420);
    area_->show();
    QVERIFY(QTest::qWaitForWindowExposed(area_.get()));
  }
  void type(QWidget* field, const char* text, int key = Qt::Key_Return) {
    QTest::mouseClick(field, Qt::LeftButton);
    QTest::keySequence(field, QKeySequence::SelectAll);
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key(key));
  }
  void wheel(QWidget* on, int by) {
    const QPointF at = on->rect().center();
    QWheelEvent e(at, on->mapToGlobal(at), {}, {0, by}, {}, {}, Qt::NoScrollPhase, false);
    QApplication::sendEvent(on, &e);
  }
  void pull(QWidget* on, const QPoint& from, const QPoint& to, int pauseMs) {
    QTest::mousePress(on, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 4; ++i) {
      const QPoint at = from + (to - from) * i / 4;
      QMouseEvent move(QEvent::MouseMove, at, on->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
      QApplication::sendEvent(on, &move);
      if (i == 2) QTest::qWait(pauseMs);
    }
    QTest::mouseRelease(on, Qt::LeftButton, {}, to);
  }

 private slots:
  void initTestCase() {
    QStandardPaths::setTestModeEnabled(true);
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings_.path());
    look::apply(*qApp);
  }
  void init() {
    session_ = std::make_unique<Session>();
    QVERIFY(session_->open(std::filesystem::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk",
                           Session::OpenAs::look));
    jobs_ = std::make_unique<Jobs>(*session_);
    preview_ = std::make_unique<Preview>();
    bench_ = std::make_unique<Workbench>(*session_, *jobs_, *preview_);
  }
  void cleanup() { area_.reset(), bench_.reset(), preview_.reset(), jobs_.reset(), session_.reset(); }
  void unitsAndSumsAreTyped();
  void nonsenseGoesBack();
  void beyondTheRangeIsItsEnd();
  void theWheelTurnsOnlyWhatIsInHand();
  void keysStepFineAndCoarse();
  void aSliderPullIsOneStepHoweverLong();
  void theLabelScrubs();
  void aDoubleClickBringsTheUsualValue();
  void commasAndSuffixesAreRead();
  void coloursAreSetLiveInOneStep();
  void escapeTakesTheColourBack();
  void onlyOneAndNeverRetargeted();
  void everyWayToAColourAgrees();
  void pickedColoursAreAveraged();
  void coloursUsedLatelyAreKept();
};

void TestFields::unitsAndSumsAreTyped() {
  openDesk(makeProductDesk(*bench_));
  auto* along = named<NumberField>("Position a");
  for (const auto& [text, metres] : std::initializer_list<std::pair<const char*, double>>{
           {"250", 0.25}, {"1.2 m", 1.2}, {"3/8 in", 0.009525}, {"2*40 mm", 0.08}, {"1 m - 5 cm", 0.95}}) {
    type(along, text);
    QVERIFY2(std::abs(shot().placements[0].xM - metres) < 6e-5, text);  // shown to a tenth of a millimetre
  }
  session_->undo();
  QVERIFY(std::abs(shot().placements[0].xM - 0.08) < 6e-5);  // each was a step of its own
}

void TestFields::nonsenseGoesBack() {
  openDesk(makeProductDesk(*bench_));
  auto* along = named<NumberField>("Position a");
  const double before = shot().placements[0].xM;
  for (const char* text : {"abc", "12 K", "1/0", ""}) {
    type(along, text);
    QCOMPARE(shot().placements[0].xM, before);
    QVERIFY(along->text().endsWith(" mm"));
  }
  type(along, "77", Qt::Key_Escape);
  QTest::keyClick(along, Qt::Key_Return);
  QCOMPARE(shot().placements[0].xM, before);
}

void TestFields::beyondTheRangeIsItsEnd() {
  openDesk(makeBlendDesk(*bench_));
  type(named<NumberField>("Exposure"), "99");
  QCOMPARE(shot().blend.exposureEv, 6.0);
  type(named<NumberField>("Exposure"), "-3*4");
  QCOMPARE(shot().blend.exposureEv, -6.0);
}

void TestFields::theWheelTurnsOnlyWhatIsInHand() {
  openDesk(makeLightDesk(*bench_));
  const Project before = session_->project();
  area_->setFocus();
  for (QWidget* w : area_->findChildren<QWidget*>())
    if (w->isVisible() &&
        (qobject_cast<NumberField*>(w) || qobject_cast<QComboBox*>(w) || qobject_cast<QSlider*>(w)))
      wheel(w, 120), wheel(w, -360);
  QVERIFY(session_->project() == before);
  auto* turn = named<NumberField>("Turn");
  turn->setFocus();
  const double was = shot().surroundings.turnDegrees;
  wheel(turn, 120);
  QCOMPARE(shot().surroundings.turnDegrees, was + 1);
}

void TestFields::keysStepFineAndCoarse() {
  openDesk(makeBlendDesk(*bench_));
  auto* field = named<NumberField>("Exposure");
  field->setFocus();
  QTest::keyClick(field, Qt::Key_Up);
  QCOMPARE(shot().blend.exposureEv, 0.05);
  QTest::keyClick(field, Qt::Key_PageUp);
  QVERIFY(std::abs(shot().blend.exposureEv - 0.55) < 1e-9);
  QCOMPARE(steps(), size_t(2));  // a run
  auto* samples = named<NumberField>("Warmth");
  samples->setFocus();
  QTest::keyClick(samples, Qt::Key_Up, Qt::ShiftModifier);
  QVERIFY(shot().blend.warmth > 0 && shot().blend.warmth < 0.011);
  QCOMPARE(steps(), size_t(3));
}

void TestFields::aSliderPullIsOneStepHoweverLong() {
  openDesk(makeBlendDesk(*bench_));
  auto* slider = named<QSlider>("Exposure slider");
  QStyleOptionSlider option;
  option.initFrom(slider);
  option.minimum = 0, option.maximum = 1000, option.sliderPosition = option.sliderValue = slider->value();
  const QPoint handle =
      slider->style()->subControlRect(QStyle::CC_Slider, &option, QStyle::SC_SliderHandle, slider).center();
  pull(slider, handle, handle + QPoint(22, 0), 1500);
  QVERIFY2(shot().blend.exposureEv > 0.5, qPrintable(QString::number(shot().blend.exposureEv)));
  QVERIFY(std::abs(named<NumberField>("Exposure")->value() - shot().blend.exposureEv) < 0.006);
  QCOMPARE(steps(), size_t(2));
  session_->undo();
  QCOMPARE(shot().blend.exposureEv, 0.0);
  QCOMPARE(named<NumberField>("Exposure")->value(), 0.0);
}

void TestFields::theLabelScrubs() {
  openDesk(makeProductDesk(*bench_));
  auto* field = named<NumberField>("Position a");
  QLabel* label = labelOf(field);
  QVERIFY(label && label->cursor().shape() == Qt::SizeHorCursor);
  const double before = shot().placements[0].xM;
  pull(label, {10, 8}, {90, 8}, 1400);
  QVERIFY2(std::abs(shot().placements[0].xM - before - 0.02) < 0.002,
           qPrintable(QString::number(shot().placements[0].xM)));
  QCOMPARE(steps(), size_t(2));
  QTest::mouseClick(label, Qt::LeftButton, {}, {10, 8});  // a click alone changes nothing
  QCOMPARE(steps(), size_t(2));
}

void TestFields::aDoubleClickBringsTheUsualValue() {
  openDesk(makeBlendDesk(*bench_));
  session_->editShot("x", [](Shot& s) { s.blend.exposureEv = 2.5; });
  QLabel* label = labelOf(named<NumberField>("Exposure"));
  QVERIFY(label->toolTip().contains("0.00 EV"));
  QTest::mouseDClick(label, Qt::LeftButton, {}, {10, 8});
  QCOMPARE(shot().blend.exposureEv, 0.0);
}

void TestFields::commasAndSuffixesAreRead() {
  NumberField field;
  field.setRange(-1000, 1000);
  field.setDecimals(2);
  field.setUnit("× white");
  field.setValue(2.5);
  QCOMPARE(field.text(), QString("2.50 × white"));
  QCOMPARE(field.valueFromText("1,25 × white"), 1.25);
  QCOMPARE(field.valueFromText("nonsense"), 2.5);
  int at = 0;
  QString half = "1/", over = "5000", good = "10*2";
  QCOMPARE(field.validate(half, at), QValidator::Intermediate);
  QCOMPARE(field.validate(over, at), QValidator::Intermediate);
  QCOMPARE(field.validate(good, at), QValidator::Acceptable);
}

void TestFields::coloursAreSetLiveInOneStep() {
  openDesk(makeBlendDesk(*bench_));
  auto* swatch = named<QPushButton>("White");
  QTest::mouseClick(swatch, Qt::LeftButton);
  ColourPopover* popover = ColourPopover::current();
  QVERIFY(popover && popover->isVisible());
  auto* code = popover->findChild<QLineEdit*>();
  for (const char* text : {"#804020", "#ff8000"}) {
    code->selectAll();
    QTest::keyClicks(code, text);
    QCOMPARE(shownColour(shot().blend.white).name(), QString(text));
  }
  QCOMPARE(swatch->text(), QString("#ff8000"));
  QCOMPARE(steps(), size_t(2));
  QTest::keyClick(code, Qt::Key_Return);
  QVERIFY(!ColourPopover::current());
  session_->undo();
  QCOMPARE(shot().blend.white, Vec3d(1, 1, 1));
}

void TestFields::escapeTakesTheColourBack() {
  openDesk(makeBlendDesk(*bench_));
  QTest::mouseClick(named<QPushButton>("White"), Qt::LeftButton);
  auto* code = ColourPopover::current()->findChild<QLineEdit*>();
  code->selectAll();
  QTest::keyClicks(code, "#123456");
  QVERIFY(shot().blend.white != Vec3d(1, 1, 1));
  QTest::keyClick(code, Qt::Key_Escape);
  QCOMPARE(shot().blend.white, Vec3d(1, 1, 1));
  QVERIFY(!ColourPopover::current() && !session_->history().canUndo());
}

void TestFields::onlyOneAndNeverRetargeted() {
  openDesk(makeBlendDesk(*bench_));
  int first = 0, second = 0;
  QWidget window;
  window.resize(500, 420);
  QPushButton a(&window), b(&window);
  window.show();
  auto* one = ColourPopover::open(*session_, &a, "One", {0.5, 0.5, 0.5}, [&](const Vec3d&, int) { ++first; });
  auto* two =
      ColourPopover::open(*session_, &b, "Two", {0.5, 0.5, 0.5}, [&](const Vec3d&, int) { ++second; });
  QVERIFY(!one->isVisible() && two->isVisible());
  // Another thing in hand: what it was opened for is no longer what a field would mean.
  session_->selectLamp(shot().lamps[0].id);
  QVERIFY(!two->isVisible());
  auto* three =
      ColourPopover::open(*session_, &a, "Three", {0.5, 0.5, 0.5}, [&](const Vec3d&, int) { ++first; });
  session_->startEmpty();
  QVERIFY(!three->isVisible());
  QCOMPARE(first + second, 0);
}

void TestFields::everyWayToAColourAgrees() {
  QWidget window;
  window.resize(500, 500);
  QPushButton button(&window);
  window.show();
  Vec3d now(0, 0, 0);
  auto* p =
      ColourPopover::open(*session_, &button, "Any", {0.2, 0.4, 0.6}, [&](const Vec3d& c, int) { now = c; });
  const auto field = [&](const char* name) {
    for (NumberField* f : p->findChildren<NumberField*>())
      if (f->accessibleName() == name) return f;
    return static_cast<NumberField*>(nullptr);
  };
  type(field("Linear red"), "0.5");
  QVERIFY(std::abs(now.x - 0.5) < 1e-9 && std::abs(now.y - 0.4) < 1e-9);
  QCOMPARE(p->findChild<QLineEdit*>()->text(), shownColour(now).name());
  type(field("HSV saturation"), "0");
  QVERIFY(std::abs(now.x - now.y) < 2e-3 && std::abs(now.y - now.z) < 2e-3);
  type(field("Temperature"), "2700");
  QVERIFY(now.x > now.y && now.y > now.z);
  type(field("Temperature"), "12000 K");
  QVERIFY(now.z > now.y && now.y > now.x);
  p->hide();
}

void TestFields::pickedColoursAreAveraged() {
  QWidget window;
  window.setStyleSheet("background: #204060;");
  window.resize(500, 420);
  QLabel half(&window);
  half.setStyleSheet("background: #ffffff;");
  half.setGeometry(100, 100, 1, 60);
  window.show();
  QVERIFY(QTest::qWaitForWindowExposed(&window));
  const QPoint at = window.mapToGlobal(QPoint(100, 130));
  QCOMPARE(shownColour(meanOfScreen(at, 1)).name(), QString("#ffffff"));
  const Vec3d plain = linearColour(QColor("#204060")), mean = meanOfScreen(at, 3);
  for (int c = 0; c < 3; ++c)
    QVERIFY(std::abs(mean[c] - (2 * plain[c] + 1) / 3) < 1e-3);  // of light, not of codes
  // By the popover's own picking, with the pointer.
  QPushButton button(&window);
  Vec3d now(0, 0, 0);
  auto* p =
      ColourPopover::open(*session_, &button, "Any", {0.5, 0.5, 0.5}, [&](const Vec3d& c, int) { now = c; });
  for (QPushButton* b : p->findChildren<QPushButton*>())
    if (b->text() == "From the screen") QTest::mouseClick(b, Qt::LeftButton);
  QMouseEvent press(QEvent::MouseButtonPress, p->mapFromGlobal(window.mapToGlobal(QPoint(490, 410))),
                    window.mapToGlobal(QPoint(490, 410)), Qt::LeftButton, Qt::LeftButton, {});
  QApplication::sendEvent(p, &press);
  QCOMPARE(shownColour(now).name(), QString("#204060"));
  QMouseEvent release(QEvent::MouseButtonRelease, QPointF(), window.mapToGlobal(QPoint(490, 410)),
                      Qt::LeftButton, {}, {});
  QApplication::sendEvent(p, &release);
  QVERIFY(p->isVisible());  // ready for the next
  p->hide();
}

void TestFields::coloursUsedLatelyAreKept() {
  QWidget window;
  window.resize(500, 420);
  QPushButton button(&window);
  window.show();
  for (const char* name : {"#102030", "#405060", "#102030"}) {
    auto* p = ColourPopover::open(*session_, &button, "Any", {0.5, 0.5, 0.5}, [](const Vec3d&, int) {});
    auto* code = p->findChild<QLineEdit*>();
    code->selectAll();
    QTest::keyClicks(code, name);
    QTest::keyClick(code, Qt::Key_Return);
  }
  QCOMPARE(QSettings().value("colours").toStringList().mid(0, 2), (QStringList{"#102030", "#405060"}));
}

DUSK_TEST(TestFields, QApplication);
#include "fields.moc"
