// Large pictures are read as small as their file holds them, and made in bands.
#include <QtTest>
#include <random>

#include "core/base/memory.h"
#include "core/deliver/bands.h"
#include "core/deliver/deliver.h"
#include "core/picture/exr_writer.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/trace/denoise.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

Picture random(int w, int h, unsigned seed) {
  Picture p = Picture::rgb(w, h);
  std::mt19937 any(seed);
  for (float& v : p.pixels) v = float(any() % 256) / 255;
  return p;
}

PackedPicture bytesOf(const Picture& p) {
  std::vector<uint8_t> values;
  for (const float v : p.pixels) values.push_back(uint8_t(std::lround(v * 255)));
  return {p.width, p.height, std::move(values)};
}

}  // namespace

class TestLarge : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  const fs::path demo_ = fs::path(DUSK_SOURCE) / "demo/brackwater";

 private slots:
  void photosAreHeldAsTheirFileHoldsThem();
  void everyOrientationIsTurnedUpright_data();
  void everyOrientationIsTurnedUpright();
  void areasAreThoseOfTheWhole_data();
  void areasAreThoseOfTheWhole();
  void aLargePlateIsSmallerAndShowsTheSame();
  void bandsAreTheWholeToTheBit();
  void partsAreWrittenRowByRow();
  void aPictureInBandsIsThatInOnePiece();
  void whatWasFreedIsGivenBack();
  void whatDoesNotFitIsSaidBefore();
  void directionsOfAHugePanoramaComeFromCells();
};

void TestLarge::photosAreHeldAsTheirFileHoldsThem() {
  const Picture p = random(40, 30, 1);
  QVERIFY(writePng8(in("bytes.png"), p).ok());
  const auto photo = readPhoto(in("bytes.png"));
  QVERIFY(photo.ok());
  QCOMPARE(photo->picture.bytes(), size_t(40 * 30 * 3));
  QVERIFY(photo->picture.whole() == p);
  QVERIFY(photo->picture.area({3, 4, 17, 21}).rgbAt(2, 5) == p.rgbAt(5, 9));
  QVERIFY(resized(photo->picture, 23, 11) == resized(p, 23, 11));
  QVERIFY(sampleBilinear(photo->picture, 7.3f, 9.8f) == sampleBilinear(p, 7.3f, 9.8f));
  const PackedPicture words = packed16(40, 30, [&](int y, float* rgb) { std::copy_n(p.at(0, y), 120, rgb); });
  for (size_t i = 0; i < p.pixels.size(); ++i)
    QVERIFY(std::abs(words.whole().pixels[i] - p.pixels[i]) <= 0.5f / 65535 + 1e-7f);
}

void TestLarge::everyOrientationIsTurnedUpright_data() {
  QTest::addColumn<int>("orientation");
  // Where the stored picture's first and second pixel of its first row come to stand.
  QTest::addColumn<QPoint>("first");
  QTest::addColumn<QPoint>("second");
  const QPoint at[8][2] = {{{0, 0}, {1, 0}}, {{5, 0}, {4, 0}}, {{5, 3}, {4, 3}}, {{0, 3}, {1, 3}},
                           {{0, 0}, {0, 1}}, {{3, 0}, {3, 1}}, {{3, 5}, {3, 4}}, {{0, 5}, {0, 4}}};
  for (int i = 0; i < 8; ++i) QTest::addRow("%d", i + 1) << i + 1 << at[i][0] << at[i][1];
}

void TestLarge::everyOrientationIsTurnedUpright() {
  QFETCH(int, orientation);
  QFETCH(QPoint, first);
  QFETCH(QPoint, second);
  // A 6 x 4 JPEG of one grey per quarter would blur; a TIFF does not, and carries the tag by itself.
  QImage stored(6, 4, QImage::Format_RGB32);
  stored.fill(Qt::black);
  stored.setPixel(0, 0, qRgb(255, 0, 0)), stored.setPixel(1, 0, qRgb(0, 255, 0));
  const QByteArray pixels(reinterpret_cast<const char*>(stored.constBits()), 6 * 4 * 4);
  QByteArray tiff("II*\0", 4);
  const auto word = [&](unsigned v) { tiff.append(char(v)).append(char(v >> 8)); };
  const auto dword = [&](unsigned v) { word(v & 0xffff), word(v >> 16); };
  dword(8), word(10);
  const auto tag = [&](unsigned id, unsigned type, unsigned value) {
    word(id), word(type), dword(1), dword(value);
  };
  constexpr unsigned data = 8 + 2 + 10 * 12 + 4;
  tag(256, 3, 6), tag(257, 3, 4), tag(258, 3, 8), tag(259, 3, 1), tag(262, 3, 2), tag(273, 4, data);
  tag(274, 3, unsigned(orientation)), tag(277, 3, 3), tag(278, 3, 4), tag(279, 4, 6 * 4 * 3);
  dword(0);
  for (int i = 0; i < 24; ++i) tiff.append(pixels[i * 4 + 2]).append(pixels[i * 4 + 1]).append(pixels[i * 4]);
  QFile file(QString::fromStdString(in("turned.tif").string()));
  QVERIFY(file.open(QIODevice::WriteOnly) && file.write(tiff) == tiff.size());
  file.close();
  const auto photo = readPhoto(in("turned.tif"));
  QVERIFY2(photo.ok(), photo.ok() ? "" : photo.error().message.c_str());
  QCOMPARE(photo->picture.width, orientation >= 5 ? 4 : 6);
  QCOMPARE(photo->picture.rgbAt(first.x(), first.y()), Rgb(1, 0, 0));
  QCOMPARE(photo->picture.rgbAt(second.x(), second.y()), Rgb(0, 1, 0));
}

void TestLarge::areasAreThoseOfTheWhole_data() {
  QTest::addColumn<QString>("view");
  for (const std::string& name : ColourView::names())
    QTest::newRow(name.c_str()) << QString::fromStdString(name);
}

void TestLarge::areasAreThoseOfTheWhole() {
  QFETCH(QString, view);
  const auto how = *ColourView::make(view.toStdString());
  Photo photo;
  const Picture codes = random(70, 50, 2);
  photo.picture = bytesOf(codes);
  Picture slow = codes;
  how->toScene(slow.pixels.data(), size_t(70 * 50));
  const Picture light = sceneLinear(photo, *how);
  QVERIFY(light == slow);  // by table or not, to the bit
  const PixelArea area{11, 5, 29, 23};
  QVERIFY(sceneLinearArea(photo, *how, 31, 24, area) == resizedArea(light, 31, 24, area));
  if (view == "ACES") QVERIFY(how->sceneTable(256).empty());  // it mixes channels
}

void TestLarge::aLargePlateIsSmallerAndShowsTheSame() {
  // Even ground with a slow wave: 18 megapixels.
  Picture p = Picture::rgb(5200, 3500);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x)
      std::fill_n(p.at(x, y), 3,
                  float(std::lround(120 + 80 * std::sin(x * 0.004) * std::cos(y * 0.003))) / 255);
  QVERIFY(writePng8(in("large.png"), p).ok());
  AssetStore assets(in(""));
  Shot shot;
  shot.plate = *assets.refer(in("large.png"));
  shot.vantage.camera.width = 5200, shot.vantage.camera.height = 3500;
  const auto plate = assets.plate(shot);
  QVERIFY(plate.ok());
  QCOMPARE((*plate)->width, 2600);
  const auto photo = assets.photo(shot);
  const Picture whole = sceneLinear(**photo, **assets.view(BlendSettings{}));
  for (const Vec2d& at : {Vec2d(300.5, 900.5), Vec2d(2600, 1800), Vec2d(5100, 3450)})
    QVERIFY((plateAt(**plate, shot.vantage.camera, at) - sampleBilinear(whole, float(at.x), float(at.y)))
                .length() < 4e-3f);
  // What is looked at closely comes from the photo itself, to the bit; a small picture by way of the plate.
  const PixelArea area{2000, 1500, 2100, 1560};
  QVERIFY(*assets.plateArea(shot, 5200, 3500, area) == resizedArea(whole, 5200, 3500, area));
  const Picture far = *assets.plateArea(shot, 520, 350, {0, 0, 520, 350}),
                straight = resized(whole, 520, 350);
  for (size_t i = 0; i < far.pixels.size(); ++i)
    QVERIFY(std::abs(far.pixels[i] - straight.pixels[i]) < 1e-5f);
}

void TestLarge::bandsAreTheWholeToTheBit() {
  Camera camera = lookAt(150, 300, 260, {0.4, -1.5, 0.9}, {0, 0, 0.1});
  BsdfParameters matte;
  matte.roughness = 0.7f;
  const Stage stage(sphere(0.25f), matte, evenSky(), camera, true);
  BandPlan plan;
  plan.bands = {{0, 128}, {128, 256}, {256, 300}};
  plan.mask.assign(150 * 300, 1);
  BandPlan one = plan;
  one.bands = {{0, 300}};
  Progress progress;
  BandFilm whole(stage.scene, one, 150, 300), banded(stage.scene, plan, 150, 300);
  FilmExposure how;
  how.passes = 6;
  QVERIFY(whole.expose(stage.scene, {0, 300}, how, progress).ok());
  const Passes all = denoised(whole.film(), 1, progress, true);
  QVERIFY(*std::max_element(all.alpha.pixels.begin(), all.alpha.pixels.end()) == 1);
  for (const Rows& rows : plan.bands) {
    QVERIFY(banded.expose(stage.scene, rows, how, progress).ok());
    const Passes band = denoised(banded.film(), 1, progress, true, rows);
    const auto same = [&](const Picture& a, const Picture& of) {
      return std::equal(a.pixels.begin(), a.pixels.end(),
                        of.pixels.begin() + long(size_t(rows.first) * 150 * of.channels.size()));
    };
    QVERIFY(same(band.beauty, all.beauty) && same(band.ratio, all.ratio) && same(band.depth, all.depth));
    QVERIFY(same(band.groups[0].part[0], all.groups[0].part[0]));
    QVERIFY(banded.film().memory() < whole.film().memory());
  }
  const std::vector<double> done = sharesDone(plan, 150);
  QVERIFY(std::abs(done[0] - 128.0 / 300) < 1e-9 && done[2] == 1);
  // Cut by the size alone, and reckoned by where the product matters.
  const auto cut = planBands(stage.scene, 150, 300, 150 * 128, true, {}, progress);
  QVERIFY(cut.ok());
  QCOMPARE(cut->bands.size(), size_t(3));
  QVERIFY(cut->bands[1].first == 128 && cut->bands[2].end == 300 && cut->mask.size() == 150 * 300);
  QVERIFY(cut->done[0] < cut->done[1] && cut->done[1] < 1 && cut->done[2] == 1);
  // Moments of an open shutter are seen in that smaller picture, too.
  Scene moving = stage.scene;
  moving.during.assign(3, std::make_shared<const Scene>(stage.scene));
  const auto still = planBands(moving, 150, 300, 150 * 128, true, {}, progress);
  QVERIFY(still.ok());
  QVERIFY(std::count(cut->mask.begin(), cut->mask.end(), 1) > 1000);
  QCOMPARE(std::count(still->mask.begin(), still->mask.end(), 1),
           std::count(cut->mask.begin(), cut->mask.end(), 1));
}

void TestLarge::partsAreWrittenRowByRow() {
  const Picture light = random(33, 40, 3);
  Picture depth(33, 40, {"Z"});
  for (size_t i = 0; i < depth.pixels.size(); ++i) depth.pixels[i] = 1 / 3.0f + float(i);
  const auto rowsOf = [](const Picture& p, int y0, int y1) {
    Picture some(p.width, y1 - y0, p.channels);
    std::copy_n(p.at(0, y0), some.pixels.size(), some.pixels.begin());
    return some;
  };
  auto writer = ExrWriter::open(in("rows.exr"), 33, 40,
                                {{"light", {"R", "G", "B"}, false, {{"said", "so"}}},
                                 {"nothing", {"Y"}, false},
                                 {"depth", {"Z"}, true}});
  QVERIFY(writer.ok());
  for (const auto& [y0, y1] : {std::pair(0, 16), {16, 21}, {21, 40}}) {
    QVERIFY((*writer)->write(0, rowsOf(light, y0, y1)).ok());
    QVERIFY((*writer)->write(1, Picture(33, y1 - y0, {"Y"})).ok());
    QVERIFY((*writer)->write(2, rowsOf(depth, y0, y1)).ok());
  }
  QVERIFY(!fs::exists(in("rows.exr")));  // not before it is whole
  QVERIFY((*writer)->close({true, false, true}).ok());
  QVERIFY(*exrParts(in("rows.exr")) == (std::vector<std::string>{"light", "depth"}));
  QVERIFY(*readExrPart(in("rows.exr"), "depth") == depth);
  const auto back = readExrPart(in("rows.exr"), "light");
  for (size_t i = 0; i < light.pixels.size(); ++i)
    QVERIFY(std::abs(back->pixels[i] - light.pixels[i]) < 3e-4f);
  {
    auto given = ExrWriter::open(in("up.exr"), 8, 8, {{"light", {"R"}}});
    QVERIFY(given.ok() && (*given)->write(0, Picture(8, 3, {"R"})).ok());
  }
  // Given up: nothing is left of it.
  for (const auto& entry : fs::directory_iterator(in(""))) QVERIFY(entry.path().filename() != "up.exr");
  QVERIFY(!ExrWriter::open(in("no/such/folder.exr"), 8, 8, {{"light", {"R"}}}).ok());
}

void TestLarge::aPictureInBandsIsThatInOnePiece() {
  Project p = *loadProject(demo_ / "brackwater.dusk");
  p.shots[0].render.extraPasses = {"clay"};
  AssetStore assets(demo_);
  GeometryCache cache;
  Progress progress;
  DeliverOptions options{in("whole"), std::pair(240, 320), 12, {}};
  const auto whole = deliver(p, 0, assets, cache, options, progress);
  options.folder = in("bands"), options.wholePixels = 40'000;
  const auto bands = deliver(p, 0, assets, cache, options, progress);
  QVERIFY2(whole.ok() && bands.ok(), bands.ok() ? "" : bands.error().message.c_str());
  QCOMPARE(bands->samples, whole->samples);
  const auto a = readPhoto(in("whole/brackwater-quay.png")), b = readPhoto(in("bands/brackwater-quay.png"));
  QVERIFY(a.ok() && b.ok());
  // Where they differ, the product changes the light by little, and one of them left that to the plate.
  int others = 0;
  double most = 0;
  for (int y = 0; y < 320; y += 8)
    for (int x = 0; x < 240; x += 8) {
      Rgb mean(0);
      for (int v = y; v < y + 8; ++v)
        for (int u = x; u < x + 8; ++u) {
          const Rgb d = (a->picture.rgbAt(u, v) - b->picture.rgbAt(u, v)) * 255;
          others += d.length() > 0.5f, mean += d / 64;
        }
      most = std::max(most, double(mean.length()));
    }
  QVERIFY2(others < 240 * 320 / 10 && most < 2, qPrintable(QString("%1, %2").arg(others).arg(most)));
  QVERIFY(*exrParts(in("whole/brackwater-quay.exr")) == *exrParts(in("bands/brackwater-quay.exr")));
  QVERIFY(bands->empty == whole->empty);
  QVERIFY(bands->passes.alpha == whole->passes.alpha);
  const auto clay = readExrPart(in("bands/brackwater-quay.exr"), "clay"),
             all = readExrPart(in("whole/brackwater-quay.exr"), "clay");
  QVERIFY(clay.ok() && *clay == *all);
  // Cancelled in the middle: nothing is left of the files.
  options.folder = in("given-up");
  Progress stop;
  std::thread hand([&] {
    while (stop.fraction() < 0.3) std::this_thread::yield();
    stop.cancel();
  });
  const auto ended = deliver(p, 0, assets, cache, options, stop);
  hand.join();
  QVERIFY(!ended.ok() && !fs::exists(in("given-up")));
}

void TestLarge::whatWasFreedIsGivenBack() {
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
  QSKIP("the sanitizer has an allocator of its own");
#endif
  std::vector<std::unique_ptr<char[]>> blocks(150'000);
  for (auto& block : blocks) std::fill_n((block = std::make_unique<char[]>(500)).get(), 500, 'x');
  for (size_t i = 0; i < blocks.size(); ++i)
    if (i % 1000) blocks[i].reset();  // some in between stay, and hold on to the rest
  const auto residentMb = [] {
    QFile pages("/proc/self/statm");
    return pages.open(QIODevice::ReadOnly) ? pages.readAll().split(' ').value(1).toDouble() * 4096 / 1e6 : 0;
  };
  const double before = residentMb();
  QElapsedTimer clock;
  clock.start();
  giveBackFreed();
  qInfo("%.0f of %.0f MB given back in %lld ms", before - residentMb(), before, clock.elapsed());
  QVERIFY(residentMb() < before - 40);
}

void TestLarge::whatDoesNotFitIsSaidBefore() {
  const size_t has = freeMemory();
  QVERIFY(has > 1 << 20 && bytesText(size_t{3} << 29) == "1.5 GB" && bytesText(5 << 20) == "5 MB");
  Project p = *loadProject(demo_ / "brackwater.dusk");
  QVERIFY(deliveryBytes(p.shots[0], 6000, 4000) < size_t{3} << 30);
  QVERIFY(deliveryBytes(p.shots[0], 12240, 8160) < size_t{6} << 30);
  AssetStore assets(demo_);
  GeometryCache cache;
  Progress progress;
  const auto refused =
      deliver(p, 0, assets, cache, {in("never"), std::pair(900'000, 900'000), 1, {}}, progress);
  QVERIFY(!refused.ok());
  QVERIFY2(refused.error().message.find("memory") != std::string::npos, refused.error().message.c_str());
}

void TestLarge::directionsOfAHugePanoramaComeFromCells() {
  // Wider than there are cells: a small sun on an even sky. What is drawn must be spread as it is told.
  Picture sky(8192, 32, {"R", "G", "B"});
  std::fill(sky.pixels.begin(), sky.pixels.end(), 0.5f);
  for (int x = 3001; x < 3006; ++x) std::fill_n(sky.at(x, 9), 3, 4000.0f);
  const auto panorama = Panorama::make(std::move(sky));
  std::mt19937 any(5);
  std::uniform_real_distribution<float> u(0, 1);
  double sum = 0, light = 0;
  constexpr int count = 200'000;
  for (int i = 0; i < count; ++i) {
    const auto seen = panorama->seen(panorama->sampleDirection({u(any), u(any)}));
    QVERIFY(seen.pdf > 0);
    sum += 1 / double(seen.pdf), light += double(luminance(seen.radiance)) / double(seen.pdf);
  }
  QVERIFY2(std::abs(sum / count / (4 * pi) - 1) < 0.02, qPrintable(QString::number(sum / count)));
  const double mean = light / count / (4 * pi);
  QVERIFY2(std::abs(mean / double(panorama->meanLuminance()) - 1) < 0.02, qPrintable(QString::number(mean)));
}

DUSK_TEST(TestLarge, NoApplication);
#include "large.moc"
