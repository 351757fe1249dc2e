#include "core/project/shots.h"

#include <QtTest>

#include "core/project/clip.h"
#include "core/project/file.h"
#include "core/project/lamp_kinds.h"
#include "core/project/light_edit.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// A campaign's shots, and what is taken along from one to the other as text.
class TestShots : public QObject {
  Q_OBJECT
  Project demo_ = *loadProject(fs::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk");
  static std::vector<std::string> ids(const Project& p) {
    std::vector<std::string> all;
    for (const Shot& s : p.shots) all.push_back(s.id);
    return all;
  }

 private slots:
  void newShotsComeAfterTheOneInHand();
  void aCopyIsAllButItsNameAndFiles();
  void filesOfTwoShotsAreNeverOne();
  void aProjectKeepsOneShot();
  void productsNobodyPlacesGo();
  void shotsAreMoved();
  void eachPartIsBroughtAloneAndWhole();
  void aCameraBelongsToItsPhotosSize();
  void projectsWithShotsRoundTrip();
  void clipsRoundTrip();
  void pastedThingsHaveIdsOfTheirOwn();
  void pastedLampsAimAtWhatCameAlong();
  void pastedProductsBringTheirDress();
  void whatIsNoClipIsRefused();
  void everyLampKindIsNamedOnce();
  void anotherPanoramaStandsAsItCame();
};

void TestShots::newShotsComeAfterTheOneInHand() {
  Project p = emptyProject();
  QCOMPARE(addShot(p, 0, false), std::string("shot-2"));
  QCOMPARE(addShot(p, 0, false), std::string("shot-3"));
  QCOMPARE(ids(p), (std::vector<std::string>{"shot-1", "shot-3", "shot-2"}));
  QCOMPARE(addShot(p, 99, false), std::string("shot-4"));  // beyond the end is at the end
  QCOMPARE(p.shots.back().id, std::string("shot-4"));
  QVERIFY(p.shots.back().plate.empty() && !p.shots.back().deliverables.empty());
}

void TestShots::aCopyIsAllButItsNameAndFiles() {
  Project p = demo_;
  const std::string id = addShot(p, 0, true);
  Shot copy = *byId(p.shots, id);
  QVERIFY(copy.name != p.shots[0].name);
  copy.id = p.shots[0].id, copy.name = p.shots[0].name, copy.deliverables = p.shots[0].deliverables;
  QVERIFY(copy == p.shots[0]);
}

void TestShots::filesOfTwoShotsAreNeverOne() {
  Project p = demo_;
  for (int i = 0; i < 4; ++i) addShot(p, size_t(i), i % 2);
  std::set<std::string> names;
  size_t count = 0;
  for (const Shot& s : p.shots)
    for (const Deliverable& d : s.deliverables) names.insert(d.fileName), ++count;
  QCOMPARE(names.size(), count);
}

void TestShots::aProjectKeepsOneShot() {
  Project p = demo_;
  removeShot(p, p.shots[0].id);
  QVERIFY(p == demo_);
  const std::string id = addShot(p, 0, false);
  removeShot(p, "no such shot");
  QCOMPARE(p.shots.size(), size_t(2));
  removeShot(p, id);
  QVERIFY(p == demo_);
}

void TestShots::productsNobodyPlacesGo() {
  Project p = demo_;
  addShot(p, 0, false);
  removeShot(p, p.shots[0].id);
  QVERIFY(p.products.empty());
  Project kept = demo_;
  addShot(kept, 0, true);
  removeShot(kept, kept.shots[0].id);
  QVERIFY(kept.products == demo_.products);
}

void TestShots::shotsAreMoved() {
  Project p = emptyProject();
  for (int i = 0; i < 3; ++i) addShot(p, size_t(i), false);
  moveShot(p, "shot-1", 3);
  QCOMPARE(ids(p), (std::vector<std::string>{"shot-2", "shot-3", "shot-4", "shot-1"}));
  moveShot(p, "shot-4", 0);
  QCOMPARE(ids(p), (std::vector<std::string>{"shot-4", "shot-2", "shot-3", "shot-1"}));
  moveShot(p, "nobody", 1);
  QCOMPARE(p.shots.size(), size_t(4));
}

void TestShots::eachPartIsBroughtAloneAndWhole() {
  Shot from = demo_.shots[0];
  from.blend.exposureEv = 0.4, from.contact.gloss = 0.2, from.focus.on = true;
  from.motion.seconds = 2;
  Shot everything;
  everything.vantage.camera = from.vantage.camera, everything.plate = from.plate;
  for (const ShotPart& part : shotParts()) {
    Shot to;
    to.vantage.camera = from.vantage.camera;
    const Shot before = to;
    QVERIFY2(part.obstacle(from, to).empty(), part.name);
    part.bring(from, to);
    QVERIFY2(to != before, part.name);
    part.bring(from, everything);
    Shot twice = to;
    part.bring(from, twice);
    QVERIFY(twice == to);  // once more changes nothing
  }
  everything.id = from.id, everything.name = from.name, everything.backdrop = from.backdrop;
  QVERIFY(everything == from);  // all parts together are the shot
}

void TestShots::aCameraBelongsToItsPhotosSize() {
  const auto camera = std::find_if(shotParts().begin(), shotParts().end(),
                                   [](const ShotPart& p) { return std::string(p.name) == "camera"; });
  const Shot& from = demo_.shots[0];
  Shot other;
  other.vantage.camera.width = 800, other.vantage.camera.height = 600;
  QVERIFY(!camera->obstacle(from, other).empty());
  QVERIFY(!camera->obstacle(other, from).empty());  // nothing solved to bring
  other.backdrop.kind = BackdropKind::plain;
  QVERIFY(camera->obstacle(from, other).empty());  // made in any size
  camera->bring(from, other);
  QCOMPARE(other.backdrop.kind, BackdropKind::plain);
  QVERIFY(other.vantage == from.vantage);
}

void TestShots::projectsWithShotsRoundTrip() {
  Project p = demo_;
  for (int i = 0; i < 3; ++i) addShot(p, size_t(i), i % 2 == 0);
  p.shots[2].name = "Quay, från sjön \"II\"";
  const auto again = fromText(toText(p));
  QVERIFY(again.ok() && *again == p);
}

void TestShots::clipsRoundTrip() {
  Clip clip;
  clip.lamps = demo_.shots[0].lamps, clip.standIns = demo_.shots[0].standIns;
  clip.products = demo_.products, clip.placements = demo_.shots[0].placements, clip.surfaces = demo_.surfaces;
  clip.evidence = demo_.shots[0].evidence, clip.shots = demo_.shots;
  const auto again = clipFromText(toText(clip));
  QVERIFY2(again.ok(), again ? "" : again.error().message.c_str());
  QVERIFY(*again == clip);
  QVERIFY(!clip.words().empty());
  // Keys are those of the project file.
  Clip one;
  one.lamps = clip.lamps;
  QVERIFY(toText(one).find("\"azimuthDegrees\"") != std::string::npos);
  QVERIFY(toText(one).find("\"shots\"") == std::string::npos);  // what is not there is not said
  int links = 0;
  eachLink(clip, [&](AssetRef& ref) { links += !ref.hash.empty(); });
  QCOMPARE(links, 3);  // model, plate and panorama
}

void TestShots::pastedThingsHaveIdsOfTheirOwn() {
  Project p = demo_;
  Clip clip;
  clip.lamps = p.shots[0].lamps, clip.standIns = p.shots[0].standIns, clip.shots = p.shots;
  for (int i = 0; i < 3; ++i) QVERIFY(!paste(clip, p, 0).empty());
  std::set<std::string> all;
  for (const Lamp& l : p.shots[0].lamps) all.insert(l.id);
  QCOMPARE(all.size(), p.shots[0].lamps.size());
  QCOMPARE(p.shots[0].standIns.size(), 4 * demo_.shots[0].standIns.size());
  QCOMPARE(p.shots.size(), size_t(4));
  QVERIFY(fromText(toText(p)).ok());
}

void TestShots::pastedLampsAimAtWhatCameAlong() {
  Project p = demo_;
  Lamp lamp = p.shots[0].lamps[0];
  lamp.aimedAt = p.shots[0].placements[0].id;
  lamp.leavesOut = {lamp.aimedAt + "/a part", "somebody else"};
  Clip alone;
  alone.lamps = {lamp};
  Project other = emptyProject();
  paste(alone, other, 0);
  QVERIFY(other.shots[0].lamps[0].aimedAt.empty() && other.shots[0].lamps[0].leavesOut.empty());
  Clip together = alone;
  together.products = p.products, together.placements = p.shots[0].placements;
  paste(together, p, 0);
  const Lamp& pasted = p.shots[0].lamps.back();
  const Placement& placed = p.shots[0].placements.back();
  QVERIFY(placed.id != lamp.aimedAt);
  QCOMPARE(pasted.aimedAt, placed.id);
  QCOMPARE(pasted.leavesOut, std::set<std::string>{placed.id + "/a part"});
}

void TestShots::pastedProductsBringTheirDress() {
  Clip clip;
  clip.products = demo_.products, clip.placements = demo_.shots[0].placements, clip.surfaces = demo_.surfaces;
  Project p = demo_;
  paste(clip, p, 0);
  QCOMPARE(p.products.size(), 2 * demo_.products.size());
  const Product &was = p.products.front(), &now = p.products.back();
  for (const auto& [part, surface] : now.surfaceOfPart) {
    const Surface *a = byId(p.surfaces, was.surfaceOfPart.at(part)), *b = byId(p.surfaces, surface);
    QVERIFY(a && b && a != b && a->baseColour == b->baseColour);
  }
  QCOMPARE(p.shots[0].placements.back().productId, now.id);
}

void TestShots::whatIsNoClipIsRefused() {
  for (const char* text :
       {"", "hello", "{}", "[1]", "{\"gentleDusk\": 99}", "{\"gentleDusk\": 1, \"lamps\": 3}",
        "{\"gentleDusk\": 1, \"lamps\": [{\"kind\": \"candle\"}]}",
        "{\"gentleDusk\": 1, \"standIns\": [{\"sizeM\": [-1, 1, 1]}]}"}) {
    const auto clip = clipFromText(text);
    QVERIFY2(!clip.ok() && !clip.error().message.empty(), text);
  }
}

void TestShots::everyLampKindIsNamedOnce() {
  std::set<std::string> names;
  for (const LampKindInfo& info : lampKinds()) {
    names.insert(info.name);
    QCOMPARE(&infoOf(info.kind), &info);
    QCOMPARE(lampKindNamed(info.name), &info);
    // In files, by that name.
    Project p = emptyProject();
    Lamp lamp;
    lamp.id = "lamp-1", lamp.kind = info.kind;
    p.shots[0].lamps = {lamp};
    const std::string text = toText(p);
    QVERIFY(text.find(std::string("\"kind\": \"") + info.name + "\"") != std::string::npos);
    QVERIFY(fromText(text)->shots[0].lamps[0].kind == info.kind);
  }
  QCOMPARE(names.size(), lampKinds().size());
  QVERIFY(!lampKindNamed("candle"));
  // The schema and the format's page know them all.
  for (const char* file : {"docs/project.schema.json", "docs/format.md"}) {
    QFile doc(QString(DUSK_SOURCE) + "/" + file);
    QVERIFY(doc.open(QIODevice::ReadOnly));
    const QString text = QString::fromUtf8(doc.readAll());
    for (const std::string& name : names)
      QVERIFY2(text.contains(QString("\"%1\"").arg(name.c_str())), name.c_str());
  }
}

/// What was found of one panorama is not said of the next; what was set by eye without a photo is.
void TestShots::anotherPanoramaStandsAsItCame() {
  Shot shot = demo_.shots[0];
  Surroundings& s = shot.surroundings;
  s.turnDegrees = 40, s.gainEv = 2, s.mirrored = s.captureFound = true, s.captureM = Vec3d(0, 0, 1);
  s.sunMovedDegrees = Vec2d(10, 20), s.saturation = 0.8;
  const Surroundings before = s;
  setPanorama(shot, {"elsewhere/" + s.panorama.path, s.panorama.hash});
  QVERIFY(s.turnDegrees == 40 && s.sunMovedDegrees && !isAsItCame(s));  // the same picture in another folder
  Shot set = shot;
  setPanorama(shot, {"other.exr", "1234"});
  QVERIFY(isAsItCame(s) && !s.captureM && !s.sunMovedDegrees);
  QVERIFY(s.panorama.path == "other.exr" && s.saturation == before.saturation);
  set.backdrop.kind = BackdropKind::plain;
  setPanorama(set, {"other.exr", "1234"});
  QVERIFY(set.surroundings.gainEv == 2 && set.surroundings.turnDegrees == 40);
  QVERIFY(!set.surroundings.sunMovedDegrees);
}

DUSK_TEST(TestShots, QCoreApplication);
#include "shots.moc"
