#include <QtTest>
#include <random>

#include "core/colour/view.h"
#include "core/deliver/deliver.h"
#include "core/trace/bsdf.h"
#include "core/trace/denoise.h"
#include "tests/program.h"
#include "tests/stage.h"

using namespace dusk;

namespace {

/// Green of the fully covered pixels; NaN when there are hardly any.
double meanWhereCovered(const Passes& passes) {
  double sum = 0, cover = 0;
  for (size_t i = 0; i < passes.alpha.pixels.size(); ++i)
    if (passes.alpha.pixels[i] == 1) sum += passes.beauty.pixels[i * 3 + 1], cover += 1;
  return cover > 500 ? sum / cover : std::nan("");
}

}  // namespace

class TestTrace : public QObject {
  Q_OBJECT
 private slots:
  void bsdfLaws_data();
  void bsdfLaws();
  void whiteThingsDisappearInAWhiteFurnace_data();
  void whiteThingsDisappearInAWhiteFurnace();
  void catcherUnderADiscAgainstTheClosedForm();
  void catcherUnderAHalfHiddenSun();
  void farGroundStaysExactlyOne();
  void glassPaneLetsThroughWhatFresnelSays();
  void lampsGiveTheGroundWhatTheClosedFormsSay_data();
  void lampsGiveTheGroundWhatTheClosedFormsSay();
  void emittingPartLightsLikeALamp();
  void componentsAndGroupsAddUp();
  void clothDoesNotShineMoreThanItGets();
  void dyedGlassTakesWhatItsDepthSays();
  void wetGroundMirrorsTheProduct();
  void noiseTargetEndsEarly();
  void denoisingComesNearerTheTruth();
  void threadsAndStepsDoNotMatter();
  void cancelledAtOnce();
};

void TestTrace::bsdfLaws_data() {
  QTest::addColumn<float>("metalness");
  QTest::addColumn<float>("roughness");
  QTest::addColumn<float>("clearcoat");
  for (float metalness : {0.0f, 1.0f, 0.5f})
    for (float roughness : {0.25f, 0.6f, 1.0f})
      for (float coat : {0.0f, 1.0f})
        QTest::addRow("metal %g rough %g coat %g", double(metalness), double(roughness), double(coat))
            << metalness << roughness << coat;
}

// Density integrates to at most one; sampling agrees with it; no more light leaves than comes; and without
// the coat (whose layering is one-sided) values are reciprocal.
void TestTrace::bsdfLaws() {
  QFETCH(float, metalness);
  QFETCH(float, roughness);
  QFETCH(float, clearcoat);
  BsdfParameters p;
  p.base = {0.9f, 0.6f, 0.3f}, p.metalness = metalness, p.roughness = roughness, p.clearcoat = clearcoat,
  p.clearcoatRoughness = 0.3f;
  for (const Vec3f& wo : {Vec3f(0, 0, 1), Vec3f(0.6f, 0, 0.8f), Vec3f(0.5f, 0.8f, 0.33f).normalized()}) {
    const Bsdf bsdf(p, wo);
    double density = 0;
    Vec3d out(0, 0, 0), drawn(0, 0, 0);
    constexpr int n = 256, samples = 60000;
    for (int i = 0; i < n; ++i)
      for (int k = 0; k < 2 * n;
           ++k) {  // even steps of both angles: narrow lobes near the pole stay resolved
        const float theta = pif / 2 * (i + 0.5f) / n, z = std::cos(theta), r = std::sin(theta),
                    a = 2 * pif * (k + 0.5f) / (2 * n);
        const Vec3f wi(r * std::cos(a), r * std::sin(a), z);
        const double cell = (pi / 2 / n) * (2 * pi / (2 * n)) * r;
        density += bsdf.pdf(wi) * cell;
        out += toDouble(bsdf.value(wi).sum()) * cell;
        if (metalness == 0 && clearcoat == 0 && i % 50 == 7 && k % 60 == 3) {
          const Rgb forth = bsdf.value(wi).sum() / wi.z, back = Bsdf(p, wi).value(wo).sum() / wo.z;
          QVERIFY((forth - back).length() < 0.02f * forth.length() + 1e-4f);
        }
      }
    for (int i = 0; i < samples; ++i) {
      Sampler s(5, 7, 0, uint32_t(i));
      const Vec2f u = s.next2();
      const auto sample = bsdf.sample(u, s.next1());
      if (sample.pdf <= 0) continue;
      drawn += toDouble(sample.weight.sum()) / samples;
      if (i % 1000 == 0) QVERIFY(std::abs(sample.pdf - bsdf.pdf(sample.wi)) <= 1e-3f * sample.pdf);
    }
    QVERIFY2(density < 1.01, qPrintable(QString::number(density)));
    for (int c = 0; c < 3; ++c) {
      QVERIFY2(out[c] < 1.01, qPrintable(QString::number(out[c])));
      QVERIFY2(std::abs(out[c] - drawn[c]) < 0.012,
               qPrintable(QString("%1 integrated, %2 drawn").arg(out[c]).arg(drawn[c])));
    }
  }
}

void TestTrace::whiteThingsDisappearInAWhiteFurnace_data() {
  QTest::addColumn<float>("metalness");
  QTest::addColumn<float>("roughness");
  QTest::addColumn<float>("ior");
  QTest::newRow("matte") << 0.0f << 1.0f << 1.0f;
  QTest::newRow("plastic") << 0.0f << 0.5f << 1.5f;
  QTest::newRow("glossy plastic") << 0.0f << 0.1f << 1.5f;
  QTest::newRow("nearly of no index") << 0.0f << 0.3f << 1.05f;
  QTest::newRow("wet") << 0.0f << 0.2f << 1.33f;
  QTest::newRow("dense") << 0.0f << 0.3f << 2.4f;
  QTest::newRow("rough metal") << 1.0f << 0.9f << 1.5f;
  QTest::newRow("mirror") << 1.0f << 0.05f << 1.5f;
}

void TestTrace::whiteThingsDisappearInAWhiteFurnace() {
  QFETCH(float, metalness);
  QFETCH(float, roughness);
  QFETCH(float, ior);
  BsdfParameters white;
  white.base = {1, 1, 1}, white.metalness = metalness, white.roughness = roughness, white.ior = ior;
  Stage stage(sphere(1), white, evenSky(), lookAt(48, 48, 90, {0, -4, 1}, {0, 0, 0}), false);
  const Passes passes = traced(stage, 48, 256);
  const double mean = meanWhereCovered(passes);
  QVERIFY2(std::abs(mean - 1) < 0.005, qPrintable(QString::number(mean)));
}

// A black disc of radius R at height h over a ground lit by an even sky takes the share R^2 / (R^2 + h^2)
// from the point below its middle.
void TestTrace::catcherUnderADiscAgainstTheClosedForm() {
  for (const float height : {0.3f, 0.8f, 2.0f}) {
    Camera camera = lookAt(9, 9, 9 * 40, {0, -3, 0.2}, {0, 0, 0});
    Stage stage(disc(0.5f, height), black(), evenSky(), camera, true);
    const Passes passes = traced(stage, 9, 1500);
    const double ratio = passes.ratio.at(4, 4)[1], expected = height * height / (0.25 + height * height);
    QVERIFY2(std::abs(ratio - expected) < 0.01,
             qPrintable(QString("%1 m: %2 against %3").arg(double(height)).arg(ratio).arg(expected)));
  }
}

// A sun of known disc, its lower part hidden behind a straight edge: what is left is a circular segment.
void TestTrace::catcherUnderAHalfHiddenSun() {
  Lamp sun;
  sun.azimuthDegrees = 0, sun.elevationDegrees = 45, sun.discDegrees = 4;
  const auto lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{sun}, Rgb(0));
  const double radius = radians(2.0);
  for (const double above :
       {-0.5, 0.0, 0.4}) {  // the edge's height over the sun's middle, in radii of the disc
    const double elevation = radians(45) + above * radius, y = 2.0, top = y * std::tan(elevation);
    Camera camera = lookAt(5, 5, 5 * 400, {0, -2, 2}, {0, 0, 0});
    Stage stage(uprightSheet(-50, 50, float(y), float(top)), black(), lights, camera, true);
    const Passes passes = traced(stage, 5, 4000);
    const double expected = (std::acos(above) - above * std::sqrt(1 - above * above)) / pi;
    QVERIFY2(std::abs(passes.ratio.at(2, 2)[1] - expected) < 0.012,
             qPrintable(QString("%1: %2 against %3").arg(above).arg(passes.ratio.at(2, 2)[1]).arg(expected)));
  }
}

void TestTrace::farGroundStaysExactlyOne() {
  Lamp sun;
  sun.elevationDegrees = 60;
  const auto lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{sun}, Rgb(0));
  Stage stage(disc(0.2f, 0.3f), black(), lights, lookAt(64, 64, 60, {0, -3, 2}, {0, 0, 0}), true);
  const Passes passes = traced(stage, 64, 16);
  int shadowed = 0, exact = 0;
  for (size_t i = 0; i < passes.ratio.pixels.size(); i += 3)
    exact += passes.ratio.pixels[i] == 1.0f, shadowed += passes.ratio.pixels[i] < 0.9f;
  QVERIFY(shadowed > 3);
  QVERIFY(exact > 3000);
}

void TestTrace::glassPaneLetsThroughWhatFresnelSays() {
  // A pane seen straight on before an even sky: what passes both sides, plus what they send back, is all of
  // it.
  Mesh pane;
  const auto side = [&](float y, float facing) {
    const auto first = uint32_t(pane.positions.size());
    for (const auto& [x, z] : {std::pair(-5.f, -5.f), {5.f, -5.f}, {5.f, 5.f}, {-5.f, 5.f}})
      pane.positions.push_back({x, y, z}), pane.normals.push_back({0, facing, 0});
    for (uint32_t i : {0u, 1u, 2u, 0u, 2u, 3u})
      pane.indices.push_back(first + (facing < 0 ? i : (3 - i) % 4 == 3 ? 3 : (3 - i)));
  };
  side(0, -1), side(0.1f, 1);
  BsdfParameters glass;
  glass.base = {1, 1, 1}, glass.transmission = 1, glass.roughness = 0, glass.ior = 1.5f;
  Stage stage(pane, glass, evenSky(), lookAt(8, 8, 40, {0, -3, 0}, {0, 0, 0}), false);
  const Passes passes = traced(stage, 8, 400);
  QVERIFY2(std::abs(passes.beauty.at(4, 4)[1] - 1) < 0.01f,
           qPrintable(QString::number(passes.beauty.at(4, 4)[1])));
  QVERIFY(std::abs(dielectricReflectance(1, 1 / 1.5f) - 0.04f) < 1e-4f);
  QCOMPARE(dielectricReflectance(0.2f, 1.5f), 1.0f);
}

void TestTrace::lampsGiveTheGroundWhatTheClosedFormsSay_data() {
  QTest::addColumn<int>("kind");
  QTest::addColumn<double>("expected");
  const double r = 0.4, h = 1.3;
  // Irradiance for a radiance of one, straight below: disc and sphere (Howell, "A Catalog of Radiation Heat
  // Transfer Configuration Factors"), times pi.
  QTest::newRow("disc") << int(LampKind::disc) << pi * r * r / (h * h + r * r);
  QTest::newRow("sphere") << int(LampKind::sphere) << pi * r * r / (h * h);
  const double x = 0.3 / h, y = 0.5 / h, a = x / std::sqrt(1 + x * x), b = y / std::sqrt(1 + y * y);
  QTest::newRow("rectangle") << int(LampKind::area)
                             << 4 * 0.5 *
                                    (a * std::atan(y / std::sqrt(1 + x * x)) +
                                     b * std::atan(x / std::sqrt(1 + y * y)));
}

void TestTrace::lampsGiveTheGroundWhatTheClosedFormsSay() {
  QFETCH(int, kind);
  QFETCH(double, expected);
  Lamp lamp;
  lamp.kind = LampKind(kind), lamp.kelvin = 6504, lamp.radiusM = 0.4, lamp.widthM = 0.6, lamp.heightM = 1.0;
  lamp.positionM = {0, 0, 1.3}, lamp.targetM = {0, 0, 0};
  const Lights lights(nullptr, {}, {lamp}, Rgb(0));
  double drawn = 0;
  constexpr int n = 1 << 14;
  for (int i = 0; i < n; ++i) {
    Sampler s(3, 1, 2, uint32_t(i), 14);
    const Vec2f u = s.next2();
    const LightSample light = lights.sample({0, 0, 0}, u, s.next1());
    if (light.pdf > 0) drawn += luminance(light.radiance()) * light.direction.z / light.pdf / n;
  }
  const double white = luminance(kelvinColour(6504));
  QVERIFY2(std::abs(drawn / white - expected) < 0.005 * expected,
           qPrintable(QString("%1 against %2").arg(drawn / white).arg(expected)));
}

// A glowing disc over the ground: as bright below as the closed form, found by both samplers together.
void TestTrace::emittingPartLightsLikeALamp() {
  BsdfParameters glow = black();
  glow.emission = Rgb(2);
  std::vector<EmittingTriangle> emitters;
  // It shines downwards: the outside of its triangles is turned that way.
  Mesh down = disc(0.5f, 0.8f);
  for (size_t t = 0; t < down.indices.size(); t += 3) std::swap(down.indices[t + 1], down.indices[t + 2]);
  for (Vec3f& n : down.normals) n = -n;
  Stage lit(down, glow, evenSky(), lookAt(9, 9, 9 * 40, {0, -3, 0.2}, {0, 0, 0}), true);
  for (size_t t = 0; t < down.indices.size(); t += 3)
    emitters.push_back({down.positions[down.indices[t]], down.positions[down.indices[t + 1]],
                        down.positions[down.indices[t + 2]], Rgb(2)});
  lit.scene.lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{}, Rgb(1), emitters);
  const Passes passes = traced(lit, 9, 1500);
  const double share = 0.25 / (0.25 + 0.64), expected = 1 - share + 2 * share;
  QVERIFY2(std::abs(passes.ratio.at(4, 4)[1] - expected) < 0.015,
           qPrintable(QString("%1 against %2").arg(passes.ratio.at(4, 4)[1]).arg(expected)));
}

void TestTrace::componentsAndGroupsAddUp() {
  BsdfParameters p;
  p.base = {0.6f, 0.3f, 0.2f}, p.roughness = 0.3f, p.clearcoat = 1, p.transmission = 0.3f;
  Lamp lamp, sun;
  lamp.id = "lamp", lamp.kind = LampKind::sphere, lamp.positionM = {1, -1, 1.5}, lamp.powerEv = 3;
  sun.id = "sun";
  Stage stage(sphere(0.4f), p,
              std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{lamp, sun}, Rgb(0.5f)),
              lookAt(32, 32, 50, {0, -3, 1}, {0, 0, 0}), true);
  stage.scene.place.gloss.strength = 0.5f;
  Film film(32, 32, stage.scene.lights->groups());
  Progress progress;
  QVERIFY(render(stage.scene, film, 16, progress));
  QCOMPARE(film.groups(), (std::vector<std::string>{"surroundings", "lamp", "sun"}));
  for (const Passes& passes : {film.resolve(true), denoised(film, 1, progress, true)})
    for (size_t i = 0; i < passes.beauty.pixels.size(); ++i) {
      float sum = 0, with = 0, without = 0;
      for (const GroupPasses& g : passes.groups) {
        for (const Picture& part : g.part) sum += part.pixels[i];
        QVERIFY(std::isfinite(sum));
        with += g.with.pixels[i], without += g.without.pixels[i];
      }
      QVERIFY(std::abs(sum - passes.beauty.pixels[i]) <= 1e-4f * (1 + sum));
      if (without > 0) QVERIFY(std::abs(with / without - passes.ratio.pixels[i]) < 1e-3f);
    }
}

void TestTrace::clothDoesNotShineMoreThanItGets() {
  BsdfParameters white;
  white.base = {1, 1, 1}, white.roughness = 1, white.ior = 1, white.sheen = 1, white.sheenRoughness = 0.5f;
  Stage stage(sphere(1), white, evenSky(), lookAt(48, 48, 90, {0, -4, 1}, {0, 0, 0}), false);
  const Passes passes = traced(stage, 48, 256);
  const double mean = meanWhereCovered(passes);
  QVERIFY2(std::abs(mean - 1) < 0.005, qPrintable(QString::number(mean)));
}

void TestTrace::dyedGlassTakesWhatItsDepthSays() {
  // Through the middle of a ball of index one: nothing is bent or mirrored, only taken on the way.
  BsdfParameters dyed;
  dyed.base = {1, 1, 1}, dyed.transmission = 1, dyed.ior = 1, dyed.roughness = 0;
  dyed.absorption = {0.2f, 0.5f, 1.0f};
  Stage stage(sphere(0.5f), dyed, evenSky(), lookAt(3, 3, 300, {0, -3, 0}, {0, 0, 0}), false);
  const Rgb seen = traced(stage, 3, 64).beauty.rgbAt(1, 1);
  for (int c = 0; c < 3; ++c) QVERIFY(std::abs(seen[c] - std::exp(-dyed.absorption[c])) < 0.01f);
}

void TestTrace::wetGroundMirrorsTheProduct() {
  // A white wall that glows, behind ground that mirrors: the reflection appears as light added before it.
  BsdfParameters glow = black();
  glow.emission = Rgb(4);
  Stage stage(uprightSheet(-2, 2, 1, 2), glow, evenSky(), lookAt(9, 9, 40, {0, -2, 0.6}, {0, 0, 0}), true);
  const Passes dry = traced(stage, 9, 64);
  QVERIFY(dry.reflection.empty());
  stage.scene.place.gloss = {1, 0.02f, 1.5f};
  const Passes wet = traced(stage, 9, 256);
  // The mirror shows 4 in place of the sky's 1, by what Fresnel lets it.
  const Vec3d down = (Vec3d(0, 0, 0) - Vec3d(0, -2, 0.6)).normalized();
  const double expected = 3 * dielectricReflectance(float(-down.z), 1 / 1.5f);
  QVERIFY2(std::abs(wet.reflection.at(4, 4)[1] - expected) < 0.12 * expected,
           qPrintable(QString("%1 against %2").arg(wet.reflection.at(4, 4)[1]).arg(expected)));
}

void TestTrace::noiseTargetEndsEarly() {
  BsdfParameters p;
  Stage stage(sphere(0.4f), p, evenSky(), lookAt(64, 48, 60, {0, -3, 1}, {0, 0, 0}), true);
  stage.scene.noiseTarget = 0.05f;
  Film film(64, 48);
  Progress progress;
  QVERIFY(render(stage.scene, film, 4096, progress));
  QVERIFY2(film.passesDone >= 16 && film.passesDone < 1024, qPrintable(QString::number(film.passesDone)));
  // What the denoiser takes out need not be sampled away.
  stage.scene.noiseTarget = 0.02f;
  Film clean(64, 48), raw(64, 48);
  QVERIFY(render(stage.scene, clean, 512, progress));
  stage.scene.denoise = 0;
  QVERIFY(render(stage.scene, raw, 512, progress));
  const auto samples = [](const Film& f) {
    double sum = 0;
    for (int i = 0; i < 64 * 48; ++i)
      if (const Film::Pixel* p = f.pixel(i % 64, i / 64)) sum += double(p->count);
    return sum;
  };
  QVERIFY2(samples(raw) > 1.3 * samples(clean),
           qPrintable(QString("%1 and %2").arg(samples(raw)).arg(samples(clean))));
}

void TestTrace::denoisingComesNearerTheTruth() {
  BsdfParameters p;
  p.base = {0.7f, 0.4f, 0.2f}, p.clearcoat = 1, p.roughness = 0.4f;
  Lamp lamp;
  lamp.kind = LampKind::sphere, lamp.positionM = {1, -1, 1.5}, lamp.powerEv = 4;
  Stage stage(sphere(0.4f), p,
              std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{lamp}, Rgb(0.5f)),
              lookAt(96, 96, 190, {0, -3, 1}, {0, 0, 0}), true);
  Progress progress;
  const auto film = [&](int samples, uint32_t seed) {
    stage.scene.seed = seed, stage.scene.samples = samples;
    auto f = std::make_unique<Film>(96, 96, stage.scene.lights->groups());
    (void)render(stage.scene, *f, samples, progress);
    return f;
  };
  const Passes truth = film(768, 9)->resolve();
  const auto noisy = film(16, 1);
  const auto error = [&](const Passes& is) {
    double sum = 0;
    for (size_t i = 0; i < truth.beauty.pixels.size(); ++i)
      sum += std::pow(is.beauty.pixels[i] - truth.beauty.pixels[i], 2) /
                 (std::pow(truth.beauty.pixels[i], 2) + 0.01) +
             std::pow(is.ratio.pixels[i] - truth.ratio.pixels[i], 2);
    return sum;
  };
  const double before = error(noisy->resolve()), after = error(denoised(*noisy, 1, progress));
  QVERIFY2(after < 0.7 * before, qPrintable(QString("%1 from %2").arg(after).arg(before)));
  QVERIFY(denoised(*noisy, 0, progress).beauty == noisy->resolve().beauty);

  // How far off it is, as told without the truth, beside how far it is, of what shows over a grey photo. Told
  // on the safe side: evenly spread samples are nearer to the truth than their scatter says.
  for (const double strength : {1.0, 0.5}) {
    const Passes is = denoised(*noisy, strength, progress);
    double told = 0, so = 0;
    for (const float e : expectedErrors(*noisy, strength, noisy->windowed())) told += e;
    for (int y = 0; y < 96; ++y)
      for (int x = 0; x < 96; ++x) {
        const Film::Pixel* p = noisy->pixel(x, y);
        if (!p || p->count < 1) continue;
        const auto shown = [&](const Passes& of) {
          return luminance(of.beauty.rgbAt(x, y)) +
                 (1 - of.alpha.at(x, y)[0]) * 0.4f * luminance(of.ratio.rgbAt(x, y));
        };
        so += std::pow((shown(is) - shown(truth)) / Film::shown(*p), 2);
      }
    QVERIFY2(told > 0.8 * so && told < 5 * so, qPrintable(QString("%1 told, %2 so").arg(told).arg(so)));
  }
}

void TestTrace::threadsAndStepsDoNotMatter() {
  BsdfParameters p;
  p.base = {0.7f, 0.4f, 0.2f}, p.clearcoat = 1;
  Stage stage(sphere(0.4f), p, evenSky(), lookAt(48, 32, 50, {0, -3, 1}, {0, 0, 0}), true);
  Progress progress;
  Film all(48, 32), steps(48, 32), alone(48, 32);
  QVERIFY(render(stage.scene, all, 12, progress));
  for (int n : {1, 5, 9, 12}) QVERIFY(render(stage.scene, steps, n, progress));
  {
    const ThreadLimit one(1);
    QVERIFY(render(stage.scene, alone, 12, progress));
  }
  const Passes a = all.resolve(), b = steps.resolve(), c = alone.resolve();
  QVERIFY(a.beauty == b.beauty && a.ratio == b.ratio && a.normal == b.normal && a.depth == b.depth);
  QVERIFY(a.beauty == c.beauty && a.ratio == c.ratio && a.albedo == c.albedo && a.alpha == c.alpha);
}

void TestTrace::cancelledAtOnce() {
  Stage stage(sphere(0.4f), BsdfParameters{}, evenSky(), lookAt(1600, 1000, 1500, {0, -3, 1}, {0, 0, 0}),
              true);
  Film film(1600, 1000);
  Progress progress;
  std::thread later([&] {
    std::this_thread::sleep_for(std::chrono::milliseconds(100));
    progress.cancel();
  });
  QVERIFY(!render(stage.scene, film, 100000, progress));
  later.join();
}

DUSK_TEST(TestTrace, NoApplication);
#include "trace.moc"
