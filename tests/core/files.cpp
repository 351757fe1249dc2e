#include "core/base/files.h"

#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>

#include <QtTest>
#include <atomic>
#include <fstream>
#include <thread>

#include "core/base/background.h"
#include "core/base/hash.h"
#include "core/base/progress.h"
#include "core/light/lights.h"
#include "core/light/units.h"
#include "core/project/lamp_kinds.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// Files that are whole or not there, and work that goes on behind.
class TestFiles : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  int count(const fs::path& folder) {
    int n = 0;
    for (const auto& entry : fs::directory_iterator(folder)) n += entry.exists();
    return n;
  }

 private slots:
  void whatWasWrittenIsRead();
  void readersNeverSeeHalf();
  void manyWritersLeaveOneWholeFile();
  void aFailingWriterLeavesTheOldOne();
  void whatCannotBeReadIsSaid();
  void hashesAreOfTheContent();
  void backgroundWorkIsDoneWholeAndInPlace();
  void whoGivesWayIsServedLast();
  void progressCountsFromItsBeginning();
  void lampsDoWhatTheirKindSays_data();
  void lampsDoWhatTheirKindSays();
};

void TestFiles::whatWasWrittenIsRead() {
  const std::string nasty("a\0b\r\n\xff end", 11);
  QVERIFY(writeFileAtomically(in("a"), nasty).ok());
  QCOMPARE(*readFile(in("a")), nasty);
  QVERIFY(writeFileAtomically(in("a"), "").ok());
  QCOMPARE(*readFile(in("a")), std::string());
}

void TestFiles::readersNeverSeeHalf() {
  const std::string one(300'000, '1'), two(200'000, '2');
  QVERIFY(writeFileAtomically(in("b"), one).ok());
  std::atomic<bool> done{false};
  std::thread writer([&] {
    for (int i = 0; i < 60; ++i)
      if (!writeFileAtomically(in("b"), i % 2 ? one : two).ok()) qFatal("cannot write");
    done = true;
  });
  int reads = 0;
  while (!done) {
    // One open file is one state, whatever takes its name meanwhile.
    std::ifstream file(in("b"), std::ios::binary);
    const std::string got((std::istreambuf_iterator<char>(file)), {});
    if (got != one && got != two) qFatal("half a file");
    ++reads;
  }
  writer.join();
  QVERIFY(reads > 0);
}

void TestFiles::manyWritersLeaveOneWholeFile() {
  const fs::path folder = in("many");
  fs::create_directories(folder);
  std::vector<std::thread> writers;
  for (char c = 'a'; c < 'g'; ++c)
    writers.emplace_back([&, c] {
      for (int i = 0; i < 10; ++i)
        if (!writeFileAtomically(folder / "f", std::string(50'000, c)).ok()) qFatal("cannot write");
    });
  for (auto& w : writers) w.join();
  const std::string got = *readFile(folder / "f");
  QCOMPARE(got, std::string(50'000, got[0]));
  QCOMPARE(count(folder), 1);  // no temporary is left
}

void TestFiles::aFailingWriterLeavesTheOldOne() {
  const fs::path folder = in("failing");
  fs::create_directories(folder);
  QVERIFY(writeFileAtomically(folder / "f.png", "old").ok());
  fs::path used;
  const auto failed = replaceFileAtomically(folder / "f.png", [&](const fs::path& temporary) -> Outcome {
    used = temporary;
    std::ofstream(temporary) << "half";
    return Error{"The disk caught fire."};
  });
  QVERIFY(!failed && failed.error().message == "The disk caught fire.");
  QCOMPARE(used.extension(), fs::path(".png"));  // writers choose the format by it
  QCOMPARE(*readFile(folder / "f.png"), std::string("old"));
  QCOMPARE(count(folder), 1);
  const auto nowhere = writeFileAtomically(in("no/such/folder/f"), "x");
  QVERIFY(!nowhere && nowhere.error().message.find("does not exist") != std::string::npos);
}

void TestFiles::whatCannotBeReadIsSaid() {
  QVERIFY(!readFile(in("none")).ok());
  QVERIFY(!readFile(folder_.path().toStdString()).ok());  // a folder
  QVERIFY(writeFileAtomically(in("large"), std::string(1000, 'x')).ok());
  const auto tooLarge = readFile(in("large"), 999);
  QVERIFY(!tooLarge && tooLarge.error().message.find("too large") != std::string::npos);
  QVERIFY(readFile(in("large"), 1000).ok());
}

void TestFiles::hashesAreOfTheContent() {
  QVERIFY(writeFileAtomically(in("h1"), "same").ok() && writeFileAtomically(in("h2"), "same").ok());
  QCOMPARE(*hashFile(in("h1")), *hashFile(in("h2")));
  QCOMPARE(*hashFile(in("h1")), hashBytes("same", 4));
  QVERIFY(writeFileAtomically(in("h2"), "samE").ok());
  QVERIFY(*hashFile(in("h1")) != *hashFile(in("h2")));
  QVERIFY(!hashFile(in("none")).ok());
}

void TestFiles::backgroundWorkIsDoneWholeAndInPlace() {
  std::thread::id ran;
  bool done = false;
  runInBackground([&] { ran = std::this_thread::get_id(), done = true; });
  QVERIFY(done && ran == std::this_thread::get_id());
  const auto throwing = [] { runInBackground([] { throw std::runtime_error("passes through"); }); };
  QVERIFY_EXCEPTION_THROWN(throwing(), std::runtime_error);
}

void TestFiles::whoGivesWayIsServedLast() {
  const auto niceness = [] { return ::getpriority(PRIO_PROCESS, id_t(::gettid())); };
  const int before = niceness();
  int aside = before, within = before;
  std::thread([&] {
    giveWay(), giveWay();
    aside = niceness();
    std::thread([&] { within = niceness(); }).join();
  }).join();
  QCOMPARE(aside, std::max(before, backgroundNiceness));
  QCOMPARE(within, aside);
  QCOMPARE(niceness(), before);
}

void TestFiles::progressCountsFromItsBeginning() {
  Progress p;
  QVERIFY(!p.cancelled() && p.fraction() == 0 && p.secondsLeft() < 0);
  p.report(1);
  QCOMPARE(p.secondsLeft(), 0.0);
  p.cancel();
  QVERIFY(p.cancelled());
}

void TestFiles::lampsDoWhatTheirKindSays_data() {
  QTest::addColumn<int>("row");
  for (size_t i = 0; i < lampKinds().size(); ++i) QTest::newRow(lampKinds()[i].name) << int(i);
}

/// What the table says of a kind is what the lights do with it.
void TestFiles::lampsDoWhatTheirKindSays() {
  QFETCH(int, row);
  const LampKindInfo& info = lampKinds()[size_t(row)];
  Lamp lamp;
  lamp.id = "lamp", lamp.kind = info.kind, lamp.positionM = {0, 0, 2}, lamp.targetM = {0, 0, 0};
  lamp.powerEv = info.powerEv, lamp.radiusM = info.radiusM, lamp.elevationDegrees = 90;
  LampPictures pictures;
  pictures["lamp"] = std::make_shared<Picture>(Picture::rgb(4, 4));
  for (float& v : std::const_pointer_cast<Picture>(pictures["lamp"])->pixels) v = 1;
  const Lights lights(nullptr, {}, {lamp}, Rgb(0), {}, {}, pictures);
  const float under = luminance(lights.irradiance({0, 0, 0}, {0, 0, 1}));
  QVERIFY2((under > 0) == info.lights, qPrintable(QString::number(double(under))));
  // Straight up, the nearest thing is the lamp where it has a body on this side of infinity.
  QCOMPARE(lights.lampDistance({0, 0, 0}, {0, 0, 1}) < 1e29f, info.body != LampBody::distant);
  // Beside its cone, a lamp that has one gives nothing.
  const float beside = luminance(lights.irradiance({6, 0, 0}, {0, 0, 1}));
  if (info.hasCone) QVERIFY(beside < 1e-3f * under);
  // Turned off it is not there.
  lamp.on = false;
  QVERIFY(luminance(Lights(nullptr, {}, {lamp}, Rgb(0), {}, {}, pictures).irradiance({0, 0, 0}, {0, 0, 1})) ==
          0);
  // Its power can be said in lux where it lights at all, and comes back the same.
  lamp.on = true;
  const auto lux = powerIn(LampUnit::lux, lamp, 1000);
  QCOMPARE(lux.has_value(), info.lights);
  if (lux) QVERIFY(std::abs(*powerEvFor(LampUnit::lux, *lux, lamp, 1000) - lamp.powerEv) < 1e-9);
  QCOMPARE(powerIn(LampUnit::lumen, lamp, 1000).has_value(), info.lights && info.body != LampBody::distant);
}

DUSK_TEST(TestFiles, QCoreApplication);
#include "files.moc"
