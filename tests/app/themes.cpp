#include <QProcess>
#include <QtTest>
#include <QtWidgets>

#include "app/document/preferences.h"
#include "app/stations/stations.h"
#include "app/widgets/sheet.h"
#include "app/window/preferences_panel.h"
#include "tests/app/demo_window.h"
#include "tests/program.h"

using namespace dusk;
using look::Theme;

/// Colours, contrast, sizes of screens and of text.
class TestThemes : public DemoWindow {
  Q_OBJECT
 private slots:
  void initTestCase() { copyDemo(); }
  void cleanup() {
    window_.reset();
    for (const char* key : {"theme", "contrast", "textPercent"}) Preferences::own().set(key, 0);
    look::setTheme(0, false), look::setTextPercent(0);
  }
  void contrastIsOfTheStandard();
  void everyTextStandsOutFromItsGround_data();
  void everyTextStandsOutFromItsGround();
  void sheetsNameOnlyColoursThereAre();
  void themeIsWornAtOnce();
  void marksOnThePictureStayAsTheyAre();
  void allFitsFromSmallToLargeScreens_data();
  void allFitsFromSmallToLargeScreens();
  void allFitsOnFinerScreens_data();
  void allFitsOnFinerScreens();

 private:
  /// What shows less than its text, as sentences.
  QStringList cutOff();
};

void TestThemes::contrastIsOfTheStandard() {
  QCOMPARE(look::contrast(Qt::black, Qt::white), 21.0);
  QCOMPARE(look::contrast(Qt::white, Qt::black), 21.0);
  QCOMPARE(look::contrast(Qt::red, Qt::red), 1.0);
  QVERIFY(std::abs(look::contrast("#777777", Qt::white) - 4.48) < 0.01);  // known to fall just short of AA
}

void TestThemes::everyTextStandsOutFromItsGround_data() {
  QTest::addColumn<int>("theme");
  QTest::addColumn<bool>("strong");
  for (int i = 0; i < int(look::themes().size()); ++i)
    for (const bool strong : {false, true})
      QTest::addRow("%s%s", look::themes()[size_t(i)].name, strong ? ", stronger" : "") << i << strong;
}

void TestThemes::everyTextStandsOutFromItsGround() {
  QFETCH(int, theme);
  QFETCH(bool, strong);
  const Theme& usual = look::themes()[size_t(theme)];
  const Theme t = strong ? look::stronger(usual) : usual;
  const double least = strong ? 7 : 4.5;
  QStringList weak;
  const auto stands = [&](const char* what, const QColor& colour, std::initializer_list<QColor> grounds,
                          double atLeast) {
    for (const QColor& ground : grounds)
      if (const double is = look::contrast(colour, ground); is < atLeast)
        weak << QString("%1 on %2: %3").arg(what, ground.name()).arg(is, 0, 'f', 2);
  };
  stands("text", t.text, {t.chrome, t.panel, t.field, t.raised, t.hover, t.dimmed, t.earth, t.mossGround},
         least);
  stands("muted", t.muted, {t.chrome, t.panel, t.field, t.raised, t.earth}, least);
  stands("ember", t.ember, {t.chrome, t.panel, t.earth}, least);
  stands("tide", t.tide, {t.chrome, t.panel, t.earth}, least);
  stands("rose", t.rose, {t.chrome, t.panel, t.earth, t.raised}, least);
  stands("moss", t.moss, {t.panel, t.mossGround}, least);
  stands("on ember", t.onEmber, {t.ember, t.emberHover}, 4.5);
  stands("on selected", t.onSelected, {t.selected}, least);
  // What is no text but must be seen: boxes to tick, where the keyboard is, what is drawn as a sign.
  stands("edge", t.edge, {t.panel, t.chrome, t.field}, 3);
  stands("focus", t.ember, {t.raised, t.field}, 3);
  stands("tick", t.field, {t.ember, t.muted}, 3);
  QVERIFY2(weak.isEmpty(), qPrintable(weak.join("; ")));
}

void TestThemes::sheetsNameOnlyColoursThereAre() {
  // The preferences, which know no widgets, name the same themes in the same order.
  QStringList names;
  for (const Theme& theme : look::themes()) names << theme.name;
  for (const Preference& p : preferences())
    if (p.key == QString("theme")) QCOMPARE(p.words, names.join('|'));
  for (const Theme& theme : look::themes()) {
    const QString sheet = look::sheetOf(theme, 1.3);
    QVERIFY(!sheet.contains('$') && !sheet.contains('@'));
    QVERIFY(sheet.contains("font-size: 17px"));  // 13 px made 1.3 times as large
    QVERIFY(sheet.contains(theme.ember.name()));
    for (const QRegularExpressionMatch& file : QRegularExpression("url\\(([^)]*)\\)").globalMatch(sheet))
      QVERIFY2(QFile::exists(file.captured(1)), qPrintable(file.captured(1)));
  }
}

void TestThemes::themeIsWornAtOnce() {
  openDemo();
  MainWindow second;
  second.show();
  session().setStation(Station::vantage);
  const auto ground = [](MainWindow& window) {
    return window.findChild<QStackedWidget*>("desks")->grab().toImage().pixelColor(3, 3);
  };
  QCOMPARE(ground(*window_), look::themes()[0].panel);
  QTest::keyClick(window_.get(), Qt::Key_Comma, Qt::ControlModifier);
  auto* panel = window_->findChild<PreferencesPanel*>();
  auto* colours = panel->findChild<QComboBox*>("theme");
  QVERIFY(colours);
  QTRY_VERIFY(colours->isVisible());
  colours->setFocus();
  QTest::keyClick(colours, Qt::Key_Down);
  QCOMPARE(Preferences::own().number("theme"), 1);
  const Theme& dawn = look::themes()[1];
  QCOMPARE(ground(*window_), dawn.panel);
  QCOMPARE(ground(second), dawn.panel);
  grab("dawn-preferences", panel);
  // Rich text tells its colours anew.
  bool measured = false;
  for (const QLabel* label : window_->findChildren<QLabel*>())
    if (label->isVisible() && label->text().contains("color:")) {
      QVERIFY2(!label->text().contains(look::themes()[0].tide.name()), qPrintable(label->text()));
      measured |= label->text().contains(dawn.tide.name());
    }
  QVERIFY(measured);
  Preferences::own().set("contrast", 1);
  QCOMPARE(look::text(), QColor(Qt::black));
  panel->hide();
  grab("dawn-stronger");
  Preferences::own().reset("Window");
  QCOMPARE(ground(*window_), look::themes()[0].panel);
}

void TestThemes::marksOnThePictureStayAsTheyAre() {
  openDemo();
  session().setStation(Station::vantage);
  QVERIFY(waitForSamples(3));
  const QImage before = picture().grab().toImage();
  Preferences::own().set("theme", 1);
  QVERIFY(picture().grab().toImage() == before);
}

QStringList TestThemes::cutOff() {
  QStringList all;
  const auto tell = [&](const QWidget* w, const QString& text, int has, int needs) {
    all << QString("\"%1\" (%2) has %3 of %4 px").arg(text, w->metaObject()->className()).arg(has).arg(needs);
  };
  for (const QWidget* w : window_->findChildren<QWidget*>()) {
    if (!w->isVisible()) continue;
    if (const auto* button = qobject_cast<const QAbstractButton*>(w); button && !button->text().isEmpty()) {
      const int needs = button->fontMetrics().size(Qt::TextShowMnemonic, button->text()).width();
      if (button->width() < needs) tell(w, button->text(), button->width(), needs);
    } else if (const auto* label = qobject_cast<const QLabel*>(w);
               label && !label->wordWrap() && !label->text().contains('<') && label->minimumWidth() == 0) {
      const int needs = label->fontMetrics().size(0, label->text()).width();
      if (label->width() < needs && label->accessibleName() != "State of the render")
        tell(w, label->text(), label->width(), needs);
    }
  }
  for (const QScrollArea* area : window_->findChildren<QScrollArea*>())
    if (area->isVisible() && area->horizontalScrollBarPolicy() == Qt::ScrollBarAlwaysOff &&
        area->widget()->minimumSizeHint().width() > area->viewport()->width())
      tell(area, area->widget()->accessibleName(), area->viewport()->width(),
           area->widget()->minimumSizeHint().width());
  return all;
}

void TestThemes::allFitsFromSmallToLargeScreens_data() {
  QTest::addColumn<QSize>("size");
  QTest::addColumn<int>("text");
  QTest::newRow("1280 x 720") << QSize(1280, 720) << 0;
  QTest::newRow("1600 x 900, large text") << QSize(1600, 900) << 3;
  QTest::newRow("1920 x 1080, largest text") << QSize(1920, 1080) << 4;
  QTest::newRow("3840 x 2160") << QSize(3840, 2160) << 0;
}

void TestThemes::allFitsFromSmallToLargeScreens() {
  QFETCH(QSize, size);
  QFETCH(int, text);
  Preferences::own().set("textPercent", text);
  openDemo();
  window_->resize(size);
  QStringList wrong;
  for (int i = 0; i < stationCount; ++i) {
    session().setStation(Station(i));
    QTest::qWait(60);
    if (i == 1) grab(QTest::currentDataTag());
    for (const QString& what : cutOff()) wrong << QString(stationName(Station(i))) + ": " + what;
  }
  QCOMPARE(window_->size(), size);
  QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join("\n")));
}

void TestThemes::allFitsOnFinerScreens_data() {
  QTest::addColumn<QByteArray>("factor");
  QTest::newRow("1.5") << QByteArray("1.5");
  QTest::newRow("2") << QByteArray("2");
}

void TestThemes::allFitsOnFinerScreens() {
  // A screen's fineness is set when a program starts: this one starts again.
  if (qEnvironmentVariableIsSet("QT_SCALE_FACTOR")) QSKIP("begun by the one that asks");
  QFETCH(QByteArray, factor);
  QProcess again;
  QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
  environment.insert("QT_SCALE_FACTOR", factor);
  again.setProcessEnvironment(environment);
  again.start(QCoreApplication::applicationFilePath(),
              {"themes", "allFitsFromSmallToLargeScreens:1280 x 720"});
  QVERIFY(again.waitForFinished(120'000));
  QVERIFY2(again.exitCode() == 0, again.readAllStandardOutput());
}

DUSK_TEST(TestThemes, QApplication);
#include "themes.moc"
