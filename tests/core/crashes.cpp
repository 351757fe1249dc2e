#include "core/base/crash.h"

#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QtTest>
#include <csignal>

#include "core/base/events.h"
#include "core/base/files.h"
#include "core/base/log.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

/// Runs `act` in a process of its own; how that ended, as waitpid tells it.
template <typename Act>
int inAnotherProcess(const fs::path& folder, Act act) {
  const pid_t child = fork();
  if (child == 0) {
    const rlimit none{0, 0};  // no picture of its memory on the disk
    setrlimit(RLIMIT_CORE, &none);
    reportCrashesTo(folder);
    act();
    _exit(0);
  }
  int how = 0;
  waitpid(child, &how, 0);
  return how;
}

/// Deeper and deeper until there is no stack; the sum keeps the compiler from making a loop of it.
int deeper(int n) {  // NOLINT(misc-no-recursion)
  volatile char room[4096];
  room[0] = char(n);
  return n < 0 ? 0 : deeper(n + 1) + room[0];
}

}  // namespace

class TestCrashes : public QObject {
  Q_OBJECT
 private slots:
  void logLinesGoToAFileThatTurnsRound();
  void whatIsRememberedIsBounded();
  void aFaultLeavesAReport_data();
  void aFaultLeavesAReport();
  void aStackThatOverflowsLeavesOneToo();
  void theNewestIsToldOnce();
  void aFolderThatCannotBeMadeDoesNoHarm();
};

void TestCrashes::logLinesGoToAFileThatTurnsRound() {
  const QTemporaryDir dir;
  const fs::path folder = dir.path().toStdString();
  openLog(folder / "deep" / "er", LogLevel::news);
  QCOMPARE(logFile(), folder / "deep/er/gentle-dusk.log");
  log(LogLevel::detail, "too fine");
  log(LogLevel::trouble, "said a failure", "a file\nof two lines");
  const std::string text = *readFile(logFile());
  QVERIFY(text.find("said a failure: a file of two lines\n") != std::string::npos);
  QVERIFY(text.find("too fine") == std::string::npos);
  // The sentence may name files: it is the person who copies it. Events never do.
  const std::string details = failureDetails("quay.jpg is not there.");
  QVERIFY(details.find("quay.jpg is not there.") == 0 &&
          details.find("said a failure\n") != std::string::npos);
  QVERIFY(details.find("two lines") == std::string::npos);
  const std::string kilobyte(1000, 'x');
  for (int i = 0; i < 5000; ++i) log(LogLevel::news, "much", kilobyte);
  log(LogLevel::trouble, "the end");
  size_t files = 0, bytes = 0;
  for (const auto& entry : fs::directory_iterator(folder / "deep/er")) ++files, bytes += entry.file_size();
  QCOMPARE(files, size_t(3));
  QVERIFY2(bytes < (size_t{3} << 20) + 4096, qPrintable(QString::number(bytes)));
  QVERIFY(readFile(logFile())->find("the end") != std::string::npos);
}

void TestCrashes::whatIsRememberedIsBounded() {
  for (int i = 0; i < 200; ++i) rememberEvent(("event " + std::to_string(i)).c_str());
  rememberEvent(std::string(5000, 'y').c_str());
  const auto all = lastEvents();
  QCOMPARE(all.size(), size_t(64));
  QVERIFY(all.front().ends_with(" s  event 137") && all[62].ends_with(" s  event 199"));
  QVERIFY(all.back().ends_with("yyy") && all.back().size() < 160);
}

void TestCrashes::aFaultLeavesAReport_data() {
  QTest::addColumn<int>("fault");
  QTest::addColumn<QString>("words");
  QTest::newRow("memory") << SIGSEGV << "SIGSEGV";
  QTest::newRow("given up") << SIGABRT << "SIGABRT";
  QTest::newRow("division") << SIGFPE << "SIGFPE";
}

void TestCrashes::aFaultLeavesAReport() {
  QFETCH(int, fault);
  QFETCH(QString, words);
  const QTemporaryDir dir;
  const fs::path folder = dir.path().toStdString();
  const int how = inAnotherProcess(folder, [fault] {
    log(LogLevel::news, "opened a project", "/home/someone/secret.dusk");
    raise(fault);
  });
  QVERIFY(WIFSIGNALED(how));  // it ends as it would have
  QCOMPARE(WTERMSIG(how), fault);
  const auto report = untoldCrash(folder);
  QVERIFY(report);
  const std::string text = *readFile(*report);
  QVERIFY2(text.find(words.toStdString()) != std::string::npos, text.c_str());
  QVERIFY(text.starts_with("Gentle Dusk 0."));
  QVERIFY(text.find("  opened a project\n") != std::string::npos);
  QVERIFY(text.find("secret") == std::string::npos && text.find("someone") == std::string::npos);
  QVERIFY2(text.find("tst_crashes") != std::string::npos, text.c_str());  // where
  // Nothing is left by a process that ends well.
  const QTemporaryDir other;
  QCOMPARE(inAnotherProcess(other.path().toStdString(), [] {}), 0);
  QVERIFY(!untoldCrash(other.path().toStdString()));
}

void TestCrashes::aStackThatOverflowsLeavesOneToo() {
  const QTemporaryDir dir;
  const int how = inAnotherProcess(dir.path().toStdString(), [] { _exit(deeper(0)); });
  QVERIFY(WIFSIGNALED(how) && untoldCrash(dir.path().toStdString()));
}

void TestCrashes::theNewestIsToldOnce() {
  const QTemporaryDir dir;
  const fs::path folder = dir.path().toStdString();
  QVERIFY(!untoldCrash(folder));
  for (int i = 10; i < 30; ++i)
    QVERIFY(writeFileAtomically(folder / ("crash-20260101-0000" + std::to_string(i) + "-1.txt"), "x").ok());
  QCOMPARE(untoldCrash(folder)->filename().string(), std::string("crash-20260101-000029-1.txt"));
  QVERIFY(!untoldCrash(folder));
  inAnotherProcess(folder, [] {});  // a new run keeps the newest few
  size_t left = 0;
  for (const auto& entry : fs::directory_iterator(folder)) left += entry.path().extension() == ".txt";
  QVERIFY2(left <= 10, qPrintable(QString::number(left)));
}

void TestCrashes::aFolderThatCannotBeMadeDoesNoHarm() {
  const QTemporaryDir dir;
  const fs::path file = fs::path(dir.path().toStdString()) / "a file";
  QVERIFY(writeFileAtomically(file, "x").ok());
  openLog(file / "below");
  QVERIFY(logFile().empty());
  log(LogLevel::trouble, "nobody hears");
  const int how = inAnotherProcess(file / "below", [] { raise(SIGSEGV); });
  QVERIFY(WIFSIGNALED(how) && !untoldCrash(file / "below"));
}

DUSK_TEST(TestCrashes, QCoreApplication);
#include "crashes.moc"
