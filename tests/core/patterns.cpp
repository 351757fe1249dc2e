#include <QtTest>

#include "core/project/feed_kinds.h"
#include "core/surface/noise.h"
#include "core/surface/patterns.h"
#include "tests/program.h"

using namespace dusk;

/// Patterns: values in their range, lengths in millimetres, and means where a look is wide.
class TestPatterns : public QObject {
  Q_OBJECT
  static std::vector<FeedKind> all() {
    std::vector<FeedKind> kinds;
    for (const FeedKindInfo& info : feedKinds())
      if (patternOf(info.kind)) kinds.push_back(info.kind);
    return kinds;
  }
  static float at(const Feed& f, float x, float y, float z = 0, float width = 0) {
    return patternOf(f.kind)({{x, y, z}, {width, width, width}}, f);
  }
  /// Mean distance between rises through the middle along x.
  static double period(const Feed& f, float length, float y, float step) {
    double first = -1, last = -1;
    int count = 0;
    bool was = at(f, 0, y) > 0.25f;
    for (float x = step; x < length; x += step) {
      const bool is = at(f, x, y) > 0.25f;
      if (is && !was) {
        if (first < 0)
          first = double(x);
        else
          ++count;
        last = double(x);
      }
      was = is;
    }
    return count ? (last - first) / count : 0;
  }

 private slots:
  void everyKindIsInTheTable();
  void valuesStayInTheirRange();
  void seedsMakeOthers();
  void lengthsAreMillimetres();
  void pulsesAverageExactly();
  void aCheckerAveragesAsItsSamplesDo();
  void wideLooksSeeTheMean();
  void noiseIsSmooth();
  void cellsKnowTheirNearest();
  void shareIsCover();
};

void TestPatterns::everyKindIsInTheTable() {
  std::set<std::string> names, titles;
  for (const FeedKindInfo& info : feedKinds()) {
    QVERIFY(names.insert(info.name).second && titles.insert(info.title).second);
    QCOMPARE(int(feedKindNamed(info.name)->kind), int(info.kind));
    const bool isPattern = info.family != FeedFamily::plain && info.family != FeedFamily::picture &&
                           info.family != FeedFamily::shape;
    QCOMPARE(patternOf(info.kind) != nullptr, isPattern);
    const Feed fresh = newFeed(info.kind);
    QVERIFY(fresh.sizeMm > 0 && fresh.on && fresh.strength == 1);
  }
  QCOMPARE(names.size(), size_t(FeedKind::vertexColours) + 1);
  QVERIFY(!feedKindNamed("checkers") && !feedKindNamed(""));
}

void TestPatterns::valuesStayInTheirRange() {
  for (const FeedKind kind : all()) {
    Feed f = newFeed(kind);
    float low = 1, high = 0;
    for (int i = 0; i < 6000; ++i) {
      const float side = float(f.sizeMm) * 30;
      const float x = (evenAt(i, 0, 0, 1) - 0.5f) * side, y = (evenAt(i, 1, 0, 1) - 0.5f) * side,
                  z = (evenAt(i, 2, 0, 1) - 0.5f) * float(f.sizeMm);
      const float v = at(f, x, y, z, i % 3 ? 0.0f : float(f.sizeMm) * 0.1f);
      QVERIFY2(v >= -1e-4f && v <= 1 + 1e-4f, infoOf(kind).name);
      QCOMPARE(at(f, x, y, z), at(f, x, y, z));
      low = std::min(low, v), high = std::max(high, v);
    }
    QVERIFY2(high - low > 0.3f, infoOf(kind).name);
  }
}

void TestPatterns::seedsMakeOthers() {
  using enum FeedKind;
  for (const FeedKind kind : all()) {
    Feed a = newFeed(kind), b = a;
    b.seed = 2;
    bool differs = false;
    for (int i = 0; i < 400 && !differs; ++i) {
      const float x = evenAt(i, 0, 0, 2) * 40 * float(a.sizeMm),
                  y = evenAt(i, 1, 0, 2) * 40 * float(a.sizeMm);
      differs = at(a, x, y) != at(b, x, y);
    }
    const bool regular = kind == checker || kind == stripes || kind == ribs || kind == knurl ||
                         kind == knit || kind == gradient;
    QVERIFY2(differs != regular, infoOf(kind).name);
  }
}

void TestPatterns::lengthsAreMillimetres() {
  using enum FeedKind;
  const std::pair<FeedKind, double> periods[] = {
      {stripes, 1}, {checker, 2}, {brick, 1}, {tile, 1}, {ribs, 1}};
  for (const auto& [kind, sizes] : periods)
    for (const double size : {0.7, 12.0, 215.0}) {
      Feed f = newFeed(kind);
      f.sizeMm = size;
      const double found = period(f, float(size * 60), float(size) * 0.1f, float(size) / 400);
      QVERIFY2(std::abs(found / (size * sizes) - 1) < 0.005,
               qPrintable(QString("%1 %2: %3").arg(infoOf(kind).name).arg(size).arg(found)));
    }
  // A brick's courses are as high as its stretch says, and every other begins half a brick on.
  Feed f = newFeed(brick);
  f.sizeMm = 240, f.stretch = 3, f.share = 0.05;
  QCOMPARE(at(f, 120, 0.0f), 0.0f);   // in the joint below the first course
  QCOMPARE(at(f, 120, 80.5f), 0.0f);  // and the one above it
  QVERIFY(at(f, 120, 40) >= 0.5f);
  QCOMPARE(at(f, 0.5f, 40), 0.0f);    // where two bricks meet
  QVERIFY(at(f, 0.5f, 120) >= 0.5f);  // half a brick on
  QCOMPARE(at(f, 120.5f, 120), 0.0f);
}

void TestPatterns::pulsesAverageExactly() {
  for (const float duty : {0.1f, 0.5f, 0.83f})
    for (const float width : {0.05f, 0.7f, 3.3f})
      for (const float x : {-2.31f, 0.0f, 0.49f, 7.9f}) {
        double sum = 0;
        constexpr int count = 20000;
        for (int i = 0; i < count; ++i)
          sum += double(pulse(x + width * ((float(i) + 0.5f) / count - 0.5f), 0, duty));
        QVERIFY(std::abs(sum / count - double(pulse(x, width, duty))) < 2e-3);
      }
}

void TestPatterns::aCheckerAveragesAsItsSamplesDo() {
  Feed f = newFeed(FeedKind::checker);
  f.sizeMm = 10;
  double worst = 0;
  for (int i = 0; i < 200; ++i) {
    const float x = evenAt(i, 0, 0, 3) * 100, y = evenAt(i, 1, 0, 3) * 100,
                w = 0.5f + evenAt(i, 2, 0, 3) * 60;
    double sum = 0;
    for (int k = 0; k < 1024; ++k)
      sum += double(at(f, x + w * ((float(k % 32) + 0.5f) / 32 - 0.5f),
                       y + w * ((float(k / 32) + 0.5f) / 32 - 0.5f))) /
             1024;
    worst = std::max(worst, std::abs(sum - double(at(f, x, y, 0, w))));
  }
  QVERIFY2(worst < 0.04, qPrintable(QString::number(worst)));  // 1,024 points of a hard edge are that coarse
}

void TestPatterns::wideLooksSeeTheMean() {
  for (const FeedKind kind : all()) {
    if (kind == FeedKind::gradient) continue;
    const Feed f = newFeed(kind);
    const Pattern pattern = patternOf(kind);
    const float mean = meanOf(pattern, f), wide = float(f.sizeMm * std::max(1.0, f.stretch)) * 30;
    QVERIFY2(mean > 0.001f && mean < 0.99f, infoOf(kind).name);
    for (int i = 0; i < 20; ++i) {
      const PatternPoint look{{evenAt(i, 0, 0, 4) * wide, evenAt(i, 1, 0, 4) * wide, 0}, {wide, wide, wide}};
      QVERIFY2(std::abs(averaged(pattern, mean, look, f) - mean) < 0.08f, infoOf(kind).name);
    }
  }
}

void TestPatterns::noiseIsSmooth() {
  double sum = 0, most = 0;
  for (int i = 0; i < 20000; ++i) {
    const Vec3f p(evenAt(i, 0, 0, 5) * 90 - 45, evenAt(i, 1, 0, 5) * 90 - 45, evenAt(i, 2, 0, 5) * 90 - 45);
    const float v = gradientNoise(p, 9);
    sum += double(v);
    most = std::max(most, double(std::abs(gradientNoise(p + Vec3f(1e-3f, 0, 0), 9) - v)));
    QVERIFY(std::abs(v) <= 1.05f);
  }
  QVERIFY(std::abs(sum / 20000) < 0.01);
  QVERIFY2(most < 0.004, qPrintable(QString::number(most)));  // no seams between its cells
  QCOMPARE(gradientNoise({3, -2, 7}, 1), 0.0f);               // by its making
}

void TestPatterns::cellsKnowTheirNearest() {
  for (int i = 0; i < 300; ++i) {
    const Vec3f p(evenAt(i, 0, 0, 6) * 9, evenAt(i, 1, 0, 6) * 9, evenAt(i, 2, 0, 6) * 9);
    const CellPoint c = cellPoint(p, 3);
    QVERIFY(c.nearest <= c.next && c.nearest <= 1.8f);
    // Moving towards nothing in particular changes the distances by no more than the way.
    const CellPoint near = cellPoint(p + Vec3f(0.01f, 0, 0), 3);
    QVERIFY(std::abs(near.nearest - c.nearest) <= 0.0101f && std::abs(near.next - c.next) <= 0.0101f);
  }
}

void TestPatterns::shareIsCover() {
  using enum FeedKind;
  for (const FeedKind kind : {scratches, smudges, fingerprints, specks, droplets, speckle, stripes}) {
    Feed few = newFeed(kind), many = few;
    few.share = 0.1, many.share = 0.8;
    QVERIFY2(meanOf(patternOf(kind), many) > meanOf(patternOf(kind), few) * 1.5f, infoOf(kind).name);
  }
}

DUSK_TEST(TestPatterns, NoApplication);
#include "patterns.moc"
