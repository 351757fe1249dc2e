// Noise against brightness from places of which some tell of more than noise.
#include <QtTest>

#include "core/blend/grain_curve.h"
#include "tests/program.h"

using namespace dusk;

namespace {

constexpr int knots = 17;

double truthAt(double code) { return 3 - code / 128; }

/// Places at every brightness from one to another, that agree on the truth.
std::vector<GrainAt> even(double from, double to) {
  std::vector<GrainAt> found;
  for (double code = from; code <= to; code += 12) found.push_back({code, truthAt(code), 1});
  return found;
}

double at(const GrainCurve& curve, double code) {
  const double k = code / 255 * (knots - 1);
  const size_t i = std::min(size_t(k), curve.sigma.size() - 2);
  return curve.sigma[i] + (curve.sigma[i + 1] - curve.sigma[i]) * (k - double(i));
}

}  // namespace

class TestGrainCurve : public QObject {
  Q_OBJECT
 private slots:
  void goesThroughWhatAgrees();
  void staysBeyondWhatTells();
  void textureIsAboveIt();
  void quietPlacesHoldItDown();
  void strongerTowardsWhiteIsTexture();
  void nothingAgreed();
};

void TestGrainCurve::goesThroughWhatAgrees() {
  const GrainCurve curve = grainCurve(even(20, 240), knots);
  QCOMPARE(curve.sigma.size(), size_t(knots));
  for (double code = 20; code <= 240; code += 10)
    QVERIFY(std::abs(at(curve, code) / truthAt(code) - 1) < 0.04);
  QVERIFY(curve.spread < 0.02);
  for (const double t : curve.trust) QVERIFY(t > 0.9);
}

void TestGrainCurve::staysBeyondWhatTells() {
  // A bright sky alone: in the shadows lies what is nearest, not what a law makes of it there.
  const GrainCurve curve = grainCurve(even(180, 240), knots);
  const double nearest = truthAt(180);
  for (const double code : {0.0, 40.0, 100.0})
    QVERIFY2(at(curve, code) > 0.9 * nearest && at(curve, code) < 1.4 * nearest,
             qPrintable(QString("%1: %2").arg(code).arg(at(curve, code))));
  QCOMPARE(at(curve, 0), at(curve, 100));
}

void TestGrainCurve::textureIsAboveIt() {
  std::vector<GrainAt> found = even(20, 240);
  for (size_t i = 3; i < found.size(); i += 3) found[i].sigma *= i % 2 ? 2 : 7;
  const GrainCurve curve = grainCurve(found, knots);
  for (const double code : {40.0, 90.0, 140.0, 200.0})
    QVERIFY2(std::abs(at(curve, code) / truthAt(code) - 1) < 0.08,
             qPrintable(QString("%1: %2 of %3").arg(code).arg(at(curve, code)).arg(truthAt(code))));
  QVERIFY(curve.trust[3] < 0.1 && curve.trust[6] < 0.1 && curve.trust[4] > 0.9);
}

void TestGrainCurve::quietPlacesHoldItDown() {
  // In the dark they agree, in the middle they do not, but the quietest have little.
  std::vector<GrainAt> found{{30, 4, 1}, {42, 4, 1}};
  for (double code = 90; code < 200; code += 12) found.push_back({code, 9, 0, 1.5});
  const GrainCurve curve = grainCurve(found, knots);
  QVERIFY2(at(curve, 36) > 3, qPrintable(QString::number(at(curve, 36))));
  for (const double code : {160.0, 220.0})
    QVERIFY2(at(curve, code) < 2.6, qPrintable(QString("%1: %2").arg(code).arg(at(curve, code))));
}

void TestGrainCurve::strongerTowardsWhiteIsTexture() {
  std::vector<GrainAt> found = even(20, 90);
  found.push_back({200, 15, 0.5});
  const GrainCurve curve = grainCurve(found, knots);
  QVERIFY(at(curve, 200) < 3 && curve.trust.back() < 0.1);
}

void TestGrainCurve::nothingAgreed() {
  QVERIFY(grainCurve({}, knots).sigma.empty());
  QVERIFY(grainCurve({{100, 5, 0, 4}, {120, 6, 0, 5}}, knots).sigma.empty());
}

DUSK_TEST(TestGrainCurve, NoApplication);
#include "grain_curve.moc"
