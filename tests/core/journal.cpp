#include "core/project/journal.h"

#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QtTest>
#include <fstream>
#include <random>

#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/base/hash.h"
#include "core/project/file.h"
#include "core/project/shots.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// What is kept of unsaved work, and when it is not.
class TestJournal : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  static std::shared_ptr<const Project> named(const std::string& name) {
    Project p = emptyProject();
    p.name = name;
    return std::make_shared<const Project>(p);
  }
  static std::string hashOf(const fs::path& file) { return *hashFile(file); }
  static int halves(const fs::path& in) {
    int count = 0;
    for (const auto& entry : fs::directory_iterator(in))
      count += entry.path().filename().string().starts_with(".half-");
    return count;
  }

 private slots:
  void keepsTheLatestState();
  void anOldJournalIsReadToo();
  void aDiscardedJournalStaysAway();
  void savingTakesTheJournalAway();
  void aFailureIsToldOnce();
  void aFailedSaveKeepsTheJournal();
  void whateverEndsItNothingIsLost();
  void halvesOfDeadProgramsAreClearedAway();
  void whatIsThrownBecomesASentence();
};

void TestJournal::keepsTheLatestState() {
  const fs::path journal = in("a.dusk.journal");
  {
    Journal writer;
    for (int i = 0; i < 200; ++i) writer.write(journal, named(std::to_string(i)), "base");
  }  // ends when everything is written
  const auto read = readJournal(journal);
  QVERIFY(read.ok());
  QCOMPARE(read->project.name, std::string("199"));
  QCOMPARE(read->bases, std::vector<std::string>{"base"});
  QVERIFY(read->savingAs.empty());
}

void TestJournal::anOldJournalIsReadToo() {
  const fs::path journal = in("old.dusk.journal");
  QVERIFY(saveProject(*named("old"), journal).ok());
  const auto read = readJournal(journal);
  QVERIFY(read.ok() && read->bases.empty());
  QCOMPARE(read->project.name, std::string("old"));
  std::ofstream(in("broken.journal")) << "half a proj";
  QVERIFY(!readJournal(in("broken.journal")).ok());
  QVERIFY(!readJournal(in("none.journal")).ok());
}

void TestJournal::aDiscardedJournalStaysAway() {
  const fs::path journal = in("b.dusk.journal");
  for (int round = 0; round < 20; ++round) {
    Journal writer;
    for (int i = 0; i < 5; ++i) writer.write(journal, named("x"), "");
    writer.discard(journal);
    writer.finish();
    QVERIFY(!fs::exists(journal));
  }
  Journal writer;
  writer.discard(journal);
  writer.write(journal, named("again"), "");
  writer.finish();
  QVERIFY(fs::exists(journal));  // asked for after
}

void TestJournal::savingTakesTheJournalAway() {
  const fs::path file = in("c.dusk"), journal = journalOf(file);
  Journal writer;
  writer.write(journal, named("unsaved"), "");
  const auto hash = writer.save(named("saved"), file, journal, "").get();
  QVERIFY(hash.ok());
  QCOMPARE(*hash, hashOf(file));
  QVERIFY(!fs::exists(journal));
  QCOMPARE(loadProject(file)->name, std::string("saved"));
  QCOMPARE(halves(folder_.path().toStdString()), 0);
}

void TestJournal::aFailureIsToldOnce() {
  std::atomic<int> told{0};
  Journal writer([&](const Error& error) {
    QVERIFY(!error.message.empty());
    ++told;
  });
  const fs::path nowhere = "/proc/no-such-folder/x.journal";
  for (int i = 0; i < 3; ++i) writer.write(nowhere, named("x"), ""), writer.finish();
  QCOMPARE(told.load(), 1);
  writer.write(in("d.journal"), named("x"), ""), writer.finish();
  writer.write(nowhere, named("x"), ""), writer.finish();
  QCOMPARE(told.load(), 2);  // it worked in between: this is news
}

void TestJournal::aFailedSaveKeepsTheJournal() {
  const fs::path journal = in("e.dusk.journal");
  Journal writer;
  writer.write(journal, named("unsaved"), "");
  QVERIFY(!writer.save(named("x"), "/proc/no-such-folder/e.dusk", journal, "").get().ok());
  QCOMPARE(readJournal(journal)->project.name, std::string("x"));
  QCOMPARE(readJournal(journal)->savingAs, std::string("/proc/no-such-folder/e.dusk"));
}

/// A program that edits and saves is killed at any moment; what can be read afterwards is its latest state,
/// or one that it had asked to be kept within the last moment.
void TestJournal::whateverEndsItNothingIsLost() {
  std::mt19937 random(11);
  const fs::path folder = in("killed");
  fs::create_directories(folder);
  const fs::path file = folder / "p.dusk", journal = journalOf(file), last = folder / "last";
  for (int round = 0; round < 40; ++round) {
    for (const auto& entry : fs::directory_iterator(folder)) fs::remove(entry.path());
    const pid_t child = ::fork();
    if (child == 0) {
      Journal writer;
      std::string base;
      for (int i = 1;; ++i) {
        const auto state = named(std::to_string(i));
        if (i % 3 == 0) {
          const auto saved = writer.save(state, file, journal, base).get();
          if (saved) base = *saved;
        } else {
          writer.write(journal, state, base);
          writer.finish();
        }
        std::ofstream(last, std::ios::trunc) << i << std::flush;  // everything up to here is on the disk
      }
    }
    ::usleep(3000 + random() % 60'000);
    ::kill(child, SIGKILL);
    int status = 0;
    ::waitpid(child, &status, 0);
    int sure = 0;
    std::ifstream(last) >> sure;
    int found = 0;
    if (fs::exists(file)) {
      const auto project = loadProject(file);
      QVERIFY2(project.ok(), "a project is never half written");
      found = std::stoi(project->name);
    }
    if (fs::exists(journal)) {
      const auto unsaved = readJournal(journal);
      QVERIFY2(unsaved.ok(), "a journal is never half written");
      const auto& bases = unsaved->bases;
      const bool belongs = fs::exists(file) ? std::count(bases.begin(), bases.end(), hashOf(file)) > 0 : true;
      const int there = std::stoi(unsaved->project.name);
      // A journal that does not belong to the file, or is older, would be stale: there is none such.
      QVERIFY2(belongs && there >= found, qPrintable(QString("%1 beside %2").arg(there).arg(found)));
      found = there;
    }
    QVERIFY2(found >= sure, qPrintable(QString("%1 was sure, %2 is there").arg(sure).arg(found)));
    clearHalfWritten(file), clearHalfWritten(journal);
    QCOMPARE(halves(folder), 0);
  }
}

void TestJournal::halvesOfDeadProgramsAreClearedAway() {
  const fs::path folder = in("halves");
  fs::create_directories(folder);
  const auto touch = [&](const std::string& name) { std::ofstream(folder / name) << "x"; };
  const std::string mine = std::to_string(::getpid());
  touch(".half-999999-1-p.dusk"), touch(".half-" + mine + "-1-p.dusk"), touch(".half-999999-1-other.dusk"),
      touch("p.dusk");
  clearHalfWritten(folder / "p.dusk");
  QVERIFY(!fs::exists(folder / ".half-999999-1-p.dusk"));
  QVERIFY(fs::exists(folder / (".half-" + mine + "-1-p.dusk")));  // still being written
  QVERIFY(fs::exists(folder / ".half-999999-1-other.dusk") && fs::exists(folder / "p.dusk"));
}

void TestJournal::whatIsThrownBecomesASentence() {
  const auto memory = guarded("testing", []() -> Outcome { throw std::bad_alloc(); });
  QVERIFY(!memory && memory.error().message.find("memory") != std::string::npos);
  const auto other = guarded("testing", []() -> Outcome { throw std::runtime_error("odd"); });
  QVERIFY(!other && other.error().message.find("testing (odd)") != std::string::npos);
  const auto strange = guarded("testing", []() -> Outcome { throw 7; });
  QVERIFY(!strange.ok());
  QCOMPARE(*guarded("testing", []() -> Result<int> { return 4; }), 4);
}

DUSK_TEST(TestJournal, QCoreApplication);
#include "journal.moc"
