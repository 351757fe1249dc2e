#include <QGuiApplication>
#include <QtTest>
#include <random>

#include "core/colour/difference.h"
#include "core/colour/palette.h"
#include "core/colour/view.h"
#include "core/light/units.h"
#include "core/surface/made_surface.h"
#include "core/trace/fit_trace.h"
#include "core/trace/lit_colour.h"
#include "core/vantage/camera.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

namespace {

/// A room with two windows of different shape, so that highlights have an outline.
std::shared_ptr<const Lights> windows() {
  Picture p = Picture::rgb(128, 64);
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 128; ++x) {
      float v = y < 32 ? 0.25f : 0.12f;
      if (x > 14 && x < 34 && y > 12 && y < 28) v = 6;
      if (x > 88 && x < 96 && y > 16 && y < 34) v = 4;
      for (int c = 0; c < 3; ++c) p.at(x, y)[c] = v * (c == 2 && x > 60 ? 0.8f : 1.0f);
    }
  return std::make_shared<Lights>(Panorama::make(std::move(p)), Surroundings{}, std::vector<Lamp>{}, Rgb(0));
}

/// A photograph of a ball in a surface, with a sensor's noise in it.
struct Photographed {
  Stage stage;
  explicit Photographed(const BsdfParameters& real, uint32_t seed)
      : stage(sphere(0.5f), real, windows(), lookAt(64, 64, 100, {0.3, -2.2, 0.7}, {0, 0, 0}), false) {
    stage.scene.seed = seed;
    Picture photo = traced(stage, 64, 256).beauty;
    std::mt19937 random(seed);
    std::normal_distribution<float> grain(0, 0.006f);
    for (float& v : photo.pixels)
      v = std::min(1.0f, std::max(0.0f, v * (1 + 2 * grain(random)) + grain(random)));
    stage.scene.plate = std::make_shared<Picture>(std::move(photo));
    stage.scene.seed = 1;
  }
};

}  // namespace

class TestColoursFound : public QObject {
  Q_OBJECT
 private slots:
  void labAndBack();
  void palettesAreRead();
  void palettesThatAreNone();
  void kelvinIsFoundAgain();
  void colourAsLitIsTheGroundsOwn_data();
  void colourAsLitIsTheGroundsOwn();
  void colourAsLitKnowsShadows();
  void patchesAreOfOnePart();
  void patchesAreTracedAsThePhotoSawThem();
  void surfacesAreFoundAgain_data();
  void surfacesAreFoundAgain();
  void fitsCanBeEnded();
};

void TestColoursFound::labAndBack() {
  for (const Vec3d& code : {Vec3d(0.2, 0.5, 0.8), Vec3d(1, 1, 1), Vec3d(0, 0, 0), Vec3d(0.9, 0.1, 0.02)})
    QVERIFY((srgbOfLab(labOfSrgb(code)) - code).length() < 2e-4);
  QVERIFY(srgbOfLab({60, 120, -120}).y < 0);  // there is no such colour in sRGB: told, not bent
}

void TestColoursFound::palettesAreRead() {
  const auto palette = paletteFromText(
      "GIMP Palette\r\nName: Harbour\nColumns: 4\n# enamels\n 12  60 71\tTide enamel\n255 300 -4 Loud\n\n0 0 "
      "0\n",
      "a.gpl");
  QVERIFY(palette.ok());
  QCOMPARE(palette->name, std::string("Harbour"));
  QCOMPARE(palette->colours.size(), size_t(3));
  QCOMPARE(palette->colours[0].name, std::string("Tide enamel"));
  QCOMPARE(palette->colours[0].code.z, 71 / 255.0);
  QCOMPARE(palette->colours[1].code, Vec3d(1, 1, 0));
}

void TestColoursFound::palettesThatAreNone() {
  for (const char* text : {"", "RIFF....", "GIMP Palette\nName: empty\n# nothing\n"}) {
    const auto palette = paletteFromText(text, "mine.gpl");
    QVERIFY(!palette.ok() && palette.error().message.find("mine.gpl") != std::string::npos);
  }
}

void TestColoursFound::kelvinIsFoundAgain() {
  for (const double kelvin : {2000.0, 2700.0, 5500.0, 12000.0}) {
    const double found = nearestKelvin(toDouble(kelvinColour(kelvin)) * 3.0);
    QVERIFY2(std::abs(found - kelvin) < 0.002 * kelvin, qPrintable(QString::number(found)));
  }
}

void TestColoursFound::colourAsLitIsTheGroundsOwn_data() {
  QTest::addColumn<Vec3d>("base");
  QTest::addColumn<float>("specular");
  QTest::newRow("matte grey") << Vec3d(0.3) << 0.0f;
  QTest::newRow("red paint") << Vec3d(0.5, 0.08, 0.03) << 1.0f;
  QTest::newRow("shiny blue") << Vec3d(0.02, 0.1, 0.4) << 1.0f;
}

// A slab of a colour, photographed; asked for its colour where a ground is said to be: its own comes back.
void TestColoursFound::colourAsLitIsTheGroundsOwn() {
  QFETCH(Vec3d, base);
  QFETCH(float, specular);
  BsdfParameters real;
  real.base = toFloat(base), real.specular = specular, real.roughness = 0.4f;
  Stage stage(disc(8, 0), real, windows(), lookAt(4, 4, 15, {0, -2, 1}, {0, 0, 0}), false);
  const Rgb seen = traced(stage, 4, 4096).beauty.rgbAt(2, 2);
  stage.scene.place.ground = true;
  const auto found = colourAsLit(stage.scene, real, {2.5, 2.5}, seen);
  QVERIFY(found && found->isPossible());
  for (int c = 0; c < 3; ++c)
    QVERIFY2(std::abs(double(found->base[c]) - base[c]) < 0.004 + 0.02 * base[c],
             qPrintable(QString("%1 against %2").arg(double(found->base[c])).arg(base[c])));
  QVERIFY(found->sigma.y < 0.02f);
  QVERIFY((found->normal - Vec3f(0, 0, 1)).length() < 1e-6f);
  // Brighter than any white: said, not clipped.
  QVERIFY(!colourAsLit(stage.scene, real, {2.5, 2.5}, Rgb(30))->isPossible());
  QVERIFY(!colourAsLit(stage.scene, real, {2.5, -15}, seen));  // above the horizon there is no ground
}

void TestColoursFound::colourAsLitKnowsShadows() {
  Lamp sun;
  sun.elevationDegrees = 45, sun.azimuthDegrees = 180;
  Stage stage(disc(0.1f, -5), black(),
              std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{sun}, Rgb(0.5f)),
              lookAt(16, 16, 60, {2, 2, 2}, {0, 0, 0}), true);
  BsdfParameters matte;
  matte.specular = 0;
  const Rgb seen(0.2f);
  const auto open = colourAsLit(stage.scene, matte, {8, 8}, seen);
  StandIn wall;
  wall.kind = StandInKind::box, wall.positionM = {0, -0.6, 0}, wall.sizeM = {2, 0.1, 2};
  stage.scene.place.add(wall);
  const auto shaded = colourAsLit(stage.scene, matte, {8, 8}, seen);
  QVERIFY(open && shaded);
  QVERIFY2(open->bySun > 0.5f && shaded->bySun < 0.02f,
           qPrintable(QString("%1, %2").arg(double(open->bySun)).arg(double(shaded->bySun))));
  QVERIFY(shaded->base.y > 2 * open->base.y);  // in the shade a lighter paint looks the same
}

void TestColoursFound::patchesAreOfOnePart() {
  BsdfParameters grey;
  Photographed photo(grey, 3);
  const auto patch = fitPatchOf(photo.stage.scene, {0, 0}, {64, 64});
  QVERIFY(patch.ok() && patch->pixels.size() > 120 && patch->pixels.size() == patch->seen.size());
  for (const Vec2d& p : patch->pixels) QVERIFY((p - Vec2d(32, 32)).length() < 32);
  const auto beside = fitPatchOf(photo.stage.scene, {0, 0}, {4, 4});
  QVERIFY(!beside.ok() && beside.error().message.find("larger") != std::string::npos);
  photo.stage.scene.plate = nullptr;
  QVERIFY(!fitPatchOf(photo.stage.scene, {0, 0}, {64, 64}).ok());
}

// A narrow highlight, looked at between the photo's pixels, is not the one that is traced.
void TestColoursFound::patchesAreTracedAsThePhotoSawThem() {
  BsdfParameters lacquer;
  lacquer.base = {0.06f, 0.18f, 0.3f}, lacquer.roughness = 0.6f;
  lacquer.clearcoat = 1, lacquer.clearcoatRoughness = 0.05f;
  Photographed photo(lacquer, 8);
  FitGuess truth{false, true, {0.06, 0.18, 0.3, 0.6, 1, 0.05}};
  for (const int width : {64, 32}) {  // the photo may have more pixels than the camera is told in
    Scene& scene = photo.stage.scene;
    scene.camera = resized(scene.camera, width, width), scene.plateCamera = scene.camera;
    const auto patch = fitPatchOf(scene, {width * 0.1, width * 0.1}, {width * 0.9, width * 0.9});
    QVERIFY(patch.ok());
    QCOMPARE(patch->footprint, width / 64.0);
    const double count = 3.0 * double(patch->seen.size()), left = leftBy(scene, *patch, {}, truth, 256);
    QVERIFY2(left < 4 * count, qPrintable(QString("%1 of %2").arg(left).arg(count)));
    FitPatch beside = *patch;
    for (Vec2d& at : beside.pixels) at += Vec2d(0.5 * width / 64);
    const double farther = leftBy(scene, beside, {}, truth, 256);
    QVERIFY2(farther > 3 * left,
             qPrintable(QString("%1 against %2 of %3").arg(farther).arg(left).arg(count)));
  }
}

void TestColoursFound::surfacesAreFoundAgain_data() {
  QTest::addColumn<Vec3d>("base");
  QTest::addColumn<double>("roughness");
  QTest::addColumn<bool>("metal");
  QTest::addColumn<bool>("coated");
  QTest::newRow("smooth metal") << Vec3d(0.5, 0.52, 0.55) << 0.1 << true << false;
  QTest::newRow("lacquer over matte") << Vec3d(0.06, 0.18, 0.3) << 0.8 << false << true;
}

void TestColoursFound::surfacesAreFoundAgain() {
  QFETCH(Vec3d, base);
  QFETCH(double, roughness);
  QFETCH(bool, metal);
  QFETCH(bool, coated);
  BsdfParameters real;
  real.base = toFloat(base), real.roughness = float(roughness), real.metalness = metal ? 1 : 0;
  real.clearcoat = coated ? 1 : 0, real.clearcoatRoughness = 0.08f;
  const Photographed photo(real, 5);
  const auto patch = fitPatchOf(photo.stage.scene, {4, 4}, {60, 60});
  QVERIFY(patch.ok());
  Progress progress;
  const auto fit = fitSurface(photo.stage.scene, *patch, {}, progress);
  QVERIFY(fit.ok());
  const QString got = QString("colour %1 %2 %3, roughness %4 +- %5, coat %6, metal %7, left %8")
                          .arg(fit->colour[0].value)
                          .arg(fit->colour[1].value)
                          .arg(fit->colour[2].value)
                          .arg(fit->roughness.value)
                          .arg(fit->roughness.sigma)
                          .arg(fit->clearcoat.value)
                          .arg(fit->metalness.value)
                          .arg(fit->error);
  QVERIFY2(fit->metalness.value == (metal ? 1 : 0), qPrintable(got));
  QVERIFY2((fit->clearcoat.value > 0.3) == coated, qPrintable(got));
  QVERIFY2(ciede2000(labOfLinear(fit->surface.baseColour), labOfLinear(base)) < 2, qPrintable(got));
  if (!coated) QVERIFY2(std::abs(fit->roughness.value - roughness) < 0.05, qPrintable(got));
  QVERIFY2(fit->error < 3.5, qPrintable(got));  // the grain of single pixels is in it
  QCOMPARE(fit->fitted.size(), patch->seen.size());
}

void TestColoursFound::fitsCanBeEnded() {
  BsdfParameters grey;
  const Photographed photo(grey, 3);
  const auto patch = fitPatchOf(photo.stage.scene, {0, 0}, {64, 64});
  Progress progress;
  progress.cancel();
  const auto fit = fitSurface(photo.stage.scene, *patch, {}, progress);
  QVERIFY(!fit.ok() && fit.error().kind == ErrorKind::cancelled);
}

DUSK_TEST(TestColoursFound, QGuiApplication);
#include "colours_found.moc"
