#include "core/blend/operation.h"

#include <QtTest>

#include <fstream>
#include <random>

#include "core/base/srgb.h"
#include "core/blend/blur.h"
#include "core/blend/corrected.h"
#include "core/blend/grain.h"
#include "core/blend/hue.h"
#include "core/blend/lanes.h"
#include "core/blend/product_rows.h"
#include "tests/program.h"

using namespace dusk;

namespace {

std::shared_ptr<const Picture> noisyPicture(int w, int h, float top = 1.5f) {
  std::mt19937 random(3);
  std::uniform_real_distribution<float> any(0.001f, top);
  auto p = std::make_shared<Picture>(Picture::rgb(w, h));
  for (float& v : p->pixels) v = any(random);
  return p;
}

Sheet done(const std::shared_ptr<const Picture>& picture, const std::vector<Correction>& corrections) {
  MaskWorld world;
  world.frame = {{0, 0, picture->width, picture->height}, picture->width, picture->height, 1, nullptr};
  Evaluator evaluator;
  return evaluator.sheet(
      corrected(sourceOf(picture, world.frame.whole, 3), corrections, BlendRole::view, world, {}),
      world.frame.whole);
}

double worst(const Sheet& sheet, const Picture& picture) {
  double most = 0;
  for (int c = 0; c < 3; ++c)
    for (int y = 0; y < picture.height; ++y)
      for (int x = 0; x < picture.width; ++x)
        most = std::max(
            most, double(std::abs(sheet.at(c, x, y) - picture.at(x, y)[c]) / (0.01f + picture.at(x, y)[c])));
  return most;
}

}  // namespace

class TestOperations : public QObject {
  Q_OBJECT
 private slots:
  void quickPowersAreRight();
  void unitCurvesAreRight();
  void usualValuesChangeNothing();
  void inversePairsReturn_data();
  void inversePairsReturn();
  void curvesGoThroughTheirPoints();
  void hueLeavesOtherHuesAndLuminance();
  void blursAreGaussians();
  void energyIsKept();
  void noiseHasItsStrengthAndNeighbourhood();
  void tablesAreReadOrRefused();
};

void TestOperations::quickPowersAreRight() {
  for (double x = 1e-6; x < 60; x *= 1.01) {
    QVERIFY(std::abs(quickLog2(float(x)) - std::log2(double(float(x)))) <
            1e-6 * std::max(1.0, std::abs(std::log2(x))));
    QVERIFY(std::abs(quickPow(float(x), 0.7f) / std::pow(double(float(x)), double(0.7f)) - 1) < 3e-6);
    QVERIFY(std::abs(quickEncoded(float(x)) - srgbEncoded(double(float(x)))) < 3e-6 * std::max(1.0, x));
    QVERIFY(std::abs(quickDecoded(quickEncoded(float(x))) / x - 1) < 1e-4);
  }
  for (float h = 0; h < 360; h += 7) {
    const float r = 1 + std::cos(float(radians(h))), g = 1 + std::cos(float(radians(h - 120))),
                b = 1 + std::cos(float(radians(h - 240)));
    const float off = std::abs(hueDegrees(r, g, b) - h);
    QVERIFY2(std::min(off, 360 - off) < 0.4f, qPrintable(QString("%1: %2").arg(h).arg(hueDegrees(r, g, b))));
  }
}

void TestOperations::unitCurvesAreRight() {
  for (int i = 0; i <= 100000; ++i) {
    const float x = float(i) / 100000;
    QVERIFY(std::abs(unitEncoded(x) - srgbEncoded(double(x))) < 1e-6);
    QVERIFY(std::abs(unitDecoded(x) - srgbDecoded(double(x))) < 1e-6);
    // Light is told in steps of 16 bits after it went through codes and back.
    QVERIFY(std::abs(unitDecoded(unitEncoded(x)) - x) < 0.1 / 65535);
  }
}

void TestOperations::usualValuesChangeNothing() {
  const auto picture = noisyPicture(40, 30);
  const std::set<CorrectionKind> acting{CorrectionKind::blur, CorrectionKind::sharpen, CorrectionKind::glow,
                                        CorrectionKind::noise, CorrectionKind::vignette};
  for (const CorrectionKindInfo& info : correctionKinds()) {
    Correction c{info.kind};
    const bool acts = worst(done(picture, {c}), *picture) > 0;
    QVERIFY2(acts == (acting.count(info.kind) > 0), info.name);
    for (const CorrectionField& f : info.fields)
      QVERIFY(f.low <= f.usual && f.usual <= f.high && f.low < f.high);
    c.on = false;
    QCOMPARE(worst(done(picture, {c}), *picture), 0.0);
    c.on = true, c.strength = 0;
    QCOMPARE(worst(done(picture, {c}), *picture), 0.0);
  }
}

void TestOperations::inversePairsReturn_data() {
  QTest::addColumn<int>("kind");
  QTest::addColumn<QString>("field");
  QTest::addColumn<double>("there");
  QTest::addColumn<double>("back");
  const auto row = [](const char* name, CorrectionKind kind, const char* field, double there, double back) {
    QTest::newRow(name) << int(kind) << field << there << back;
  };
  row("exposure", CorrectionKind::exposure, "ev", 1.7, -1.7);
  row("contrast", CorrectionKind::contrast, "amount", 1.6, 1 / 1.6);
  row("gamma", CorrectionKind::liftGammaGain, "gammaG", 1.4, 1 / 1.4);
  row("gain", CorrectionKind::liftGammaGain, "gainR", 2, 0.5);
  row("levels", CorrectionKind::levels, "gamma", 1.5, 1 / 1.5);
  row("saturation", CorrectionKind::saturation, "amount", 1.5, 1 / 1.5);
  row("vignette", CorrectionKind::vignette, "ev", -1.2, 1.2);
}

void TestOperations::inversePairsReturn() {
  QFETCH(int, kind);
  QFETCH(QString, field);
  QFETCH(double, there);
  QFETCH(double, back);
  const auto picture = noisyPicture(40, 30, 0.9f);
  const std::string name = field.toStdString();
  const Correction to{CorrectionKind(kind), true, 1, {{name, there}}},
      from{CorrectionKind(kind), true, 1, {{name, back}}};
  QVERIFY(worst(done(picture, {to}), *picture) > 0.05);
  QVERIFY2(worst(done(picture, {to, from}), *picture) < 2e-3,
           qPrintable(QString::number(worst(done(picture, {to, from}), *picture))));
}

void TestOperations::curvesGoThroughTheirPoints() {
  Correction c{CorrectionKind::curve};
  c.curve = {{0, 0.05}, {0.25, 0.2}, {0.5, 0.6}, {0.75, 0.85}, {1, 0.95}};
  auto picture = std::make_shared<Picture>(Picture::rgb(5, 1));
  for (int i = 0; i < 5; ++i)
    for (int k = 0; k < 3; ++k) picture->at(i, 0)[k] = float(srgbDecoded(c.curve[size_t(i)].x));
  const Sheet out = done(picture, {c});
  for (int i = 0; i < 5; ++i)
    QVERIFY(std::abs(srgbEncoded(out.at(1, i, 0)) - float(c.curve[size_t(i)].y)) < 2e-4f);
  // Between points that rise it rises.
  auto ramp = std::make_shared<Picture>(Picture::rgb(500, 1));
  for (int i = 0; i < 500; ++i)
    for (int k = 0; k < 3; ++k) ramp->at(i, 0)[k] = float(i) / 400;
  const Sheet risen = done(ramp, {c});
  for (int i = 1; i < 500; ++i) QVERIFY(risen.at(0, i, 0) > risen.at(0, i - 1, 0));
}

void TestOperations::hueLeavesOtherHuesAndLuminance() {
  auto picture = std::make_shared<Picture>(Picture::rgb(3, 1));
  const Rgb colours[] = {{0.6f, 0.1f, 0.1f}, {0.1f, 0.2f, 0.7f}, {0.4f, 0.4f, 0.4f}};
  for (int i = 0; i < 3; ++i) std::copy_n(&colours[i].x, 3, picture->at(i, 0));
  const Correction reds{CorrectionKind::hue, true, 1, {{"turn", 40}, {"saturation", 0.8}}};
  const Sheet out = done(picture, {reds});
  const auto at = [&](int x) { return Rgb(out.at(0, x, 0), out.at(1, x, 0), out.at(2, x, 0)); };
  QVERIFY((at(0) - colours[0]).length() > 0.05f);
  QVERIFY(std::abs(luminance(at(0)) - luminance(colours[0])) < 1e-4f);
  QVERIFY((at(1) - colours[1]).length() < 1e-5f && (at(2) - colours[2]).length() < 1e-5f);
}

void TestOperations::blursAreGaussians() {
  auto point = std::make_shared<Picture>(Picture::rgb(400, 400));
  for (int k = 0; k < 3; ++k) point->at(200, 200)[k] = 1000;
  const NodePtr source = sourceOf(point, {0, 0, 400, 400}, 3);
  for (const double sigma : {0.4, 0.9, 1.7, 3.0, 6.0, 13.0, 31.0}) {
    Evaluator evaluator;
    const Sheet out = evaluator.sheet(blurred(source, sigma), source->whole);
    double sum = 0, variance = 0, off = 0;
    const double peak = 1000 / (2 * pi * sigma * sigma);
    for (int y = 0; y < 400; ++y)
      for (int x = 0; x < 400; ++x) {
        const double v = out.at(0, x, y), r2 = (x - 200.0) * (x - 200) + (y - 200.0) * (y - 200);
        sum += v, variance += v * (x - 200.0) * (x - 200);
        if (sigma > 1) off = std::max(off, std::abs(v - peak * std::exp(-r2 / 2 / sigma / sigma)));
      }
    QVERIFY2(std::abs(sum / 1000 - 1) < 1e-3, qPrintable(QString("%1: sum %2").arg(sigma).arg(sum)));
    QVERIFY2(std::abs(std::sqrt(variance / sum) / sigma - 1) < 0.01,
             qPrintable(QString("%1: %2").arg(sigma).arg(std::sqrt(variance / sum))));
    QVERIFY2(off < 0.05 * peak, qPrintable(QString("%1: off by %2 of %3").arg(sigma).arg(off).arg(peak)));
  }
}

void TestOperations::energyIsKept() {
  auto picture = std::make_shared<Picture>(Picture::rgb(300, 300));
  for (int y = 120; y < 180; ++y)
    for (int x = 120; x < 180; ++x)
      for (int k = 0; k < 3; ++k) picture->at(x, y)[k] = (x + y) % 17 == 0 ? 20.0f : 0.4f;
  const auto sum = [](const Sheet& s) {
    double all = 0;
    for (int y = 0; y < 300; ++y)
      for (int x = 0; x < 300; ++x) all += s.at(1, x, y);
    return all;
  };
  const double before = sum(done(picture, {}));
  for (const double spread : {0.0, 0.5, 1.0}) {
    const Correction glow{CorrectionKind::glow, true, 1, {{"px", 20}, {"amount", 60}, {"spread", spread}}};
    QVERIFY(std::abs(sum(done(picture, {glow})) / before - 1) < 2e-3);
  }
  QVERIFY(std::abs(sum(done(picture, {{CorrectionKind::blur, true, 1, {{"px", 25}}}})) / before - 1) < 2e-3);
}

void TestOperations::noiseHasItsStrengthAndNeighbourhood() {
  std::vector<double> wanted;
  constexpr int reach = GrainLook::reach;
  for (int y = -reach; y <= reach; ++y)
    for (int x = -reach; x <= reach; ++x) wanted.push_back(std::exp(-(x * x / 2.0 + y * y / 1.2) / 2));
  const Vec3d channels(0.6, 0.3, 0.5);
  const PixelArea whole{0, 0, 500, 400};
  Evaluator evaluator;
  const Sheet n = evaluator.sheet(noiseField(whole, wanted, channels, 5), whole);
  const auto product = [&](int a, int b, int dx, int dy) {
    double sum = 0;
    for (int y = 10; y < 390; ++y)
      for (int x = 10; x < 490; ++x) sum += double(n.at(a, x, y)) * n.at(b, x + dx, y + dy);
    return sum / (380 * 480);
  };
  for (int c = 0; c < 3; ++c) QVERIFY(std::abs(product(c, c, 0, 0) - 1) < 0.03);
  for (int y = -2; y <= 2; ++y)
    for (int x = -2; x <= 2; ++x)
      QVERIFY(std::abs(product(1, 1, x, y) - wanted[size_t((y + reach) * (2 * reach + 1) + x + reach)]) <
              0.04);
  QVERIFY(std::abs(product(0, 1, 0, 0) - 0.6) < 0.03 && std::abs(product(0, 2, 0, 0) - 0.3) < 0.03 &&
          std::abs(product(1, 2, 0, 0) - 0.5) < 0.03);
}

void TestOperations::tablesAreReadOrRefused() {
  QTemporaryDir folder;
  const auto write = [&](const char* name, const std::string& text) {
    const std::filesystem::path file = std::filesystem::path(folder.path().toStdString()) / name;
    std::ofstream(file) << text;
    return readColourTable(file);
  };
  const auto swap =
      write("swap.cube", "LUT_3D_SIZE 2\n0 0 0\n0 0 1\n0 1 0\n0 1 1\n1 0 0\n1 0 1\n1 1 0\n1 1 1\n");
  QVERIFY2(swap.ok(), swap.ok() ? "" : swap.error().message.c_str());
  float colour[] = {0.2f, 0.5f, 0.9f};
  (*swap)->apply(colour, 1);
  QVERIFY(std::abs(colour[0] - 0.9f) < 1e-3f && std::abs(colour[2] - 0.2f) < 1e-3f);
  const auto curve = write("half.spi1d", "Version 1\nFrom 0 1\nLength 2\nComponents 1\n{\n0\n0.5\n}\n");
  QVERIFY2(curve.ok(), curve.ok() ? "" : curve.error().message.c_str());
  for (const auto& [name, text] :
       {std::pair("nan.cube", "LUT_3D_SIZE 2\nnan 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n"),
        {"short.cube", "LUT_3D_SIZE 9\n0 0 0\n"},
        {"huge.cube", "LUT_3D_SIZE 4000\n0 0 0\n"},
        {"empty.csp", ""},
        {"words.cube", "this is no table"}}) {
    const auto refused = write(name, text);
    QVERIFY2(!refused.ok(), name);
    QVERIFY(refused.error().message.find(name) != std::string::npos);
  }
}

DUSK_TEST(TestOperations, NoApplication);
#include "operations.moc"
