#include <QtTest>
#include <random>

#include "core/light/lights.h"
#include "core/trace/sampler.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// A dim gradient with one small, very bright spot.
std::shared_ptr<const Panorama> spotted() {
  Picture p = Picture::rgb(128, 64);
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 128; ++x)
      for (int c = 0; c < 3; ++c)
        p.at(x, y)[c] = 0.1f + 0.004f * float(y) + (x >= 40 && x < 42 && y >= 20 && y < 22 ? 900.f : 0.f);
  return Panorama::make(std::move(p));
}

Vec3f uniformDirection(const Vec2f& u) {
  const float z = 1 - 2 * u.x, r = std::sqrt(std::max(0.0f, 1 - z * z));
  return {r * std::cos(2 * pif * u.y), r * std::sin(2 * pif * u.y), z};
}

}  // namespace

class TestLight : public QObject {
  Q_OBJECT
 private slots:
  void conventionOfThePanorama();
  void densityIntegratesToOne();
  void drawnDirectionsEstimateTheIntegral();
  void brightestSpotIsFound();
  void turnIsClockwiseAndMirrorComesFirst();
  void sunGivesItsIrradiance();
  void areaLampAgainstTheClosedForm();
  void sobolPointsAreStratified();
};

void TestLight::conventionOfThePanorama() {
  QVERIFY((panoramaDirection({0.5f, 0.5f}) - Vec3f(0, 1, 0)).length() < 1e-5f);
  QVERIFY((panoramaDirection({0.75f, 0.5f}) - Vec3f(1, 0, 0)).length() < 1e-5f);
  QVERIFY((panoramaDirection({0.3f, 0}) - Vec3f(0, 0, 1)).length() < 1e-5f);
  for (const Vec2f& uv : {Vec2f(0.1f, 0.2f), Vec2f(0.9f, 0.7f)})
    QVERIFY((panoramaUv(panoramaDirection(uv)) - uv).length() < 1e-4f);
}

void TestLight::densityIntegratesToOne() {
  const auto p = spotted();
  double sum = 0;
  constexpr int n = 1024;
  for (int y = 0; y < n / 2; ++y)
    for (int x = 0; x < n; ++x) {
      const Vec2f uv((x + 0.5f) / n, (y + 0.5f) / (n / 2));
      sum += double(p->seen(panoramaDirection(uv)).pdf) * std::sin(uv.y * pi) * (2 * pi / n) * (pi / (n / 2));
    }
  QVERIFY2(std::abs(sum - 1) < 0.01, qPrintable(QString::number(sum)));
}

// Importance sampling must agree with brute force, and with far less scatter: the rim of the spot is the hard
// part.
void TestLight::drawnDirectionsEstimateTheIntegral() {
  const auto p = spotted();
  double drawn = 0, largest = 0, brute = 0;
  constexpr int n = 20000, m = 2048;
  for (int i = 0; i < n; ++i) {
    Sampler s(1, 0, 0, uint32_t(i));
    const auto seen = p->seen(p->sampleDirection(s.next2()));
    QVERIFY(seen.pdf > 0);
    drawn += luminance(seen.radiance) / seen.pdf / n;
    largest = std::max(largest, double(luminance(seen.radiance) / seen.pdf));
  }
  for (int y = 0; y < m / 2; ++y)
    for (int x = 0; x < m; ++x) {
      const Vec2f uv((x + 0.5f) / m, (y + 0.5f) / (m / 2));
      brute +=
          luminance(p->radiance(panoramaDirection(uv))) * std::sin(uv.y * pi) * (2 * pi / m) * (pi / (m / 2));
    }
  QVERIFY2(std::abs(drawn / brute - 1) < 0.01, qPrintable(QString("%1 against %2").arg(drawn).arg(brute)));
  // Diagonally beside a bright pixel a bilinear lookup peaks at 1/4 of it while the pixel's mean is 1/64: 16
  // at most.
  QVERIFY2(largest < 17 * brute,
           qPrintable(QString("one sample is worth %1 of the whole").arg(largest / brute)));
}

void TestLight::brightestSpotIsFound() {
  const auto peak = spotted()->brightest();
  QVERIFY(peak.timesMean > 20);
  QVERIFY(degrees(std::acos(peak.direction.dot(panoramaDirection({41.0f / 128, 21.0f / 64})))) < 1.0);
}

void TestLight::turnIsClockwiseAndMirrorComesFirst() {
  Surroundings s;
  s.turnDegrees = 90;
  QVERIFY((worldFromPanorama(s, {0, 1, 0}) - Vec3f(1, 0, 0)).length() < 1e-6f);
  s.mirrored = true;
  QVERIFY((worldFromPanorama(s, {1, 0, 0}) - Vec3f(0, 1, 0)).length() < 1e-6f);
  // What the lights see is the panorama under exactly that map.
  const auto p = spotted();
  s.turnDegrees = 33, s.gainEv = 1;
  const Lights lights(p, s, {}, Rgb(0));
  for (int i = 0; i < 50; ++i) {
    Sampler sampler(2, 0, 0, uint32_t(i));
    const Vec3f d = uniformDirection(sampler.next2());
    QVERIFY((lights.sky(worldFromPanorama(s, d)) - p->radiance(d) * 2.0f).length() <
            0.02f * (1 + p->radiance(d).length()));
  }
}

void TestLight::sunGivesItsIrradiance() {
  Lamp sun;
  sun.kelvin = 6504, sun.elevationDegrees = 90, sun.discDegrees = 2;
  const Lights lights(nullptr, {}, {sun}, Rgb(0));
  // 0 EV makes a white sheet that faces it photo white: irradiance pi.
  QVERIFY(std::abs(luminance(lights.groundIrradiance({0, 0, 0})) / pif - 1) < 0.01f);
  double sum = 0;
  for (int i = 0; i < 4000; ++i) {
    Sampler s(3, 0, 0, uint32_t(i));
    const Vec2f u = s.next2();
    const LightSample drawn = lights.sample({0, 0, 0}, u, s.next1());
    sum += luminance(drawn.radiance()) * drawn.direction.z / drawn.pdf / 4000;
  }
  QVERIFY2(std::abs(sum / pi - 1) < 0.01, qPrintable(QString::number(sum / pi)));
}

// Irradiance under the middle of a parallel rectangle: four times the corner formula of Howell's
// configuration factors.
void TestLight::areaLampAgainstTheClosedForm() {
  Lamp lamp;
  lamp.kind = LampKind::area, lamp.kelvin = 6504;
  lamp.positionM = {0, 0, 1}, lamp.targetM = {0, 0, 0}, lamp.widthM = 1.2, lamp.heightM = 0.8;
  const Lights lights(nullptr, {}, {lamp}, Rgb(0));
  double sum = 0;
  for (int i = 0; i < 20000; ++i) {
    Sampler s(4, 0, 0, uint32_t(i));
    const Vec2f u = s.next2();
    const LightSample drawn = lights.sample({0, 0, 0}, u, s.next1());
    if (drawn.pdf > 0) sum += luminance(drawn.radiance()) * drawn.direction.z / drawn.pdf / 20000;
  }
  const double x = 0.6, y = 0.4, a = std::sqrt(1 + x * x), b = std::sqrt(1 + y * y);
  const double corner = (x / a * std::atan(y / a) + y / b * std::atan(x / b)) / (2 * pi);
  QVERIFY2(std::abs(sum / (4 * corner * pi) - 1) < 0.01,
           qPrintable(QString::number(sum / (4 * corner * pi))));
}

// The first 2^k points put exactly one into every elementary interval: what makes Sobol points worth having.
void TestLight::sobolPointsAreStratified() {
  constexpr int k = 8, n = 1 << k;
  for (int split = 0; split <= k; ++split) {
    std::vector<int> boxes(n);
    for (int i = 0; i < n; ++i) {
      Sampler s(9, 123, 0, uint32_t(i), 8);
      (void)s.next2();
      const Vec2f u = s.next2();
      QVERIFY(u.x >= 0 && u.x < 1 && u.y >= 0 && u.y < 1);
      ++boxes[size_t(int(u.x * float(1 << split)) * (1 << (k - split)) + int(u.y * float(1 << (k - split))))];
    }
    QVERIFY(std::all_of(boxes.begin(), boxes.end(), [](int c) { return c == 1; }));
  }
}

DUSK_TEST(TestLight, NoApplication);
#include "light.moc"
