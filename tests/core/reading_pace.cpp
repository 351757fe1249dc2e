#include "core/product/reading_pace.h"

#include <QtTest>

#include "core/base/files.h"
#include "tests/program.h"

using namespace dusk;
using namespace std::chrono_literals;

/// How far the reading of a model is: never back, and with a time left that comes true.
class TestReadingPace : public QObject {
  Q_OBJECT
  using Clock = ReadingClock::Clock;
  const Clock::time_point t0_ = Clock::now();

 private slots:
  void aReadingAsLearnedIsToldRightFromTheStart();
  void aSlowerFileIsSeenToBeSlower();
  void whatThePhaseTellsCorrectsThePace();
  void itNeverGoesBackAndNeverSaysDone();
  void pacesAreLearnedAndKept();
  void brokenPacesAreNoTrouble();
};

namespace {

/// Seconds left as a window would tell them: at the speed so far.
double left(ReadingClock& clock, ReadingClock::Time begun, ReadingClock::Time now) {
  const double spent = std::chrono::duration<double>(now - begun).count(), part = clock.fraction(now);
  return spent * (1 - part) / part;
}

}  // namespace

void TestReadingPace::aReadingAsLearnedIsToldRightFromTheStart() {
  const ReadingPace pace{0.5, 1.0, 0.5, 0.1};  // of 10 MB: 5, 10, 5 and 1 s
  ReadingClock clock(pace, 10, t0_);
  clock.tell(ReadPhase::parse, 0, t0_);
  QVERIFY(std::abs(left(clock, t0_, t0_ + 1s) - 20) < 1);
  clock.tell(ReadPhase::build, 0, t0_ + 5s);
  QVERIFY(std::abs(left(clock, t0_, t0_ + 6s) - 15) < 1);
  clock.tell(ReadPhase::facet, 0, t0_ + 15s);
  clock.tell(ReadPhase::keep, 0, t0_ + 20s);
  QVERIFY(left(clock, t0_, t0_ + 20500ms) < 1);
  const ReadingPace again = clock.measured(t0_ + 21s);
  for (size_t i = 0; i < readPhases; ++i) QVERIFY(std::abs(again[i] - pace[i]) < 0.02);
}

void TestReadingPace::aSlowerFileIsSeenToBeSlower() {
  // Three times slower than learned: once the first phase is over, so is expected of the others.
  ReadingClock clock({0.5, 1.0, 0.5, 0}, 10, t0_);
  clock.tell(ReadPhase::build, 0, t0_ + 15s);
  const double told = left(clock, t0_, t0_ + 16s);
  QVERIFY2(std::abs(told - 44) < 5, qPrintable(QString::number(told)));
}

void TestReadingPace::whatThePhaseTellsCorrectsThePace() {
  ReadingClock clock({1, 0, 0, 0}, 10, t0_);  // 10 s by the pace
  clock.tell(ReadPhase::parse, 0.1, t0_ + 4s);
  const double early = left(clock, t0_, t0_ + 4s);
  QVERIFY2(early > 8 && early < 36, qPrintable(QString::number(early)));
  clock.tell(ReadPhase::parse, 0.5, t0_ + 20s);
  const double half = left(clock, t0_, t0_ + 20s);
  QVERIFY2(std::abs(half - 20) < 2, qPrintable(QString::number(half)));
}

void TestReadingPace::itNeverGoesBackAndNeverSaysDone() {
  ReadingClock clock({0.01, 0.01, 0.01, 0.01}, 1, t0_);
  double most = 0;
  for (int i = 1; i < 400; ++i) {
    const auto now = t0_ + i * 100ms;
    if (i == 50) clock.tell(ReadPhase::build, 0.9, now);
    if (i == 100) clock.tell(ReadPhase::facet, 0.01, now);
    if (i == 150) clock.tell(ReadPhase::build, 0.2, now);  // what is past stays past
    const double f = clock.fraction(now);
    QVERIFY(f >= most && f < 1);
    most = f;
  }
}

void TestReadingPace::pacesAreLearnedAndKept() {
  const QTemporaryDir folder;
  const std::filesystem::path in = folder.path().toStdString();
  const ReadingPace cad = paceOf(in, ".step"), mesh = paceOf(in, ".obj");
  QVERIFY(cad != mesh);
  QVERIFY(learnPace(in, ".step", {1, 2, 3, 4}));
  QVERIFY((paceOf(in, ".step") == ReadingPace{1, 2, 3, 4}));
  QVERIFY(paceOf(in, ".obj") == mesh);
  QVERIFY(learnPace(in, ".step", {3, 2, 1, 4}));
  QVERIFY((paceOf(in, ".step") == ReadingPace{2, 2, 2, 4}));
  QVERIFY(!learnPace(in / "nowhere", ".step", {1, 1, 1, 1}));
}

void TestReadingPace::brokenPacesAreNoTrouble() {
  const QTemporaryDir folder;
  const std::filesystem::path in = folder.path().toStdString();
  const ReadingPace guess = paceOf(in, ".step");
  for (const char* text :
       {"", "[1]", "{\".step\": 7}", "{\".step\": [1, 2]}", "{\".step\": [null, 1, 2, 3]}", "{"}) {
    QVERIFY(writeFileAtomically(in / "reading-pace.json", text).ok());
    const ReadingPace pace = paceOf(in, ".step");
    for (size_t i = 0; i < readPhases; ++i) QVERIFY(std::isfinite(pace[i]) && pace[i] >= 0);
    QVERIFY(pace[0] == guess[0] || text[0] == '{');
    QVERIFY(learnPace(in, ".step", {1, 1, 1, 1}));
  }
}

DUSK_TEST(TestReadingPace, NoApplication);
#include "reading_pace.moc"
