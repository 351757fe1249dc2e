#include <Eigen/Dense>
#include <QtTest>
#include <nlohmann/json.hpp>
#include <random>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/vantage/bends.h"
#include "core/vantage/camera.h"
#include "core/vantage/evidence_file.h"
#include "core/vantage/first_spot.h"
#include "core/vantage/margins.h"
#include "core/vantage/solve.h"
#include "tests/program.h"

using namespace dusk;

namespace {

constexpr int width = 1920, height = 1280;

/// Strokes along random edges of the world in front of the camera, drawn with `noise` px.
Evidence drawn(const Camera& camera, std::mt19937& random, double noise, int perRun, bool outlier = false) {
  std::uniform_real_distribution<double> u(0, 1);
  std::normal_distribution<double> bell(0, noise);
  Evidence e;
  const Vec3d axes[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  for (int run = 0; run < 3; ++run)
    for (int made = 0, tries = 0; made < perRun && tries < 5000; ++tries) {
      const Vec3d from(u(random) * 6 - 3, 1.5 + u(random) * 5, u(random) * 2);
      const auto a = projected(camera, from), b = projected(camera, from + axes[run] * (0.8 + u(random) * 2));
      const auto inside = [](const auto& p) {
        return p && p->x > 0 && p->y > 0 && p->x < width && p->y < height;
      };
      if (!inside(a) || !inside(b) || (*a - *b).length() < 0.2 * width) continue;
      Stroke s{"stroke-" + std::to_string(e.strokes.size() + 1), Run(run), {}};
      for (int i = 0; i <= 3; ++i) {
        const auto p = projected(camera, from + axes[run] * (0.8 * i / 3));
        s.points.push_back(*p + Vec2d(bell(random), bell(random)));
      }
      s.points.back() = *b + Vec2d(bell(random), bell(random));
      e.strokes.push_back(s);
      ++made;
    }
  if (outlier) e.strokes[1].points.back() += Vec2d(60, -80);
  return e;
}

Camera someCamera(std::mt19937& random, double k1) {
  std::uniform_real_distribution<double> u(0, 1);
  Camera c = lookAt(width, height, focalPxFromMm35(22 + 40 * u(random), width, height),
                    {u(random) - 0.5, -1.5, 0.8 + u(random)}, {1.2 * u(random) - 0.6, 4, 0.3 * u(random)});
  c.k1 = k1;
  return c;
}

}  // namespace

class TestVantage : public QObject {
  Q_OBJECT
 private slots:
  void distortionRoundTrip();
  void whatLiesBeyondTheFoldIsOnIt();
  void projectionRoundTrip();
  void exactStrokesGiveTheExactCamera();
  void noisyStrokesStayWithinTheirMargins();
  void outlierIsNamedAndLeftOut();
  void footprintGivesScaleAndPlace();
  void pinsAlone();
  void knownLengthGivesHeight();
  void everyMixOfEvidence_data();
  void everyMixOfEvidence();
  void uprightLengthAndTableFootprint();
  void croppedPhotoFindsItsAxis();
  void lensProfileStraightensTwoPointStrokes();
  void bentStrokesFreeTheLensByThemselves();
  void roughDrawingWidensTheMargins();
  void newThingsStandWhereTheyAreSeen();
  void wobbleIsWhatCamerasWithinTheMarginsDo();
  void originAndTurnsAreTheWorlds();
  void poorEvidenceIsRefused_data();
  void poorEvidenceIsRefused();
  void evidenceFileAsDocumented();
  void demoEvidenceFindsTheTruth();
};

void TestVantage::distortionRoundTrip() {
  for (double k1 : {-0.15, -0.05, 0.0, 0.05})
    for (double x = -0.6; x <= 0.6; x += 0.2)
      for (double y = -0.4; y <= 0.4; y += 0.2) {
        const Vec2d p(x, y);
        QVERIFY((undistorted(distorted(p, k1, 0.01), k1, 0.01) - p).length() < 1e-12);
      }
}

void TestVantage::whatLiesBeyondTheFoldIsOnIt() {
  for (const auto& [k1, k2] : {std::pair(-0.3, 0.0), {-0.25, -0.05}, {-0.4, 0.03}, {0.1, -0.2}}) {
    double fold = 0;  // where the bent radius stops growing, by trying
    const auto bent = [&, k1 = k1, k2 = k2](double r) { return r * (1 + r * r * (k1 + r * r * k2)); };
    while (fold < 10 && bent(fold + 1e-5) > bent(fold)) fold += 1e-5;
    QVERIFY(fold > 0.5 && fold < 10);
    double before = 0;
    for (double rd = 0.01; rd < 3 * bent(fold); rd += 0.01) {
      const Vec2d p = undistorted(Vec2d(0.6, -0.8) * rd, k1, k2);
      QVERIFY(std::abs(p.x * 0.8 + p.y * 0.6) < 1e-12);  // along the same radius
      QVERIFY(p.length() >= before - 1e-12 && p.length() <= fold + 1e-4);
      if (rd < bent(fold)) QVERIFY(std::abs(bent(p.length()) - rd) < 1e-9);
      before = p.length();
    }
    QVERIFY(std::abs(before - fold) < 1e-4);
  }
}

void TestVantage::projectionRoundTrip() {
  std::mt19937 random(1);
  const Camera c = someCamera(random, -0.08);
  for (const Vec2d& pixel : {Vec2d(10, 20), Vec2d(960, 900), Vec2d(1900, 1270)}) {
    const auto back = projected(c, c.position + rayThrough(c, pixel) * 3.0);
    QVERIFY(back && (*back - pixel).length() < 1e-8);
    const auto again = projected(resized(c, width / 2, height / 2), c.position + rayThrough(c, pixel));
    QVERIFY((*again - pixel * 0.5).length() < 1e-8);
  }
  QVERIFY(!projected(c, c.position - c.axes.z));
}

void TestVantage::exactStrokesGiveTheExactCamera() {
  std::mt19937 random(2);
  for (int i = 0; i < 10; ++i) {
    const bool bent = i % 2;
    const Camera truth = someCamera(random, bent ? -0.04 : 0);
    Evidence e = drawn(truth, random, 0, 4);
    e.solveK1 = bent;
    const VantageAnswer a = solve(e, width, height);
    QVERIFY2(a.vantage.solved, a.advice.empty() ? "" : a.advice[0].c_str());
    // With a bent lens, the belief that k1 is small (sigma 0.15) pulls by a hair even where every stroke is
    // exact.
    const double error = std::abs(a.vantage.camera.focalPx / truth.focalPx - 1);
    QVERIFY2(error < (bent ? 3e-3 : 1e-4), qPrintable(QString::number(error)));
    QVERIFY(std::abs(degrees(tilt(a.vantage.camera) - tilt(truth))) < (bent ? 0.03 : 0.005));
    QVERIFY(std::abs(a.vantage.camera.k1 - truth.k1) < 2e-3);
    QVERIFY(a.vantage.rmsPx < 0.05);
  }
}

void TestVantage::noisyStrokesStayWithinTheirMargins() {
  std::mt19937 random(3);
  int covered = 0, count = 0;
  std::vector<double> errors;
  for (int i = 0; i < 60; ++i) {
    const Camera truth = someCamera(random, 0);
    const VantageAnswer a = solve(drawn(truth, random, 0.7, 5), width, height);
    QVERIFY(a.vantage.solved);
    const double error = std::abs(a.vantage.camera.focalPx - truth.focalPx);
    errors.push_back(error / truth.focalPx);
    covered += error <= a.vantage.sigma.focalPx;
    ++count;
  }
  std::sort(errors.begin(), errors.end());
  QVERIFY2(errors[30] < 0.01, qPrintable(QString("median %1").arg(errors[30])));
  QVERIFY2(errors[56] < 0.04, qPrintable(QString("95 % %1").arg(errors[56])));
  // 68 % within one sigma; 60 trials put four standard deviations of slack on either side at 0.44 and 0.92.
  QVERIFY2(covered > 0.44 * count && covered < 0.92 * count,
           qPrintable(QString("%1 of %2").arg(covered).arg(count)));
}

void TestVantage::outlierIsNamedAndLeftOut() {
  std::mt19937 random(4);
  for (int i = 0; i < 10; ++i) {
    const Camera truth = someCamera(random, 0);
    const VantageAnswer a = solve(drawn(truth, random, 0.5, 5, true), width, height);
    QVERIFY(a.vantage.solved);
    QVERIFY(a.items[1].outlier);
    QVERIFY(std::abs(a.vantage.camera.focalPx / truth.focalPx - 1) < 0.05);
  }
}

void TestVantage::footprintGivesScaleAndPlace() {
  std::mt19937 random(5);
  const Camera truth = someCamera(random, 0);
  Evidence e;
  const Vec3d corners[] = {{0, 2, 0}, {0.9, 2, 0}, {0.9, 3.4, 0}, {0, 3.4, 0}};
  e.footprint = Footprint{};
  for (int i = 0; i < 4; ++i) e.footprint->corners[size_t(i)] = *projected(truth, corners[i]);
  e.footprint->sizeM = Vec2d(0.9, 1.4);
  const VantageAnswer a = solve(e, width, height);
  QVERIFY2(a.vantage.solved, a.advice.empty() ? "" : a.advice[0].c_str());
  QVERIFY(a.scaleKnown);
  QVERIFY(std::abs(a.vantage.camera.focalPx / truth.focalPx - 1) < 1e-3);
  QVERIFY((a.vantage.camera.position - (truth.position - Vec3d(0, 2, 0))).length() < 0.005);
  // Size unknown: the shape still tells the focal length when strokes help, and the height says the scale.
  Evidence unknown = drawn(truth, random, 0, 3);
  unknown.footprint.emplace(Footprint{e.footprint->corners, std::nullopt});
  unknown.heightM = truth.position.z;
  const VantageAnswer b = solve(unknown, width, height);
  QVERIFY(b.vantage.solved);
  QVERIFY(b.footprintSizeM && (*b.footprintSizeM - Vec2d(0.9, 1.4)).length() < 0.03);
}

void TestVantage::pinsAlone() {
  std::mt19937 random(6);
  const Camera truth = someCamera(random, 0);
  Evidence e;
  for (const Vec3d& p : {Vec3d(0, 2, 0), Vec3d(1, 2.5, 0), Vec3d(-0.8, 3, 0.9), Vec3d(0.4, 3.5, 1.2),
                         Vec3d(-0.3, 2.2, 0.5), Vec3d(0.9, 3.1, 0.7), Vec3d(0.1, 4, 0.2)})
    if (const auto at = projected(truth, p)) e.pins.push_back({*at, p});
  QCOMPARE(e.pins.size(), size_t(7));
  const VantageAnswer a = solve(e, width, height);
  QVERIFY2(a.vantage.solved, a.advice.empty() ? "" : a.advice[0].c_str());
  QVERIFY(std::abs(a.vantage.camera.focalPx / truth.focalPx - 1) < 1e-3);
  QVERIFY((a.vantage.camera.position - truth.position).length() < 0.01);
}

void TestVantage::knownLengthGivesHeight() {
  std::mt19937 random(7);
  const Camera truth = someCamera(random, 0);
  Evidence e = drawn(truth, random, 0, 4);
  const VantageAnswer without = solve(e, width, height);
  QVERIFY(without.vantage.solved && !without.scaleKnown && !without.advice.empty());
  e.lengths.push_back({*projected(truth, {0, 2, 0}), *projected(truth, {0.7, 2.6, 0}), std::hypot(0.7, 0.6),
                       LengthOn::ground});
  const VantageAnswer a = solve(e, width, height);
  QVERIFY(a.vantage.solved && a.scaleKnown);
  QVERIFY(std::abs(a.vantage.camera.position.z - truth.position.z) < 0.01);
}

void TestVantage::everyMixOfEvidence_data() {
  QTest::addColumn<QString>("kinds");
  QTest::addColumn<double>("focalError");  // what noise-free evidence may leave, relative
  QTest::addColumn<double>("tiltError");   // degrees
  QTest::newRow("uprights and EXIF") << "u f" << 1e-6 << 1e-3;
  QTest::newRow("one level run and EXIF, held level") << "b f" << 0.01 << 0.1;
  QTest::newRow("horizon and EXIF") << "h f" << 1e-6 << 1e-3;
  QTest::newRow("uprights and horizon") << "u h" << 1e-3 << 0.01;
  QTest::newRow("two runs") << "a b" << 1e-3 << 0.01;
  QTest::newRow("a level run, uprights") << "a u" << 1e-3 << 0.01;
  QTest::newRow("three runs and the horizon") << "a b u h" << 1e-3 << 0.01;
  QTest::newRow("footprint of known size") << "s" << 1e-3 << 0.02;
  QTest::newRow("footprint of known ratio") << "r" << 1e-3 << 0.02;
  QTest::newRow("four pins off one plane") << "4" << 1e-3 << 0.02;
  QTest::newRow("three pins and two runs") << "3 a b" << 1e-3 << 0.02;
}

void TestVantage::everyMixOfEvidence() {
  QFETCH(QString, kinds);
  QFETCH(double, focalError);
  QFETCH(double, tiltError);
  std::mt19937 random(11);
  for (int i = 0; i < 5; ++i) {
    const Camera truth = someCamera(random, 0);  // held level
    Evidence all = drawn(truth, random, 0, 4), e;
    for (const Stroke& s : all.strokes)
      if (kinds.contains("abu"[int(s.run)])) e.strokes.push_back(s);
    if (kinds.contains('f')) e.focalMm35 = focalMm35(truth);
    if (kinds.contains('h'))
      for (double x : {-0.4, 0.1, 0.5})
        e.levelLine.push_back(*projected(truth, truth.position + Vec3d(x, 1, 0) * 1e5));
    const Vec3d corners[] = {{-0.2, 2, 0}, {0.7, 2, 0}, {0.7, 3.4, 0}, {-0.2, 3.4, 0}};
    if (kinds.contains('s') || kinds.contains('r')) {
      e.footprint.emplace();
      for (size_t k = 0; k < 4; ++k) e.footprint->corners[k] = *projected(truth, corners[k]);
      if (kinds.contains('s'))
        e.footprint->sizeM = Vec2d(0.9, 1.4);
      else
        e.footprint->ratio = 0.9 / 1.4;
    }
    const Vec3d points[] = {{0, 2, 0}, {1, 2.6, 0.1}, {-0.7, 3, 0.7}, {0.3, 3.4, 0.9}};
    for (int k = 0; k < (kinds.contains('4') ? 4 : kinds.contains('3') ? 3 : 0); ++k)
      e.pins.push_back({*projected(truth, points[k]), points[k]});
    const VantageAnswer a = solve(e, width, height);
    QVERIFY2(a.vantage.solved, a.advice.empty() ? "" : a.advice[0].c_str());
    const double off = std::abs(a.vantage.camera.focalPx / truth.focalPx - 1),
                 tilted = std::abs(degrees(tilt(a.vantage.camera) - tilt(truth)));
    QVERIFY2(off < focalError && tilted < tiltError,
             qPrintable(QString("%1, %2 degrees").arg(off).arg(tilted)));
    QVERIFY(a.scaleKnown == (kinds.contains('s') || !e.pins.empty()));
    if (a.scaleKnown && !kinds.contains('s'))
      QVERIFY((a.vantage.camera.position - truth.position).length() < 0.01);
  }
}

void TestVantage::uprightLengthAndTableFootprint() {
  std::mt19937 random(12);
  const Camera truth = someCamera(random, 0);
  Evidence e = drawn(truth, random, 0, 4);
  e.lengths.push_back(
      {*projected(truth, {0.3, 2.5, 0}), *projected(truth, {0.3, 2.5, 0.8}), 0.8, LengthOn::upright});
  const VantageAnswer a = solve(e, width, height);
  QVERIFY(a.vantage.solved && a.scaleKnown);
  QVERIFY(std::abs(a.vantage.camera.position.z - truth.position.z) < 0.01);
  Evidence table;
  table.footprint.emplace();
  table.footprint->sizeM = Vec2d(0.9, 1.4), table.footprint->heightM = 0.4;
  const Vec3d corners[] = {{0, 2, 0.4}, {0.9, 2, 0.4}, {0.9, 3.4, 0.4}, {0, 3.4, 0.4}};
  for (size_t k = 0; k < 4; ++k) table.footprint->corners[k] = *projected(truth, corners[k]);
  const VantageAnswer b = solve(table, width, height);
  QVERIFY2(b.vantage.solved, b.advice.empty() ? "" : b.advice[0].c_str());
  QVERIFY(std::abs(b.vantage.camera.position.z - truth.position.z) < 0.01);
}

void TestVantage::croppedPhotoFindsItsAxis() {
  std::mt19937 random(13);
  Camera truth = lookAt(width, height, 1500, {0.5, -1.5, 1.4}, {-0.6, 4, 0.1});
  truth.cx += 220, truth.cy -= 140;
  Evidence e = drawn(truth, random, 0.2, 5);
  e.shifted = true;
  const VantageAnswer a = solve(e, width, height);
  QVERIFY2(a.vantage.solved, a.advice.empty() ? "" : a.advice[0].c_str());
  QVERIFY2(std::abs(a.vantage.camera.cx - truth.cx) < 30 && std::abs(a.vantage.camera.cy - truth.cy) < 30,
           qPrintable(QString("%1 %2").arg(a.vantage.camera.cx).arg(a.vantage.camera.cy)));
  QVERIFY(std::abs(a.vantage.camera.focalPx / truth.focalPx - 1) < 0.03);
}

void TestVantage::lensProfileStraightensTwoPointStrokes() {
  std::mt19937 random(14);
  const Camera truth = someCamera(random, -0.1);
  Evidence e = drawn(truth, random, 0, 4);
  for (Stroke& s : e.strokes) s.points = {s.points.front(), s.points.back()};
  e.lens = LensProfile{"made up", -0.1, 0, {}, 1, 1};
  const VantageAnswer a = solve(e, width, height);
  QVERIFY(a.vantage.solved && a.vantage.camera.k1 == -0.1 && a.vantage.sigma.k1 == 0);
  QVERIFY(std::abs(a.vantage.camera.focalPx / truth.focalPx - 1) < 1e-3);
}

void TestVantage::bentStrokesFreeTheLensByThemselves() {
  int freed = 0, kept = 0, within = 0;
  constexpr int tries = 12;
  for (int i = 0; i < tries; ++i) {
    std::mt19937 random(unsigned(40 + i));
    Camera bent = someCamera(random, i % 2 ? -0.2 : -0.12);
    bent.focalPx =
        focalPxFromMm35(18 + i, width, height);  // wide: elsewhere the bend is smaller than the drawing
    const VantageAnswer a = solve(drawn(bent, random, 0.5, 5), width, height);
    freed += a.vantage.solved && a.vantage.camera.k1 < -0.05;
    within += a.vantage.solved && std::abs(a.vantage.camera.focalPx - bent.focalPx) <
                                      3 * a.vantage.sigma.focalPx + 0.01 * bent.focalPx;
    const Camera straight = someCamera(random, 0);
    const VantageAnswer b = solve(drawn(straight, random, 0.5, 5), width, height);
    kept += b.vantage.solved && b.vantage.camera.k1 == 0;
  }
  QVERIFY2(freed >= tries - 1, qPrintable(QString::number(freed)));
  QVERIFY2(within >= tries - 1, qPrintable(QString::number(within)));
  QCOMPARE(kept, tries);
  // Two points have no bend to tell of.
  std::mt19937 random(60);
  Evidence e = drawn(someCamera(random, -0.2), random, 0.5, 5);
  for (Stroke& s : e.strokes) s.points = {s.points.front(), s.points.back()};
  QVERIFY(!plumbLines(e, width, height).areBent);
  // One edge that is not straight is no lens, where few are drawn.
  int freedByOne = 0;
  for (int i = 0; i < tries; ++i) {
    Evidence one = drawn(someCamera(random, 0), random, 0.5, 5);
    one.strokes.resize(3);
    Stroke& curved = one.strokes[size_t(i) % one.strokes.size()];
    const Vec2d along = curved.points.back() - curved.points.front(), aside(-along.y, along.x);
    for (size_t k = 1; k + 1 < curved.points.size(); ++k) {
      const double t = double(k) / double(curved.points.size() - 1);
      curved.points[k] += aside * (0.03 * 4 * t * (1 - t));
    }
    freedByOne += plumbLines(one, width, height).areBent;
  }
  QVERIFY2(freedByOne <= 1, qPrintable(QString::number(freedByOne)));
}

// Whatever the camera and the thing: seen whole, and about a third as tall as the picture where the ground is
// near enough for that.
void TestVantage::newThingsStandWhereTheyAreSeen() {
  std::mt19937 random(71);
  std::uniform_real_distribution<double> u(0, 1);
  int well = 0, near = 0;
  constexpr int tries = 200;
  for (int i = 0; i < tries; ++i) {
    const double height = std::exp(std::lerp(std::log(0.3), std::log(8.0), u(random))),
                 down = std::lerp(-2.0, 35.0, u(random)), f = std::lerp(700.0, 2600.0, u(random));
    const Camera camera =
        lookAt(1200, 800, f, {3, -2, height},
               Vec3d(3, -2, height) + Vec3d(0.3, std::cos(radians(down)), -std::sin(radians(down))));
    const double side = std::exp(std::lerp(std::log(0.04), std::log(3.0), u(random)));
    const Vec3d size(side * 0.6, side * 0.5, side);
    const auto spot = firstSpot(camera, size);
    QVERIFY(spot);
    const auto foot = projected(camera, {spot->x, spot->y, 0}),
               top = projected(camera, {spot->x, spot->y, side});
    QVERIFY(foot && foot->y <= 0.89 * 800 && foot->x > 0 && foot->x < 1200);
    const double share = (top ? foot->y - top->y : 1e9) / 800;
    well += share > 0.2 && share < 0.5 && top->y > 0;
    // Else the nearest ground that is seen is too far off, or the farthest too near.
    near += foot->y > 0.8 * 800 || foot->y < 0.5 * 800;
  }
  QVERIFY2(well > tries / 5 && well + near >= tries, qPrintable(QString("%1 and %2").arg(well).arg(near)));
  // Two of them stand beside each other; a camera that looks at the sky sees no ground.
  const Camera camera = lookAt(1200, 800, 1200, {0, -2, 1.5}, {0, 0, 0.3});
  const Vec3d size(0.3, 0.3, 0.4);
  const auto one = firstSpot(camera, size), other = firstSpot(camera, size, {{*one, 0.22}});
  QVERIFY((*one - *other).length() > 0.4);
  QVERIFY(!firstSpot(lookAt(1200, 800, 1200, {0, -2, 1.5}, {0, 0, 9}), size));
}

void TestVantage::roughDrawingWidensTheMargins() {
  std::mt19937 random(15);
  const Camera truth = someCamera(random, 0);
  const VantageAnswer fine = solve(drawn(truth, random, 0.7, 6), width, height),
                      rough = solve(drawn(truth, random, 4, 6), width, height);
  QVERIFY(fine.vantage.solved && rough.vantage.solved);
  QVERIFY2(rough.vantage.sigma.focalPx > 3 * fine.vantage.sigma.focalPx,
           qPrintable(QString("%1 %2").arg(rough.vantage.sigma.focalPx).arg(fine.vantage.sigma.focalPx)));
  QVERIFY(std::abs(rough.vantage.camera.focalPx - truth.focalPx) < 4 * rough.vantage.sigma.focalPx);
  // The same drawing on the same photo of more pixels fits as well, by as many times as many.
  QVERIFY(fine.vantage.rmsPx < fitLimitPx(truth) && rough.vantage.rmsPx > fitLimitPx(truth));
  const Camera larger = resized(truth, 4 * width, 4 * height);
  QCOMPARE(fitLimitPx(larger), 4 * fitLimitPx(truth));
  QCOMPARE(fitLimitPx(resized(truth, width / 2, height / 2)), fitLimitPx(truth));
}

void TestVantage::wobbleIsWhatCamerasWithinTheMarginsDo() {
  std::mt19937 random(16);
  std::normal_distribution<double> bell(0, 1);
  const Camera truth = someCamera(random, 0);
  Evidence e = drawn(truth, random, 0.7, 4);
  e.heightM = truth.position.z;
  const VantageAnswer a = solve(e, width, height);
  QVERIFY(a.vantage.solved);
  const Camera& c = a.vantage.camera;
  const Vec2d spot(0.45 * width, 0.8 * height);
  const Vec3d size(0.3, 0.2, 0.4);
  const double predicted = wobblePx(c, a.covariance, spot, size);
  // Cameras drawn at random from the covariance, through its factor.
  using Matrix = Eigen::Matrix<double, 11, 11, Eigen::RowMajor>;
  const Eigen::SelfAdjointEigenSolver<Matrix> eigen(Eigen::Map<const Matrix>(a.covariance.data()));
  const Matrix factor = eigen.eigenvectors() * eigen.eigenvalues().cwiseMax(0).cwiseSqrt().asDiagonal();
  double square = 0;
  int count = 0;
  for (int i = 0; i < 4000; ++i) {
    Eigen::Matrix<double, 11, 1> unit;
    for (int k = 0; k < 11; ++k) unit[k] = bell(random);
    std::array<double, 11> step;
    Eigen::Map<Eigen::Matrix<double, 11, 1>>(step.data()) = factor * unit;
    const Camera moved = stepped(c, step);
    for (int corner = 0; corner < 8; ++corner) {
      const Vec3d offset((corner & 1 ? 0.5 : -0.5) * size.x, (corner & 2 ? 0.5 : -0.5) * size.y,
                         corner & 4 ? size.z : 0.0);
      square += (*projected(moved, *levelPoint(moved, spot) + offset) -
                 *projected(c, *levelPoint(c, spot) + offset))
                    .length2();
      ++count;
    }
  }
  const double seen = std::sqrt(square / count);
  QVERIFY2(predicted > 0 && std::abs(seen / predicted - 1) < 0.1,
           qPrintable(QString("predicted %1, seen %2").arg(predicted).arg(seen)));
}

void TestVantage::originAndTurnsAreTheWorlds() {
  std::mt19937 random(17);
  const Camera truth = someCamera(random, 0);
  Evidence e = drawn(truth, random, 0, 4);
  const Camera plain = solve(e, width, height).vantage.camera;
  e.origin = Vec2d(700, 1100), e.quarterTurns = 3;
  const Camera c = solve(e, width, height).vantage.camera;
  QVERIFY(levelPoint(c, *e.origin)->length() < 1e-9);
  QVERIFY((c.axes.z - Vec3d(plain.axes.z.y, -plain.axes.z.x, plain.axes.z.z)).length() < 1e-9);
  QVERIFY(std::abs(c.position.z - plain.position.z) < 1e-9);
}

void TestVantage::poorEvidenceIsRefused_data() {
  QTest::addColumn<int>("which");
  const char* names[] = {"nothing",
                         "one stroke",
                         "one run only",
                         "all strokes parallel in the photo",
                         "footprint on a line",
                         "crossed footprint",
                         "zero-length strokes",
                         "too few pins",
                         "not a number",
                         "three corners on a line",
                         "a run seen end-on",
                         "half of a run is another",
                         "the horizon alone",
                         "two pins and a focal length",
                         "three pins and a focal length"};
  for (int i = 0; i < 15; ++i) QTest::newRow(names[i]) << i;
}

void TestVantage::poorEvidenceIsRefused() {
  QFETCH(int, which);
  Evidence e;
  const auto stroke = [&](Run run, double x0, double y0, double x1, double y1) {
    e.strokes.push_back({"s" + std::to_string(e.strokes.size()), run, {{x0, y0}, {x1, y1}}});
  };
  switch (which) {
    case 1:
      stroke(Run::a, 0, 0, 500, 100);
      break;
    case 2:
      for (int i = 0; i < 5; ++i) stroke(Run::a, 100, 100 + 90 * i, 900, 150 + 60 * i);
      break;
    case 3:
      for (int i = 0; i < 4; ++i)
        stroke(Run::a, 100, 200 + 100 * i, 1500, 200 + 100 * i),
            stroke(Run::b, 100 + 300 * i, 100, 100 + 300 * i, 1100);
      break;
    case 4:
      e.footprint =
          Footprint{{Vec2d(100, 100), Vec2d(300, 200), Vec2d(500, 300), Vec2d(700, 400)}, Vec2d(1, 1)};
      break;
    case 5:
      e.footprint =
          Footprint{{Vec2d(100, 100), Vec2d(900, 900), Vec2d(900, 100), Vec2d(100, 900)}, Vec2d(1, 1)};
      break;
    case 6:
      for (Run run : {Run::a, Run::b})
        for (int i = 0; i < 3; ++i) stroke(run, 100.0 * i, 50, 100.0 * i, 50);
      break;
    case 7:
      e.pins = {{{100, 100}, {0, 0, 0}}, {{300, 100}, {1, 0, 0}}, {{200, 300}, {0, 0, 1}}};
      break;
    case 8:
      for (Run run : {Run::a, Run::b})
        for (int i = 0; i < 3; ++i) stroke(run, std::nan(""), 50, 100.0 * i, 70);
      break;
    case 9:
      e.footprint =
          Footprint{{Vec2d(300, 900), Vec2d(900, 902), Vec2d(1500, 900), Vec2d(700, 400)}, Vec2d(1, 1)};
      break;
    case 10: {
      const Camera level = lookAt(width, height, 1600, {0, 0, 1.2}, {0, 5, 1.2});
      std::mt19937 random(8);
      e = drawn(level, random, 0.7, 5);
      break;
    }
    case 11: {
      std::mt19937 random(9);
      e = drawn(someCamera(random, 0), random, 0.5, 6);
      int seen = 0;
      for (Stroke& s : e.strokes)
        if (s.run == Run::a && seen++ % 3) s.run = Run::b;
      break;
    }
    case 12:
      e.levelLine = {{0, 300}, {900, 310}};
      break;
    case 13:
      e.pins = {{{100, 100}, {0, 0, 0}}, {{300, 100}, {1, 0, 0}}};
      e.focalMm35 = 30;
      break;
    case 14:  // up to four cameras see them so
      e.pins = {{{700, 800}, {0, 2, 0}}, {{1300, 700}, {1, 2.6, 0.1}}, {{500, 500}, {-0.7, 3, 0.7}}};
      e.focalMm35 = 30;
      break;
    default:
      break;
  }
  const VantageAnswer a = solve(e, width, height);
  QVERIFY(!a.vantage.solved);
  QVERIFY(!a.advice.empty() && a.advice[0].size() > 20);
}

void TestVantage::evidenceFileAsDocumented() {
  const auto file = parseEvidence(R"({ "image": {"width": 1600, "height": 1067, "file": "plate.jpg"},
    "strokes": [{"run": "a", "points": [[1, 2], [3, 4]]}, {"run": "b", "points": []}, {"run": "up", "points": []}],
    "footprint": {"corners": [[0, 0], [1, 0], [1, 1], [0, 1]], "size_m": [0.42, 0.297]},
    "pins": [{"at": [5, 6], "world_m": [1, 2, 3]}],
    "lengths": [{"from": [0, 0], "to": [9, 9], "on": "ground", "metres": 1.2}],
    "camera": {"focal_mm_35": 27, "height_m": 1.5}, "lens": {"solve": ["k1"]} })");
  QVERIFY2(file.ok(), file.ok() ? "" : file.error().message.c_str());
  QCOMPARE(file->width, 1600);
  QCOMPARE(file->evidence.strokes.size(), size_t(3));
  QVERIFY(file->evidence.footprint->sizeM == Vec2d(0.42, 0.297));
  QVERIFY(file->evidence.pins[0].worldM == Vec3d(1, 2, 3));
  QVERIFY(file->evidence.solveK1 && !file->evidence.solveK2);
  QCOMPARE(*file->evidence.heightM, 1.5);
  for (const char* bad :
       {"", "{}", R"({"image": {"width": 0, "height": 5}})",
        R"({"image": {"width": 10, "height": 10}, "strokes": [{"run": "c", "points": []}]})",
        R"({"image": {"width": 10, "height": 10}, "lengths": [{"from": [0,0], "to": [1,1], "metres": -1}]})"})
    QVERIFY(!parseEvidence(bad).ok());
}

void TestVantage::demoEvidenceFindsTheTruth() {
  const auto truth = jsonFrom(*readFile(std::filesystem::path(DUSK_SOURCE) / "demo/brackwater/truth.json"));
  const auto project =
      jsonFrom(*readFile(std::filesystem::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk"));
  const auto& solved = project["shots"][0]["vantage"]["camera"];
  QVERIFY(std::abs(solved["focalPx"].get<double>() / truth["camera"]["focalPx"].get<double>() - 1) < 0.01);
  for (int i = 0; i < 3; ++i)
    QVERIFY(std::abs(solved["position"][i].get<double>() - truth["camera"]["position"][i].get<double>()) <
            0.02);
}

DUSK_TEST(TestVantage, NoApplication);
#include "vantage.moc"
