// What dielectrics mirror, by angle, against Fresnel's equations.
#include <QtTest>

#include "core/trace/bsdf.h"
#include "core/trace/ggx.h"
#include "core/trace/sampler.h"
#include "tests/program.h"

using namespace dusk;

class TestFresnel : public QObject {
  Q_OBJECT
 private slots:
  void knownAngles();
  void riseGoesFromNormalToGrazing();
  void smoothPlasticMirrorsAsFresnelSays();
  void termsAddUpToTheCurve();
};

void TestFresnel::knownAngles() {
  // At Brewster's angle what is reflected is polarised across alone: half of ((n2 - 1) / (n2 + 1))^2.
  for (const float n : {1.33f, 1.5f, 2.4f}) {
    const float brewster = std::atan(n), across = (n * n - 1) / (n * n + 1);
    QVERIFY(std::abs(dielectricReflectance(std::cos(brewster), 1 / n) - across * across / 2) < 1e-5f);
  }
  QVERIFY(std::abs(normalReflectance(1.5f) - 0.04f) < 1e-6f);
}

void TestFresnel::riseGoesFromNormalToGrazing() {
  for (const float n : {1.1f, 1.33f, 1.5f, 2.0f}) {
    QVERIFY(std::abs(dielectricRise(1, n)) < 1e-5f && dielectricRise(0, n) > 0.99f);
    float last = 1;
    for (float c = 0.02f; c <= 1; c += 0.02f) {
      const float rise = dielectricRise(c, n);
      QVERIFY(rise <= last + 1e-6f);
      last = rise;
    }
  }
  for (const float c : {0.01f, 0.5f, 1.0f}) QCOMPARE(dielectricRise(c, 1), 0.0f);
  QCOMPARE(schlickRise(1), 0.0f);
  QCOMPARE(schlickRise(0), 1.0f);
}

void TestFresnel::smoothPlasticMirrorsAsFresnelSays() {
  BsdfParameters black;
  black.base = Rgb(0), black.roughness = 0.02f;
  const auto returned = [](const BsdfParameters& of, float cosine) {
    const Bsdf bsdf(of, Vec3f(std::sqrt(1 - cosine * cosine), 0, cosine));
    constexpr int count = 4000;
    double sum = 0;
    for (uint32_t i = 0; i < count; ++i) {
      Sampler sampler(1, 2, 0, i);
      const Vec2f u = sampler.next2();
      const auto drawn = bsdf.sample(u, sampler.next1());
      if (drawn.pdf > 0) sum += drawn.weight.sum().x;
    }
    return sum / count;
  };
  for (const float degrees : {5.0f, 40.0f, 55.0f, 70.0f, 80.0f}) {
    const float cosine = std::cos(float(radians(degrees)));
    for (const float ior : {1.33f, 1.5f, 1.8f}) {
      BsdfParameters p = black;
      p.ior = ior;
      const double mirrored = returned(p, cosine), expected = dielectricReflectance(cosine, 1 / ior);
      QVERIFY2(std::abs(mirrored / expected - 1) < 0.02,
               qPrintable(QString("%1 at %2: %3 of %4").arg(ior).arg(degrees).arg(mirrored).arg(expected)));
    }
    BsdfParameters lacquered = black;
    lacquered.specular = 0, lacquered.clearcoat = 1, lacquered.clearcoatRoughness = 0.02f;
    QVERIFY(std::abs(returned(lacquered, cosine) / dielectricReflectance(cosine, 1 / 1.5f) - 1) < 0.02);
  }
}

void TestFresnel::termsAddUpToTheCurve() {
  for (const float ior : {1.2f, 1.33f, 1.5f, 1.7f, 2.1f}) {
    const RiseTerms terms = dielectricTerms(ior);
    const float f0 = normalReflectance(ior);
    for (float c = 0.05f; c <= 1; c += 0.05f) {
      const RiseTerms at = riseTermsAt(c);
      float rise = 0;
      for (size_t i = 0; i < riseTerms; ++i) rise += terms[i] * at[i];
      const float fitted = f0 + (1 - f0) * rise, exact = dielectricReflectance(c, 1 / ior);
      QVERIFY2(std::abs(fitted / exact - 1) < 0.03,
               qPrintable(QString("%1 at %2: %3 of %4").arg(ior).arg(c).arg(fitted).arg(exact)));
      // What a smooth lobe gives back is the curve itself.
      const ggx::Albedo smooth = ggx::albedo(c, 1e-3f, terms);
      QVERIFY(std::abs(smooth.whole() - 1) < 0.01f);
      if (c > 0.15f) QVERIFY(std::abs((f0 * smooth.scale + smooth.bias) / exact - 1) < 0.05);
    }
  }
}

DUSK_TEST(TestFresnel, NoApplication);
#include "fresnel.moc"
