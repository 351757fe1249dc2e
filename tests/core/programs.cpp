#include <QtTest>

#include "core/base/cache_folder.h"
#include "core/base/run_program.h"
#include "tests/program.h"

using namespace dusk;

/// Programs that are run apart: what they say, and every way they end.
class TestPrograms : public QObject {
  Q_OBJECT
  static std::optional<ProgramEnd> shell(const std::string& script, double seconds = 20,
                                         const std::function<void(std::string&)>& heard = {}) {
    Progress progress;
    return runProgram("/bin/sh", {"-c", script}, seconds, progress, heard);
  }

 private slots:
  void whatItSaysIsHeard();
  void itsEndIsTold();
  void tooLongIsEnded();
  void cancellingEndsIt();
  void aProgramThatIsNotThere();
  void argumentsArriveAsTheyAre();
  void theCacheIsThePersons();
};

void TestPrograms::whatItSaysIsHeard() {
  const auto end = shell("echo one; echo two >&2; echo three");
  QVERIFY(end && end->exitCode() == 0 && !end->broke());
  QCOMPARE(end->said, std::string("one\nthree\n"));  // what it says to itself is not
  std::string taken;
  const auto lines = shell("echo a; echo b", 20, [&](std::string& said) { taken += said, said.clear(); });
  QVERIFY(lines && lines->said.empty());
  QCOMPARE(taken, std::string("a\nb\n"));
  // Far more than anyone reads is cut off, and does not stop it.
  const auto much = shell("yes | head -c 400000");
  QVERIFY(much && much->exitCode() == 0 && much->said.size() < 110'000);
}

void TestPrograms::itsEndIsTold() {
  QCOMPARE(shell("exit 3")->exitCode(), 3);
  const auto broken = shell("kill -SEGV $$");
  QVERIFY(broken && broken->broke() && !broken->tooLong && !broken->cancelled);
}

void TestPrograms::tooLongIsEnded() {
  QElapsedTimer clock;
  clock.start();
  const auto end = shell("exec sleep 30", 0.2);
  QVERIFY(end && end->tooLong && end->broke());
  QVERIFY(clock.elapsed() < 10'000);
}

void TestPrograms::cancellingEndsIt() {
  Progress progress;
  progress.cancel();
  const auto end = runProgram("/bin/sh", {"-c", "exec sleep 30"}, 60, progress);
  QVERIFY(end && end->cancelled && !end->tooLong);
}

void TestPrograms::aProgramThatIsNotThere() {
  Progress progress;
  QVERIFY(!runProgram("/nowhere/at/all", {}, 5, progress));
}

void TestPrograms::argumentsArriveAsTheyAre() {
  Progress progress;
  const auto end =
      runProgram("/bin/sh", {"-c", "printf '%s|' \"$@\"", "sh", "two words", "*", "$HOME", ""}, 20, progress);
  QVERIFY(end);
  QCOMPARE(end->said, std::string("two words|*|$HOME||"));
}

void TestPrograms::theCacheIsThePersons() {
  qputenv("XDG_CACHE_HOME", "/somewhere/cached");
  QCOMPARE(cacheFolder().string(), std::string("/somewhere/cached/gentle-dusk"));
  qunsetenv("XDG_CACHE_HOME");
  qputenv("HOME", "/home/someone");
  QCOMPARE(cacheFolder().string(), std::string("/home/someone/.cache/gentle-dusk"));
  qunsetenv("HOME");
  QVERIFY(cacheFolder().string().ends_with("gentle-dusk"));
}

DUSK_TEST(TestPrograms, NoApplication);
#include "programs.moc"
