// Edges of known softness, measured.
#include <QtTest>
#include <random>

#include "core/blend/blur.h"
#include "core/blend/measure_edges.h"
#include "core/blend/product_rows.h"
#include "core/blend/resample.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// Slanted boards, each pixel by its cover (64 looks), blurred by a Gaussian per channel.
struct Boards {
  int width = 400, height = 300;
  std::vector<double> sigma{0.8, 0.8, 0.8};
  double noise = 0, dark = 0.1, bright = 0.6;
  bool round = false;

  Picture made() const {
    auto p = std::make_shared<Picture>(Picture::rgb(width, height));
    for (int y = 0; y < height; ++y)
      for (int x = 0; x < width; ++x) {
        int in = 0;
        for (int k = 0; k < 64; ++k) in += inside(x + (k % 8 + 0.5) / 8, y + (k / 8 + 0.5) / 8);
        std::fill_n(p->at(x, y), 3, float(dark + (bright - dark) * in / 64));
      }
    Evaluator evaluator;
    const PixelArea whole{0, 0, width, height};
    const Sheet s = evaluator.sheet(blurredApart(sourceOf(p, whole, 3), sigma), whole);
    Picture out = Picture::rgb(width, height);
    std::mt19937 random(2);
    std::normal_distribution<float> any(0, float(std::max(noise, 1e-9)));
    for (int c = 0; c < 3; ++c)
      for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) out.at(x, y)[c] = s.at(c, x, y) + (noise > 0 ? any(random) : 0);
    return out;
  }

 private:
  bool inside(double x, double y) const {
    if (round) return std::hypot(x - 200, y - 150) < 14 || std::fmod(x + 1000, 70) < 8;
    const double u = x * std::cos(0.37) + y * std::sin(0.37);
    return std::fmod(u + 1000, 80) < 40;
  }
};

std::vector<EdgeFit> edgesOf(const Picture& p, double noise = 0.001) {
  Progress progress;
  return cleanEdges(p, noise, progress);
}

}  // namespace

class TestEdgesMeasured : public QObject {
  Q_OBJECT
 private slots:
  void edgesLieWhereTheyAre();
  void softnessIsMeasuredPerChannel();
  void noiseMakesNoEdges();
  void noisyEdgesAreMeasuredAllTheSame();
  void bentAndCrowdedEdgesAreLeftOut();
  void nearEdgesCountFirst();
  void fringesHaveTheirSign();
  void smallPicturesDoNoHarm();
};

void TestEdgesMeasured::edgesLieWhereTheyAre() {
  const auto edges = edgesOf(Boards{}.made());
  QVERIFY2(edges.size() > 40, qPrintable(QString::number(edges.size())));
  const Vec2d normal(std::cos(0.37), std::sin(0.37));
  for (const EdgeFit& e : edges) {
    QVERIFY(std::abs(std::abs(e.across.dot(normal)) - 1) < 1e-3);
    QVERIFY(std::abs(e.contrast - 0.5) < 0.02);
    // On a line, every 40 pixels along the normal.
    const double u = (e.at + e.across * e.offset[1]).dot(normal), off = std::remainder(u, 40);
    QVERIFY2(std::abs(off) < 0.05, qPrintable(QString::number(off)));
    for (int c = 0; c < 3; ++c) QVERIFY(std::abs(e.offset[size_t(c)] - e.offset[1]) < 0.01);
  }
}

void TestEdgesMeasured::softnessIsMeasuredPerChannel() {
  Boards b;
  b.sigma = {1.1, 0.9, 1.4};
  const Picture p = b.made();
  const auto soft = softnessOf(edgesOf(p), p, {}, 0);
  QVERIFY(soft && soft->edges > 20);
  for (size_t c = 0; c < 3; ++c) {
    const double truth = std::sqrt(b.sigma[c] * b.sigma[c] + 1 / 12.0);
    QVERIFY2(std::abs(soft->sigma[c] / truth - 1) < 0.03,
             qPrintable(QString("%1 of %2").arg(soft->sigma[c]).arg(truth)));
  }
  QCOMPARE(soft->halo, 0.0);
  QVERIFY(soft->margin < 0.02);
}

void TestEdgesMeasured::noiseMakesNoEdges() {
  Boards b;
  b.dark = b.bright = 0.3, b.noise = 0.02;
  QVERIFY(edgesOf(b.made(), 0.02).empty());
  b.noise = 0;
  QVERIFY(edgesOf(b.made(), 0).empty());
}

void TestEdgesMeasured::noisyEdgesAreMeasuredAllTheSame() {
  Boards b;
  b.noise = 0.008, b.sigma = {1.1, 1.1, 1.1};
  const Picture p = b.made();
  const auto edges = edgesOf(p, 0.008);
  QVERIFY(edges.size() > 20);
  const auto soft = softnessOf(edges, p, {}, 0);
  const double truth = std::sqrt(1.21 + 1 / 12.0);
  QVERIFY2(soft && std::abs(soft->sigma[1] / truth - 1) < 0.07,
           qPrintable(QString::number(soft ? soft->sigma[1] : 0)));
}

void TestEdgesMeasured::bentAndCrowdedEdgesAreLeftOut() {
  Boards b;
  b.round = true;  // a small disc, and bars that are too narrow to have two flat sides
  const Picture p = b.made();
  for (const EdgeFit& e : edgesOf(p)) QVERIFY((e.at - Vec2d(200, 150)).length() > 20);
}

void TestEdgesMeasured::nearEdgesCountFirst() {
  // The left half is in focus, the right half is not.
  Boards sharp, soft;
  sharp.sigma = {0.6, 0.6, 0.6}, soft.sigma = {1.8, 1.8, 1.8};
  const Picture a = sharp.made(), b = soft.made();
  Picture both = a;
  for (int y = 0; y < both.height; ++y) std::copy(b.at(200, y), b.at(200, y) + 200 * 3, both.at(200, y));
  const auto edges = edgesOf(both);
  const auto left = softnessOf(edges, both, Vec2d(70, 150), 110),
             right = softnessOf(edges, both, Vec2d(320, 150), 95);
  QVERIFY(left && right);
  QVERIFY2(left->sigma[1] < 0.8 && right->sigma[1] > 1.6,
           qPrintable(QString("%1 %2").arg(left->sigma[1]).arg(right->sigma[1])));
  // Of all together the sharpest are the lens's.
  QVERIFY(softnessOf(edges, both, {}, 0)->sigma[1] < 0.8);
}

void TestEdgesMeasured::fringesHaveTheirSign() {
  Boards b;
  b.width = 700, b.height = 500;
  const auto p = std::make_shared<Picture>(b.made());
  const PixelArea whole{0, 0, 700, 500};
  Evaluator evaluator;
  const Sheet s = evaluator.sheet(scaledApart(sourceOf(p, whole, 3), {350, 250}, {1.002, 1, 0.9985}), whole);
  Picture fringed = Picture::rgb(700, 500);
  for (int c = 0; c < 3; ++c)
    for (int y = 0; y < 500; ++y)
      for (int x = 0; x < 700; ++x) fringed.at(x, y)[c] = s.at(c, x, y);
  const auto found = fringesOf(edgesOf(fringed), 700, 500), none = fringesOf(edgesOf(*p), 700, 500);
  QVERIFY(found && none);
  QVERIFY2((found->scale - Vec2d(2, -1.5)).length() < 0.1,
           qPrintable(QString("%1 %2").arg(found->scale.x).arg(found->scale.y)));
  QVERIFY(none->scale.length() < 0.05 && found->margin.length() < 0.1);
}

void TestEdgesMeasured::smallPicturesDoNoHarm() {
  for (const auto& [w, h] : {std::pair(1, 1), {5, 400}, {30, 30}, {60, 3}}) {
    const Picture p = Picture::rgb(w, h);
    QVERIFY(edgesOf(p).empty());
    QVERIFY(!softnessOf({}, p, {}, 0) && !fringesOf({}, w, h));
  }
}

DUSK_TEST(TestEdgesMeasured, NoApplication);
#include "edges_measured.moc"
