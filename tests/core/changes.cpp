#include "core/project/changes.h"

#include <QtTest>

#include "core/project/file.h"
#include "core/project/shots.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// What must be made anew follows from two values alone: every field of the document, one by one.
class TestChanges : public QObject {
  Q_OBJECT
  Project demo_ = *loadProject(fs::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk");
  enum { nothing = 0, proofs = 1, blends = 2, traces = 4, shapes = 8, plates = 16 };
  static int flags(const Changes& c) {
    return (c.proofs ? proofs : 0) | (c.blend ? blends : 0) | (c.trace ? traces : 0) |
           (c.geometry ? shapes : 0) | (c.plate ? plates : 0);
  }

 private slots:
  void eachFieldAsksForItsOwnWork_data();
  void eachFieldAsksForItsOwnWork();
  void theSameValueAsksForNothing();
  void anotherShotsEditsAreNotThisOnes();
  void aShotIsFoundWhereverItStands();
  void whatIsNotThereIsAllNew();
};

void TestChanges::eachFieldAsksForItsOwnWork_data() {
  QTest::addColumn<std::function<void(Project&)>>("edit");
  QTest::addColumn<int>("wanted");
  constexpr int seen = blends | proofs, traced = seen | traces;
  const auto shot = [](const char* name, int wanted, std::function<void(Shot&)> edit) {
    QTest::newRow(name) << std::function<void(Project&)>([edit](Project& p) { edit(p.shots[0]); }) << wanted;
  };
  const auto project = [](const char* name, int wanted, std::function<void(Project&)> edit) {
    QTest::newRow(name) << edit << wanted;
  };
  // Seen only
  shot("exposure", seen, [](Shot& s) { s.blend.exposureEv = 1; });
  shot("shadow strength", seen, [](Shot& s) { s.blend.shadowStrength = 0.5; });
  shot("light mix", seen, [](Shot& s) { s.blend.mix["sun"] = {1, 0}; });
  shot("denoise", seen, [](Shot& s) { s.render.denoise = 0.3; });
  shot("clay pass", seen, [](Shot& s) { s.render.extraPasses.insert("clay"); });
  shot("empty passes", seen, [](Shot& s) { s.render.emptyPasses = true; });
  // Traced
  shot("samples", traced, [](Shot& s) { s.render.samples += 8; });
  shot("seed", traced, [](Shot& s) { s.render.seed = 99; });
  shot("bounces", traced, [](Shot& s) { s.render.bounces = 2; });
  shot("occlusion pass", traced, [](Shot& s) { s.render.extraPasses = {"occlusion"}; });
  shot("noise target", traced, [](Shot& s) { s.render.noiseTarget = 0.05; });
  shot("placement", traced, [](Shot& s) { s.placements[0].xM += 0.1; });
  shot("panorama's turn", traced, [](Shot& s) { s.surroundings.turnDegrees += 3; });
  shot("lamp", traced, [](Shot& s) { s.lamps[0].on = !s.lamps[0].on; });
  shot("stand-in", traced, [](Shot& s) { s.standIns[0].sizeM.x *= 2; });
  shot("ground's gloss", traced, [](Shot& s) { s.contact.gloss = 0.4; });
  shot("focus", traced, [](Shot& s) { s.focus.on = true; });
  shot("level", traced, [](Shot& s) { s.levels.push_back({"l", "l", 0.3}); });
  shot("camera", traced, [](Shot& s) { s.vantage.camera.focalPx += 1; });
  project("surface", traced, [](Project& p) { p.surfaces[0].roughness = 0.9; });
  project("a surface nobody wears", nothing, [](Project& p) {
    p.surfaces.insert(p.surfaces.begin(), Surface{});
    p.surfaces[0].id = "spare";
  });
  project("a product that is not in the shot", shapes | traced, [](Project& p) {
    p.products.push_back(p.products[0]);
    p.products.back().id = "elsewhere";
  });
  project("dress", traced, [](Project& p) { p.products[0].surfaceOfPart.clear(); });
  project("unit", traced, [](Project& p) { p.products[0].metresPerUnit = 0.01; });
  // Shaped
  project("hidden part", traced | shapes, [](Project& p) { p.products[0].hiddenParts.insert("x"); });
  project("moved part", traced | shapes, [](Project& p) { p.products[0].moves["x"].turnDegrees = 9; });
  project("other model", traced | shapes, [](Project& p) { p.products[0].model.hash = "y"; });
  project("new product", traced | shapes, [](Project& p) { p.products.push_back({"product-9", "n", {}}); });
  // Another plate
  shot("view", traced | plates, [](Shot& s) { s.blend.view = "ACES"; });
  shot("photo", traced | plates, [](Shot& s) { s.plate.hash = "z"; });
  project("what only catches", traced, [](Project& p) { p.products[0].roles["x"].catcher = true; });
  shot("round floor", traced | plates, [](Shot& s) { s.backdrop.floorRadiusM = 1; });
  shot("backdrop", traced | plates, [](Shot& s) { s.backdrop.kind = BackdropKind::plain; });
  shot("straightened", traced | plates, [](Shot& s) { s.vantage.straightened = true; });
  // Measured only
  shot("gnomon", proofs, [](Shot& s) { s.gnomon = Gnomon{{1, 2}, {3, 4}}; });
  shot("second gnomon", proofs, [](Shot& s) { s.otherGnomon = Gnomon{{1, 2}, {3, 4}}; });
  shot("height reference", proofs, [](Shot& s) { s.heightReferences.push_back({"h", "h"}); });
  shot("evidence", proofs, [](Shot& s) { s.evidence.strokes.pop_back(); });
  shot("margins", proofs, [](Shot& s) { s.vantage.rmsPx += 1; });
  // Neither seen nor measured
  shot("lock", proofs, [](Shot& s) { s.vantage.locked = !s.vantage.locked; });
  shot("name", nothing, [](Shot& s) { s.name = "another"; });
  shot("deliverables", nothing, [](Shot& s) { s.deliverables.clear(); });
  shot("kept vantage", nothing, [](Shot& s) { s.keptVantages.emplace_back().id = "k"; });
  project("part's name", nothing, [](Project& p) { p.products[0].names["x"] = "y"; });
  project("group", nothing, [](Project& p) { p.products[0].groupOfPart["x"] = "y"; });
  project("product's name", nothing, [](Project& p) { p.products[0].name = "y"; });
  project("rig", nothing, [](Project& p) { p.rigs.emplace_back().id = "r"; });
  project("project's name", nothing, [](Project& p) { p.name = "y"; });
}

void TestChanges::eachFieldAsksForItsOwnWork() {
  QFETCH(std::function<void(Project&)>, edit);
  QFETCH(int, wanted);
  Project after = demo_;
  edit(after);
  QVERIFY(after != demo_);
  QCOMPARE(flags(changes(demo_, after, 0)), wanted);
  QCOMPARE(flags(changes(after, demo_, 0)), wanted);  // undo asks for the same
}

void TestChanges::theSameValueAsksForNothing() {
  QCOMPARE(flags(changes(demo_, demo_, 0)), int(nothing));
  QCOMPARE(flags(changes(emptyProject(), emptyProject(), 0)), int(nothing));
}

void TestChanges::anotherShotsEditsAreNotThisOnes() {
  Project two = demo_;
  addShot(two, 0, true);
  Project after = two;
  after.shots[1].placements.clear(), after.shots[1].blend.exposureEv = 2, after.shots[1].plate.path = "x";
  QCOMPARE(flags(changes(two, after, 0)), int(nothing));
  QVERIFY(changes(two, after, 1).plate);
}

void TestChanges::aShotIsFoundWhereverItStands() {
  Project two = demo_;
  addShot(two, 0, true);
  two.shots[1].blend.exposureEv = 2;
  Project turned = two;
  std::swap(turned.shots[0], turned.shots[1]);
  QCOMPARE(flags(changes(two, 0, turned, 1)), int(nothing));
  QCOMPARE(flags(changes(two, 1, turned, 0)), int(nothing));
  QCOMPARE(flags(changes(two, 0, turned, 0)), int(blends | proofs));
}

void TestChanges::whatIsNotThereIsAllNew() {
  QCOMPARE(flags(changes(demo_, demo_, 7)), 31);
  QCOMPARE(flags(changes(demo_, 0, demo_, 3)), 31);
}

DUSK_TEST(TestChanges, QCoreApplication);
#include "changes.moc"
