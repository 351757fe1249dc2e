// The graph that the blend is made by: what is needed, what is held, how often a thing is made.
#include <QtTest>
#include <atomic>
#include <random>

#include "core/blend/blur.h"
#include "core/blend/combine.h"
#include "core/blend/product_rows.h"
#include "core/blend/resample.h"
#include "core/colour/code_steps.h"
#include "core/colour/view.h"
#include "tests/program.h"

using namespace dusk;

namespace {

const PixelArea whole{0, 0, 300, 200};

/// A picture that counts its pixels as they are made.
struct Counted {
  std::shared_ptr<std::atomic<long>> made = std::make_shared<std::atomic<long>>(0);
  NodePtr of(const NodePtr& in, float factor = 1) const {
    return combined({in}, in->channels, NodeKey("counted").with(made.get()).with(factor),
                    [made = made, factor](const auto& from, float* const* out, int count, int, int) {
                      *made += count;
                      for (size_t c = 0; c < from[0].size(); ++c)
                        for (int i = 0; i < count; ++i) out[c][i] = from[0][c][i] * factor;
                    });
  }
  long take() const { return made->exchange(0); }
};

NodePtr slope() {
  auto p = std::make_shared<Picture>(Picture::rgb(whole.x1, whole.y1));
  for (int y = 0; y < p->height; ++y)
    for (int x = 0; x < p->width; ++x)
      for (int c = 0; c < 3; ++c) p->at(x, y)[c] = float(x) * 0.01f + float(y) * 0.003f + float(c);
  return sourceOf(p, whole, 3);
}

constexpr long pixels = 300L * 200;

}  // namespace

class TestGraph : public QObject {
  Q_OBJECT
 private slots:
  void aSharedPictureIsMadeOnce();
  void whatLiesBelowAChangeIsHeld();
  void onlyWhatIsNeededIsMade();
  void needsReachAsFarAsBlurs();
  void keysTellWhatDiffers();
  void picturesAreScaledAboutTheirMiddle();
  void evenPicturesStayEvenThroughBlurs_data();
  void evenPicturesStayEvenThroughBlurs();
  void codesAreFoundExactly_data();
  void codesAreFoundExactly();
};

void TestGraph::aSharedPictureIsMadeOnce() {
  const Counted counted;
  const NodePtr base = counted.of(slope());
  // Five look at it side by side, twice over: within a tile it is made once.
  NodePtr all = base;
  for (int i = 0; i < 5; ++i)
    all = combined({all, base}, 3, NodeKey("sum").with(i),
                   [](const auto& in, float* const* out, int count, int, int) {
                     for (size_t c = 0; c < 3; ++c)
                       for (int k = 0; k < count; ++k) out[c][k] = in[0][c][k] + in[1][c][k];
                   });
  Evaluator evaluator;
  const Sheet made = evaluator.sheet(all, whole);
  QCOMPARE(counted.take(), pixels);
  QVERIFY(std::abs(made.at(1, 100, 50) - 6 * (1 + 0.15f + 1)) < 1e-4f);
  // One that is looked at with neighbours and without is made once, too.
  const NodePtr both = combined({blurred(base, 3), base}, 3, NodeKey("both"),
                                [](const auto& in, float* const* out, int count, int, int) {
                                  for (size_t c = 0; c < 3; ++c) std::copy_n(in[0][c], count, out[c]);
                                });
  Evaluator other;
  (void)other.sheet(both, whole);
  QCOMPARE(counted.take(), pixels);
}

void TestGraph::whatLiesBelowAChangeIsHeld() {
  const Counted below, above;
  const NodePtr base = below.of(slope());
  Evaluator evaluator;
  (void)evaluator.sheet(above.of(base, 1), whole);
  (void)evaluator.sheet(above.of(base, 2), whole);
  below.take(), above.take();
  for (int i = 3; i < 8; ++i) {
    const Sheet s = evaluator.sheet(above.of(base, float(i)), whole);
    QVERIFY(std::abs(s.at(0, 10, 0) - 0.1f * float(i)) < 1e-5f);
  }
  QCOMPARE(below.take(), 0L);
  QCOMPARE(above.take(), 5 * pixels);
  QVERIFY(evaluator.bytes() >= size_t(pixels) * 12);
  evaluator.forget();
  QCOMPARE(evaluator.bytes(), size_t(0));
}

void TestGraph::onlyWhatIsNeededIsMade() {
  const Counted counted;
  const NodePtr base = counted.of(slope());
  Evaluator evaluator;
  const PixelArea some{100, 100, 120, 110};
  (void)evaluator.sheet(base, some);
  QCOMPARE(counted.take(), 200L);
  (void)evaluator.sheet(blurred(base, 1.5), some);
  const long with = counted.take();
  QVERIFY2(with > 200 && with < 1500, qPrintable(QString::number(with)));
}

void TestGraph::needsReachAsFarAsBlurs() {
  const NodePtr base = slope();
  const PixelArea one{150, 100, 151, 101}, large{0, 0, 3000, 2000};
  int before = 0;
  for (const double sigma : {0.5, 2.0, 8.0, 30.0}) {
    const PixelArea need = neededOf(blurred(base, sigma), one, large);
    const int reach = one.x0 - need.x0;
    QVERIFY2(reach > 2 * sigma - 1 && reach < 9 * sigma + 6,
             qPrintable(QString("%1: %2").arg(sigma).arg(reach)));
    QVERIFY(reach > before && need.x1 > one.x1 && need.y0 < one.y0 && need.y1 > one.y1);
    before = reach;
  }
  QCOMPARE(neededOf(base, one, large), one);
}

void TestGraph::keysTellWhatDiffers() {
  const NodePtr a = slope(), b = slope();
  QVERIFY(a->key != b->key);  // of other pictures, though they are alike
  QCOMPARE(blurred(a, 2)->key, blurred(a, 2)->key);
  QVERIFY(blurred(a, 2)->key != blurred(a, 2.5)->key && blurred(a, 2)->key != blurred(b, 2)->key);
  QVERIFY(NodeKey("x").with(std::string("ab")).with(std::string("c")).text() !=
          NodeKey("x").with(std::string("a")).with(std::string("bc")).text());
}

void TestGraph::picturesAreScaledAboutTheirMiddle() {
  const NodePtr base = slope();
  Evaluator evaluator;
  const Sheet same = evaluator.sheet(scaledApart(base, {150, 100}, {1, 1, 1}), whole);
  const Sheet larger = evaluator.sheet(scaledApart(base, {150, 100}, {1.1, 1, 0.9}), whole);
  for (const auto& [x, y] : {std::pair(20, 30), {150, 100}, {280, 170}})
    for (int c = 0; c < 3; ++c) {
      const auto value = [&](double px, double py) { return (px - 0.5) * 0.01 + (py - 0.5) * 0.003 + c; };
      QVERIFY(std::abs(same.at(c, x, y) - value(x + 0.5, y + 0.5)) < 1e-5);
      const double per = c == 0 ? 1 / 1.1 : c == 1 ? 1 : 1 / 0.9;
      const double px = 150 + (x + 0.5 - 150) * per, py = 100 + (y + 0.5 - 100) * per;
      if (px > 3 && px < 297 && py > 3 && py < 197)
        QVERIFY(std::abs(larger.at(c, x, y) - value(px, py)) < 1e-4);
    }
  const PixelArea doubled{0, 0, 600, 400};
  const Sheet twice = evaluator.sheet(stretched(base, doubled, 2), doubled);
  QVERIFY(std::abs(twice.at(0, 301, 200) - (150.75 - 0.5) * 0.01 - (100.25 - 0.5) * 0.003) < 1e-4);
}

void TestGraph::evenPicturesStayEvenThroughBlurs_data() {
  QTest::addColumn<double>("sigma");
  for (const double s : {0.3, 1.0, 4.0, 20.0, 90.0}) QTest::addRow("%g px", s) << s;
}

void TestGraph::evenPicturesStayEvenThroughBlurs() {
  QFETCH(double, sigma);
  auto even = std::make_shared<Picture>(Picture::rgb(301, 203));
  std::fill(even->pixels.begin(), even->pixels.end(), 0.25f);
  const PixelArea odd{0, 0, 301, 203};
  Evaluator evaluator;
  const Sheet s = evaluator.sheet(blurred(sourceOf(even, odd, 3), sigma), odd);
  for (int y = 0; y < 203; ++y)
    for (int x = 0; x < 301; ++x) QVERIFY(std::abs(s.at(2, x, y) - 0.25f) < 2e-6f);
  // What is nothing stays nothing to the bit: the identity rule rests on it.
  std::fill(even->pixels.begin(), even->pixels.end(), 0.0f);
  Evaluator anew;
  const Sheet none = anew.sheet(blurred(sourceOf(even, odd, 3), sigma), odd);
  for (int x = 0; x < 301; ++x) QCOMPARE(none.at(0, x, 100), 0.0f);
  const Sheet sum = anew.sheet(blurredSum(sourceOf(even, odd, 3), {sigma, sigma / 2}, {0.5f, 0.5f}), odd);
  QCOMPARE(sum.at(1, 17, 19), 0.0f);
}

void TestGraph::codesAreFoundExactly_data() {
  QTest::addColumn<QString>("name");
  for (const std::string& name : ColourView::names())
    QTest::newRow(name.c_str()) << QString::fromStdString(name);
}

void TestGraph::codesAreFoundExactly() {
  QFETCH(QString, name);
  const auto view = ColourView::make(name.toStdString());
  std::mt19937 random(11);
  std::vector<float> r, g, b;
  for (int i = 0; i < 30'000; ++i) {
    const float spread = std::exp2(std::uniform_real_distribution<float>(-16, 7)(random));
    for (auto* row : {&r, &g, &b})
      row->push_back(std::uniform_real_distribution<float>(-0.1f, 1.2f)(random) * spread);
  }
  for (const float odd : {0.0f, -0.0f, 1.0f, 1e-38f, 1e30f, -1e30f, 0.0031308f})
    r.push_back(odd), g.push_back(odd), b.push_back(odd);
  std::vector<uint8_t> codes(r.size() * 3);
  (*view)->toCodes8(r.data(), g.data(), b.data(), int(r.size()), codes.data());
  std::vector<float> shown;
  for (size_t i = 0; i < r.size(); ++i) shown.insert(shown.end(), {r[i], g[i], b[i]});
  (*view)->toDisplay(shown.data(), r.size());
  for (size_t i = 0; i < shown.size(); ++i)
    QVERIFY2(codes[i] == nearestCode(shown[i]),
             qPrintable(QString("%1: %2 not %3").arg(i).arg(codes[i]).arg(shown[i] * 255)));
}

DUSK_TEST(TestGraph, NoApplication);
#include "graph.moc"
