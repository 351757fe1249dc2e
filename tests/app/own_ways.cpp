#include <lcms2.h>

#include <QtTest>
#include <QtWidgets>

#include "app/document/preferences.h"
#include "app/preview/screen.h"
#include "app/stations/outside.h"
#include "core/base/cache_folder.h"
#include "demo_window.h"
#include "tests/program.h"

using namespace dusk;

/// What a person sets once for how they work: the screen's profile, a colour configuration, an editor, a
/// place for the cache.
class TestOwnWays : public DemoWindow {
  Q_OBJECT
  QString inFolder(const char* name) { return folder_.filePath(name); }
  QString profile(double gamma, bool swapped = false);

 private slots:
  void initTestCase() {
    copyDemo();
    openDemo("brackwater.dusk", false);
  }
  void cleanup() {
    for (const QString& page : preferencePages()) Preferences::own().reset(page);
  }
  void theScreensProfileIsForTheEyesAlone();
  void badProfilesAreSaid_data();
  void badProfilesAreSaid();
  void newPhotosHaveTheConfiguration();
  void theEditorGetsThePicture();
  void theCacheIsWhereItIsWanted();
};

/// A screen of Rec.709's primaries (red and green exchanged, if asked) with a plain gamma.
QString TestOwnWays::profile(double gamma, bool swapped) {
  const cmsCIExyY d65{0.3127, 0.3290, 1};
  cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.30, 0.60, 1}, {0.15, 0.06, 1}};
  if (swapped) std::swap(primaries.Red, primaries.Green);
  cmsToneCurve* curve = cmsBuildGamma(nullptr, gamma);
  cmsToneCurve* curves[] = {curve, curve, curve};
  cmsHPROFILE made = cmsCreateRGBProfile(&d65, &primaries, curves);
  const QString file = inFolder(swapped ? "swapped.icc" : "screen.icc");
  cmsSaveProfileToFile(made, file.toUtf8());
  cmsCloseProfile(made), cmsFreeToneCurve(curve);
  return file;
}

void TestOwnWays::theScreensProfileIsForTheEyesAlone() {
  QVERIFY(QTest::qWaitFor([&] { return picture().frame() && picture().frame()->samples > 0; }, 60'000));
  const QPoint corner(picture().width() / 2, picture().height() / 2);
  const auto onScreen = [&] { return picture().grab().toImage().pixelColor(corner); };
  QImage plain(4, 1, QImage::Format_RGB32);
  plain.fill(QColor(128, 30, 200));
  Preferences::own().set("screenProfile", profile(1.8));
  // sRGB's 128 is 0.2159 of light; a screen of gamma 1.8 shows that at 0.2159^(1/1.8).
  const QColor there = screen::shown(plain).pixelColor(0, 0);
  QVERIFY(std::abs(there.red() - 255 * std::pow(0.21586, 1 / 1.8)) < 1.5);
  const QImage kept = picture().frame()->picture;
  const QColor before = onScreen();
  Preferences::own().set("screenProfile", profile(1.8, true));
  QTest::qWait(50);
  const QColor after = onScreen();
  QVERIFY(std::abs(after.red() - before.green()) < 4 && std::abs(after.green() - before.red()) < 4);
  QCOMPARE(picture().frame()->picture, kept);
  Preferences::own().set("screenProfile", "");
  QCOMPARE(screen::shown(plain), plain);
}

void TestOwnWays::badProfilesAreSaid_data() {
  QTest::addColumn<QByteArray>("bytes");
  QTest::newRow("empty") << QByteArray();
  QTest::newRow("a text") << QByteArray("no profile");
  QTest::newRow("cut off") << QByteArray(200, '\0');
}

void TestOwnWays::badProfilesAreSaid() {
  QFETCH(QByteArray, bytes);
  QFile file(inFolder("bad.icc"));
  QVERIFY(file.open(QFile::WriteOnly));
  file.write(bytes), file.close();
  QSignalSpy said(&session(), &Session::said);
  Preferences::own().set("screenProfile", file.fileName());
  QCOMPARE(said.count(), 1);
  QVERIFY(said[0][0].toString().contains("bad.icc"));
  QImage plain(2, 2, QImage::Format_RGB32);
  plain.fill(Qt::gray);
  QCOMPARE(screen::shown(plain), plain);
}

void TestOwnWays::newPhotosHaveTheConfiguration() {
  QFile config(inFolder("own.ocio"));
  QVERIFY(config.open(QFile::WriteOnly));
  config.write(
      "ocio_profile_version: 2\nroles: {default: lin_rec709, scene_linear: lin_rec709}\n"
      "displays: {Screen: [!<View> {name: Own, colorspace: srgb}]}\ncolorspaces:\n"
      "  - !<ColorSpace> {name: lin_rec709}\n  - !<ColorSpace> {name: srgb, from_scene_reference: "
      "!<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055, direction: inverse}}\n");
  config.close();
  Preferences::own().set("colourConfig", config.fileName());
  const std::string before = session().shot().blend.config.file.path;
  QVERIFY(before.empty());
  const AssetRef old = session().shot().plate;
  const QString photo = QString::fromStdString(session().assets()->pathOf(old).string());
  // Another photo in place of one keeps what it is shown by.
  window_->take({photo});
  QVERIFY(QTest::qWaitFor([&] { return !session().shot().plate.empty(); }, 20'000));
  QVERIFY(session().shot().blend.config.file.empty());
  session().editShot("x", [](Shot& shot) { shot.plate = {}, shot.blend = {}; });
  window_->take({photo});
  QVERIFY(QTest::qWaitFor([&] { return !session().shot().plate.empty(); }, 20'000));
  QVERIFY(QString::fromStdString(session().shot().blend.config.file.path).endsWith("own.ocio"));
  QVERIFY(session().assets()->view(session().shot().blend).ok());
  session().undo();
  QVERIFY(session().shot().blend.config.file.empty());
}

void TestOwnWays::theEditorGetsThePicture() {
  const QString told = inFolder("told.txt"), editor = inFolder("editor.sh");
  QFile script(editor);
  QVERIFY(script.open(QFile::WriteOnly));
  script.write("#!/bin/sh\necho \"$1\" > " + told.toUtf8() + "\n"), script.close();
  QFile::setPermissions(editor, QFile::ReadOwner | QFile::ExeOwner);
  QImage logo(8, 8, QImage::Format_ARGB32);
  logo.fill(Qt::red);
  const QString file = inFolder("logo.png");
  QVERIFY(logo.save(file));
  session().setStation(Station::blend);
  ExtraLayer layer;
  layer.id = "layer-1", layer.name = "Logo", layer.file = *session().assets()->refer(file.toStdString());
  session().editShot("x", [&](Shot& shot) { shot.blend.layers = {layer}; });
  session().takeBlend({"layer:layer-1", -1, -1});
  Preferences::own().set("editor", editor);
  const auto open = [&]() -> QPushButton* {
    QTest::qWait(50);
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->text() == "Open outside" && b->isVisible()) return b;
    return nullptr;
  };
  QVERIFY(open());
  QTest::mouseClick(open(), Qt::LeftButton);
  QVERIFY(QTest::qWaitFor([&] { return QFile(told).size() > 0; }, 5'000));
  QFile text(told);
  QVERIFY(text.open(QFile::ReadOnly));
  QCOMPARE(QString::fromUtf8(text.readAll()).trimmed(), file);
  // What the editor saves is what shows.
  const std::string hash = session().shot().blend.layers[0].file.hash;
  QTest::qWait(400);
  logo.fill(Qt::blue);
  QVERIFY(logo.save(file));
  QVERIFY(QTest::qWaitFor([&] { return session().shot().blend.layers[0].file.hash != hash; }, 10'000));
  QSignalSpy said(&session(), &Session::said);
  Preferences::own().set("editor", inFolder("no such program"));
  openOutside(session(), session().shot().blend.layers[0].file);
  QVERIFY(said.count() == 1 && said[0][0].toString().contains("cannot be started"));
}

void TestOwnWays::theCacheIsWhereItIsWanted() {
  const std::filesystem::path usual = cacheFolder();
  qputenv("DUSK_CACHE", inFolder("kept").toUtf8());
  QCOMPARE(cacheFolder(), std::filesystem::path(inFolder("kept").toStdString()) / "gentle-dusk");
  qunsetenv("DUSK_CACHE");
  QCOMPARE(cacheFolder(), usual);
}

DUSK_TEST(TestOwnWays, QApplication);
#include "own_ways.moc"
