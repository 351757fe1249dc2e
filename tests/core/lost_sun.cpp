// A sun that the panorama clipped, won back by the photo's own shadow.
#include <QtTest>
#include <random>

#include "core/picture/write.h"
#include "core/proof/lost_sun.h"
#include "core/trace/compile.h"
#include "core/vantage/camera.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestLostSun : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }

  /// A flat place with a post, under a sky with a sun; the panorama clipped at `most`, the grain of the
  /// photo.
  struct Place {
    Shot shot;
    Rgb sky, sun;  ///< irradiance of the ground by each
  };
  Place made(double azimuth, double elevation, const Rgb& strength, float most, float grain, bool withTop);

 private slots:
  void theSunIsAsStrongAsTheShadowAsks_data();
  void theSunIsAsStrongAsTheShadowAsks();
  void aWholeSunLacksNothing();
  void whatCannotBeReadIsSaid();
};

TestLostSun::Place TestLostSun::made(double azimuth, double elevation, const Rgb& strength, float most,
                                     float grain, bool withTop) {
  Place place;
  Shot& shot = place.shot;
  shot.id = "shot";
  Lamp where;
  where.azimuthDegrees = azimuth, where.elevationDegrees = elevation;
  const Vec3f towards = sunDirection(where);
  // The sky: bluer and darker upwards, a disc of half a degree that shines as `strength` on what faces it.
  Picture sky = Picture::rgb(2048, 1024);
  const float disc = float(radians(0.5));
  std::vector<size_t> sun;
  double solid = 0;
  for (int y = 0; y < 1024; ++y)
    for (int x = 0; x < 2048; ++x) {
      const Vec3f d = panoramaDirection({(float(x) + 0.5f) / 2048, (float(y) + 0.5f) / 1024});
      const Rgb light = d.z > 0 ? Rgb(0.5f, 0.6f, 0.8f) * (1.2f - 0.6f * d.z) : Rgb(0.2f);
      std::copy_n(&light.x, 3, sky.at(x, y));
      if (std::acos(std::clamp(d.dot(towards), -1.0f, 1.0f)) > disc) continue;
      sun.push_back((size_t(y) * 2048 + size_t(x)) * 3);
      solid += 2 * pi / 2048 * pi / 1024 * std::sin((y + 0.5) / 1024 * pi);
    }
  place.sky = Lights(Panorama::make(sky), {}, {}, Rgb(0)).groundIrradiance({0, 0, 0});
  place.sun = strength * towards.z;
  for (const size_t i : sun)
    for (int c = 0; c < 3; ++c) sky.pixels[i + size_t(c)] += strength[c] / float(solid);
  for (float& v : sky.pixels) v = std::min(v, most);
  (void)writeExr(in("sky.exr"), {{"panorama", &sky, true}});
  // The photo: ground of two tones, a post's shadow 6 cm wide.
  Camera& camera = shot.vantage.camera;
  camera = lookAt(900, 600, 800, {0.6, -3.4, 1.5}, {0, 0, 0.1});
  const Vec3d shadowWay = -Vec3d(towards.x, towards.y, 0).normalized();
  const double length = 0.9 / std::tan(radians(elevation));
  std::mt19937 any(7);
  std::normal_distribution<float> noise(0, grain);
  Picture photo = Picture::rgb(900, 600);
  for (int y = 0; y < 600; ++y)
    for (int x = 0; x < 900; ++x) {
      const auto p = levelPoint(camera, {x + 0.5, y + 0.5});
      Rgb light(0.4f);
      if (p) {
        const double along = p->dot(shadowWay), across = std::abs(p->x * shadowWay.y - p->y * shadowWay.x);
        const bool dark = along > 0 && along < length && across < 0.03;
        const float tone = 0.25f + 0.03f * float(int(std::floor(p->x * 3) + std::floor(p->y * 3)) & 1);
        light = (place.sky + (dark ? Rgb(0) : place.sun)) * (tone / pif);
      }
      for (int c = 0; c < 3; ++c) photo.at(x, y)[c] = std::max(0.0f, light[c] * (1 + noise(any)));
    }
  (void)writeExr(in("photo.exr"), {{"photo", &photo, true}});
  shot.vantage.solved = true;
  shot.plate = {"photo.exr", ""}, shot.surroundings.panorama = {"sky.exr", ""};
  shot.gnomon = Gnomon{*projected(camera, {0, 0, 0}), *projected(camera, shadowWay * length)};
  if (withTop) shot.gnomon->top = projected(camera, {0, 0, 0.9});
  return place;
}

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
  Place place = made(azimuth, elevation, colour, float(most), float(grain), top);
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
  const Place place = made(-70, 40, Rgb(6), 1e9f, 0.02f, true);
  AssetStore assets(in(""));
  const auto found = findLostSun(place.shot, assets);
  QVERIFY(found.ok());
  QVERIFY2(found->givenShare > 0.93, qPrintable(QString::number(found->givenShare)));
}

void TestLostSun::whatCannotBeReadIsSaid() {
  Place place = made(-70, 40, Rgb(6), 20, 0.02f, true);
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

QTEST_APPLESS_MAIN(TestLostSun)
#include "lost_sun.moc"
