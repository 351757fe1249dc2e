#include <QGuiApplication>
#include <QtTest>

#include "core/trace/bsdf.h"
#include "core/trace/sampler.h"
#include "tests/program.h"

using namespace dusk;

/// Laws of the lobes that a surface's light goes by.
class TestLobes : public QObject {
  Q_OBJECT
 private slots:
  void lobesAreDrawnAsTheySay_data();
  void lobesAreDrawnAsTheySay();
  void leaningCoatsKeepTheLaws();
  void whatGoesInIsNotMirroredToo();
};

void TestLobes::lobesAreDrawnAsTheySay_data() {
  QTest::addColumn<float>("metalness");
  QTest::addColumn<float>("roughness");
  QTest::addColumn<float>("anisotropy");
  QTest::addColumn<float>("clearcoat");
  QTest::addColumn<float>("sheen");
  QTest::addColumn<float>("film");
  QTest::addColumn<float>("lean");
  QTest::newRow("matte") << 0.0f << 1.0f << 0.0f << 0.0f << 0.0f << 0.0f << 0.0f;
  QTest::newRow("plastic") << 0.0f << 0.4f << 0.0f << 0.0f << 0.0f << 0.0f << 0.0f;
  QTest::newRow("brushed metal") << 1.0f << 0.5f << 0.8f << 0.0f << 0.0f << 0.0f << 0.0f;
  QTest::newRow("lacquer") << 0.0f << 0.7f << 0.0f << 1.0f << 0.0f << 0.0f << 0.0f;
  QTest::newRow("cloth") << 0.0f << 0.9f << 0.0f << 0.0f << 1.0f << 0.0f << 0.0f;
  QTest::newRow("oil on metal") << 1.0f << 0.35f << 0.0f << 0.0f << 0.0f << 400.0f << 0.0f;
  QTest::newRow("flake below a coat") << 1.0f << 0.4f << 0.0f << 1.0f << 0.0f << 0.0f << 0.25f;
}

// Chi-square of what is drawn against the density, over cells of both angles.
void TestLobes::lobesAreDrawnAsTheySay() {
  QFETCH(float, metalness);
  QFETCH(float, roughness);
  QFETCH(float, anisotropy);
  QFETCH(float, clearcoat);
  QFETCH(float, sheen);
  QFETCH(float, film);
  QFETCH(float, lean);
  BsdfParameters p;
  p.base = {0.8f, 0.5f, 0.3f}, p.metalness = metalness, p.roughness = roughness, p.anisotropy = anisotropy;
  p.clearcoat = clearcoat, p.clearcoatRoughness = 0.35f, p.sheen = sheen, p.filmNm = film;
  if (lean > 0) p.coatNormal = Vec3f(lean, 0, 1).normalized();
  const Bsdf bsdf(p, Vec3f(0.5f, 0.2f, 0.84f).normalized());
  constexpr int rings = 12, around = 16, drawn = 80'000, fine = 12;
  std::array<double, rings * around> met{}, expected{};
  for (int i = 0; i < drawn; ++i) {
    Sampler s(3, 4, 1, uint32_t(i) * 7919u, 0);
    const Vec2f u = s.next2();
    const auto sample = bsdf.sample(u, s.next1());
    if (sample.pdf <= 0 || sample.wi.z <= 0) continue;
    const double phi = std::atan2(double(sample.wi.y), double(sample.wi.x)) / (2 * pi) + 0.5;
    const int ring =
                  std::min(rings - 1, int(std::acos(std::min(1.0, double(sample.wi.z))) / (pi / 2) * rings)),
              side = std::min(around - 1, int(phi * around));
    met[size_t(ring * around + side)] += 1;
  }
  for (int r = 0; r < rings * fine; ++r)
    for (int a = 0; a < around * fine; ++a) {
      const double theta = (r + 0.5) / (rings * fine) * pi / 2,
                   phi = ((a + 0.5) / (around * fine) - 0.5) * 2 * pi;
      const Vec3f wi(float(std::sin(theta) * std::cos(phi)), float(std::sin(theta) * std::sin(phi)),
                     float(std::cos(theta)));
      expected[size_t(r / fine * around + a / fine)] += double(bsdf.pdf(wi)) * std::sin(theta) * (pi / 2) /
                                                        (rings * fine) * 2 * pi / (around * fine) * drawn;
    }
  double chi = 0;
  int free = -1;
  for (size_t i = 0; i < met.size(); ++i) {
    if (expected[i] < 8) continue;
    chi += (met[i] - expected[i]) * (met[i] - expected[i]) / expected[i], ++free;
  }
  // Wilson and Hilferty's normal for chi-square: within four sigma.
  const double normal = (std::cbrt(chi / free) - (1 - 2.0 / (9 * free))) / std::sqrt(2.0 / (9 * free));
  QVERIFY2(normal < 4, qPrintable(QString("chi-square %1 of %2").arg(chi).arg(free)));
  QVERIFY(free > 20);
}

// A coat that leans otherwise than what is below it: still a density, still no more out than in.
void TestLobes::leaningCoatsKeepTheLaws() {
  BsdfParameters p;
  p.base = {0.9f, 0.6f, 0.3f}, p.metalness = 1, p.roughness = 0.4f, p.clearcoat = 1,
  p.clearcoatRoughness = 0.3f;
  p.coatColour = {0.9f, 0.8f, 0.5f};
  p.coatNormal = Vec3f(0.2f, 0.1f, 1).normalized();
  for (const Vec3f& wo : {Vec3f(0, 0, 1), Vec3f(0.6f, 0, 0.8f), Vec3f(-0.5f, 0.6f, 0.62f).normalized()}) {
    const Bsdf bsdf(p, wo);
    double density = 0;
    Vec3d out(0), drawn(0);
    constexpr int n = 256, samples = 60'000;
    for (int i = 0; i < 2 * n; ++i)
      for (int k = 0; k < 2 * n; ++k) {  // of the whole sphere: a leaning coat sees a little below
        const float theta = pif / 2 * (float(i) + 0.5f) / n, r = std::sin(theta),
                    a = 2 * pif * (float(k) + 0.5f) / (2 * n);
        const Vec3f wi(r * std::cos(a), r * std::sin(a), std::cos(theta));
        const double cell = (pi / 2 / n) * (2 * pi / (2 * n)) * double(r);
        density += double(bsdf.pdf(wi)) * cell, out += toDouble(bsdf.value(wi).sum()) * cell;
      }
    for (int i = 0; i < samples; ++i) {
      Sampler s(5, 7, 0, uint32_t(i));
      const Vec2f u = s.next2();
      const auto sample = bsdf.sample(u, s.next1());
      if (sample.pdf > 0) drawn += toDouble(sample.weight.sum()) / samples;
    }
    QVERIFY2(density < 1.01, qPrintable(QString::number(density)));
    for (int c = 0; c < 3; ++c) {
      QVERIFY(out[c] < 1.02);
      QVERIFY2(std::abs(out[c] - drawn[c]) < 0.012, qPrintable(QString("%1, %2").arg(out[c]).arg(drawn[c])));
    }
    QVERIFY(out.z < out.y && out.y < out.x);
  }
}

// Light that wanders below is not sent back by the surface, too; the passes show both as one colour.
void TestLobes::whatGoesInIsNotMirroredToo() {
  BsdfParameters p;
  p.base = Rgb(0.6f), p.roughness = 0.6f;
  const Vec3f wo = Vec3f(0.3f, 0, 0.95f).normalized();
  const Bsdf whole(p, wo);
  p.subsurface = 0.75f;
  const Bsdf part(p, wo);
  const Vec3f wi = Vec3f(-0.4f, 0.3f, 0.8f).normalized();
  QVERIFY((part.value(wi).diffuse - whole.value(wi).diffuse * 0.25f).length() < 1e-6f);
  QCOMPARE(part.value(wi).specular, whole.value(wi).specular);
  QVERIFY((part.albedo().diffuse - whole.albedo().diffuse).length() < 1e-5f);
  QVERIFY(part.wanders() > 0.6f && part.wanders() < 0.75f && whole.wanders() == 0);
}

DUSK_TEST(TestLobes, QGuiApplication);
#include "lobes.moc"
