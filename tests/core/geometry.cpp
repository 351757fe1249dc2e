#include "core/trace/geometry.h"

#include <QtTest>
#include <fstream>

#include "core/product/import.h"
#include "core/trace/integrator.h"
#include "core/vantage/camera.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

namespace {

/// Two unit squares facing up, one over the other.
std::shared_ptr<const Model> shelves() {
  auto model = std::make_shared<Model>();
  for (const auto& [name, z] : {std::pair("low", 0.0f), {"high", 1.0f}}) {
    Mesh mesh;
    mesh.positions = {{0, 0, z}, {1, 0, z}, {1, 1, z}, {0, 1, z}};
    mesh.normals.assign(4, Vec3f(0, 0, 1));
    mesh.uvs = {{0, 0}, {1, 0}, {1, 1}, {0, 1}};
    mesh.indices = {0, 1, 2, 0, 2, 3};
    model->add({name, name}, std::move(mesh));
  }
  return model;
}

const Ray down{{0.25f, 0.75f, 5}, {0, 0, -1}};

}  // namespace

class TestGeometry : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path write(const char* name, const std::string& text) {
    const fs::path file = fs::path(folder_.path().toStdString()) / name;
    std::ofstream(file, std::ios::binary) << text;
    return file;
  }

 private slots:
  void nearestPartIsHit();
  void hiddenPartsAreNotThere();
  void placementMovesTurnsAndScales();
  void anythingAgreesWithClosest();
  void cacheGivesTheSameGeometry();
  void normalsTurnWithTheProduct();
  void raysPassThroughWhatIsCutOut();
  void nothingPlacedIsNothingHit();
  void raysThatLeadNowhereMeetNothing();
  void cameraRaysMeetWhatTheCameraProjects();
  void everyMeshFormatComesIn_data();
  void everyMeshFormatComesIn();
};

void TestGeometry::raysThatLeadNowhereMeetNothing() {
  GeometryCache cache;
  const PlacedGeometry placed(cache.device(), {{cache.get(shelves(), {}), Similarity{}}});
  const float nan = std::nanf(""), infinite = INFINITY;
  for (const Ray& ray : {Ray{{0.25f, 0.75f, 5}, {0, nan, -1}}, Ray{{nan, 0, 5}, {0, 0, -1}},
                         Ray{{0.25f, 0.75f, infinite}, {0, 0, -1}}, Ray{{0, 0, 5}, {0, 0, -infinite}}})
    QVERIFY(!placed.closest(ray).found() && !placed.anything(ray, 100));
  QVERIFY(!placed.closest(down, nan).found() && !placed.anything(down, nan));
}

void TestGeometry::nearestPartIsHit() {
  GeometryCache cache;
  const PlacedGeometry placed(cache.device(), {{cache.get(shelves(), {}), Similarity{}}});
  const Hit hit = placed.closest(down);
  QVERIFY(hit.found());
  QCOMPARE(hit.part, 1u);
  QVERIFY(std::abs(hit.distance - 4) < 1e-5f);
  const auto detail = placed.detail(hit);
  QVERIFY((detail.normal - Vec3f(0, 0, 1)).length() < 1e-6f);
  QVERIFY((detail.uv - Vec2f(0.25f, 0.75f)).length() < 1e-5f);
  QVERIFY(!placed.closest({{3, 3, 5}, {0, 0, -1}}).found());
  QVERIFY(!placed.closest(down, 3.9f).found());
}

void TestGeometry::hiddenPartsAreNotThere() {
  GeometryCache cache;
  const PlacedGeometry placed(cache.device(), {{cache.get(shelves(), {"high"}), Similarity{}}});
  const Hit hit = placed.closest(down);
  QCOMPARE(hit.part, 0u);
  QVERIFY(std::abs(hit.distance - 5) < 1e-5f);
}

void TestGeometry::placementMovesTurnsAndScales() {
  GeometryCache cache;
  const auto geometry = cache.get(shelves(), {});
  Similarity s;
  s.scale = 2, s.shift = {10, 0, 0.5};
  s.rotation = {{0, 1, 0}, {-1, 0, 0}, {0, 0, 1}};  // a quarter turn
  const PlacedGeometry placed(cache.device(), {{geometry, Similarity{}}, {geometry, s}});
  // The model's (0.25, 0.75, 1) doubled, turned and shifted.
  const Vec3d there = s.point({0.25, 0.75, 1});
  QVERIFY((there - Vec3d(8.5, 0.5, 2.5)).length() < 1e-12);
  const Hit hit = placed.closest({{float(there.x), float(there.y), 9}, {0, 0, -1}});
  QVERIFY(hit.found());
  QCOMPARE(hit.instance, 1u);
  QVERIFY(std::abs(hit.distance - 6.5f) < 1e-5f);
  QVERIFY((placed.detail(hit).uv - Vec2f(0.25f, 0.75f)).length() < 1e-4f);
}

void TestGeometry::anythingAgreesWithClosest() {
  GeometryCache cache;
  const PlacedGeometry placed(cache.device(), {{cache.get(shelves(), {}), Similarity{}}});
  for (uint32_t i = 0; i < 500; ++i) {
    Sampler s(1, 1, 0, i);
    const Vec2f u = s.next2(), v = s.next2();
    const Ray ray{{u.x * 3 - 1, u.y * 3 - 1, v.x * 3 - 1},
                  Vec3f(v.y - 0.5f, u.x - 0.5f, u.y - 0.6f).normalized()};
    QCOMPARE(placed.anything(ray, 1.5f), placed.closest(ray, 1.5f).found());
  }
}

void TestGeometry::cacheGivesTheSameGeometry() {
  GeometryCache cache;
  const auto model = shelves();
  const auto first = cache.get(model, {});
  QVERIFY(cache.get(model, {}) == first);
  QVERIFY(cache.get(model, {"low"}) != first);
  QVERIFY(cache.get(shelves(), {}) != first);
  // A scene's own stay, however many they are, and what was let go of while it is small.
  std::vector<std::shared_ptr<const Model>> models;
  std::vector<std::shared_ptr<const ModelGeometry>> held;
  for (int i = 0; i < 30; ++i) models.push_back(shelves()), held.push_back(cache.get(models.back(), {}));
  for (size_t i = 0; i < models.size(); ++i) QVERIFY(cache.get(models[i], {}) == held[i]);
  const std::weak_ptr<const ModelGeometry> small = held[7];
  held.clear();
  QVERIFY(cache.get(models[7], {}) == small.lock());
}

void TestGeometry::normalsTurnWithTheProduct() {
  GeometryCache cache;
  Product product;
  product.metresPerUnit = 0.5, product.up = UpAxis::y;
  const auto model = shelves();
  const Similarity world = worldFromModel(product, {"p", "m", 0, 0, 0, 90}, *model);
  const PlacedGeometry placed(cache.device(), {{cache.get(model, {}), world}});
  // Y up: the shelves stand upright and face -Y; a quarter turn makes that +X.
  const Hit hit = placed.closest({{3, 0, 0.25f}, {-1, 0, 0}});
  QVERIFY(hit.found());
  QVERIFY((placed.detail(hit).normal - Vec3f(1, 0, 0)).length() < 1e-5f);
  QVERIFY((placed.detail(hit).geometricNormal - Vec3f(1, 0, 0)).length() < 1e-5f);
}

void TestGeometry::raysPassThroughWhatIsCutOut() {
  // The upper shelf in a material whose picture is there on its right half only.
  const auto holed = [](float cutAt, float alpha) {
    auto model = std::make_shared<Model>(*shelves());
    model->textures.push_back({"holes", 2, 1, {255, 255, 255, 0, 255, 255, 255, 255}});
    FileMaterial material;
    material.cutAt = cutAt, material.alpha = alpha, material.colourTexture = 0;
    model->materials.push_back(material);
    model->parts[1].material = 0;
    return model;
  };
  GeometryCache cache;
  const auto partUnder = [](const PlacedGeometry& placed, float x, float y) {
    const Ray ray{{x, y, 5}, {0, 0, -1}};
    const Hit hit = placed.closest(ray);
    return hit.found() ? int(hit.part) : -1;
  };
  const PlacedGeometry cut(cache.device(), {{cache.get(holed(0.5f, 1), {}), Similarity{}}});
  QCOMPARE(partUnder(cut, 0.25f, 0.5f), 0);
  QCOMPARE(partUnder(cut, 0.75f, 0.5f), 1);
  const PlacedGeometry whole(cache.device(), {{cache.get(holed(0, 1), {}), Similarity{}}});
  QCOMPARE(partUnder(whole, 0.25f, 0.5f), 1);
  // Shadow rays from between the shelves see the same holes.
  QVERIFY(!cut.anything({{0.25f, 0.5f, 0.5f}, {0, 0, 1}}, 100));
  QVERIFY(cut.anything({{0.75f, 0.5f, 0.5f}, {0, 0, 1}}, 100));
  // A share of alpha is met by that share of all rays: three standard deviations of 4,096.
  const PlacedGeometry thin(cache.device(), {{cache.get(holed(-1, 0.3f), {}), Similarity{}}});
  int met = 0;
  for (int i = 0; i < 4096; ++i)
    met += partUnder(thin, 0.7f + 0.1f * float(i % 64) / 64, 0.1f + 0.8f * float(i / 64) / 64) == 1;
  QVERIFY2(std::abs(met / 4096.0 - 0.3) < 3 * std::sqrt(0.3 * 0.7 / 4096), qPrintable(QString::number(met)));
}

void TestGeometry::nothingPlacedIsNothingHit() {
  GeometryCache cache;
  const PlacedGeometry placed(cache.device(), {});
  QVERIFY(placed.empty());
  QVERIFY(!placed.closest(down).found());
  QVERIFY(!placed.anything(down, 1e30f));
}

void TestGeometry::cameraRaysMeetWhatTheCameraProjects() {
  GeometryCache cache;
  Scene scene;
  scene.geometry = std::make_shared<PlacedGeometry>(
      cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(shelves(), {}), Similarity{}}});
  scene.camera = lookAt(800, 600, 900, {0.4, -3, 2.5}, {0.5, 0.5, 0.8});
  scene.camera.k1 = -0.08;
  const Integrator integrator(scene);
  for (const Vec3d& p : {Vec3d(0.2, 0.3, 1), Vec3d(0.9, 0.1, 1), Vec3d(0.5, 0.8, 1)}) {
    const Ray ray = integrator.cameraRay(*projected(scene.camera, p));
    const Hit hit = scene.geometry->closest(ray);
    QVERIFY(hit.found());
    QVERIFY((ray.origin + ray.direction * hit.distance - toFloat(p)).length() < 1e-4f);
  }
}

void TestGeometry::everyMeshFormatComesIn_data() {
  QTest::addColumn<QString>("name");
  QTest::addColumn<QByteArray>("content");
  QTest::addColumn<double>("metresPerUnit");
  QTest::addColumn<int>("up");
  QTest::newRow("obj") << "t.obj" << QByteArray("v 0 0 0\nv 1 0 0\nv 0 2 0\nf 1 2 3\n") << 1.0
                       << int(UpAxis::y);
  QTest::newRow("stl")
      << "t.stl"
      << QByteArray(
             "solid t\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 2 "
             "0\nendloop\nendfacet\nendsolid t\n")
      << 0.001 << int(UpAxis::z);
  QTest::newRow("ply") << "t.ply"
                       << QByteArray(
                              "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float "
                              "y\nproperty float z\nelement face 1\nproperty list uchar int "
                              "vertex_indices\nend_header\n0 0 0\n1 0 0\n0 2 0\n3 0 1 2\n")
                       << 1.0 << int(UpAxis::z);
  const float positions[] = {0, 0, 0, 1, 0, 0, 0, 2, 0};
  const QByteArray buffer = QByteArray(reinterpret_cast<const char*>(positions), sizeof positions).toBase64();
  QTest::newRow("gltf") << "t.gltf"
                        << QByteArray(R"({"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}],
      "nodes": [{"mesh": 0, "name": "Leaf"}], "meshes": [{"name": "leaf", "primitives": [{"attributes": {"POSITION": 0}}]}],
      "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0,0,0], "max": [1,2,0]}],
      "bufferViews": [{"buffer": 0, "byteLength": 36}],
      "buffers": [{"byteLength": 36, "uri": "data:application/octet-stream;base64,)") +
                               buffer + QByteArray(R"("}]})")
                        << 1.0 << int(UpAxis::y);
}

void TestGeometry::everyMeshFormatComesIn() {
  QFETCH(QString, name);
  QFETCH(QByteArray, content);
  QFETCH(double, metresPerUnit);
  QFETCH(int, up);
  qputenv("XDG_CACHE_HOME", folder_.path().toUtf8());
  const fs::path file = write(name.toUtf8().constData(), content.toStdString());
  Progress progress;
  const auto model = importModel(file, progress);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->triangles(), size_t(1));
  QCOMPARE(model->metresPerUnit, metresPerUnit);
  QCOMPARE(int(model->up), up);
  QVERIFY((model->box().size() - Vec3d(1, 2, 0)).length() < 1e-6);
  QVERIFY(!model->unitReason.empty());
  for (const Vec3f& n : model->meshes[0].normals) QVERIFY(std::abs(std::abs(n.z) - 1) < 1e-4f);
  // The second time it comes from the cache: the same to the byte, and without a reader.
  qputenv("DUSK_IMPORT_WORKER", "/no/such/program");
  const auto again = importModel(file, progress);
  qputenv("DUSK_IMPORT_WORKER", DUSK_WORKER);
  QVERIFY(again.ok());
  QVERIFY(again->meshes[0].positions == model->meshes[0].positions);
}

DUSK_TEST(TestGeometry, NoApplication);
#include "geometry.moc"
