#include "core/deliver/pace.h"

#include <QtTest>

#include "tests/program.h"

using namespace dusk;

namespace {

/// What was told at a time of a delivery that goes on as it does.
struct Told {
  double seconds, fraction;
};

}  // namespace

class TestPace : public QObject {
  Q_OBJECT
 private slots:
  void tellsTheTruthOnceItHasSeenABand();
  void neverGoesBack();
  void aPictureInOnePieceComesToItsEnd();

 private:
  /// A delivery whose samples and pixels take so long each.
  static std::vector<Told> run(const std::vector<BandWork>& bands, double perSample, double perPixel,
                               double atEnd) {
    Pace pace(bands, 3, 50, 100, 100 * perSample, 0.1);
    std::vector<Told> told;
    double now = 7;  // the clock may begin anywhere
    const auto tell = [&](const Progress::Part& part, double takes) {
      told.push_back({now, part.from});
      now += takes;
      told.push_back({now, part.to});
    };
    for (size_t i = 0; i < bands.size(); ++i) {
      tell(pace.trace(i, now), bands[i].samples * perSample);
      tell(pace.finish(i, now), bands[i].pixels * perPixel);
    }
    tell(pace.end(now), atEnd);
    return told;
  }
};

void TestPace::tellsTheTruthOnceItHasSeenABand() {
  // The product is in the lower bands alone, and files take far longer than was guessed.
  const std::vector<BandWork> bands{{0, 100}, {100, 100}, {900, 100}, {2000, 100}, {500, 100}};
  const double perSample = 0.01, perPixel = 0.2, whole = 3500 * perSample + 500 * perPixel + 0.5;
  const auto told = run(bands, perSample, perPixel, 0.5);
  // From the first band's end on what is left is told by what is known: within a tenth of all.
  for (size_t i = 4; i < told.size(); ++i) {
    const double spent = told[i].seconds - 7 + 1, left = whole - (told[i].seconds - 7);
    const double says = spent * (1 - told[i].fraction) / told[i].fraction;
    QVERIFY2(std::abs(says - left) < 0.1 * whole,
             qPrintable(QString("%1 s left, %2 told").arg(left).arg(says)));
  }
  QCOMPARE(told.back().fraction, 1.0);
}

void TestPace::neverGoesBack() {
  for (const double perPixel : {0.0, 0.001, 1.0, 50.0})
    for (const double perSample : {0.0, 1e-6, 0.5}) {
      double last = 0;
      for (const Told& t : run({{10, 5}, {0, 5}, {3000, 5}, {0, 0}, {1, 5}}, perSample, perPixel, 4)) {
        QVERIFY(t.fraction >= last && t.fraction <= 1);
        last = t.fraction;
      }
      QCOMPARE(last, 1.0);
    }
}

void TestPace::aPictureInOnePieceComesToItsEnd() {
  Pace pace({{300, 100}}, 1, 100, 0, 0, 0);
  const Progress::Part traced = pace.trace(0, 0);
  QCOMPARE(traced.from, 0.0);
  QCOMPARE(traced.to, 0.6);  // nothing is known but its shares
  // It took thirty seconds, so the rest is taken for twenty.
  const Progress::Part finished = pace.finish(0, 30);
  QCOMPARE(finished.from, 0.6);
  QCOMPARE(finished.to, 0.8);
  QCOMPARE(pace.end(40).to, 1.0);
}

DUSK_TEST(TestPace, NoApplication);
#include "pace.moc"
