#include "core/assets/cache.h"

#include <QtTest>
#include <latch>
#include <thread>

#include "core/assets/asset_store.h"
#include "core/base/median.h"
#include "core/base/srgb.h"
#include "core/picture/formats.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/vantage/camera.h"
#include "core/vantage/frame.h"
#include "core/vantage/levels.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {
struct Thing {
  int value = 0;
  size_t size = 100;
};
size_t bytesOf(const Thing& t) { return t.size; }
Result<std::shared_ptr<const Thing>> thing(int value, size_t size = 100) {
  return std::shared_ptr<const Thing>(std::make_shared<Thing>(Thing{value, size}));
}
}  // namespace

/// What is held of files, and the small pieces that every room uses.
class TestCache : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const std::string& name) { return fs::path(folder_.path().toStdString()) / name; }
  fs::path picture(const std::string& name, int width, float value = 0.5f) {
    Picture p = Picture::rgb(width, 16);
    for (float& v : p.pixels) v = value;
    if (!writePng8(in(name), p).ok()) qFatal("cannot write");
    return in(name);
  }

 private slots:
  void oneLoadHoweverManyAsk();
  void whoCancelsCancelsForHimselfOnly();
  void aLoadThatThrowsLetsOthersTry();
  void theLongestUnusedGoesFirst();
  void heldThingsStay();
  void theStoreKeepsToItsBudget();
  void coldFilesAreReadOnceByAll();
  void changedFilesAreNoticed();
  void aMovedProjectReadsNothingAgain();
  void theCurveIsItsOwnInverse();
  void theMedianIsInTheMiddle();
  void readableTypesAreListedOnce();
  void aMovedFrameTakesEverythingAlong();
  void heightsOverAFootAgree();
};

void TestCache::oneLoadHoweverManyAsk() {
  for (int round = 0; round < 20; ++round) {
    AssetCache<Thing> cache;
    std::atomic<int> loads{0};
    std::latch go(8);
    std::vector<std::shared_ptr<const Thing>> got(8);
    std::vector<std::thread> threads;
    for (size_t i = 0; i < 8; ++i)
      threads.emplace_back([&, i] {
        go.arrive_and_wait();
        got[i] = *cache.get("key", [&] {
          ++loads;
          std::this_thread::sleep_for(std::chrono::milliseconds(5));
          return thing(7);
        });
      });
    for (auto& t : threads) t.join();
    QCOMPARE(loads.load(), 1);
    for (const auto& g : got) QVERIFY(g == got[0]);
  }
}

void TestCache::whoCancelsCancelsForHimselfOnly() {
  AssetCache<Thing> cache;
  std::latch begun(1), go(1);
  std::thread first([&] {
    const auto r = cache.get("key", [&]() -> Result<std::shared_ptr<const Thing>> {
      begun.count_down(), go.wait();
      return cancelledError();
    });
    if (r.ok()) qFatal("it was cancelled");
  });
  begun.wait();
  std::shared_ptr<const Thing> second;
  std::thread other([&] { second = *cache.get("key", [] { return thing(3); }); });
  go.count_down();
  first.join(), other.join();
  QVERIFY(second && second->value == 3);
}

void TestCache::aLoadThatThrowsLetsOthersTry() {
  AssetCache<Thing> cache;
  const auto bad = [&] {
    (void)cache.get("key", []() -> Result<std::shared_ptr<const Thing>> { throw std::bad_alloc(); });
  };
  QVERIFY_EXCEPTION_THROWN(bad(), std::bad_alloc);
  QCOMPARE((*cache.get("key", [] { return thing(4); }))->value, 4);
  QVERIFY(!cache.find("other"));
  cache.keepOnly("other");
  QVERIFY(!cache.find("key"));
}

void TestCache::theLongestUnusedGoesFirst() {
  AssetCache<Thing> cache;
  for (int i = 0; i < 4; ++i) (void)cache.get(std::to_string(i), [&] { return thing(i); });
  QCOMPARE(cache.bytes(), size_t(400));
  QVERIFY(cache.find("0"));  // used again: now "1" is the longest unused
  QVERIFY(cache.oldestUse());
  cache.dropOldest();
  QVERIFY(!cache.find("1") && cache.find("0") && cache.find("2"));
  QCOMPARE(cache.bytes(), size_t(300));
}

void TestCache::heldThingsStay() {
  AssetCache<Thing> cache;
  const auto held = *cache.get("held", [] { return thing(1); });
  QVERIFY(!cache.oldestUse());
  cache.dropOldest();
  QVERIFY(cache.find("held") == held);
}

void TestCache::theStoreKeepsToItsBudget() {
  const size_t one = 2000 * 16 * 3;  // as the file holds it: 8 bits a value
  AssetStore assets(in(""), 3 * one + one / 2);
  std::vector<AssetRef> refs;
  for (int i = 0; i < 8; ++i)
    refs.push_back(*assets.refer(picture("b" + std::to_string(i) + ".png", 2000, 0.1f * float(i))));
  const auto held = *assets.photo(refs[0]);
  for (const AssetRef& ref : refs) QVERIFY(assets.photo(ref).ok());
  QVERIFY2(assets.bytes() <= 3 * one + one / 2, qPrintable(QString::number(assets.bytes())));
  QVERIFY(assets.loadedPhoto(refs[0]) == held);  // in use
  QVERIFY(!assets.loadedPhoto(refs[1]) && assets.loadedPhoto(refs[7]));
  QVERIFY(assets.photo(refs[1]).ok());  // read again when it is wanted again
}

void TestCache::coldFilesAreReadOnceByAll() {
  AssetStore assets(in(""));
  const AssetRef ref = *assets.refer(picture("cold.png", 3000));
  std::vector<std::shared_ptr<const Photo>> got(6);
  std::vector<std::thread> threads;
  for (size_t i = 0; i < got.size(); ++i) threads.emplace_back([&, i] { got[i] = *assets.photo(ref); });
  for (auto& t : threads) t.join();
  for (const auto& g : got) QVERIFY(g && g == got[0]);
}

void TestCache::changedFilesAreNoticed() {
  AssetStore assets(in(""));
  const AssetRef ref = *assets.refer(picture("c.png", 20, 0.2f));
  QVERIFY(assets.changedSinceLinked().empty());
  picture("c.png", 20, 0.9f);
  const auto photo = assets.photo(ref);
  QVERIFY(photo.ok() && (*photo)->picture.rgbAt(0, 0)[0] > 0.8f);  // taken as it is
  QCOMPARE(assets.changedSinceLinked(), std::vector<AssetRef>{ref});
  QVERIFY(assets.photo(*assets.refer(in("c.png"))).ok());
  QCOMPARE(assets.changedSinceLinked().size(), size_t(1));
}

void TestCache::aMovedProjectReadsNothingAgain() {
  fs::create_directories(in("one")), fs::create_directories(in("two"));
  AssetStore here(in("one"));
  const AssetRef ref = *here.refer(picture("one/p.png", 20));
  const auto photo = *here.photo(ref);
  const auto there = here.inFolder(in("two"));
  const AssetRef moved = there->relinked(ref, here);
  QVERIFY(fs::path(moved.path).is_absolute() && moved.hash == ref.hash);
  QVERIFY(there->loadedPhoto(moved) == photo);
  const AssetRef back = here.relinked(moved, *there);
  QCOMPARE(back.path, ref.path);
  QVERIFY(there->relinked({}, here).empty());
}

void TestCache::theCurveIsItsOwnInverse() {
  for (int i = 0; i <= 1000; ++i) {
    const double v = i / 1000.0;
    QVERIFY(std::abs(srgbEncoded(srgbDecoded(v)) - v) < 1e-12);
    QVERIFY(std::abs(srgbDecoded(srgbEncoded(v)) - v) < 1e-12);
    QVERIFY(std::abs(double(srgbEncoded(float(v))) - srgbEncoded(v)) < 1e-6);
    if (i) QVERIFY(srgbEncoded(v) > srgbEncoded(v - 0.001));
  }
  QVERIFY(std::abs(srgbDecoded(0.5) - 0.21404114) < 1e-7);  // IEC 61966-2-1
  QCOMPARE(srgbEncoded(1.0), 1.0);
}

void TestCache::theMedianIsInTheMiddle() {
  QCOMPARE(median(std::vector<int>{5}), 5);
  QCOMPARE(median(std::vector<int>{9, 1, 5}), 5);
  QCOMPARE(median(std::vector<int>{4, 1, 3, 2}), 3);  // the upper one
  std::vector<double> values{3, 1, 2};
  QCOMPARE(medianInPlace(values), 2.0);
}

void TestCache::readableTypesAreListedOnce() {
  for (const char* name : {"a.jpg", "b.JPEG", "c.png", "d.TIF", "e.exr", "f.webp"})
    QVERIFY2(isPhotoFile(name), name);
  for (const char* name : {"a.txt", "b.step", "c", "d.jpg.zip"}) QVERIFY2(!isPhotoFile(name), name);
  QVERIFY(isLightFile("x.hdr") && isLightFile("x.EXR") && !isLightFile("x.heic"));
  // What is listed is read: one made by the same library in that form.
  Picture p = Picture::rgb(8, 8);
  QVERIFY(writePng8(in("t.png"), p).ok());
  AssetStore assets(in(""));
  QVERIFY(assets.photo(*assets.refer(in("t.png"))).ok());
}

/// The picture stays as it is when the world's frame is moved: everything that stands in it goes along.
void TestCache::aMovedFrameTakesEverythingAlong() {
  Shot shot = loadProject(fs::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk")->shots[0];
  shot.surroundings.captureM = Vec3d(1, 2, 1.5), shot.surroundings.sunMovedDegrees = Vec2d(30, 20);
  Lamp aimed;
  aimed.id = "aimed", aimed.aimedAt = shot.placements[0].id, aimed.targetM = {0, 0, 0.1},
  aimed.positionM = {1, 0, 2};
  aimed.kind = LampKind::area;
  Lamp free = aimed;
  free.id = "free", free.aimedAt = "";
  shot.lamps = {aimed, free};
  Shot moved = shot;
  GroundMove move;
  move.turn = radians(90), move.shift = {0.5, -1};
  carryAlong(moved, move);
  const auto goes = [&](const Vec3d& from, const Vec3d& to) {
    return (move.point(from) - to).length() < 1e-9;
  };
  for (size_t i = 0; i < shot.standIns.size(); ++i) {
    QVERIFY(goes(shot.standIns[i].positionM, moved.standIns[i].positionM));
    QVERIFY(std::abs(wrapDegrees(moved.standIns[i].turnDegrees - shot.standIns[i].turnDegrees - 90)) < 1e-9);
  }
  QVERIFY(goes(*shot.surroundings.captureM, *moved.surroundings.captureM));
  QVERIFY(std::abs(wrapDegrees(moved.surroundings.sunMovedDegrees->x - 30 + 90)) < 1e-9);
  QCOMPARE(moved.surroundings.sunMovedDegrees->y, 20.0);
  for (size_t i = 0; i < 2; ++i)
    QVERIFY(goes(targetOf(shot, shot.lamps[i]), targetOf(moved, moved.lamps[i])));
  // There and back again is where it was.
  GroundMove back;
  back.turn = -move.turn;
  const Vec3d undone = back.direction({-move.shift.x, -move.shift.y, 0});
  back.shift = {undone.x, undone.y};
  carryAlong(moved, back);
  for (size_t i = 0; i < shot.standIns.size(); ++i)
    QVERIFY((moved.standIns[i].positionM - shot.standIns[i].positionM).length() < 1e-9);
  QVERIFY((*moved.surroundings.captureM - *shot.surroundings.captureM).length() < 1e-9);
}

void TestCache::heightsOverAFootAgree() {
  const Shot shot = loadProject(fs::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk")->shots[0];
  const Camera& camera = shot.vantage.camera;
  for (const double height : {0.05, 0.4, 1.1})
    for (const Vec3d& foot : {Vec3d(0, 0, 0), Vec3d(0.4, 1, 0), Vec3d(-0.3, 0.5, 0.2)}) {
      const auto top = projected(camera, foot + Vec3d(0, 0, height));
      QVERIFY(top);
      const auto found = heightOverFoot(camera, foot, *top);
      QVERIFY(found && std::abs(*found - height) < 1e-6);
      if (foot.z != 0) continue;
      const auto seen = projected(camera, foot);
      const auto over = heightOver(camera, *seen, *top);
      QVERIFY(over && std::abs(*over - height) < 1e-6);
    }
}

DUSK_TEST(TestCache, QCoreApplication);
#include "cache.moc"
