// Noise of known kind, measured.
#include <QtTest>
#include <random>

#include "core/blend/grain.h"
#include "core/blend/grain_neighbours.h"
#include "core/blend/measure_grain.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// Steps of grey, each with noise of its own strength, in code values.
struct Steps {
  int width = 520, height = 400, bits = 8;
  std::function<double(double code)> sigma = [](double) { return 2.0; };
  std::vector<double> correlation{};
  double texture = 0;

  Picture made() const {
    const PixelArea whole{0, 0, width, height};
    Evaluator evaluator;
    const Sheet n = evaluator.sheet(noiseField(whole, correlation, {0.4, 0.2, 0.4}, 3), whole);
    Picture p = Picture::rgb(width, height);
    for (int y = 0; y < height; ++y)
      for (int x = 0; x < width; ++x)
        for (int c = 0; c < 3; ++c) {
          const double code = 30 + 200.0 * (x / 65) / 7 + 0.01 * y;
          double v = code + sigma(code) * n.at(c, x, y) + texture * std::sin(x * 0.9) * std::sin(y * 1.1);
          if (bits == 8) v = std::round(v);
          p.at(x, y)[c] = float(std::clamp(v, 0.0, 255.0) / 255);
        }
    return p;
  }
};

GrainFound found(const Steps& steps) {
  const Picture p = steps.made();
  Progress progress;
  return measureGrain(
      {p.width, p.height, [&](int y, float* rgb) { std::copy_n(p.at(0, y), p.width * 3, rgb); }, steps.bits},
      progress);
}

double at(const GrainFound& g, double code, int c = 1) {
  const double k = code / 255 * double(g.look.sigma.size() - 1);
  const auto i = size_t(k);
  return g.look.sigma[i][c] * (1 - (k - double(i))) + g.look.sigma[i + 1][c] * (k - double(i));
}

}  // namespace

class TestGrainMeasured : public QObject {
  Q_OBJECT
 private slots:
  void surfacesAreTakenAway();
  void whatTheSurfaceTookIsPutBack();
  void evenNoiseIsFoundAsItIs();
  void noiseFollowsBrightness();
  void roundingIsNoNoise();
  void finerFilesHaveNoFloor();
  void textureIsNotTakenForGrain();
  void textureAllOverTellsNothing();
  void neighboursAreFound();
  void smallOrCancelledIsNothing();
};

void TestGrainMeasured::surfacesAreTakenAway() {
  const Quadratic q(12);
  for (size_t i = 0; i < 6; ++i)
    for (size_t k = 0; k < 6; ++k) {
      double dot = 0;
      for (size_t n = 0; n < 144; ++n) dot += q.basis[i][n] * q.basis[k][n];
      QVERIFY(std::abs(dot - double(i == k)) < 1e-10);
    }
  std::vector<double> bent(144);
  for (int y = 0; y < 12; ++y)
    for (int x = 0; x < 12; ++x)
      bent[size_t(y * 12 + x)] = 3 + 0.2 * x - y + 0.05 * x * y + 0.01 * x * x - 0.3 * y * y;
  q.takeAway(bent);
  for (const double v : bent) QVERIFY(std::abs(v) < 1e-9);
}

void TestGrainMeasured::whatTheSurfaceTookIsPutBack() {
  // Many patches of wide noise: what is left of them tells too little of its far neighbours, until put back.
  constexpr int reach = GrainLook::reach, side = 2 * reach + 1;
  std::vector<double> truth;
  for (int y = -reach; y <= reach; ++y)
    for (int x = -reach; x <= reach; ++x) truth.push_back(std::exp(-(x * x + y * y) / 4.0));
  const PixelArea whole{0, 0, 24 * 24, 24 * 16};
  Evaluator evaluator;
  const Sheet n = evaluator.sheet(noiseField(whole, truth, {0, 0, 0}, 8), whole);
  const Quadratic surface(grainPatch);
  GrainNeighbours sums;
  for (int py = 0; py < 16; ++py)
    for (int px = 0; px < 24; ++px) {
      std::array<std::vector<double>, 3> left;
      for (int c = 0; c < 3; ++c) {
        for (int y = 0; y < 24; ++y)
          for (int x = 0; x < 24; ++x) left[size_t(c)].push_back(n.at(c, px * 24 + x, py * 24 + y));
        surface.takeAway(left[size_t(c)]);
      }
      sums.add(left, 0);
    }
  const auto left = sums.lag();
  const std::vector<double> back = putBack(left);
  const auto off = [&](const auto& lags) {
    double sum = 0;
    for (size_t i = 0; i < truth.size(); ++i) sum += std::abs(lags[i] / lags[truth.size() / 2] - truth[i]);
    return sum / double(truth.size());
  };
  QVERIFY2(off(back) < 0.6 * off(left) && off(back) < 0.05,
           qPrintable(QString("%1 %2").arg(off(left)).arg(off(back))));
  QVERIFY(back[size_t(side * reach + reach)] > 1);  // and the variance was too small
}

void TestGrainMeasured::evenNoiseIsFoundAsItIs() {
  Steps s;
  const GrainFound g = found(s);
  QVERIFY(g.patches > 30);
  for (const double code : {50.0, 110.0, 170.0, 220.0})
    QVERIFY2(std::abs(at(g, code) / 2 - 1) < 0.1, qPrintable(QString("%1: %2").arg(code).arg(at(g, code))));
  QVERIFY2(
      (g.look.channels - Vec3d(0.4, 0.2, 0.4)).length() < 0.12,
      qPrintable(QString("%1 %2 %3").arg(g.look.channels.x).arg(g.look.channels.y).arg(g.look.channels.z)));
  QVERIFY(g.blocking < 0.1 && g.margin < 0.1);
}

void TestGrainMeasured::noiseFollowsBrightness() {
  Steps s;
  // As of a sensor: reading and photons, in light, brought to code values.
  s.sigma = [](double code) {
    const double light = std::pow(code / 255, 2.2), slope = 2.2 * std::pow(code / 255, 1.2) / 255;
    return std::sqrt(2e-5 + 3e-4 * light) / slope;
  };
  const GrainFound g = found(s);
  for (const double code : {60.0, 120.0, 200.0})
    QVERIFY2(std::abs(at(g, code) / s.sigma(code) - 1) < 0.12,
             qPrintable(QString("%1: %2").arg(code).arg(at(g, code))));
}

void TestGrainMeasured::roundingIsNoNoise() {
  Steps s;
  s.sigma = [](double) { return 0.0; };
  QVERIFY(found(s).look.sigma.empty());
  s.sigma = [](double) { return 0.6; };
  const GrainFound weak = found(s);
  QVERIFY2(!weak.look.sigma.empty() && std::abs(at(weak, 128) / 0.6 - 1) < 0.15,
           qPrintable(QString::number(at(weak, 128))));
}

void TestGrainMeasured::finerFilesHaveNoFloor() {
  Steps s;
  s.bits = 16, s.sigma = [](double) { return 0.5; };
  const GrainFound g = found(s);
  QVERIFY(!g.look.sigma.empty());
  QVERIFY2(std::abs(at(g, 128) / 0.5 - 1) < 0.1, qPrintable(QString::number(at(g, 128))));
}

void TestGrainMeasured::textureIsNotTakenForGrain() {
  Steps s;
  const double plain = at(found(s), 128);
  // Over the left half lies a texture; the other half tells the grain.
  const Picture clean = s.made();
  s.texture = 9;
  Picture half = s.made();
  for (int y = 200; y < 400; ++y) std::copy(clean.at(0, y), clean.at(0, y) + clean.width * 3, half.at(0, y));
  Progress progress;
  const GrainFound g =
      measureGrain({half.width, half.height,
                    [&](int y, float* rgb) { std::copy_n(half.at(0, y), half.width * 3, rgb); }, 8},
                   progress);
  QVERIFY2(!g.look.sigma.empty() && std::abs(at(g, 128) / plain - 1) < 0.25,
           qPrintable(QString("%1 of %2").arg(g.look.sigma.empty() ? 0 : at(g, 128)).arg(plain)));
}

void TestGrainMeasured::textureAllOverTellsNothing() {
  // Leaves, as it were: discs of every size and brightness over one another, and no even place anywhere.
  std::mt19937 random(5);
  const auto any = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  Picture p = Picture::rgb(520, 400);
  for (int i = 0; i < 60'000; ++i) {
    const double x = any(0, 520), y = any(0, 400), r = 2 / std::sqrt(any(0.02, 1)), grey = any(20, 235) / 255;
    for (int v = std::max(0, int(y - r)); v < std::min(400.0, y + r); ++v)
      for (int u = std::max(0, int(x - r)); u < std::min(520.0, x + r); ++u)
        if (std::hypot(u - x, v - y) < r) std::fill_n(p.at(u, v), 3, float(grey));
  }
  Progress progress;
  const GrainFound g = measureGrain(
      {p.width, p.height, [&](int y, float* rgb) { std::copy_n(p.at(0, y), p.width * 3, rgb); }, 8},
      progress);
  QVERIFY2(g.look.sigma.empty() && g.patches == 0, qPrintable(QString("%1 %2").arg(g.patches).arg(g.sigma)));
}

void TestGrainMeasured::neighboursAreFound() {
  constexpr int reach = GrainLook::reach, side = 2 * reach + 1;
  Steps s;
  for (int y = -reach; y <= reach; ++y)
    for (int x = -reach; x <= reach; ++x) s.correlation.push_back(std::exp(-x * x / 3.0 - y * y / 1.0));
  const GrainFound g = found(s);
  QVERIFY(!g.look.correlation.empty());
  const auto lag = [&](int x, int y) { return g.look.correlation[size_t((y + reach) * side + x + reach)]; };
  QVERIFY2(std::abs(lag(1, 0) - std::exp(-1 / 3.0)) < 0.06, qPrintable(QString::number(lag(1, 0))));
  QVERIFY2(std::abs(lag(0, 1) - std::exp(-1.0)) < 0.06, qPrintable(QString::number(lag(0, 1))));
  QVERIFY(std::abs(lag(1, 0) - lag(-1, 0)) < 1e-9);
}

void TestGrainMeasured::smallOrCancelledIsNothing() {
  Steps s;
  s.width = 30, s.height = 20;
  QVERIFY(found(s).look.sigma.empty());
  Progress progress;
  progress.cancel();
  const Picture p = Steps{}.made();
  const GrainFound g = measureGrain(
      {p.width, p.height, [&](int y, float* rgb) { std::copy_n(p.at(0, y), p.width * 3, rgb); }, 8},
      progress);
  QVERIFY(g.look.sigma.empty());
}

DUSK_TEST(TestGrainMeasured, NoApplication);
#include "grain_measured.moc"
