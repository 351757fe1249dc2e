#include <QtTest>

#include "core/trace/denoise.h"
#include "core/trace/mirrored_side.h"
#include "core/trace/shading.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

class TestMirroredSide : public QObject {
  Q_OBJECT
 private slots:
  void whatTheLightsDoNotKnowIsMirroredAllTheSame_data();
  void whatTheLightsDoNotKnowIsMirroredAllTheSame();
  void aPaleSpotIsNotTakenForAMirror();
  void isNeverMoreThanThePhotoNorLessThanNothing();
  void whatIsHiddenIsTakenFromThePhoto();
  void shadowsFallOnWhatIsNotMirrored();
  void whatIsMirroredStandsInTheShadowToo();
  void theProductSeesWhatTheGroundMirrors();
  void theMirrorImageKeepsItsEdges();
};

namespace {

constexpr int across = 96;

/// Ground under an even sky of 1, of one own brightness, that mirrors.
struct MirrorGround {
  Stage stage;
  Picture plate = Picture::rgb(across, across);
  Scene& scene = stage.scene;

  MirrorGround(Mesh mesh, const BsdfParameters& surface, const PlaceGloss& gloss)
      : stage(std::move(mesh), surface, evenSky(), lookAt(across, across, 110, {0, -2, 0.8}, {0, 0, 0}),
              true) {
    scene.plateCamera = scene.camera;
    scene.place.gloss = gloss;
  }
  /// Of a mirror-like ground at a pixel.
  float reflectance(int x, int y) const {
    const Vec3f d = toFloat(rayThrough(scene.camera, {x + 0.5, y + 0.5}));
    const PlaceGloss& gloss = scene.place.gloss;
    return gloss.strength * Bsdf(glossParameters(gloss), -d).sample({0.5f, 0.5f}, 0).weight.specular[1];
  }
  /// `shown(x, y)`: what the photo shows at a pixel.
  template <typename Shown>
  void photograph(const Shown& shown) {
    for (int y = 0; y < across; ++y)
      for (int x = 0; x < across; ++x) std::fill_n(plate.at(x, y), 3, shown(x, y));
    scene.plate = std::make_shared<Picture>(plate);
    scene.mirrored = findMirroredSide(scene);
  }
  MirroredSpot at(int x, int y) const {
    return *scene.mirrored->at(toFloat(*levelPoint(scene.camera, {x + 0.5, y + 0.5}, 0)));
  }
};

const PlaceGloss lacquer{1, 0.04f, 1.5f};
constexpr float lacquerOwn = 0.01f;
Mesh outOfSight() { return disc(0.01f, -5); }
bool inBand(int x) { return x >= 40 && x < 60; }

}  // namespace

void TestMirroredSide::whatTheLightsDoNotKnowIsMirroredAllTheSame_data() {
  QTest::addColumn<float>("near");
  QTest::newRow("something dark") << 0.25f;
  QTest::newRow("something brighter") << 2.5f;
}

// A thing near at hand, of which the sky says nothing, is mirrored in a band of the photo.
void TestMirroredSide::whatTheLightsDoNotKnowIsMirroredAllTheSame() {
  QFETCH(float, near);
  MirrorGround m(outOfSight(), black(), lacquer);
  m.photograph([&](int x, int y) { return lacquerOwn + m.reflectance(x, y) * (inBand(x) ? near : 1); });
  for (const int y : {30, 48, 70})
    for (const int x : {15, 50, 80}) {
      const float expected = m.reflectance(x, y) * (inBand(x) ? near : 1), found = m.at(x, y).mirrored[1];
      QVERIFY2(std::abs(found - expected) < 0.12f * expected + 0.002f,
               qPrintable(QString("%1, %2: %3 against %4").arg(x).arg(y).arg(found).arg(expected)));
    }
}

void TestMirroredSide::aPaleSpotIsNotTakenForAMirror() {
  MirrorGround m(outOfSight(), black(), {0.3f, 0.2f, 1.4f});
  m.photograph([&](int x, int y) { return (inBand(x) ? 0.7f : 0.25f) + m.reflectance(x, y); });
  QVERIFY2(m.at(50, 48).matteShare[1] > 0.88f, qPrintable(QString::number(m.at(50, 48).matteShare[1])));
  QVERIFY(std::abs(m.at(15, 48).mirrored[1] - m.reflectance(15, 48)) < 0.5f * m.reflectance(15, 48));
}

void TestMirroredSide::isNeverMoreThanThePhotoNorLessThanNothing() {
  MirrorGround m(outOfSight(), black(), lacquer);
  uint32_t seed = 7;
  m.photograph([&](int, int) {
    seed = seed * 1664525u + 1013904223u;
    return float(seed >> 8) / float(1 << 24);
  });
  for (int y = 20; y < across; ++y)
    for (int x = 0; x < across; ++x) {
      const MirroredSpot spot = m.at(x, y);
      for (int c = 0; c < 3; ++c) {
        QVERIFY(spot.mirrored[c] >= 0 && spot.matteShare[c] >= 0 && spot.matteShare[c] <= 1);
        QVERIFY(spot.mirrored[c] <= 1);
      }
    }
}

// A black sheet before a dark thing that the sky knows nothing of: what it hides is what the photo shows
// there, and not a sky's worth.
void TestMirroredSide::whatIsHiddenIsTakenFromThePhoto() {
  MirrorGround m(uprightSheet(-0.1f, 0.1f, 0.4f, 1), black(), lacquer);
  m.photograph(
      [&](int x, int y) { return lacquerOwn + (x > 36 && x < 60 ? 0.2f : 1) * m.reflectance(x, y); });
  const Passes passes = traced(m.stage, across, 64);
  for (int y = 50; y < 60; ++y) {
    const float left = m.plate.at(48, y)[1] + passes.reflection.at(48, y)[1];
    QVERIFY2(std::abs(left - lacquerOwn) < 0.006f,
             qPrintable(QString("%1: %2 of %3").arg(y).arg(left).arg(m.plate.at(48, y)[1])));
  }
}

void TestMirroredSide::shadowsFallOnWhatIsNotMirrored() {
  MirrorGround dull(disc(0.4f, 0.3f), black(), {}), bright(disc(0.4f, 0.3f), black(), lacquer);
  dull.photograph([&](int, int) { return 0.2f; });
  QVERIFY(!dull.scene.mirrored);
  bright.photograph([&](int x, int y) { return lacquerOwn + bright.reflectance(x, y); });
  const float was = traced(dull.stage, across, 96).ratio.at(48, 48)[1],
              is = traced(bright.stage, across, 96).ratio.at(48, 48)[1],
              share = bright.at(48, 48).matteShare[1];
  QVERIFY2(was < 0.6f && std::abs(is - (1 - share * (1 - was))) < 0.03f,
           qPrintable(QString("%1, %2 of a share of %3").arg(was).arg(is).arg(share)));
}

// A disc above keeps light from a wall behind it: the wall's mirror image in the ground gets darker as well.
void TestMirroredSide::whatIsMirroredStandsInTheShadowToo() {
  MirrorGround m(disc(0.5f, 0.7f), black(), lacquer);
  StandIn wall;
  wall.kind = StandInKind::box, wall.positionM = {0, 0.8, 0}, wall.sizeM = {2, 0.5, 1};
  m.scene.place.add(wall);
  std::fill(m.plate.pixels.begin(), m.plate.pixels.end(), 0.5f);
  m.scene.plate = std::make_shared<Picture>(m.plate);
  const Passes passes = traced(m.stage, across, 512);
  const auto pixel = [&](const Vec3d& at) {
    const auto p = projected(m.scene.camera, at);
    return std::pair(int(p->x), int(p->y));
  };
  // The spot of the ground that mirrors a spot of the wall, as seen from the camera.
  const auto [x, y] = pixel({0, 0.267, 0});
  const auto [wallX, wallY] = pixel({0, 0.55, 0.1});
  float mirrored = 0;
  for (int i = -2; i <= 2; ++i) mirrored += passes.reflection.at(x + i, y)[1] / 5;
  const float darker = passes.ratio.at(wallX, wallY)[1] - 1, wanted = m.reflectance(x, y) * 0.5f * darker;
  QVERIFY2(darker < -0.05f && mirrored < 0.6f * wanted && mirrored > 1.4f * wanted,
           qPrintable(QString("%1 of %2").arg(mirrored).arg(wanted)));
}

// A metal sheet shows the ground before it, which is dark in the photo and mirrors the sky towards the sheet;
// as softly as all that is mirrored twice.
void TestMirroredSide::theProductSeesWhatTheGroundMirrors() {
  BsdfParameters metal;
  metal.base = {1, 1, 1}, metal.metalness = 1, metal.roughness = 0.02f;
  MirrorGround m(uprightSheet(-0.6f, 0.6f, 0.2f, 0.6f), metal, lacquer);
  m.photograph([](int, int) { return 0.0f; });
  const auto pixel = projected(m.scene.camera, {0, 0.2, 0.12});
  const float seen = traced(m.stage, across, 160).beauty.at(int(pixel->x), int(pixel->y))[1],
              expected = m.reflectance(int(pixel->x), int(pixel->y));
  QVERIFY2(std::abs(seen / expected - 1) < 0.3f,
           qPrintable(QString("%1 against %2").arg(seen).arg(expected)));
}

// The noise is taken out of what is mirrored by what is mirrored: the shadows know nothing of its edges.
void TestMirroredSide::theMirrorImageKeepsItsEdges() {
  BsdfParameters glow = black();
  glow.emission = Rgb(3);
  Stage stage(uprightSheet(-0.3f, 0.3f, 0.4f, 1), glow, evenSky(),
              lookAt(across, across, 110, {0, -2, 0.8}, {0, 0, 0}), true);
  stage.scene.place.gloss = {1, 0.03f, 1.5f};
  const auto reflected = [&](int samples, double strength) {
    Film film(across, across, stage.scene.lights->groups());
    Progress progress;
    (void)render(stage.scene, film, samples, progress);
    return denoised(film, strength, progress).reflection;
  };
  const Picture truth = reflected(128, 0), noisy = reflected(16, 0), clean = reflected(16, 1);
  double off[2] = {0, 0}, all = 0;
  for (size_t i = 1; i < truth.pixels.size(); i += 3) {
    off[0] += std::pow(noisy.pixels[i] - truth.pixels[i], 2);
    off[1] += std::pow(clean.pixels[i] - truth.pixels[i], 2);
    all += std::pow(truth.pixels[i], 2);
  }
  QVERIFY2(off[1] < 0.03 * all && off[1] < 1.3 * off[0],
           qPrintable(QString("%1 noisy, %2 clean, of %3").arg(off[0]).arg(off[1]).arg(all)));
}

DUSK_TEST(TestMirroredSide, NoApplication);
#include "mirrored_side.moc"
