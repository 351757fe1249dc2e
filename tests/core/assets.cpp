#include <QtTest>
#include <fstream>

#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/trace/compile.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestAssets : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path folder() { return folder_.path().toStdString(); }
  const fs::path demo_ = fs::path(DUSK_SOURCE) / "demo/brackwater";
  fs::path picture(const char* name, float value) {
    Picture p = Picture::rgb(8, 4);
    for (float& v : p.pixels) v = value;
    const fs::path file = folder() / name;
    if (!writePng8(file, p).ok()) qFatal("cannot write");
    return file;
  }

 private slots:
  void linksAreRelativeWhereTheyCanBe();
  void changedContentIsAnotherAsset();
  void everyoneGetsTheSameObject();
  void loadedNeverLoads();
  void missingFilesAreErrorsNotCrashes();
  void plateDependsOnTheView();
  void compileSaysWhatIsMissing();
  void compileDressesParts();
  void evenSkyOnlyWhileNothingElseShines();
};

void TestAssets::linksAreRelativeWhereTheyCanBe() {
  fs::create_directories(folder() / "project/sub");
  const fs::path inside = picture("project/sub/a.png", 0.5f), outside = picture("b.png", 0.5f);
  const AssetStore assets(folder() / "project");
  QCOMPARE(assets.refer(inside)->path, std::string("sub/a.png"));
  QVERIFY(fs::path(assets.refer(outside)->path).is_absolute());
  QVERIFY(fs::equivalent(assets.pathOf(*assets.refer(inside)), inside));
  QVERIFY(fs::equivalent(assets.pathOf(*assets.refer(outside)), outside));
  QVERIFY(!assets.refer(folder() / "none.png").ok());
}

void TestAssets::changedContentIsAnotherAsset() {
  AssetStore assets(folder());
  const AssetRef before = *assets.refer(picture("c.png", 0.2f));
  const auto dark = assets.photo(before);
  const AssetRef after = *assets.refer(picture("c.png", 0.8f));
  QVERIFY(before.hash != after.hash && before.path == after.path);
  const auto bright = assets.photo(after);
  QVERIFY(dark.ok() && bright.ok());
  QVERIFY((*bright)->picture.rgbAt(0, 0)[0] > (*dark)->picture.rgbAt(0, 0)[0]);
}

void TestAssets::everyoneGetsTheSameObject() {
  AssetStore assets(folder());
  const AssetRef ref = *assets.refer(picture("d.png", 0.4f));
  std::vector<std::shared_ptr<const Photo>> got(8);
  std::vector<std::thread> threads;
  for (auto& slot : got) threads.emplace_back([&] { slot = *assets.photo(ref); });
  for (std::thread& t : threads) t.join();
  for (const auto& photo : got) QVERIFY(photo == got[0]);
}

void TestAssets::loadedNeverLoads() {
  AssetStore assets(folder());
  const AssetRef ref = *assets.refer(picture("e.png", 0.4f));
  QVERIFY(!assets.loadedPhoto(ref));
  const auto photo = assets.photo(ref);
  QVERIFY(assets.loadedPhoto(ref) == *photo);
  QVERIFY(!assets.loadedModel(Product{"p", "p", ref}) && !assets.loadedPanorama(ref));
}

void TestAssets::missingFilesAreErrorsNotCrashes() {
  AssetStore assets(folder());
  Progress progress;
  const AssetRef gone{"gone.bin", "00"};
  QVERIFY(!assets.photo(gone).ok());
  QVERIFY(!assets.panorama(gone).ok());
  QVERIFY(!assets.model(Product{"p", "p", gone}, progress).ok());
  QVERIFY(!assets.plate(gone, BlendSettings{}).ok());
  BlendSettings unknown;
  unknown.view = "no view";
  QVERIFY(!assets.view(unknown).ok());
  // A failure is not kept: the file may come back.
  picture("gone.bin.png", 0.3f);
  fs::rename(folder() / "gone.bin.png", folder() / "gone.png");
  QVERIFY(assets.photo(AssetRef{"gone.png", "00"}).ok());
}

void TestAssets::plateDependsOnTheView() {
  AssetStore assets(folder());
  const AssetRef ref = *assets.refer(picture("f.png", 200 / 255.f));
  BlendSettings shoulder;
  shoulder.view = "soft shoulder";
  const auto plain = assets.plate(ref, BlendSettings{}), soft = assets.plate(ref, shoulder);
  QVERIFY(plain.ok() && soft.ok());
  QVERIFY(std::abs((*plain)->pixels[0] - 0.5776f) < 1e-3f);
  QVERIFY((*soft)->pixels[0] != (*plain)->pixels[0]);
}

void TestAssets::compileSaysWhatIsMissing() {
  Project p = *loadProject(demo_ / "brackwater.dusk");
  AssetStore assets(demo_);
  GeometryCache cache;
  Progress progress;
  p.shots[0].plate.path = "lost.jpg";
  p.shots[0].surroundings.panorama.path = "lost.exr";
  p.products[0].model.path = "lost.step";
  const auto compiled = compile(p, 0, assets, cache, progress);
  QVERIFY(compiled.ok());
  QCOMPARE(compiled->notes.size(), size_t(3));
  for (const std::string& note : compiled->notes) QVERIFY(note.find("lost.") != std::string::npos);
  QVERIFY(compiled->scene.geometry->empty() && !compiled->scene.plate);
  QVERIFY(!compile(p, 3, assets, cache, progress).ok());
}

void TestAssets::compileDressesParts() {
  Project p = *loadProject(demo_ / "brackwater.dusk");
  AssetStore assets(demo_);
  GeometryCache cache;
  Progress progress;
  const std::string bezel = "Brackwater tide gauge/Dial/Bezel", lid = "Brackwater tide gauge/Housing/Lid";
  p.products[0].surfaceOfPart.erase(bezel);
  p.products[0].surfaceOfPart[lid] = "no-such-surface";
  const auto compiled = compile(p, 0, assets, cache, progress);
  QVERIFY(compiled.ok() && compiled->notes.empty());
  const Model& model = compiled->scene.geometry->instances()[0].geometry->model();
  const auto& parts = model.parts;
  QCOMPARE(compiled->scene.materials[0].size(), parts.size());
  for (size_t i = 0; i < parts.size(); ++i) {
    BsdfParameters given;
    Vec3f normal(0, 0, 1);
    compiled->scene.materials[0][i]->at({}, given, normal);
    if (parts[i].path == bezel || parts[i].path == lid)
      QVERIFY((given.base - model.materialOf(parts[i]).colour).length() < 1e-6f);
    if (parts[i].name == "Window") QCOMPARE(given.transmission, 1.0f);
  }
}

void TestAssets::evenSkyOnlyWhileNothingElseShines() {
  Project p = *loadProject(demo_ / "brackwater.dusk");
  p.shots[0].surroundings.panorama = {};
  AssetStore assets(demo_);
  GeometryCache cache;
  Progress progress;
  const auto sky = [&] {
    return luminance(compile(p, 0, assets, cache, progress)->scene.lights->sky({0, 0, 1}));
  };
  QVERIFY(std::abs(sky() - evenSkyRadiance) < 1e-6f);
  p.shots[0].lamps[0].on = true;
  QCOMPARE(sky(), 0.0f);
}

DUSK_TEST(TestAssets, NoApplication);
#include "assets.moc"
