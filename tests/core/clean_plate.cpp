#include "core/assets/clean_plate.h"

#include <QtTest>
#include <random>

#include "core/assets/asset_store.h"
#include "core/picture/write.h"
#include "core/vantage/camera.h"
#include "core/vantage/horizon.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

constexpr int w = 220, h = 150;

/// A wall with a dark spot on it, whose middle is at (150, 100).
Picture wall() {
  Picture p = Picture::rgb(w, h);
  std::mt19937 random(9);
  std::normal_distribution<float> noise(0, 0.015f);
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      for (int c = 0; c < 3; ++c)
        p.at(x, y)[c] = std::hypot(x - 150, y - 100) < 16 ? 0.05f : 0.5f + noise(random);
  return p;
}

CleanUp loopAbout(double x, double y, double r, const char* id = "clean-up-1") {
  CleanUp c;
  c.id = id, c.name = "Spot";
  c.loop = {{x - r, y - r}, {x + r, y - r}, {x + r, y + r}, {x - r, y + r}};
  return c;
}

}  // namespace

/// The plate without what must go: the rest stays to the bit, and nothing is written into the photo.
class TestCleanPlate : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  Shot shot_;
  fs::path in(const char* name) const { return fs::path(folder_.path().toStdString()) / name; }
  /// The shot's photo by a store that knows nothing yet.
  std::shared_ptr<const Photo> photo(const Shot& shot) {
    AssetStore fresh(folder_.path().toStdString());
    const auto made = fresh.photo(shot);
    return made ? *made : nullptr;
  }
  static float at(const Photo& p, int x, int y) { return p.picture.rgbAt(x, y).x; }

 private slots:
  void init();
  void pixelsOfTheLoopAreTaken();
  void packedPicturesKeepTheirDepth_data();
  void packedPicturesKeepTheirDepth();
  void theRestStaysToTheBit();
  void oneThatIsOffDoesNothing();
  void laterOnesSeeWhatEarlierOnesLeft();
  void straightenedPlatesAreClean();
  void theLightIsMeasuredByTheCleanPlate();
  void spotsAreKeptOnDisk();
  void loopsOutsideAreSaid();
  void theHorizonSaysHowLargeThingsAre();
};

void TestCleanPlate::init() {
  qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8());
  QVERIFY(writePng8(in("wall.png"), wall()).ok());
  shot_ = {};
  shot_.plate = *AssetStore(folder_.path().toStdString()).refer(in("wall.png"));
  shot_.vantage.camera = lookAt(w, h, 300, {0, -4, 1.5}, {0, 0, 1});
  shot_.cleanUps = {loopAbout(150, 100, 20)};
}

void TestCleanPlate::pixelsOfTheLoopAreTaken() {
  CleanUp c = loopAbout(50, 40, 10);
  c.marginPx = 0;
  const auto count = [](const FilledSpot& s) {
    return std::count_if(s.filled.begin(), s.filled.end(), [](auto f) { return f; });
  };
  QCOMPARE(count(spotOf(c, w, h)), 400);
  c.marginPx = 5;
  // 20 x 20, four sides of 5 x 20, four quarters of a circle.
  QVERIFY(std::abs(double(count(spotOf(c, w, h))) - (400 + 400 + M_PI * 25)) < 12);
  c.loop = {{-20, -20}, {10, -20}, {10, 10}, {-20, 10}}, c.marginPx = 0;
  QCOMPARE(count(spotOf(c, w, h)), 100);  // what lies in the photo
  c.loop.resize(2);
  QVERIFY(spotOf(c, w, h).filled.empty());
}

void TestCleanPlate::packedPicturesKeepTheirDepth_data() {
  QTest::addColumn<int>("kind");
  QTest::newRow("float") << 0;
  QTest::newRow("8 bits") << 1;
  QTest::newRow("16 bits") << 2;
}

void TestCleanPlate::packedPicturesKeepTheirDepth() {
  QFETCH(int, kind);
  const Picture codes = wall();
  PackedPicture packed(codes);
  if (kind == 1) {
    std::vector<uint8_t> v;
    for (const float f : codes.pixels) v.push_back(uint8_t(std::lround(std::clamp(f, 0.0f, 1.0f) * 255)));
    packed = {w, h, std::move(v)};
  } else if (kind == 2) {
    packed = packed16(w, h, [&](int y, float* rgb) { std::copy_n(codes.at(0, y), w * 3, rgb); });
  }
  const PackedPicture before = packed;
  Progress progress;
  const auto spot = fillSpot(packed, shot_.cleanUps[0], progress);
  QVERIFY(spot.ok());
  putIn(packed, *spot);
  QCOMPARE(int(packed.values.index()), kind);
  for (int y = 90; y < 110; ++y)
    for (int x = 140; x < 160; ++x) QVERIFY(std::abs(packed.rgbAt(x, y).x - 0.5f) < 0.12f);
  for (int x = 0; x < w; ++x) QVERIFY(packed.rgbAt(x, 60) == before.rgbAt(x, 60));
}

void TestCleanPlate::theRestStaysToTheBit() {
  Shot bare = shot_;
  bare.cleanUps.clear();
  const auto clean = photo(shot_), taken = photo(bare);
  QVERIFY(clean && taken);
  const FilledSpot spot = spotOf(shot_.cleanUps[0], w, h);
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      const bool inside =
          x >= spot.area.x0 && x < spot.area.x1 && y >= spot.area.y0 && y < spot.area.y1 &&
          spot.filled[size_t(y - spot.area.y0) * spot.area.width() + size_t(x - spot.area.x0)];
      if (inside)
        QVERIFY(at(*clean, x, y) > 0.35f);
      else
        QVERIFY(clean->picture.rgbAt(x, y) == taken->picture.rgbAt(x, y));
    }
  QVERIFY(at(*taken, 150, 100) < 0.1f);  // the file is as it was
}

void TestCleanPlate::oneThatIsOffDoesNothing() {
  AssetStore store(folder_.path().toStdString());
  shot_.cleanUps[0].on = false;
  const auto made = store.photo(shot_), taken = store.photo(shot_.plate);
  QVERIFY(made && taken && *made == *taken);
}

void TestCleanPlate::laterOnesSeeWhatEarlierOnesLeft() {
  // The second takes from where the spot was: that is clean by then.
  CleanUp second = loopAbout(230, 100, 12, "clean-up-2");
  second.from = Vec2d(-80, 0);
  shot_.cleanUps.push_back(second);
  const auto made = photo(shot_);
  QVERIFY(made && at(*made, 230, 100) > 0.35f);
  std::swap(shot_.cleanUps[0], shot_.cleanUps[1]);
  const auto other = photo(shot_);
  QVERIFY(other && !(other->picture == made->picture));
}

void TestCleanPlate::straightenedPlatesAreClean() {
  shot_.vantage.straightened = true, shot_.vantage.camera.k1 = -0.08;
  const auto made = photo(shot_);
  QVERIFY(made);
  for (int y = 80; y < 120; ++y)
    for (int x = 130; x < 170; ++x) QVERIFY(at(*made, x, y) > 0.3f);
}

void TestCleanPlate::theLightIsMeasuredByTheCleanPlate() {
  AssetStore store(folder_.path().toStdString());
  const auto plate = store.plate(shot_);
  QVERIFY(plate && (*plate)->at(150, 100)[0] > 0.1f);
  shot_.cleanUps.clear();
  const auto bare = store.plate(shot_);
  QVERIFY(bare && (*bare)->at(150, 100)[0] < 0.02f);
}

void TestCleanPlate::spotsAreKeptOnDisk() {
  const auto made = photo(shot_);
  const fs::path kept = in("cache/gentle-dusk/clean-plates");
  std::vector<fs::path> files;
  for (const auto& f : fs::directory_iterator(kept)) files.push_back(f.path());
  QVERIFY(!files.empty());
  QElapsedTimer clock;
  clock.start();
  QVERIFY(photo(shot_)->picture == made->picture);
  // Half a file is none: the spot is filled anew, and is the same.
  for (const fs::path& f : files) fs::resize_file(f, fs::file_size(f) / 2);
  QVERIFY(photo(shot_)->picture == made->picture);
  for (const fs::path& f : files) QVERIFY(std::ofstream(f) << "nonsense");
  QVERIFY(photo(shot_)->picture == made->picture);
  const FilledSpot spot = spotOf(shot_.cleanUps[0], w, h);
  keepSpot("by-hand", spot);
  QVERIFY(keptSpot("by-hand") == spot);
  QVERIFY(!keptSpot("not-there"));
}

void TestCleanPlate::loopsOutsideAreSaid() {
  shot_.cleanUps = {loopAbout(-500, 100, 20)};
  AssetStore store(folder_.path().toStdString());
  const auto made = store.photo(shot_);
  QVERIFY(!made.ok() && made.error().message.find("\"Spot\" lies outside") != std::string::npos);
}

void TestCleanPlate::theHorizonSaysHowLargeThingsAre() {
  QVERIFY(groundHorizon(shot_.vantage) == Vec3d(0));
  shot_.vantage.solved = true;
  const Camera& c = shot_.vantage.camera;
  const Vec3d line = groundHorizon(shot_.vantage);
  const auto below = [&](const Vec2d& p) { return line.x * p.x + line.y * p.y + line.z; };
  for (const double y : {120.0, 150.0, 190.0}) {
    // A metre across, there.
    const auto on = levelPoint(c, {150, y});
    QVERIFY(on);
    const auto a = projected(c, *on), b = projected(c, *on + Vec3d(1, 0, 0));
    QVERIFY(std::abs(below({150, y}) / c.position.z - (*b - *a).length()) < 1e-6 * below({150, y}));
  }
  QVERIFY(below({150, 0}) < 0);
}

DUSK_TEST(TestCleanPlate, NoApplication);
#include "clean_plate.moc"
