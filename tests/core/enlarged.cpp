#include "core/proof/enlarged.h"

#include <QtTest>
#include <random>

#include "core/picture/row_scaler.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// A scene of discs of all sizes and shades, a little soft, under a sensor's noise: in 8 bits.
Picture scene(int width, int height, uint32_t seed, float softness) {
  Picture p = Picture::rgb(width, height);
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> even(0, 1);
  std::normal_distribution<float> grain(0, 0.01f);
  for (float& v : p.pixels) v = 0.4f;
  for (int n = 0; n < 500; ++n) {
    const float cx = even(random) * float(width), cy = even(random) * float(height),
                r = 3 + 60 * even(random) * even(random), shade = even(random);
    for (int y = std::max(0, int(cy - r - 3)); y < std::min(height, int(cy + r + 3)); ++y)
      for (int x = std::max(0, int(cx - r - 3)); x < std::min(width, int(cx + r + 3)); ++x) {
        const float inside =
            std::clamp((r - std::hypot(float(x) - cx, float(y) - cy)) / softness + 0.5f, 0.0f, 1.0f);
        for (int c = 0; c < 3; ++c) p.at(x, y)[c] += inside * (shade - p.at(x, y)[c]);
      }
  }
  for (float& v : p.pixels) v += grain(random);
  return p;
}

PackedPicture in8Bits(const Picture& p) {
  std::vector<uint8_t> codes;
  for (const float v : p.pixels) codes.push_back(uint8_t(std::lround(std::clamp(v, 0.0f, 1.0f) * 255)));
  return {p.width, p.height, std::move(codes)};
}

Picture enlarged(const Picture& p, double by) {
  const int w = int(p.width * by), h = int(p.height * by);
  return RowScaler(p.width, p.height, w, h, 3).add(p);
}

}  // namespace

class TestEnlarged : public QObject {
  Q_OBJECT
 private slots:
  void photosAsTakenAreNotBlamed() {
    for (const uint32_t seed : {1u, 2u, 3u, 4u, 5u, 6u})
      for (const float softness : {1.0f, 2.5f}) {
        const auto trace = enlargedTrace(in8Bits(scene(900, 640, seed, softness)));
        QVERIFY2(trace && *trace < 5, qPrintable(QString::number(trace.value_or(-1))));
      }
  }
  void smallerOnesAreNotBlamed() {
    const Picture large = scene(1200, 900, 3, 1.5f);
    QVERIFY(enlargedTrace(in8Bits(RowScaler(1200, 900, 850, 638, 3).add(large))).value() < 5);
  }
  void largerOnesAre() {
    for (const uint32_t seed : {1u, 2u, 3u})
      for (const double by : {1.2, 1.5, 1.77, 2.6, 3.0}) {
        const auto trace = enlargedTrace(in8Bits(enlarged(scene(600, 460, seed, 1.5f), by)));
        QVERIFY2(trace && *trace > 5, qPrintable(QString("%1 times: %2").arg(by).arg(trace.value_or(-1))));
      }
  }
  void whatTellsNothingIsNotAsked() {
    QVERIFY(!enlargedTrace(in8Bits(scene(180, 400, 1, 1))));
    Picture even = Picture::rgb(400, 300);
    QCOMPARE(enlargedTrace(PackedPicture(even)), std::optional(0.0));
  }
};

DUSK_TEST(TestEnlarged, NoApplication);
#include "enlarged.moc"
