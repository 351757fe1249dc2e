#include <QGuiApplication>
#include <QtTest>

#include "core/trace/media.h"
#include "core/trace/phase.h"
#include "tests/core/in_bodies.h"
#include "tests/program.h"

using namespace dusk;

class TestBodies : public QObject {
  Q_OBJECT
 private slots:
  void mediaKnowWhichBodyIsThere();
  void boundariesInsideAnotherBodyAreNone();
  void slabOfThreeAgainstFresnel();
  void sharedWallOfGlassAndWater();
  void dyeCountsWhereTheBodyIsThere();
  void coloursPartAsTheAbbeNumberSays();
  void phaseFunctionsAreDensities_data();
  void phaseFunctionsAreDensities();
  void whiteCloudsDisappearInAWhiteFurnace_data();
  void whiteCloudsDisappearInAWhiteFurnace();
  void thinCloudAgainstBeerAndLambert();
  void whiteWaxDisappearsInAWhiteFurnace();
  void waxComesToItsColour_data();
  void waxComesToItsColour();
  void lightWandersAsFarAsItIsTold();
};

void TestBodies::mediaKnowWhichBodyIsThere() {
  Media media;
  QVERIFY(!media.now());
  const Medium glass{1, 1.5f, 0, 0, 1, Rgb(0), Rgb(0)}, water{2, 1.33f, 0, 0, 0, Rgb(0), Rgb(0)};
  QVERIFY(media.meets(glass, true).real);
  QCOMPARE(media.meets(glass, true).eta, 1 / 1.5f);
  media.enter(glass);
  QVERIFY(!media.meets(water, true).real);  // water within the wall of the glass is not there
  media.enter(water);
  QCOMPARE(media.now()->part, uint64_t(1));
  QCOMPARE(media.meets(glass, false).eta, 1.5f / 1.33f);
  media.leave(1);
  QCOMPARE(media.now()->part, uint64_t(2));
  QVERIFY(media.meets(water, false).real);
  QCOMPARE(media.meets(water, false).eta, 1.33f);
  for (uint64_t i = 10; i < 40; ++i) media.enter({i, 1, 0, 0, 0, Rgb(0), Rgb(0)});  // more than it can hold
  QCOMPARE(media.now()->part, uint64_t(39));
}

// A ball of a body of the same priority that goes on elsewhere changes nothing where a higher one is.
void TestBodies::boundariesInsideAnotherBodyAreNone() {
  Bodies alone, nested;
  BsdfParameters outer = glass(1.5f, 1);
  outer.absorption = {1, 2, 3};
  alone.add(slab(0, 0.2f), outer);
  nested.add(slab(0, 0.2f), outer).add(movedBy(sphere(0.05f), {0, 0, 0.1f}), glass(2.0f, 0));
  const Vec3d a = alone.seen({0, 0, 2}, {0, 0, 0}, 4000), b = nested.seen({0, 0, 2}, {0, 0, 0}, 4000);
  QVERIFY2((a - b).length() < 0.01, qPrintable(QString("%1 against %2").arg(a.x).arg(b.x)));
  QVERIFY(a.z < a.x - 0.1);
}

// Black below, light above: what comes back is what the boundaries mirror, with all that goes to and fro.
void TestBodies::slabOfThreeAgainstFresnel() {
  Bodies all;
  all.add(slab(0.1f, 0.2f), glass(1.5f, 1)).add(slab(0.0f, 0.15f), glass(1.33f, 0));
  BsdfParameters floor = black();
  floor.specular = 0;
  all.add(slab(-1, -0.5f), floor);
  const double r1 = std::pow(0.5 / 2.5, 2), r2 = std::pow((1.5 - 1.33) / 2.83, 2),
               r3 = std::pow(0.33 / 2.33, 2);
  // Two slabs of plane-parallel reflectors one after the other: R = r + t^2 R' / (1 - r R').
  const auto before = [](double r, double beyond) {
    return r + (1 - r) * (1 - r) * beyond / (1 - r * beyond);
  };
  const double expected = before(r1, before(r2, r3));
  const double mean = all.seen({0, 0, 2}, {0, 0, 0}, 60'000).y;
  QVERIFY2(std::abs(mean - expected) < 0.004, qPrintable(QString("%1 against %2").arg(mean).arg(expected)));
}

// Water drawn a little into its glass, and water that fits it: the same.
void TestBodies::sharedWallOfGlassAndWater() {
  const auto jar = [](float water) {
    auto all = std::make_unique<Bodies>();
    Mesh hollow = sphere(0.5f), inner = sphere(0.45f);  // a wall: outside, and the inside turned in
    const auto first = uint32_t(hollow.positions.size());
    for (size_t i = 0; i < inner.positions.size(); ++i)
      hollow.positions.push_back(inner.positions[i]), hollow.normals.push_back(-inner.normals[i]);
    for (size_t t = 0; t < inner.indices.size(); t += 3)
      for (size_t k : {t, t + 2, t + 1}) hollow.indices.push_back(first + inner.indices[k]);
    BsdfParameters liquid = glass(1.33f, 0);
    liquid.absorption = {0.1f, 0.8f, 2};
    all->add(std::move(hollow), glass(1.5f, 1)).add(sphere(water), liquid);
    return all->seen({0.12f, -3, 0.1f}, {0.12f, 0, 0.1f}, 8000);
  };
  const Vec3d a = jar(0.46f), b = jar(0.48f);
  QVERIFY2((a - b).length() < 0.02, qPrintable(QString("%1 against %2").arg(a.z).arg(b.z)));
  QVERIFY(a.z < 0.6 * a.x);
}

void TestBodies::dyeCountsWhereTheBodyIsThere() {
  // A clear bubble in dyed glass of index one: light is dyed by the way outside of the bubble alone.
  Bodies all;
  BsdfParameters dyed = glass(1);
  dyed.absorption = {1, 2, 4};
  all.add(slab(0, 1), dyed).add(slab(0.25f, 0.75f), glass(1, 1));
  const Vec3d seen = all.seen({0, 0, 3}, {0, 0, 0}, 200);
  for (int c = 0; c < 3; ++c)
    QVERIFY2(std::abs(seen[c] - std::exp(-0.5 * double(dyed.absorption[c]))) < 0.005,
             qPrintable(QString::number(seen[c])));
}

void TestBodies::coloursPartAsTheAbbeNumberSays() {
  const Medium flint{1, 1.62f, 36, 0, 0, Rgb(0), Rgb(0)};
  // By its definition, from the lines at 587.6, 486.1 and 656.3 nm.
  const float d = flint.iorAt(587.6f), f = flint.iorAt(486.1f), c = flint.iorAt(656.3f);
  QVERIFY(std::abs(d - 1.62f) < 1e-3f);
  QVERIFY2(std::abs((d - 1) / (f - c) - 36) < 0.5f, qPrintable(QString::number(double((d - 1) / (f - c)))));
  // Where all ways lead to the same light, all colours together are white again.
  Bodies all;
  BsdfParameters prism = glass(1.62f);
  prism.abbe = 36;
  all.add(sphere(0.5f), prism);
  const Vec3d seen = all.seen({0.2f, -3, 0.1f}, {0.2f, 0, 0.1f}, 20'000);
  for (int i = 0; i < 3; ++i) QVERIFY2(std::abs(seen[i] - 1) < 0.02, qPrintable(QString::number(seen[i])));
}

void TestBodies::phaseFunctionsAreDensities_data() {
  QTest::addColumn<float>("g");
  for (const float g : {-0.7f, 0.0f, 0.0005f, 0.3f, 0.9f}) QTest::addRow("g %g", double(g)) << g;
}

// Chi-square of what is drawn against the density, by rings of the cosine; and the mean cosine itself.
void TestBodies::phaseFunctionsAreDensities() {
  QFETCH(float, g);
  constexpr int rings = 24, drawn = 60'000;
  std::array<double, rings> met{};
  double mean = 0;
  const Vec3f onwards = Vec3f(0.3f, -0.5f, 0.8f).normalized();
  for (int i = 0; i < drawn; ++i) {
    Sampler s(2, 9, 4, uint32_t(i) * 7919u, 0);
    const float z = onwards.dot(samplePhase(onwards, g, s.next2()));
    mean += double(z) / drawn;
    met[size_t(std::clamp(int((z + 1) / 2 * rings), 0, rings - 1))] += 1;
  }
  double chi = 0;
  int free = -1;
  for (int r = 0; r < rings; ++r) {
    double expected = 0;
    for (int k = 0; k < 200; ++k)
      expected += double(phaseValue(-1 + 2 * (float(r) + (float(k) + 0.5f) / 200) / rings, g)) * 2 * pi * 2 /
                  rings / 200 * drawn;
    if (expected < 5) continue;
    chi += (met[size_t(r)] - expected) * (met[size_t(r)] - expected) / expected, ++free;
  }
  // Wilson and Hilferty's normal for chi-square: within four sigma.
  const double normal = (std::cbrt(chi / free) - (1 - 2.0 / (9 * free))) / std::sqrt(2.0 / (9 * free));
  QVERIFY2(normal < 4, qPrintable(QString("chi-square %1 of %2").arg(chi).arg(free)));
  QVERIFY2(std::abs(mean - double(g)) < 0.01, qPrintable(QString::number(mean)));
}

void TestBodies::whiteCloudsDisappearInAWhiteFurnace_data() {
  QTest::addColumn<float>("perMetre");
  QTest::addColumn<float>("forward");
  QTest::newRow("thin") << 1.0f << 0.0f;
  QTest::newRow("thick") << 8.0f << 0.0f;
  QTest::newRow("thick, onwards") << 8.0f << 0.7f;
}

void TestBodies::whiteCloudsDisappearInAWhiteFurnace() {
  QFETCH(float, perMetre);
  QFETCH(float, forward);
  Bodies all;
  BsdfParameters cloud = glass(1);
  cloud.scattering = Rgb(perMetre), cloud.forward = forward;
  all.add(sphere(0.5f), cloud);
  const Vec3d seen = all.seen({0.1f, -3, 0}, {0.1f, 0, 0}, 120'000);
  QVERIFY2(std::abs(seen.y - 1) < 0.005, qPrintable(QString::number(seen.y)));
}

// Light that is taken and scattered, each per channel, before a lamp-free dark: what comes straight through
// is all that is seen when nothing is lit from the side, so black scattering must be plain extinction.
void TestBodies::thinCloudAgainstBeerAndLambert() {
  Bodies all;
  BsdfParameters smoke = glass(1);
  smoke.absorption = {0.5f, 1, 2}, smoke.scattering = Rgb(1e-5f);
  all.add(slab(0, 0.4f), smoke);
  const Vec3d seen = all.seen({0, 0, 3}, {0, 0, 0}, 20'000);
  for (int c = 0; c < 3; ++c) {
    const double expected = std::exp(-0.4 * double(smoke.absorption[c]));
    QVERIFY2(std::abs(seen[c] - expected) < 0.01, qPrintable(QString("%1, %2").arg(seen[c]).arg(expected)));
  }
}

void TestBodies::whiteWaxDisappearsInAWhiteFurnace() {
  Bodies all;
  BsdfParameters wax;
  wax.base = Rgb(1), wax.subsurface = 1, wax.subsurfaceM = {0.05f, 0.1f, 0.2f}, wax.roughness = 0.5f;
  all.add(sphere(0.5f), wax);
  const Vec3d seen = all.seen({0.1f, -3, 0}, {0.1f, 0, 0}, 12'000);
  for (int c = 0; c < 3; ++c) QVERIFY2(std::abs(seen[c] - 1) < 0.005, qPrintable(QString::number(seen[c])));
}

void TestBodies::waxComesToItsColour_data() {
  QTest::addColumn<float>("albedo");
  for (const float a : {0.2f, 0.5f, 0.8f}) QTest::addRow("%g", double(a)) << a;
}

// Far thicker than light reaches, it looks as bright as its colour says: the published fit is good to a few
// hundredths.
void TestBodies::waxComesToItsColour() {
  QFETCH(float, albedo);
  Bodies all;
  BsdfParameters wax;
  wax.base = Rgb(albedo), wax.subsurface = 1, wax.subsurfaceM = Rgb(0.01f), wax.ior = 1, wax.specular = 0;
  all.add(sphere(0.5f), wax);
  const double seen = all.seen({0.1f, -3, 0}, {0.1f, 0, 0}, 12'000).y;
  QVERIFY2(std::abs(seen - double(albedo)) < 0.05, qPrintable(QString::number(seen)));
}

// A slab that is lit from below shows light in its shade only as deep as it is thin.
void TestBodies::lightWandersAsFarAsItIsTold() {
  const auto through = [](float reach) {
    Bodies all;
    BsdfParameters wax;
    wax.base = Rgb(0.95f), wax.subsurface = 1, wax.subsurfaceM = Rgb(reach), wax.ior = 1, wax.specular = 0;
    all.add(slab(0, 0.02f, 0.5f), wax);
    BsdfParameters roof = black();
    roof.specular = 0;
    all.add(slab(0.3f, 0.31f, 4), roof);
    return all.seen({0, 0, 0.2f}, {0, 0, 0}, 4000).y;
  };
  const double far = through(0.05f), near = through(0.001f);
  QVERIFY2(far > 0.15 && near < 0.1 * far, qPrintable(QString("%1 and %2").arg(far).arg(near)));
}

DUSK_TEST(TestBodies, QGuiApplication);
#include "bodies.moc"
