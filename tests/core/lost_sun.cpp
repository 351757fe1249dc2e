// A sun that the panorama clipped, won back by the photo's own shadow.
#include <QtTest>

#include "core/proof/lost_sun.h"
#include "core/trace/compile.h"
#include "core/vantage/camera.h"
#include "tests/lit_post.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestLostSun : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }

 private slots:
  void theSunIsAsStrongAsTheShadowAsks_data();
  void theSunIsAsStrongAsTheShadowAsks();
  void aWholeSunLacksNothing();
  void whatCannotBeReadIsSaid();
};

void TestLostSun::theSunIsAsStrongAsTheShadowAsks_data() {
  QTest::addColumn<double>("azimuth");
  QTest::addColumn<double>("elevation");
  QTest::addColumn<double>("strength");
  QTest::addColumn<double>("most");
  QTest::addColumn<double>("grain");
  QTest::addColumn<bool>("top");
  QTest::newRow("clipped at white") << -70.0 << 38.0 << 6.0 << 1.0 << 0.02 << true;
  QTest::newRow("clipped far above") << -110.0 << 50.0 << 12.0 << 300.0 << 0.03 << true;
  QTest::newRow("low and weak") << 60.0 << 35.0 << 2.5 << 20.0 << 0.02 << true;
  QTest::newRow("without a top") << -70.0 << 45.0 << 8.0 << 40.0 << 0.02 << false;
}

void TestLostSun::theSunIsAsStrongAsTheShadowAsks() {
  QFETCH(double, azimuth);
  QFETCH(double, elevation);
  QFETCH(double, strength);
  QFETCH(double, most);
  QFETCH(double, grain);
  QFETCH(bool, top);
  const Rgb colour = Rgb(1.1f, 1.0f, 0.8f) * float(strength);
  LitPlace place = makeLitPlace({azimuth, elevation, colour, float(most), float(grain), 0, top}, in(""));
  AssetStore assets(in(""));
  const auto found = findLostSun(place.shot, assets);
  QVERIFY2(found.ok(), found.ok() ? "" : found.error().message.c_str());
  QVERIFY(std::abs(wrapDegrees(found->at.azimuthDegrees - azimuth)) < 1.5);
  QVERIFY2(std::abs(found->at.elevationDegrees - elevation) < 1.5,
           qPrintable(QString::number(found->at.elevationDegrees)));
  QVERIFY(found->givenShare < 0.9 && found->marginEv >= 0.2 && found->marginEv < 0.3);
  // With the lamp, the ground gets what it got there, and its shadow is as deep.
  place.shot.lamps = {sunLampFor(*found, Lamp{})};
  place.shot.lamps[0].id = "sun";
  const auto lights = lightsOf(place.shot, assets);
  const Rgb now = lights->groundIrradiance({0, 0, 0}), truth = place.sky + place.sun;
  for (int c = 0; c < 3; ++c) {
    QVERIFY2(std::abs(now[c] / truth[c] - 1) < 0.05f,
             qPrintable(QString("%1: %2 of %3").arg(c).arg(double(now[c])).arg(double(truth[c]))));
    const float depth = place.sky[c] / truth[c];
    QVERIFY2(std::abs(found->shadow[c] / depth - 1) < 0.05f,
             qPrintable(QString("%1: %2 of %3").arg(c).arg(double(found->shadow[c])).arg(double(depth))));
  }
}

void TestLostSun::aWholeSunLacksNothing() {
  const LitPlace place = makeLitPlace({}, in(""));
  AssetStore assets(in(""));
  const auto found = findLostSun(place.shot, assets);
  QVERIFY(found.ok());
  QVERIFY2(found->givenShare > 0.93, qPrintable(QString::number(found->givenShare)));
}

void TestLostSun::whatCannotBeReadIsSaid() {
  LitPlace place = makeLitPlace({-70, 40, Rgb(6), 20}, in(""));
  AssetStore assets(in(""));
  Shot none = place.shot;
  none.gnomon.reset();
  QVERIFY(!findLostSun(none, assets).ok());
  // Marked where there is no shadow.
  Shot elsewhere = place.shot;
  elsewhere.gnomon->base = *projected(none.vantage.camera, {0.8, 0.6, 0});
  elsewhere.gnomon->shadowTip = *projected(none.vantage.camera, {1.3, 0.4, 0});
  elsewhere.gnomon->top.reset();
  const auto found = findLostSun(elsewhere, assets);
  QVERIFY(!found.ok() || luminance(found->shadow) > 0.8f);
}

DUSK_TEST(TestLostSun, NoApplication);
#include "lost_sun.moc"
