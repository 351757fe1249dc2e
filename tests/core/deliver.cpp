#include <QtTest>
#include <bit>
#include <fstream>
#include <nlohmann/json.hpp>
#include <thread>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/deliver/cryptomatte.h"
#include "core/deliver/deliver.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/changes.h"
#include "core/project/file.h"
#include "core/trace/render.h"
#include "tests/program.h"
#include "tests/small_demo.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestDeliver : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  static constexpr int photoWidth = 960, photoHeight = 640;
  fs::path folder() { return folder_.path().toStdString(); }
  AssetStore assets_{folder()};
  GeometryCache cache_;
  Progress progress_;

  Project demo() {
    static const Project quay = smallDemo(folder(), "brackwater.dusk", photoWidth);
    Project p = quay;
    p.shots[0].render.samples = 4;
    return p;
  }

 private slots:
  void nothingPlacedComesOutBitForBit_data();
  void nothingPlacedComesOutBitForBit();
  void untouchedPixelsStayThePlates();
  void exrHoldsEveryPass();
  void mattesFollowTheConvention();
  void mattesTakeNamesOfAnyAge();
  void cancelledWhileTheNoiseIsTakenOutWritesNothing();
  void gradeNeedsNoTracing();
  void missingThingsAreSaid();
  void nothingHalfWrittenOnFailure();
};

void TestDeliver::nothingPlacedComesOutBitForBit_data() {
  QTest::addColumn<QString>("view");
  QTest::newRow("plain") << "plain sRGB";
  QTest::newRow("soft") << "soft shoulder";
  QTest::newRow("aces") << "ACES";
}

void TestDeliver::nothingPlacedComesOutBitForBit() {
  QFETCH(QString, view);
  Project p = demo();
  p.shots[0].placements.clear();
  p.shots[0].blend.view = view.toStdString();
  const auto report = deliver(p, 0, assets_, cache_, {folder() / "bare", {}, {}, {}}, progress_);
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  const auto plate = readPhoto(folder() / "small-quay.png"),
             out = readPhoto(folder() / "bare/brackwater-quay.png");
  QVERIFY(plate.ok() && out.ok());
  QVERIFY(plate->picture == out->picture);
}

void TestDeliver::untouchedPixelsStayThePlates() {
  // Enough samples that the place of influence is found, and the rest let go.
  const auto report = deliver(demo(), 0, assets_, cache_, {folder() / "full", {}, 9}, progress_);
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  QCOMPARE(report->width, photoWidth);
  const auto plate = readPhoto(folder() / "small-quay.png"),
             out = readPhoto(folder() / "full/brackwater-quay.png");
  int changed = 0, untouched = 0;
  for (int y = 0; y < photoHeight; ++y)
    for (int x = 0; x < photoWidth; ++x) {
      const Rgb ratio = report->passes.ratio.rgbAt(x, y);
      if (report->passes.alpha.at(x, y)[0] == 0 && ratio == Rgb(1)) {
        ++untouched;
        QVERIFY(plate->picture.rgbAt(x, y) == out->picture.rgbAt(x, y));
      } else {
        changed += plate->picture.rgbAt(x, y) != out->picture.rgbAt(x, y);
      }
    }
  QVERIFY2(untouched > photoWidth * photoHeight / 2, qPrintable(QString::number(untouched)));
  QVERIFY(changed > 12'500);
}

void TestDeliver::exrHoldsEveryPass() {
  DeliverOptions options{folder() / "small", std::pair(240, 160), 8, {}};
  Project grainless = demo();
  grainless.shots[0].blend.grain = {}, grainless.shots[0].blend.lens = {};  // the sum of the passes alone
  const auto report = deliver(grainless, 0, assets_, cache_, options, progress_);
  QVERIFY(report.ok());
  const fs::path exr = folder() / "small/brackwater-quay.exr";
  const auto parts = *exrParts(exr);
  for (const char* name :
       {"composite", "beauty", "shadow_ratio", "shadow_alpha", "diffuse_direct", "specular_indirect",
        "transmission_indirect", "albedo", "normal", "depth", "position", "facing", "part_colours",
        "CryptoPart00", "CryptoSurface00", "CryptoProduct00"})
    QVERIFY2(std::count(parts.begin(), parts.end(), name) == 1, name);
  // Nothing glows here and the ground is matte: those passes are known as empty and left out.
  QVERIFY(std::count(report->empty.begin(), report->empty.end(), "emission") == 1);
  QVERIFY(!std::count(parts.begin(), parts.end(), "emission") &&
          !std::count(parts.begin(), parts.end(), "reflection"));
  const auto beauty = readExrPart(exr, "beauty"), depth = readExrPart(exr, "depth"),
             normal = readExrPart(exr, "normal"), ratio = readExrPart(exr, "shadow_ratio"),
             composite = readExrPart(exr, "composite");
  QVERIFY(beauty->channels == (std::vector<std::string>{"R", "G", "B", "A"}));
  QVERIFY(depth->channels == std::vector<std::string>{"Z"});
  // composite = plate * ratio * (1 - alpha) + beauty, to half-float precision.
  const auto plate = assets_.plate(demo().shots[0].plate, BlendSettings{});
  const Picture small = resized(**plate, 240, 160);
  int covered = 0;
  for (int y = 0; y < 160; ++y)
    for (int x = 0; x < 240; ++x) {
      const float a = beauty->at(x, y)[3];
      for (int c = 0; c < 3; ++c) {
        const float expected = small.at(x, y)[c] * ratio->at(x, y)[c] * (1 - a) + beauty->at(x, y)[c];
        // Few samples of a difference may come to less than nothing; a picture never does.
        QVERIFY(std::abs(composite->at(x, y)[c] - std::max(0.0f, expected)) <
                0.003f * (1 + std::abs(expected)));
      }
      if (a == 1) {
        ++covered;
        const float* n = normal->at(x, y);
        QVERIFY(std::abs(n[0] * n[0] + n[1] * n[1] + n[2] * n[2] - 1) < 0.01f);
        QVERIFY(depth->at(x, y)[0] > 0.7f && depth->at(x, y)[0] < 2.5f);
      }
    }
  QVERIFY(covered > 300);
  // The components add up to the beauty, denoised as they are.
  double largest = 0;
  const Passes& p = report->passes;
  for (size_t i = 0; i < p.beauty.pixels.size(); ++i) {
    float sum = 0;
    for (const GroupPasses& g : p.groups)
      for (const Picture& part : g.part) sum += part.pixels[i];
    largest = std::max(largest, double(std::abs(sum - p.beauty.pixels[i])) / (1 + std::abs(sum)));
  }
  QVERIFY2(largest < 1e-4, qPrintable(QString::number(largest)));
}

void TestDeliver::mattesFollowTheConvention() {
  // Values of the published MurmurHash3_x86_32 with seed 0.
  QCOMPARE(murmur3(""), 0u);
  QCOMPARE(murmur3("hello"), 0x248bfa47u);
  QCOMPARE(murmur3("hello, world"), 0x149bbb7fu);
  const auto report =
      deliver(demo(), 0, assets_, cache_, {folder() / "mattes", std::pair(120, 80), 8}, progress_);
  QVERIFY(report.ok());
  const auto matte = readExrPart(folder() / "mattes/brackwater-quay.exr", "CryptoProduct00");
  QVERIFY(matte.ok());
  const float id = cryptomatteId("Brackwater field tide gauge (gauge-1)");
  int whole = 0;
  for (int y = 0; y < 80; ++y)
    for (int x = 0; x < 120; ++x)
      if (report->passes.alpha.at(x, y)[0] == 1) {
        ++whole;
        QVERIFY(matte->at(x, y)[0] == id && std::abs(matte->at(x, y)[1] - 1) < 0.2f);
      }
  QVERIFY(whole > 50);
}

void TestDeliver::mattesTakeNamesOfAnyAge() {
  // An old export: Latin-1, not UTF-8.
  Passes passes;
  passes.beauty = Picture::rgb(2, 1), passes.alpha = Picture(2, 1, {"A"});
  passes.covers.resize(2);
  passes.covers[0].list[0] = {1, 1.0f}, passes.covers[1].list[0] = {2, 1.0f};
  const Cryptomatte matte = cryptomatte("Part", passes, {"Geh\xe4use", "Deckel"});
  std::string manifest;
  for (const auto& [key, text] : matte.metadata)
    if (key.ends_with("manifest")) manifest = text;
  const auto names = jsonFrom(manifest);
  QCOMPARE(names.size(), size_t(2));
  // What the manifest says is what the ids are of.
  for (const auto& [name, id] : names.items()) {
    const auto bits = std::bit_cast<uint32_t>(cryptomatteId(name));
    QCOMPARE(std::stoul(id.get<std::string>(), nullptr, 16), (unsigned long)bits);
    QVERIFY(matte.ranks[0].at(0, 0)[0] == cryptomatteId(name) ||
            matte.ranks[0].at(1, 0)[0] == cryptomatteId(name));
  }
}

void TestDeliver::cancelledWhileTheNoiseIsTakenOutWritesNothing() {
  bool cancelledInTime = false;
  for (int attempt = 0; attempt < 6 && !cancelledInTime; ++attempt) {
    Progress progress;
    std::atomic<bool> isTraced{false};
    std::thread hand([&] {
      while (!isTraced) std::this_thread::yield();
      progress.cancel();
    });
    const fs::path to = folder() / ("late" + std::to_string(attempt));
    DeliverOptions options{to, std::pair(480, 320), 4, {}};
    options.trace = [&](const Project&, const TraceCall& c) {
      const bool traced = render(c.scene, c.film, c.passes, c.progress, c.afterPass);
      isTraced = true;
      return traced;
    };
    const auto report = deliver(demo(), 0, assets_, cache_, options, progress);
    isTraced = true;
    hand.join();
    if (report.ok()) continue;  // the hand came when all was done
    cancelledInTime = true;
    QCOMPARE(report.error().kind, ErrorKind::cancelled);
    QVERIFY(!fs::exists(to));
  }
  QVERIFY(cancelledInTime);
}

void TestDeliver::gradeNeedsNoTracing() {
  Project p = demo();
  DeliverOptions options{folder() / "grade", std::pair(120, 80), 2, {}};
  const auto plain = deliver(p, 0, assets_, cache_, options, progress_);
  QVERIFY(plain.ok());
  const std::string before = *readFile(plain->files[0]);
  const Project ungraded = p;
  p.shots[0].blend.exposureEv = 1;
  const auto graded = deliver(p, 0, assets_, cache_, options, progress_);
  QVERIFY(graded.ok());
  QVERIFY(plain->passes.beauty == graded->passes.beauty);
  // The picture is another one, though nothing asks for tracing.
  QVERIFY(before != *readFile(graded->files[0]));
  const Changes what = changes(ungraded, p, 0);
  QVERIFY(what.blend && !what.trace);
  p.shots[0].placements[0].xM += 0.01;  // as this does
  QVERIFY(changes(ungraded, p, 0).trace);
}

void TestDeliver::missingThingsAreSaid() {
  Project p = demo();
  p.shots[0].plate.path = "gone.jpg";
  const auto noPlate = deliver(p, 0, assets_, cache_, {folder() / "x", std::pair(60, 40), 1, {}}, progress_);
  QVERIFY(!noPlate.ok() && noPlate.error().message.find("gone.jpg") != std::string::npos);
  p = demo();
  p.products[0].model = {"gone.step", ""};
  const auto noModel = deliver(p, 0, assets_, cache_, {folder() / "x", std::pair(60, 40), 1, {}}, progress_);
  QVERIFY(noModel.ok());
  QVERIFY(!noModel->notes.empty() && noModel->notes[0].find("gone.step") != std::string::npos);
  p = demo();
  p.shots[0].vantage = {};
  QVERIFY(!deliver(p, 0, assets_, cache_, {folder() / "x", {}, {}, {}}, progress_).ok());
  QVERIFY(!deliver(p, 7, assets_, cache_, {folder() / "x", {}, {}, {}}, progress_).ok());
}

void TestDeliver::nothingHalfWrittenOnFailure() {
  // The folder's name is taken by a file.
  QVERIFY(writePng8(folder() / "taken", Picture()).ok() == false);
  std::ofstream(folder() / "file") << "x";
  const auto report =
      deliver(demo(), 0, assets_, cache_, {folder() / "file", std::pair(60, 40), 1, {}}, progress_);
  QVERIFY(!report.ok());
  Progress cancelled;
  cancelled.cancel();
  const auto ended =
      deliver(demo(), 0, assets_, cache_, {folder() / "never", std::pair(60, 40), 1, {}}, cancelled);
  QVERIFY(!ended.ok());
  QCOMPARE(ended.error().kind, ErrorKind::cancelled);
  QVERIFY(!fs::exists(folder() / "never"));
}

DUSK_TEST(TestDeliver, NoApplication);
#include "deliver.moc"
