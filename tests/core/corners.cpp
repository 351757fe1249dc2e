#include <QtTest>

#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

/// Corners of light transport where an estimate can be quietly off: each against what is known.
class TestCorners : public QObject {
  Q_OBJECT
 private slots:
  void thinSunsGiveTheirIrradiance_data();
  void thinSunsGiveTheirIrradiance();
  void smallFarSpheresGiveWhatTheyShow();
  void lampsSeenFromBehindLeaveTheSkyAlone();
  void aClearPaneBeforeALampChangesNothing();
  void glowIsMirroredAlikeHoweverItIsFound();
  void depthIsAlongTheCamerasAxis();
};

namespace {

struct Drawn {
  double irradiance = 0;  ///< of level ground, luminance
  int unseen = 0;         ///< of what was drawn: a ray that goes there meets none of it
};

Drawn drawnFrom(const Lights& lights, const Vec3f& point, int count) {
  Drawn d;
  for (int i = 0; i < count; ++i) {
    Sampler s(7, 0, 0, uint32_t(i), 18);
    const Vec2f u = s.next2();
    const LightSample light = lights.sample(point, u, s.next1());
    d.unseen += light.pdf <= 0;
    if (light.pdf > 0 && light.direction.z > 0)
      d.irradiance += luminance(light.radiance()) * double(light.direction.z) / light.pdf / count;
  }
  return d;
}

Lamp white(LampKind kind) {
  Lamp lamp;
  lamp.id = "lamp", lamp.kind = kind, lamp.colour = Vec3d(1, 1, 1);
  return lamp;
}

Mesh level(float half, float height, bool downwards = false) {
  Mesh m;
  m.positions = {{-half, -half, height}, {half, -half, height}, {half, half, height}, {-half, half, height}};
  m.normals.assign(4, Vec3f(0, 0, downwards ? -1.0f : 1.0f));
  m.indices = downwards ? std::vector<uint32_t>{0, 2, 1, 0, 3, 2} : std::vector<uint32_t>{0, 1, 2, 0, 2, 3};
  return m;
}

}  // namespace

void TestCorners::thinSunsGiveTheirIrradiance_data() {
  QTest::addColumn<double>("disc");
  for (const double disc : {0.05, 0.1, 0.53, 8.0}) QTest::newRow(qPrintable(QString::number(disc))) << disc;
}

void TestCorners::thinSunsGiveTheirIrradiance() {
  QFETCH(double, disc);
  Lamp sun = white(LampKind::sun);
  sun.discDegrees = disc, sun.elevationDegrees = 50, sun.azimuthDegrees = 33;
  const Lights lights(nullptr, {}, {sun}, Rgb(0));
  const Drawn drawn = drawnFrom(lights, Vec3f(0.3f, 0.2f, 0), 4096);
  const double expected = pi * std::sin(radians(50.0));
  QVERIFY2(std::abs(drawn.irradiance / expected - 1) < 0.005,
           qPrintable(QString::number(drawn.irradiance / expected)));
  // By rays alone: as many of those about the sun meet it as its disc takes of their cone, all as likely as
  // they are.
  const Triadf about = triadAround(sunDirection(sun));
  const double dip = 2 * std::pow(std::sin(radians(disc)), 2);  // of a cone twice as wide as the disc
  double met = 0, likely = 0;
  constexpr int n = 20000;
  for (int i = 0; i < n; ++i) {
    Sampler s(3, 1, 0, uint32_t(i), 15);
    const Lights::Seen seen = lights.seen(Vec3f(0), about.toWorld(directionInCone(dip, s.next2())));
    met += luminance(seen.radiance()) * 2 * pi * dip / n, likely += double(seen.pdf) * 2 * pi * dip / n;
  }
  QVERIFY2(std::abs(met / pi - 1) < 0.02, qPrintable(QString::number(met / pi)));
  QVERIFY2(std::abs(likely - 1) < 0.02, qPrintable(QString::number(likely)));
}

void TestCorners::smallFarSpheresGiveWhatTheyShow() {
  for (const double away : {2.0, 40.0, 300.0}) {
    Lamp ball = white(LampKind::sphere);
    ball.radiusM = 0.02, ball.positionM = {away * 0.6, 0, away * 0.8};
    const Lights lights(nullptr, {}, {ball}, Rgb(0));
    const double expected = pi * 0.02 * 0.02 / (away * away) * 0.8;
    const Drawn drawn = drawnFrom(lights, Vec3f(0), 4096);
    QVERIFY2(drawn.unseen < 20, qPrintable(QString("%1 m: %2").arg(away).arg(drawn.unseen)));  // at its rim
    QVERIFY2(std::abs(drawn.irradiance / expected - 1) < 0.01,
             qPrintable(QString("%1 m: %2").arg(away).arg(drawn.irradiance / expected)));
  }
}

void TestCorners::lampsSeenFromBehindLeaveTheSkyAlone() {
  // It shines upwards, and its back is all that the ground sees of it. Through that the sky is seen.
  Lamp lamp = white(LampKind::area);
  lamp.positionM = {0, 0, 1}, lamp.targetM = {0, 0, 5}, lamp.powerEv = 4;
  const Lights lights(nullptr, {}, {lamp}, Rgb(1));
  const Drawn behind = drawnFrom(lights, Vec3f(0), 16384);
  QVERIFY2(std::abs(behind.irradiance / pi - 1) < 0.01, qPrintable(QString::number(behind.irradiance / pi)));
  // Before and behind among two, and in a room without a sky.
  Lamp other = lamp;
  other.id = "other", other.targetM = {0, 0, 0}, other.positionM = {0.5, 0, 1};
  const Lights dark(nullptr, {}, {lamp}, Rgb(0)), both(nullptr, {}, {lamp, other}, Rgb(0)),
      alone(nullptr, {}, {other}, Rgb(0));
  QCOMPARE(drawnFrom(dark, Vec3f(0), 256).irradiance, 0.0);
  const double two = drawnFrom(both, Vec3f(0), 16384).irradiance,
               one = drawnFrom(alone, Vec3f(0), 16384).irradiance;
  QVERIFY2(one > 0.1 && std::abs(two / one - 1) < 0.01, qPrintable(QString::number(two / one)));
}

void TestCorners::aClearPaneBeforeALampChangesNothing() {
  // A sheet of index one: there, and yet not. The lamp is so near that half of its light is found by rays.
  BsdfParameters matte, clear;
  matte.base = Rgb(0.7f), matte.ior = 1, matte.roughness = 1;
  clear.base = Rgb(1), clear.transmission = 1, clear.ior = 1, clear.thinWalled = true;
  Lamp lamp = white(LampKind::area);
  lamp.positionM = {0, 0, 0.3}, lamp.widthM = lamp.heightM = 0.8;
  const auto lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{lamp}, Rgb(0));
  double seen[2];
  for (const bool pane : {false, true}) {
    Stage stage(level(0.3f, 0), matte, lights, lookAt(9, 9, 90, {0, -1.5, 0.12}, {0, 0, 0}), false);
    if (pane) {
      stage.scene.geometry = std::make_shared<PlacedGeometry>(
          stage.cache.device(), std::vector<PlacedGeometry::Instance>{
                                    {stage.cache.get(modelOf(level(0.3f, 0)), {}), Similarity{}},
                                    {stage.cache.get(modelOf(level(0.6f, 0.2f)), {}), Similarity{}}});
      stage.scene.materials.push_back({std::make_shared<PlainMaterial>(clear)});
    }
    seen[pane] = traced(stage, 9, 4000).beauty.at(4, 4)[1];
  }
  QVERIFY2(seen[0] > 0.1 && std::abs(seen[1] / seen[0] - 1) < 0.02,
           qPrintable(QString("%1 with the pane, %2 without").arg(seen[1]).arg(seen[0])));
}

void TestCorners::glowIsMirroredAlikeHoweverItIsFound() {
  BsdfParameters glow = black();
  glow.emission = Rgb(4);
  const Mesh ceiling = level(0.4f, 0.5f, true);
  std::vector<EmittingTriangle> emitters;
  for (size_t t = 0; t < ceiling.indices.size(); t += 3)
    emitters.push_back({ceiling.positions[ceiling.indices[t]], ceiling.positions[ceiling.indices[t + 1]],
                        ceiling.positions[ceiling.indices[t + 2]], Rgb(4)});
  double mirrored[2];
  for (const bool drawn : {false, true}) {  // found by rays alone, and by both
    const auto lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{}, Rgb(1),
                                                 drawn ? emitters : std::vector<EmittingTriangle>{});
    Stage stage(ceiling, glow, lights, lookAt(9, 9, 60, {0, -1.2, 0.25}, {0, 0, 0}), true);
    stage.scene.place.gloss = {1, 0.35f, 1.5f};
    const Passes passes = traced(stage, 9, 6000);
    mirrored[drawn] = 0;
    for (int y = 2; y < 7; ++y)
      for (int x = 2; x < 7; ++x) mirrored[drawn] += double(passes.reflection.at(x, y)[1]) / 25;
  }
  QVERIFY2(mirrored[0] > 0.005 && std::abs(mirrored[1] / mirrored[0] - 1) < 0.02,
           qPrintable(QString("%1 by both, %2 by rays").arg(mirrored[1]).arg(mirrored[0])));
}

void TestCorners::depthIsAlongTheCamerasAxis() {
  Lamp lamp = white(LampKind::area);
  lamp.positionM = {1.5, 3, 0}, lamp.targetM = {1.5, 0, 0}, lamp.seenByCamera = true;
  const auto lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{lamp}, Rgb(0));
  Stage stage(disc(0.01f, -5), black(), lights, lookAt(64, 64, 50, {0, 0, 0}, {0, 1, 0}), false);
  const Passes passes = traced(stage, 64, 8);
  int seen = 0;
  for (size_t i = 0; i < passes.alpha.pixels.size(); ++i)
    if (passes.alpha.pixels[i] == 1) {
      ++seen;
      QVERIFY(std::abs(passes.depth.pixels[i] - 3) < 1e-3f);
    }
  QVERIFY(seen > 20);
}

DUSK_TEST(TestCorners, NoApplication);
#include "corners.moc"
