#include "core/deliver/scene_file.h"

#include <QtTest>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/product/side_files.h"
#include "core/vantage/camera_file.h"
#include "tests/handed_over.h"
#include "tests/program.h"

using namespace dusk;
using nlohmann::json;
namespace fs = std::filesystem;

/// A shot as a scene in three dimensions: what stands where, seen and lit from where.
class TestSceneFile : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  HandedOver pair_{"brackwater", "brackwater-pair.dusk"};
  Project project_ = pair_.project();
  fs::path file(const char* name) { return folder_.filePath(name).toStdString(); }
  json written(const Project& p, const char* name, DressedNotes* notes = nullptr) {
    const auto report = writeScene(p, p.shots[0], pair_.assets, file(name), 128, pair_.progress);
    if (!report) {
      qWarning("%s", report.error().message.c_str());
      return {};
    }
    if (notes) *notes = *report;
    const std::string bytes = *readFile(file(name));
    uint32_t length = 0;
    memcpy(&length, bytes.data() + 12, 4);
    return jsonFrom(bytes.substr(20, length));
  }
  static Vec3d through(const json& matrix, const Vec3d& p) {
    Vec3d out(0);
    for (int row = 0; row < 3; ++row)
      out[row] = matrix[size_t(row)].get<double>() * p.x + matrix[size_t(4 + row)].get<double>() * p.y +
                 matrix[size_t(8 + row)].get<double>() * p.z + matrix[size_t(12 + row)].get<double>();
    return out;
  }

 private slots:
  void productsStandWhereTheyStand();
  void theCameraComesBack();
  void lightsShineAsTheyDo();
  void theWordsOfTheStandardAreKept();
  void itIsHandedOverWithThePicture();
  void whatCannotBeIsSaid();
};

void TestSceneFile::productsStandWhereTheyStand() {
  Project p = project_;
  // The same product twice: its meshes are written once.
  Placement again = p.shots[0].placements[0];
  again.id = "again", again.xM += 0.5, again.turnDegrees += 40;
  DressedNotes once, twice;
  const json one = written(p, "one.glb", &once);
  p.shots[0].placements.push_back(again);
  const json two = written(p, "two.glb", &twice);
  QCOMPARE(two["meshes"].size(), one["meshes"].size());
  QVERIFY(twice.parts > once.parts && once.parts > 0);
  for (size_t i = 0; i < p.shots[0].placements.size(); ++i) {
    const Placement& at = p.shots[0].placements[i];
    const Product& product = *byId(p.products, at.productId);
    const auto model = pair_.assets.model(product, pair_.progress);
    const Similarity place = worldFromModel(product, at, **model, planeHeightM(p.shots[0], at));
    bool found = false;
    for (const json& root : two["scenes"][0]["nodes"]) {
      const json& node = two["nodes"][root.get<size_t>()];
      if (node["name"] != product.name) continue;
      double worst = 0;
      for (const Vec3d& v : {Vec3d(0), Vec3d(100, 0, 0), Vec3d(0, 50, 0), Vec3d(3, -7, 200)}) {
        const Vec3d world = place.point(v), there = through(node["matrix"], v);
        worst = std::max(worst, (there - Vec3d(world.x, world.z, -world.y)).length());
      }
      found |= worst < 1e-9;
    }
    QVERIFY2(found, at.id.c_str());
  }
}

void TestSceneFile::theCameraComesBack() {
  written(project_, "camera.glb");
  const Camera& c = project_.shots[0].vantage.camera;
  const auto read = readVantage(file("camera.glb"), c.width, c.height);
  QVERIFY2(read.ok(), read.ok() ? "" : read.error().message.c_str());
  QVERIFY(std::abs(read->camera.focalPx - c.focalPx) < 1e-6);
  QVERIFY((read->camera.position - c.position).length() < 1e-9);
  QVERIFY((read->camera.axes.z - c.axes.z).length() < 1e-9);
}

void TestSceneFile::lightsShineAsTheyDo() {
  Project p = project_;
  Shot& shot = p.shots[0];
  shot.surroundings = {}, shot.lamps.clear();
  Lamp sun, ball, spot, card;
  sun.id = sun.name = "sun", sun.azimuthDegrees = 90, sun.elevationDegrees = 30, sun.powerEv = 1,
  sun.kelvin = 6504;
  ball.id = ball.name = "ball", ball.kind = LampKind::sphere, ball.radiusM = 0.5, ball.positionM = {1, 2, 3};
  ball.colour = Vec3d(1, 0.5, 0.25);
  spot.id = spot.name = "spot", spot.kind = LampKind::spot, spot.positionM = {0, 0, 2},
  spot.targetM = {0, 0, 0};
  spot.coneDegrees = 60, spot.coneSoftness = 0.5;
  card.id = card.name = "card", card.kind = LampKind::card;
  shot.lamps = {sun, ball, spot, card};
  DressedNotes notes;
  const json scene = written(p, "lit.glb", &notes);
  const json& lights = scene["extensions"]["KHR_lights_punctual"]["lights"];
  QCOMPARE(lights.size(), size_t(3));
  const auto node = [&](const char* name) {
    for (const json& n : scene["nodes"])
      if (n["name"] == name) return n;
    return json();
  };
  // Light comes from the east, 30 degrees up: it shines along -Z of its node, west and down.
  QCOMPARE(lights[0]["type"], "directional");
  const json place = node("sun")["matrix"];
  const Vec3d shines = through(place, {0, 0, -1}) - through(place, {0, 0, 0});
  QVERIFY((shines - Vec3d(-std::cos(radians(30)), -0.5, 0)).length() < 1e-6);
  QVERIFY(std::abs(lights[0]["intensity"].get<double>() / (2 * pi) - 1) < 0.1);  // a nearly white one
  // Along its axis a ball has its radiance times the disc it is seen as.
  QCOMPARE(lights[1]["type"], "point");
  QVERIFY(std::abs(lights[1]["intensity"].get<double>() - maxComponent(lampLight(ball)) * pi * 0.25) < 1e-5);
  QVERIFY((through(node("ball")["matrix"], {0, 0, 0}) - Vec3d(1, 3, -2)).length() < 1e-9);
  QCOMPARE(lights[2]["type"], "spot");
  QVERIFY(std::abs(lights[2]["spot"]["outerConeAngle"].get<double>() - radians(30)) < 1e-9);
  QVERIFY(std::abs(lights[2]["spot"]["innerConeAngle"].get<double>() - radians(15)) < 1e-9);
  const auto said = [&](const char* of) {
    return std::any_of(notes.lost.begin(), notes.lost.end(),
                       [&](const std::string& n) { return n.find(of) != std::string::npos; });
  };
  QVERIFY(said("card") && said("ball has a size"));
}

// Every index leads to something, and every piece of data lies within the file.
void TestSceneFile::theWordsOfTheStandardAreKept() {
  const json scene = written(project_, "words.glb");
  QCOMPARE(scene["asset"]["version"], "2.0");
  std::set<size_t> below;
  for (const json& n : scene["nodes"]) {
    if (n.contains("mesh")) QVERIFY(n["mesh"].get<size_t>() < scene["meshes"].size());
    if (n.contains("camera")) QVERIFY(n["camera"].get<size_t>() < scene["cameras"].size());
    for (const json& child : n.value("children", json::array())) {
      QVERIFY(child.get<size_t>() < scene["nodes"].size());
      QVERIFY2(below.insert(child.get<size_t>()).second, "a node is below two");
    }
  }
  for (const json& root : scene["scenes"][0]["nodes"]) QVERIFY(!below.contains(root.get<size_t>()));
  const size_t bytes = scene["buffers"][0]["byteLength"].get<size_t>();
  for (const json& v : scene["bufferViews"])
    QVERIFY(v["byteOffset"].get<size_t>() + v["byteLength"].get<size_t>() <= bytes);
  for (const json& mesh : scene["meshes"])
    for (const json& primitive : mesh["primitives"]) {
      QVERIFY(primitive["material"].get<size_t>() < scene["materials"].size());
      for (const auto& [name, accessor] : primitive["attributes"].items())
        QVERIFY(accessor.get<size_t>() < scene["accessors"].size());
    }
  QVERIFY(scene["scenes"][0]["extras"]["panorama"]["file"].get<std::string>().ends_with(".exr"));
}

void TestSceneFile::itIsHandedOverWithThePicture() {
  Project p = project_;
  p.shots[0].deliverables = {usualOf(DeliverableKind::png, "picture"),
                             usualOf(DeliverableKind::gltfScene, "scene")};
  const fs::path folder = file("handed");
  const auto report = pair_.write(p, folder);
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  QCOMPARE(report->files.size(), size_t(2));
  QVERIFY(fs::exists(folder / "picture.png") && fs::exists(folder / "scene.glb"));
  QVERIFY(fs::exists(folder / "scene.glb.json"));  // of what it was made
  QVERIFY(!fs::exists(folder / "scene.glb.picture.png"));
  const auto told = std::find_if(report->notes.begin(), report->notes.end(), [](const std::string& n) {
    return n.find("panorama") != std::string::npos;
  });
  QVERIFY(told != report->notes.end());
  // Alone it needs no picture, and is the same.
  p.shots[0].deliverables.erase(p.shots[0].deliverables.begin());
  const auto alone = pair_.write(p, file("alone"));
  QVERIFY2(alone.ok(), alone.ok() ? "" : alone.error().message.c_str());
  QCOMPARE(alone->files.size(), size_t(1));
  QCOMPARE(alone->samples, 0);
  QVERIFY(fs::exists(file("alone") / "scene.glb.json"));
  QCOMPARE(fs::file_size(file("alone") / "scene.glb"), fs::file_size(folder / "scene.glb"));
}

void TestSceneFile::whatCannotBeIsSaid() {
  Project p = project_;
  p.shots[0].vantage.solved = false;
  const auto unsolved = writeScene(p, p.shots[0], pair_.assets, file("never.glb"), 64, pair_.progress);
  QVERIFY(!unsolved.ok() && unsolved.error().message.find("vantage") != std::string::npos);
  p = project_;
  p.shots[0].surroundings.panorama = {"gone.exr", "00"};
  QVERIFY(!writeScene(p, p.shots[0], pair_.assets, file("never.glb"), 64, pair_.progress).ok());
  Progress stopped;
  stopped.cancel();
  QVERIFY(!writeScene(project_, project_.shots[0], pair_.assets, file("never.glb"), 64, stopped).ok());
  QVERIFY(!fs::exists(file("never.glb")));
}

DUSK_TEST(TestSceneFile, NoApplication);
#include "scene_file.moc"
