// A trace that is broken off, or made in parts, comes out as one that ran through on one machine: to the bit.
#include <QtTest>
#include <fstream>
#include <numeric>
#include <thread>

#include "core/base/files.h"
#include "core/deliver/tracing.h"
#include "core/set/furnish.h"
#include "core/trace/slabs.h"
#include "tests/handed_over.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestTraceParts : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const std::string& name) { return fs::path(folder_.path().toStdString()) / name; }
  HandedOver quay_{"brackwater", "brackwater.dusk"};

  Project project(bool passes) {
    Project p = quay_.project();
    p.shots[0].deliverables = {usualOf(passes ? DeliverableKind::exr : DeliverableKind::tiff, "picture")};
    p.shots[0].deliverables[0].bits = 32;
    p.shots[0].render.noiseTarget = 0;
    return p;
  }
  DeliverOptions options(const std::string& folder, int samples = 24, int width = 150) {
    DeliverOptions o;
    o.folder = in(folder), o.size = std::pair(width, width * 2 / 3), o.samples = samples;
    return o;
  }
  Result<DeliverReport> made(const Project& p, const DeliverOptions& o) {
    return deliver(p, 0, quay_.assets, quay_.cache, o, quay_.progress);
  }
  Result<int> part(const Project& p, const DeliverOptions& o, int i, int n, const fs::path& file) {
    return tracePart(p, 0, quay_.assets, quay_.cache, o, {i, n}, file, quay_.progress);
  }
  bool same(const std::string& a, const std::string& b, const char* name = "picture.tif") {
    return *readFile(in(a) / name) == *readFile(in(b) / name);
  }
  const std::string& said(const std::string& message) { return said_ = message; }
  std::string said_;

 private slots:
  void partsMakeTheWhole_data();
  void partsMakeTheWhole();
  void brokenOffItGoesOn_data();
  void brokenOffItGoesOn();
  void nothingElseIsTakenForAPart();
  void cutOffOrDamagedItIsTracedAgain();
  void twoProgramsDoNotShareALog();
  void workIsSharedOutEvenly();
  void whereAProductIsEverywhereNothingIsLookedForLonger();
};

void TestTraceParts::partsMakeTheWhole_data() {
  QTest::addColumn<int>("parts");
  QTest::addColumn<double>("noise");
  QTest::addColumn<bool>("banded");
  QTest::addColumn<bool>("passes");
  QTest::addColumn<bool>("set");
  QTest::newRow("one") << 1 << 0.0 << false << false << false;
  QTest::newRow("two") << 2 << 0.0 << false << false << false;
  QTest::newRow("eight, with a noise target") << 8 << 0.12 << false << false << false;
  QTest::newRow("three of a banded one") << 3 << 0.12 << true << false << false;
  QTest::newRow("two with passes and clay") << 2 << 0.0 << false << true << false;
  QTest::newRow("two of a set") << 2 << 0.0 << false << false << true;
}

void TestTraceParts::partsMakeTheWhole() {
  QFETCH(int, parts);
  QFETCH(double, noise);
  QFETCH(bool, banded);
  QFETCH(bool, passes);
  QFETCH(bool, set);
  Project p = project(passes);
  if (set) QVERIFY(furnish(p, 0, {"plinths", 2}));
  if (passes) p.shots[0].render.extraPasses = {"clay"};
  const std::string tag = QTest::currentDataTag();
  DeliverOptions o = options("whole" + tag, passes ? 6 : noise > 0 ? 40 : 12);
  if (noise > 0) o.noise = noise;
  if (banded) o.wholePixels = 7'500;  // of twice as many
  const auto whole = made(p, o);
  QVERIFY2(whole.ok(), whole.ok() ? "" : whole.error().message.c_str());
  std::vector<fs::path> files;
  for (int i = parts; i >= 1; --i) {
    files.push_back(in(tag + std::to_string(i) + ".part"));
    const auto traced = part(p, o, i, parts, files.back());
    QVERIFY2(traced.ok(), traced.ok() ? "" : traced.error().message.c_str());
  }
  DeliverOptions merged = o;
  merged.folder = in("merged" + tag), merged.parts = files;
  const auto from = made(p, merged);
  QVERIFY2(from.ok(), from.ok() ? "" : from.error().message.c_str());
  QCOMPARE(from->samples, whole->samples);
  QVERIFY(same("whole" + tag, "merged" + tag, passes ? "picture.exr" : "picture.tif"));
  if (noise > 0) QVERIFY(whole->noise > 0);
}

void TestTraceParts::brokenOffItGoesOn_data() {
  QTest::addColumn<bool>("banded");
  QTest::newRow("in one piece") << false;
  QTest::newRow("in bands") << true;
}

void TestTraceParts::brokenOffItGoesOn() {
  QFETCH(bool, banded);
  const Project p = project(false);
  const std::string tag = QTest::currentDataTag();
  DeliverOptions o = options("unbroken" + tag, 64, 300);
  o.noise = 0.1;
  if (banded) o.wholePixels = 30'000;
  QVERIFY(made(p, o).ok());
  o.folder = in("broken" + tag), o.log = in("going" + tag + ".trace");
  int broken = 0;
  bool finished = false;
  // Ended five times, each a little later, it goes on from where it was.
  for (int i = 0; i < 40 && !finished; ++i) {
    Progress progress;
    std::jthread ender([&, i](const std::stop_token& stop) {
      const auto until = std::chrono::steady_clock::now() + std::chrono::milliseconds(150 + 100 * i);
      while (std::chrono::steady_clock::now() < until && !stop.stop_requested())
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
      if (broken < 5) progress.cancel();
    });
    const auto report = deliver(p, 0, quay_.assets, quay_.cache, o, progress);
    finished = report.ok();
    if (!finished) QVERIFY2(report.error().kind == ErrorKind::cancelled, report.error().message.c_str());
    broken += !finished;
    if (!finished) QVERIFY(!fs::exists(o.folder));
  }
  QVERIFY(finished && broken > 0);
  QVERIFY(same("unbroken" + tag, "broken" + tag));
  QVERIFY(!fs::exists(o.log));  // it is no longer needed
}

void TestTraceParts::nothingElseIsTakenForAPart() {
  const Project p = project(false);
  const DeliverOptions o = options("other", 8);
  const fs::path first = in("first.part"), second = in("second.part"), other = in("other.part");
  QVERIFY(part(p, o, 1, 2, first).ok() && part(p, o, 2, 2, second).ok());
  DeliverOptions finer = o;
  finer.samples = 9;
  QVERIFY(part(p, finer, 2, 2, other).ok());
  const auto refused = [&](const std::vector<fs::path>& parts, const char* why) {
    DeliverOptions merged = options("refused", 8);
    merged.parts = parts;
    const auto report = made(p, merged);
    return !report.ok() && said(report.error().message).find(why) != std::string::npos &&
           !fs::exists(in("refused"));
  };
  QVERIFY2(refused({first}, "Part 2 of 2 is missing"), said_.c_str());
  QVERIFY2(refused({first, first}, "the same part"), said_.c_str());
  QVERIFY2(refused({first, other}, "other settings"), said_.c_str());
  QVERIFY2(refused({first, in("nowhere.part")}, "not there"), said_.c_str());
  QVERIFY(writeFileAtomically(in("text.part"), "no trace").ok());
  QVERIFY2(refused({first, in("text.part")}, "no part of a trace"), said_.c_str());
  // A part of another project, and one that was not finished.
  Project moved = p;
  moved.shots[0].placements[0].xM += 0.01;
  const auto otherPlace = part(moved, o, 2, 2, second);
  QVERIFY(!otherPlace.ok() && otherPlace.error().message.find("another picture") != std::string::npos);
  // What is done with the samples afterwards is no other trace.
  Project graded = p;
  graded.shots[0].blend.exposureEv = 1, graded.shots[0].name = "Later";
  DeliverOptions merged = options("graded", 8);
  merged.parts = {first, second};
  QVERIFY(made(graded, merged).ok());
  fs::resize_file(second, fs::file_size(second) * 2 / 3);
  QVERIFY2(refused({first, second}, "not traced to its end"), said_.c_str());
}

void TestTraceParts::cutOffOrDamagedItIsTracedAgain() {
  const Project p = project(false);
  const DeliverOptions o = options("cut", 12);
  const fs::path whole = in("whole.part");
  QVERIFY(part(p, o, 1, 1, whole).ok());
  const std::string bytes = *readFile(whole);
  DeliverOptions merged = options("whole-of-parts", 12);
  merged.parts = {whole};
  QVERIFY(made(p, merged).ok());
  for (const double share : {0.0, 0.3, 0.999}) {
    const fs::path cut = in("cut.part");
    QVERIFY(writeFileAtomically(cut, bytes.substr(0, size_t(double(bytes.size()) * share))).ok());
    const auto again = part(p, o, 1, 1, cut);
    QVERIFY2(again.ok(), again.ok() ? "" : again.error().message.c_str());
    merged.folder = in("of-cut"), merged.parts = {cut};
    QVERIFY(made(p, merged).ok());
    QVERIFY(same("whole-of-parts", "of-cut"));
  }
  // A changed byte is found when it is read, and said.
  std::string damaged = bytes;
  damaged[damaged.size() / 2] = char(damaged[damaged.size() / 2] ^ 0x55);
  QVERIFY(writeFileAtomically(in("damaged.part"), damaged).ok());
  merged.folder = in("of-damaged"), merged.parts = {in("damaged.part")};
  const auto report = made(p, merged);
  QVERIFY(!report.ok() && !fs::exists(in("of-damaged")));
  QVERIFY2(report.error().message.find("damaged") != std::string::npos ||
               report.error().message.find("not traced to its end") != std::string::npos,
           report.error().message.c_str());
}

void TestTraceParts::twoProgramsDoNotShareALog() {
  const auto one = TraceLog::open(in("shared.trace"), {"a", 1, 1});
  QVERIFY(one.ok());
  const auto two = TraceLog::open(in("shared.trace"), {"a", 1, 1});
  QVERIFY(!two.ok() && two.error().message.find("another program") != std::string::npos);
  // What is no trace is not written over.
  QVERIFY(writeFileAtomically(in("letter.txt"), "dear").ok());
  const auto letter = TraceLog::open(in("letter.txt"), {"a", 1, 1});
  QVERIFY(!letter.ok() && letter.error().message.find("stays as it is") != std::string::npos);
  QCOMPARE(*readFile(in("letter.txt")), std::string("dear"));
  const auto nowhere = TraceLog::open("/proc/nowhere/x.trace", {"a", 1, 1});
  QVERIFY(!nowhere.ok());
}

void TestTraceParts::workIsSharedOutEvenly() {
  std::vector<size_t> weights;
  for (int i = 0; i < 150; ++i) weights.push_back(size_t(i % 7 == 0 ? 0 : 1000 + i * 100));
  for (const int parts : {1, 2, 3, 8}) {
    const auto owner = sharedOut(weights, parts);
    std::vector<size_t> load(size_t(parts), 0);
    for (size_t i = 0; i < weights.size(); ++i) {
      QVERIFY(owner[i] >= 1 && owner[i] <= parts);
      load[size_t(owner[i] - 1)] += weights[i];
    }
    const double mean = double(std::accumulate(weights.begin(), weights.end(), size_t{0})) / parts;
    for (const size_t own : load) QVERIFY(std::abs(double(own) - mean) < 0.02 * mean);
  }
  const auto slabs = slabsOf({10, 100, 300, 260});
  size_t pixels = 0;
  for (const Film::Window& s : slabs) pixels += size_t(s.x1 - s.x0) * size_t(s.y1 - s.y0);
  QCOMPARE(pixels, size_t(290) * 160);
  QCOMPARE(slabs.size(), size_t(9));
}

void TestTraceParts::whereAProductIsEverywhereNothingIsLookedForLonger() {
  Camera camera;
  camera.width = 160, camera.height = 96, camera.focalPx = 100;
  for (const float radius : {0.2f, 9.0f}) {  // before the camera, and round it
    Mesh ball = sphere(radius);
    for (Vec3f& p : ball.positions) p += toFloat(camera.position + camera.axes.z * 2.0);
    const Stage stage(std::move(ball), {}, evenSky(), camera, true);
    Film film(camera.width, camera.height, stage.scene.lights->groups());
    Progress progress;
    QVERIFY(render(stage.scene, film, 2, progress));
    QCOMPARE(film.maskIsGiven, radius > 1);
    QCOMPARE(activeIn(film, film.windowed()) == size_t(camera.width * camera.height), radius > 1);
  }
}

DUSK_TEST(TestTraceParts, NoApplication);
#include "trace_parts.moc"
