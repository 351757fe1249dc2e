#include <sys/resource.h>

#include <QtTest>
#include <csignal>
#include <fstream>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/maths.h"
#include "core/base/normal_integral.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestBase : public QObject {
  Q_OBJECT
 private slots:
  void atomicWriteReplacesWhole();
  void fullDiskLeavesTheOldFile();
  void missingFolderIsSaidInASentence();
  void triadsAreOrthonormal();
  void theNormalDistributionIsAsItsIntegral();
  void muchMemoryLiesInLargePages();
};

void TestBase::atomicWriteReplacesWhole() {
  QTemporaryDir folder;
  const fs::path file = fs::path(folder.path().toStdString()) / "a.txt";
  QVERIFY(writeFileAtomically(file, "first").ok());
  QVERIFY(writeFileAtomically(file, std::string(100'000, 'x')).ok());
  QCOMPARE(readFile(file)->size(), size_t(100'000));
  QCOMPARE(*hashFile(file), hashBytes(readFile(file)->data(), 100'000));
  QCOMPARE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(), 1);
}

// A file-size limit makes write() fail half way, as a full disk does.
void TestBase::fullDiskLeavesTheOldFile() {
  QTemporaryDir folder;
  const fs::path file = fs::path(folder.path().toStdString()) / "a.txt";
  QVERIFY(writeFileAtomically(file, "precious").ok());
  std::signal(SIGXFSZ, SIG_IGN);
  rlimit before;
  getrlimit(RLIMIT_FSIZE, &before);
  const rlimit tight{50'000, before.rlim_max};
  setrlimit(RLIMIT_FSIZE, &tight);
  const Outcome outcome = writeFileAtomically(file, std::string(200'000, 'x'));
  setrlimit(RLIMIT_FSIZE, &before);
  QVERIFY(!outcome.ok());
  QVERIFY(outcome.error().message.find("unchanged") != std::string::npos);
  QCOMPARE(*readFile(file), std::string("precious"));
  QCOMPARE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(), 1);
}

void TestBase::missingFolderIsSaidInASentence() {
  const Outcome outcome = writeFileAtomically("/no/such/folder/a.txt", "x");
  QVERIFY(!outcome.ok());
  QVERIFY(outcome.error().message.find("folder does not exist") != std::string::npos);
  QVERIFY(!readFile("/no/such/file").ok());
  QVERIFY(!readFile("/tmp").ok());
}

void TestBase::triadsAreOrthonormal() {
  for (const Vec3f& n : {Vec3f(0, 0, 1), Vec3f(0, 0, -1), Vec3f(1, 2, -3).normalized(), Vec3f(-1, 0, 0)}) {
    const Triadf t = triadAround(n);
    QVERIFY(std::abs(t.x.dot(t.y)) < 1e-6f && std::abs(t.x.dot(t.z)) < 1e-6f &&
            std::abs(t.y.dot(t.z)) < 1e-6f);
    QVERIFY((t.x.cross(t.y) - t.z).length() < 1e-5f);
    const Vec3f v(0.3f, -0.2f, 0.9f);
    QVERIFY((t.toLocal(t.toWorld(v)) - v).length() < 1e-5f);
  }
}

void TestBase::theNormalDistributionIsAsItsIntegral() {
  for (double z = -9; z < 9; z += 0.00937) {
    const NormalAt at = normalAt(z);
    QVERIFY(std::abs(at.below - 0.5 * std::erfc(-z / std::sqrt(2.0))) < 1e-10);
    QVERIFY(std::abs(at.density - std::exp(-z * z / 2) / std::sqrt(2 * pi)) < 1e-8);
  }
  QCOMPARE(normalIntegral(1e300) + normalIntegral(-1e300), 1.0);
}

void TestBase::muchMemoryLiesInLargePages() {
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
  QSKIP("Sanitizers hand out memory themselves.");
#endif
  std::ifstream setting("/sys/kernel/mm/transparent_hugepage/enabled");
  std::string allowed;
  if (!std::getline(setting, allowed) || allowed.find("[never]") != std::string::npos)
    QSKIP("This system has no large pages to give.");
  constexpr size_t bytes = size_t{64} << 20;
  const std::vector<float> numbers(bytes / sizeof(float), 1.0f);
  // The piece of memory it lies in, as the system tells of it.
  const auto at = reinterpret_cast<uintptr_t>(&numbers[numbers.size() / 2]);
  std::ifstream maps("/proc/self/smaps");
  std::string line;
  bool within = false;
  long kilobytes = -1;
  while (kilobytes < 0 && std::getline(maps, line)) {
    unsigned long first = 0, end = 0;
    if (std::sscanf(line.c_str(), "%lx-%lx ", &first, &end) == 2) within = at >= first && at < end;
    if (within && line.starts_with("AnonHugePages:")) kilobytes = std::stol(line.substr(14));
  }
  QVERIFY2(kilobytes > long(bytes >> 11), qPrintable(QString("%1 kB of 65536").arg(kilobytes)));
}

DUSK_TEST(TestBase, NoApplication);
#include "base.moc"
