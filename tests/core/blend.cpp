#include "core/blend/blend.h"

#include <QtTest>

#include "core/surface/library.h"
#include "core/trace/compile.h"
#include "core/trace/sampler.h"
#include "tests/program.h"

using namespace dusk;

namespace {

/// Passes of one row: untouched, shadowed, half covered, fully covered.
Passes fourPixels() {
  PixelSample untouched(1), shadowed(1), covered(1);
  untouched.light[0].with = untouched.light[0].without = {2, 2, 2};
  shadowed.light[0].with = {1, 0.5f, 0.25f}, shadowed.light[0].without = {2, 2, 2};
  covered.alpha = 1, covered.light[0].part[diffuseDirect] = {0.4f, 0.2f, 0.1f};
  covered.normal = {0, 0, 2}, covered.depth = 3, covered.diffuse = {0.5f, 0.5f, 0.5f};
  Film film(4, 1);
  for (int i = 0; i < 2; ++i) {
    film.add(0, 0, untouched);
    film.add(1, 0, shadowed);
    film.add(2, 0, i ? covered : untouched);
    film.add(3, 0, covered);
  }
  return film.resolve();
}

Picture greyPlate() {
  Picture p = Picture::rgb(4, 1);
  for (float& v : p.pixels) v = 0.5f;
  return p;
}

}  // namespace

class TestBlend : public QObject {
  Q_OBJECT
 private slots:
  void filmResolvesToMeansAndRatios();
  void filmKnowsWhatWasTouched();
  void plateTimesRatioPlusProduct();
  void gainTouchesTheProductAlone();
  void warmthGoesTheRightWay();
  void withoutAPlateTheProductStandsOnBlack();
  void displayOfUntouchedPixelsIsTheShownPlate();
  void presetsKeepTheirPromises();
  void partsWithoutASurfaceShowTheFile();
};

void TestBlend::filmResolvesToMeansAndRatios() {
  const Passes p = fourPixels();
  QCOMPARE(p.alpha.pixels, (std::vector<float>{0, 0, 0.5f, 1}));
  QVERIFY(p.ratio.rgbAt(0, 0) == Rgb(1));
  QVERIFY(p.ratio.rgbAt(1, 0) == Rgb(0.5f, 0.25f, 0.125f));
  QVERIFY(p.ratio.rgbAt(2, 0) == Rgb(1));  // of its ground half alone
  QVERIFY(p.ratio.rgbAt(3, 0) == Rgb(1));  // no ground seen: nothing to change
  QVERIFY(p.beauty.rgbAt(2, 0) == Rgb(0.2f, 0.1f, 0.05f));
  QVERIFY(p.normal.rgbAt(2, 0) == Vec3f(0, 0, 1));
  QVERIFY(p.normal.rgbAt(0, 0) == Vec3f(0, 0, 0));
  QCOMPARE(p.depth.pixels, (std::vector<float>{0, 0, 3, 3}));
}

void TestBlend::filmKnowsWhatWasTouched() {
  Film film(3, 1);
  PixelSample same(1), less(1), product(1);
  same.light[0].with = same.light[0].without = {1, 1, 1};
  less.light[0].with = {1, 1, 0.999f}, less.light[0].without = {1, 1, 1};
  product.alpha = 1;
  film.add(0, 0, same), film.add(1, 0, less), film.add(2, 0, product);
  QVERIFY(!film.influenced(0, 0));
  QVERIFY(film.influenced(1, 0));
  QVERIFY(film.influenced(2, 0));
}

void TestBlend::plateTimesRatioPlusProduct() {
  const Picture plate = greyPlate();
  const Picture out = blend(Shot{}, fourPixels(), &plate);
  QVERIFY(out.rgbAt(0, 0) == Rgb(0.5f));
  QVERIFY(out.rgbAt(1, 0) == Rgb(0.25f, 0.125f, 0.0625f));
  QVERIFY((out.rgbAt(2, 0) - Rgb(0.45f, 0.35f, 0.30f)).length() < 1e-6f);
  QVERIFY((out.rgbAt(3, 0) - Rgb(0.4f, 0.2f, 0.1f)).length() < 1e-6f);
}

void TestBlend::gainTouchesTheProductAlone() {
  const Picture plate = greyPlate();
  Shot shot;
  shot.blend.exposureEv = 2;
  const Picture out = blend(shot, fourPixels(), &plate);
  QVERIFY(out.rgbAt(0, 0) == Rgb(0.5f));
  QVERIFY(out.rgbAt(1, 0) == Rgb(0.25f, 0.125f, 0.0625f));
  QVERIFY((out.rgbAt(3, 0) - Rgb(1.6f, 0.8f, 0.4f)).length() < 1e-5f);
}

void TestBlend::warmthGoesTheRightWay() {
  BlendSettings b;
  QVERIFY((productGain(b) - Rgb(1)).length() < 1e-6f);
  b.warmth = 0.8;
  const Rgb warm = productGain(b);
  b.warmth = -0.8;
  const Rgb cool = productGain(b);
  QVERIFY(warm.x > 1.05f && warm.z < 0.95f);
  QVERIFY(cool.z > 1.05f && cool.x < 0.95f);
  // Warmth shifts colour, not brightness.
  QVERIFY(std::abs(luminance(warm) - 1) < 0.03f && std::abs(luminance(cool) - 1) < 0.03f);
}

void TestBlend::withoutAPlateTheProductStandsOnBlack() {
  const Picture out = blend(Shot{}, fourPixels(), nullptr);
  QVERIFY(out.rgbAt(0, 0) == Rgb(0));
  QVERIFY((out.rgbAt(3, 0) - Rgb(0.4f, 0.2f, 0.1f)).length() < 1e-6f);
}

void TestBlend::displayOfUntouchedPixelsIsTheShownPlate() {
  const auto view = ColourView::make("plain sRGB");
  const Picture plate = greyPlate();
  Picture shown = greyPlate();
  shown.pixels[0] = 0.123f;  // not what the view would make of 0.5: it must come out all the same
  const Picture out = blendForDisplay(Shot{}, fourPixels(), &plate, &shown, **view);
  QCOMPARE(out.pixels[0], 0.123f);
  QVERIFY(std::abs(out.at(1, 0)[0] - 0.5371f) < 1e-3f);  // sRGB code of 0.25
}

void TestBlend::presetsKeepTheirPromises() {
  std::set<std::string> ids, names;
  for (const LibrarySurface& entry : surfaceLibrary()) {
    const Surface& s = entry.surface;
    QVERIFY(ids.insert(s.id).second && names.insert(s.name).second);
    QVERIFY(s.id.starts_with("preset-"));
    for (double share : {s.metalness, s.roughness, s.transmission, s.clearcoat, s.clearcoatRoughness,
                         s.baseColour.x, s.baseColour.y, s.baseColour.z})
      QVERIFY(share >= 0 && share <= 1);
    QVERIFY(s.ior >= 1 && s.ior < 3);
    // In the light, none returns more than it gets.
    const Bsdf bsdf(parametersOf(s), Vec3f(0.5f, 0, 0.866f));
    Rgb sum(0);
    for (uint32_t i = 0; i < 4000; ++i) {
      Sampler sampler(1, 2, 0, i);
      const Vec2f u = sampler.next2();
      const auto drawn = bsdf.sample(u, sampler.next1());
      if (drawn.pdf > 0) sum += drawn.weight.sum() / 4000.0f;
    }
    QVERIFY2(maxComponent(sum) <= 1.03f, s.name.c_str());
  }
  QVERIFY(ids.size() >= 90);
}

void TestBlend::partsWithoutASurfaceShowTheFile() {
  FileMaterial part;
  part.colour = {0.1f, 0.2f, 0.3f};
  const BsdfParameters p = parametersOf(surfaceFromFile(part));
  QVERIFY((p.base - part.colour).length() < 1e-6f);
  QCOMPARE(p.metalness, 0.0f);
}

DUSK_TEST(TestBlend, NoApplication);
#include "blend.moc"
