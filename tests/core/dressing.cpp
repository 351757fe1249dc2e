#include <QtTest>

#include "core/deliver/gather.h"
#include "core/product/revise.h"
#include "core/project/changes.h"
#include "core/project/clip.h"
#include "core/project/feed_kinds.h"
#include "core/project/file.h"
#include "core/project/links.h"
#include "core/surface/edit.h"
#include "core/surface/library.h"
#include "core/trace/compile.h"
#include "core/trace/geometry_probe.h"
#include "core/trace/integrator.h"
#include "core/trace/sampler.h"
#include "core/vantage/camera.h"
#include "tests/core/sheet.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

/// A level sheet of 100 mm below a glowing one, looked at aslant.
struct Lit {
  GeometryCache cache;
  std::shared_ptr<Model> model = std::make_shared<Model>();
  Product product;
  Scene scene;

  explicit Lit(const Surface& floor, const Surface& above, const Rgb& sky = Rgb(0)) {
    const auto sheet = [&](const char* name, float half, float z, bool down) {
      Mesh mesh;
      for (const Vec2f& c : {Vec2f(-1, -1), Vec2f(1, -1), Vec2f(1, 1), Vec2f(-1, 1)})
        mesh.positions.push_back({c.x * half, c.y * half, z}),
            mesh.normals.push_back({0, 0, down ? -1.0f : 1.0f});
      mesh.indices = down ? std::vector<uint32_t>{0, 2, 1, 0, 3, 2} : std::vector<uint32_t>{0, 1, 2, 0, 2, 3};
      model->add({name, name}, std::move(mesh));
    };
    sheet("floor", 0.05f, 0, false), sheet("above", 0.04f, 0.08f, true);
    model->metresPerUnit = product.metresPerUnit = 1;
    scene.geometry = std::make_shared<PlacedGeometry>(
        cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(model, {}), Similarity{}}});
    scene.probe = std::make_shared<GeometryProbe>(scene.geometry);
    const auto shapes = cache.shapes(model);
    auto& materials = scene.materials.emplace_back();
    std::vector<EmittingTriangle> emitters;
    for (size_t i = 0; i < 2; ++i) {
      const Surface& s = i ? above : floor;
      const Mesh& mesh = model->meshes[i];
      materials.push_back(std::make_shared<MadeSurface>(
          layerOf(s, {}), std::vector<Decal>{}, mesh,
          factsOf(model->parts[i], shapes->parts[i], product, shapes->whole, 0), 1000, FindTexture{}));
      scene.unevenGlow |= materials.back()->emitsUnevenly();
      const Rgb glow = materials.back()->emission();
      for (size_t t = 0; maxComponent(glow) > 0 && t < 6; t += 3)
        emitters.push_back({mesh.positions[mesh.indices[t]], mesh.positions[mesh.indices[t + 1]],
                            mesh.positions[mesh.indices[t + 2]], glow});
    }
    scene.lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{}, sky, emitters);
    scene.camera = lookAt(16, 16, 24, {0, -0.3, 0.04}, {0, 0, 0});
    scene.place.ground = false;
    scene.samples = 256;
  }
  Rgb mean(int samples = 600) const {
    const Integrator integrator(scene);
    Rgb sum(0);
    for (int i = 0; i < samples; ++i) sum += integrator.sample(8, 8, uint32_t(i)).beauty();
    return sum / float(samples);
  }
};

Surface grey(double base) {
  Surface s;
  s.baseColour = Vec3d(base), s.roughness = 1, s.specular = 0;
  return s;
}
Surface glowing(double radiance) {
  Surface s = grey(0);
  s.emission = Vec3d(radiance);
  return s;
}

}  // namespace

/// Dressed parts in the tracer, and surfaces and prints in all that is done with a project.
class TestDressing : public QObject {
  Q_OBJECT
 private slots:
  void aPlainFeedIsTheValueItself();
  void glowByFeedsLightsAsMuch();
  void unevenGlowLightsByItsMean();
  void glowThatIsHiddenIsAskedOfNobody();
  void glowIsNotInItsOwnWay();
  void bumpsOfNothingChangeNothing();
  void wornPartsAreDrawnTheSameTwice();
  void opaquePartsCastWholeShadows();
  void surfacesNeverBuildGeometry();
  void linksAreFoundEverywhere();
  void clipsTakeThePicturesAlong();
  void revisionsKeepThePrints();
  void gatheredPicturesComeAlong();
  void notesNameTheMissingPicture();
};

void TestDressing::aPlainFeedIsTheValueItself() {
  Surface fed = grey(0.1);
  fed.feeds[SurfaceValue::baseColour] = {plain(0.6)};
  const Lit by(fed, grey(0), Rgb(1)), itself(grey(0.6), grey(0), Rgb(1));
  QVERIFY(by.mean(64) == itself.mean(64));  // the same samples, the same light
}

void TestDressing::glowByFeedsLightsAsMuch() {
  Surface fed = glowing(0);
  Feed even = plain(4);
  fed.feeds[SurfaceValue::emission] = {even};
  const float by = Lit(grey(0.7), fed).mean().x, itself = Lit(grey(0.7), glowing(4)).mean().x;
  QVERIFY2(itself > 0.1f, qPrintable(QString::number(double(itself))));
  QVERIFY2(std::abs(by / itself - 1) < 0.01f, qPrintable(QString("%1 %2").arg(by).arg(itself)));
}

void TestDressing::unevenGlowLightsByItsMean() {
  // Fine stripes, half of them bright: from afar as an even sheet of half the light.
  Surface striped = glowing(0);
  Feed f = newFeed(FeedKind::stripes);
  f.sizeMm = 4, f.mapping.kind = MappingKind::flat, f.high = Vec3d(8);
  striped.feeds[SurfaceValue::emission] = {f};
  const float by = Lit(grey(0.7), striped).mean(3000).x, itself = Lit(grey(0.7), glowing(4)).mean(3000).x;
  QVERIFY2(std::abs(by / itself - 1) < 0.04f, qPrintable(QString("%1 %2").arg(by).arg(itself)));
}

void TestDressing::glowThatIsHiddenIsAskedOfNobody() {
  // The part that gives off light is hidden: what is drawn comes from the sky, however far that is.
  Lit lit(grey(0.7), glowing(0));
  lit.scene.lights = std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{}, Rgb(1));
  const Rgb plain = lit.mean(64);
  lit.scene.unevenGlow = true;
  QVERIFY(lit.mean(64) == plain && std::isfinite(plain.x) && plain.x > 0);
}

void TestDressing::glowIsNotInItsOwnWay() {
  // A large sheet above, however near, sends what a square of that size at that height does: the form factor
  // of a square over the middle of it (Howell, "A Catalog of Radiation Heat Transfer Configuration Factors").
  const Lit lit(grey(1), glowing(2));
  double irradiance = 0;
  constexpr int many = 40'000;
  int drawn = 0;
  for (int i = 0; i < many; ++i) {
    Sampler sampler(3, i & 255, i >> 8, 0);
    const Vec2f u = sampler.next2();
    const LightSample light = lit.scene.lights->sample(Vec3f(0), {0, 0, 1}, u, sampler.next1());
    if (light.pdf <= 0) continue;
    ++drawn;
    QVERIFY(!lit.scene.geometry->anything({Vec3f(0, 0, 2e-5f), light.direction}, light.distance));
    irradiance += double(light.radiance().x * light.direction.z / light.pdf) / many;
  }
  QVERIFY(drawn > many / 2);
  const double x = 0.04 / 0.08, a = x / std::sqrt(1 + x * x);
  const double factor = 4 / pi * a * std::atan(a) / 1;  // four quarters, two like terms each over 2
  QVERIFY2(std::abs(irradiance / (2 * pi * factor) - 1) < 0.03,
           qPrintable(QString("%1 %2").arg(irradiance).arg(2 * pi * factor)));
}

void TestDressing::bumpsOfNothingChangeNothing() {
  Surface flat = grey(0.5);
  Feed f = newFeed(FeedKind::cloud);
  f.join = FeedJoin::add, f.high = Vec3d(0);
  flat.feeds[SurfaceValue::bump] = {f};
  QVERIFY((Lit(flat, grey(0), Rgb(1)).mean(64) - Lit(grey(0.5), grey(0), Rgb(1)).mean(64)).length() < 1e-5f);
  // And some of it changes how light falls, but makes none.
  f.high = Vec3d(0.5), f.sizeMm = 2;
  flat.feeds[SurfaceValue::bump] = {f};
  flat.baseColour = Vec3d(1);
  QVERIFY(Lit(flat, grey(0), Rgb(1)).mean(400).x <= 1.02f);
}

void TestDressing::wornPartsAreDrawnTheSameTwice() {
  const Surface worn = withUse(*librarySurface("preset-harbour-enamel"), {0.8, 0.6, 0.7, 0.5});
  const Lit a(worn, grey(0), Rgb(1)), b(worn, grey(0), Rgb(1));
  for (uint32_t i = 0; i < 50; ++i)
    QVERIFY(Integrator(a.scene).sample(8, 8, i).beauty() == Integrator(b.scene).sample(8, 8, i).beauty());
  const Rgb seen = a.mean(50);
  QVERIFY(std::isfinite(seen.x + seen.y + seen.z) && seen.x > 0);
}

void TestDressing::opaquePartsCastWholeShadows() {
  Surface pane = grey(1);
  pane.transmission = 1, pane.ior = 1;
  Surface fedOpaque = grey(0);
  fedOpaque.feeds[SurfaceValue::transmission] = {plain(0)};  // it must be asked, and says no
  const float under = Lit(grey(0.7), grey(0), Rgb(1)).mean(400).x,
              asked = Lit(grey(0.7), fedOpaque, Rgb(1)).mean(400).x;
  QCOMPARE(asked, under);
  QVERIFY(Lit(grey(0.7), pane, Rgb(1)).mean(400).x > under * 1.1f);
  const Lit lit(grey(0.7), fedOpaque);
  QVERIFY(lit.scene.materials[0][0]->isOpaque() && !lit.scene.materials[0][1]->isOpaque());
}

void TestDressing::surfacesNeverBuildGeometry() {
  Project a;
  a.shots.emplace_back();
  a.products.emplace_back();
  a.surfaces.emplace_back();
  // It is worn by something in the shot; what nobody wears asks for nothing (see TestChanges).
  a.products[0].id = "gauge", a.surfaces[0].id = "enamel", a.products[0].surfaceOfPart["lid"] = "enamel";
  a.shots[0].placements = {{"gauge-1", "gauge"}};
  Project b = a;
  b.products[0].decals.push_back({});
  const Changes print = changes(a, b, 0);
  QVERIFY(print.trace && print.blend && !print.geometry && !print.plate);
  b = a;
  b.surfaces[0].coats.push_back({});
  const Changes coat = changes(a, b, 0);
  QVERIFY(coat.trace && !coat.geometry);
  QVERIFY(!changes(a, a, 0).trace);
}

void TestDressing::linksAreFoundEverywhere() {
  Project p;
  Surface s;
  Feed f = newFeed(FeedKind::picture);
  f.picture.path = "base.png";
  s.feeds[SurfaceValue::baseColour] = {f};
  Coat coat;
  f.picture.path = "coat.png", coat.surface.feeds[SurfaceValue::roughness] = {f};
  f.picture.path = "mask.png", coat.mask = {f};
  s.coats = {coat};
  p.surfaces = {s};
  Product product;
  product.model.path = "m.step";
  Decal d;
  d.picture.path = "label.svg";
  product.decals = {d};
  p.products = {product};
  Shot shot;
  shot.plate.path = "plate.jpg", shot.surroundings.panorama.path = "sky.exr";
  Lamp lamp;
  lamp.picture.path = "lamp.png";
  shot.lamps = {lamp};
  p.shots = {shot};
  p.rigs.emplace_back().surroundings = shot.surroundings;
  p.rigs[0].lamps = shot.lamps;
  std::map<std::string, LinkKind> found;
  eachLink(p, [&](AssetRef& ref, LinkKind kind) { found[ref.path] = kind, ref.hash = "seen"; });
  const std::map<std::string, LinkKind> all = {
      {"base.png", LinkKind::texture}, {"coat.png", LinkKind::texture}, {"mask.png", LinkKind::texture},
      {"m.step", LinkKind::model},     {"label.svg", LinkKind::print},  {"plate.jpg", LinkKind::photo},
      {"sky.exr", LinkKind::panorama}, {"lamp.png", LinkKind::photo}};
  QVERIFY(found == all);
  QCOMPARE(p.surfaces[0].coats[0].mask[0].picture.hash, std::string("seen"));
  QCOMPARE(p.rigs[0].lamps[0].picture.hash, std::string("seen"));
}

void TestDressing::clipsTakeThePicturesAlong() {
  Clip clip;
  clip.surfaces = {*librarySurface("preset-worn-enamel")};
  Feed f = newFeed(FeedKind::picture);
  f.picture = {"grain.png", "1234"};
  clip.surfaces[0].feeds[SurfaceValue::bump] = {f};
  const auto again = clipFromText(toText(clip));
  QVERIFY(again && *again == clip);
  int links = 0;
  eachLink(clip, [&](AssetRef& ref) { ref.path = "/elsewhere/" + ref.path, ++links; });
  QCOMPARE(links, 1);
  QCOMPARE(clip.surfaces[0].feeds[SurfaceValue::bump][0].picture.path, std::string("/elsewhere/grain.png"));
}

void TestDressing::revisionsKeepThePrints() {
  Project p;
  Product product;
  product.id = "gauge";
  Decal moved, lost;
  moved.id = "a", moved.parts = {"Old/Body"}, lost.id = "b", lost.parts = {"Old/Lid"};
  product.decals = {moved, lost};
  p.products = {product};
  const Project now = revised(
      p, "gauge", {"new.step", "1"},
      {{PartFate::guessed, "Old/Body", "New/Body", 0.9, true}, {PartFate::gone, "Old/Lid", "", 0, true}});
  QCOMPARE(now.products[0].decals.size(), size_t(2));  // what lost its part is kept, to be put elsewhere
  QVERIFY(now.products[0].decals[0].parts.contains("New/Body"));
}

void TestDressing::gatheredPicturesComeAlong() {
  QTemporaryDir folder;
  const fs::path demo = fs::path(DUSK_SOURCE) / "demo/brackwater",
                 to = fs::path(folder.path().toStdString()) / "all";
  const auto project = loadProject(demo / "brackwater-used.dusk");
  QVERIFY2(project, project ? "" : project.error().message.c_str());
  QCOMPARE(project->products[0].decals.size(), size_t(2));
  Progress progress;
  const auto report = gather(*project, AssetStore(demo), to, progress);
  QVERIFY2(report, report ? "" : report.error().message.c_str());
  const auto there = loadProject(report->project);
  QVERIFY(there);
  for (const Decal& decal : there->products[0].decals)
    QVERIFY(fs::exists(to / decal.picture.path) && decal.picture.path.starts_with("textures/"));
}

void TestDressing::notesNameTheMissingPicture() {
  const fs::path demo = fs::path(DUSK_SOURCE) / "demo/brackwater";
  auto project = loadProject(demo / "brackwater-used.dusk");
  QVERIFY(project);
  project->products[0].decals[0].picture = {"nowhere.svg", ""};
  AssetStore assets(demo);
  GeometryCache cache;
  Progress progress;
  const auto compiled = compile(*project, 0, assets, cache, progress);
  QVERIFY(compiled);
  const auto& notes = compiled->notes;
  QCOMPARE(std::count_if(notes.begin(), notes.end(),
                         [](const std::string& n) { return n.find("nowhere.svg") != std::string::npos; }),
           1);
  QVERIFY(!compiled->scene.materials.empty());  // the product is there all the same
}

DUSK_TEST(TestDressing, QCoreApplication);
#include "dressing.moc"
