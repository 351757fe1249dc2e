#include <assimp/scene.h>
#include <BRepPrimAPI_MakeBox.hxx>
#include <IGESControl_Writer.hxx>
#include <QtTest>
#include <assimp/Exporter.hpp>
#include <fstream>

#include "core/product/import.h"
#include "core/product/model_file.h"
#include "core/product/read_model.h"
#include "demo/product.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestProduct : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  void write(const char* name, const std::string& text) { std::ofstream(in(name)) << text; }

 private slots:
  void initTestCase() { qputenv("XDG_CACHE_HOME", folder_.path().toUtf8()); }
  void stepKeepsTreeNamesColoursAndSize();
  void objComesInAsWritten();
  void igesKeepsItsSize();
  void meshFormats_data();
  void meshFormats();
  void modelBytesRoundTrip();
  void cutModelBytesAreRefused();
  void standsOnTheGround_data();
  void standsOnTheGround();
  void brokenFilesAreOneSentence_data();
  void brokenFilesAreOneSentence();
  void crashingReaderEndsAsASentence();
  void loopingReaderIsEnded();
  void importCanBeCancelled();
  void rubbishFromTheWorkerIsRefused();
};

void TestProduct::stepKeepsTreeNamesColoursAndSize() {
  QVERIFY(demo::writeGauge(in("gauge.step")).ok());
  const auto model = readCad(in("gauge.step"), 0.0002);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QVERIFY(model->parts.size() >= 40);
  QCOMPARE(model->groups.size(), size_t(8));
  QVERIFY(std::abs(model->box().size().z * model->metresPerUnit - 0.3445) < 0.002);
  const auto part = [&](const char* path) -> const Part* {
    for (const Part& p : model->parts)
      if (p.path == path) return &p;
    return nullptr;
  };
  const Part* bezel = part("Brackwater tide gauge/Dial/Bezel");
  QVERIFY(bezel && model->materialOf(*bezel).hasColour);
  QVERIFY((model->materialOf(*bezel).colour - Vec3f(0.78f, 0.53f, 0.22f)).length() < 0.01f);
  QCOMPARE(model->groups[size_t(bezel->parent)].name, std::string("Dial"));
  std::set<std::string> paths;
  for (const Part& p : model->parts) {
    QVERIFY(paths.insert(p.path).second);
    for (const Vec3f& n : model->meshOf(p).normals) QVERIFY(std::abs(n.length() - 1) < 1e-3f);
  }
  // Outward normals: the divergence theorem gives the solid's volume, and it is positive.
  double volume = 0;
  for (size_t i = 0; i + 2 < model->meshOf(*bezel).indices.size(); i += 3) {
    const auto& m = model->meshOf(*bezel);
    volume += double(m.positions[m.indices[i]].dot(
                  m.positions[m.indices[i + 1]].cross(m.positions[m.indices[i + 2]]))) /
              6;
  }
  const double ring = pi * (70 * 70 - 60 * 60) * 8;  // before its edges are rounded
  QVERIFY2(volume > 0.85 * ring && volume < ring, qPrintable(QString::number(volume / ring)));
}

void TestProduct::objComesInAsWritten() {
  write("box.obj",
        "o lid\nv 0 0 0\nv 2 0 0\nv 2 1 0\nv 0 1 0\nf 1 2 3 4\no base\nv 0 0 -1\nv 2 0 -1\nv 2 1 -1\nf 5 6 "
        "7\n");
  Progress progress;
  const auto model = importModel(in("box.obj"), progress);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->parts.size(), size_t(2));
  QCOMPARE(model->triangles(), size_t(3));
  QCOMPARE(model->metresPerUnit, 1.0);
  QVERIFY((model->box().size() - Vec3d(2, 1, 1)).length() < 1e-5);
}

void TestProduct::igesKeepsItsSize() {
  IGESControl_Writer writer("MM", 1);  // solids as such
  writer.AddShape(BRepPrimAPI_MakeBox(40.0, 30.0, 20.0).Shape());
  QVERIFY(writer.Write(in("box.igs").c_str()));
  Progress progress;
  const auto model = importModel(in("box.igs"), progress);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QVERIFY((model->box().size() - Vec3d(40, 30, 20)).length() < 1e-3);
  QCOMPARE(model->metresPerUnit, 0.001);
  QVERIFY((model->rest.centreOfMass - Vec3f(20, 15, 10)).length() < 1e-3f);
}

void TestProduct::meshFormats_data() {
  QTest::addColumn<QString>("ending");
  QTest::addColumn<QString>("format");  // Assimp's name of the exporter
  for (const auto& [ending, format] : {std::pair("dae", "collada"),
                                       {"3mf", "3mf"},
                                       {"glb", "glb2"},
                                       {"gltf", "gltf2"},
                                       {"stl", "stlb"},
                                       {"ply", "plyb"}})
    QTest::newRow(ending) << ending << format;
}

void TestProduct::meshFormats() {
  QFETCH(QString, ending);
  QFETCH(QString, format);
  // A tetrahedron through the library's own exporters.
  aiScene scene;
  scene.mRootNode = new aiNode("root");
  scene.mNumMaterials = scene.mNumMeshes = 1;
  scene.mMaterials = new aiMaterial* [1] { new aiMaterial };
  auto* mesh = new aiMesh;
  scene.mMeshes = new aiMesh* [1] { mesh };
  mesh->mPrimitiveTypes = aiPrimitiveType_TRIANGLE;
  mesh->mNumVertices = 4;
  mesh->mVertices = new aiVector3D[4]{{0, 0, 0}, {3, 0, 0}, {0, 2, 0}, {0, 0, 1}};
  mesh->mNormals = new aiVector3D[4]{{-1, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  mesh->mNumFaces = 4;
  mesh->mFaces = new aiFace[4];
  const unsigned corners[4][3] = {{0, 2, 1}, {0, 1, 3}, {0, 3, 2}, {1, 2, 3}};
  for (int i = 0; i < 4; ++i) {
    mesh->mFaces[i].mNumIndices = 3;
    mesh->mFaces[i].mIndices = new unsigned[3]{corners[i][0], corners[i][1], corners[i][2]};
  }
  auto* node = new aiNode("tetra");
  scene.mRootNode->addChildren(1, &node);
  node->mNumMeshes = 1;
  node->mMeshes = new unsigned[1]{0};
  const fs::path file = in(("tetra." + ending).toUtf8().constData());
  Assimp::Exporter exporter;
  if (exporter.Export(&scene, format.toStdString(), file.string()) != AI_SUCCESS)
    QSKIP("this Assimp does not write it");
  Progress progress;
  const auto model = importModel(file, progress);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->triangles(), size_t(4));
  Vec3d size = model->box().size();
  std::sort(&size.x, &size.x + 3);
  QVERIFY2((size - Vec3d(1, 2, 3)).length() < 1e-4,
           qPrintable(QString("%1 %2 %3").arg(size.x).arg(size.y).arg(size.z)));
}

namespace {
Model wedge() {
  Model m;
  m.groups = {{"g", "g", -1}};
  Part p;
  p.path = "g/wedge", p.name = "wedge", p.parent = 0;
  Mesh mesh;
  mesh.positions = {{-1, 2, 3}, {4, 2, 3}, {-1, 5, 3}, {-1, 2, 10}};
  mesh.normals.assign(4, Vec3f(0, 0, 1));
  mesh.indices = {0, 1, 2, 0, 1, 3};
  m.add(p, mesh);
  m.up = UpAxis::y;
  return m;
}
}  // namespace

void TestProduct::modelBytesRoundTrip() {
  const Model m = wedge();
  const auto back = modelFromBytes(modelBytes(m));
  QVERIFY(back.ok());
  QCOMPARE(modelBytes(*back), modelBytes(m));
  QVERIFY(back->meshes[0].positions == m.meshes[0].positions);
  Model bad = wedge();
  bad.meshes[0].indices[4] = 77;
  QVERIFY(!modelFromBytes(modelBytes(bad)).ok());
}

void TestProduct::cutModelBytesAreRefused() {
  const std::string bytes = modelBytes(wedge());
  for (size_t n = 0; n < bytes.size(); ++n) QVERIFY(!modelFromBytes(std::span(bytes).first(n)).ok());
}

void TestProduct::standsOnTheGround_data() {
  QTest::addColumn<int>("up");
  QTest::addColumn<double>("tall");
  QTest::newRow("x") << 0 << 5.0;
  QTest::newRow("y") << 1 << 3.0;
  QTest::newRow("z") << 2 << 7.0;
}

void TestProduct::standsOnTheGround() {
  QFETCH(int, up);
  QFETCH(double, tall);
  const Model m = wedge();
  Product product;
  product.metresPerUnit = 0.01, product.up = UpAxis(up);
  const Placement placement{"p", "m", 1.5, -2, 0.25, 37};
  const Similarity world = worldFromModel(product, placement, m);
  Box box;
  Vec3d corner[2] = {m.box().low, m.box().high};
  for (int i = 0; i < 8; ++i)
    box.add(world.point({corner[i & 1].x, corner[(i >> 1) & 1].y, corner[i >> 2].z}));
  QVERIFY(std::abs(box.low.z - 0.25) < 1e-12);
  QVERIFY(std::abs(box.size().z - tall * 0.01) < 1e-12);
  QVERIFY(std::abs(box.middle().x - 1.5) < 1e-12 && std::abs(box.middle().y + 2) < 1e-12);
  QVERIFY(std::abs(world.rotation.x.cross(world.rotation.y).dot(world.rotation.z) - 1) < 1e-12);
  QVERIFY(std::abs(trueSize(product, m.box()).z - tall * 0.01) < 1e-12);
}

void TestProduct::brokenFilesAreOneSentence_data() {
  QTest::addColumn<QString>("name");
  QTest::addColumn<QByteArray>("content");
  QFile step(DUSK_SOURCE "/demo/brackwater/brackwater-gauge.step");
  QVERIFY(step.open(QIODevice::ReadOnly));
  const QByteArray gauge = step.readAll();
  QTest::newRow("empty step") << "a.step" << QByteArray();
  QTest::newRow("text step") << "b.step" << QByteArray("hello");
  QTest::newRow("step header only") << "c.step" << gauge.left(900);
  QTest::newRow("empty obj") << "d.obj" << QByteArray();
  QTest::newRow("text stl") << "e.stl" << QByteArray("solid nothing here");
  QTest::newRow("text glb") << "f.glb" << QByteArray("glTF but not");
  QTest::newRow("text fbx") << "g.fbx" << QByteArray("; FBX");
  QTest::newRow("text iges") << "i.igs" << QByteArray("no iges at all");
  QTest::newRow("unknown ending") << "h.xyz" << QByteArray("x");
}

void TestProduct::brokenFilesAreOneSentence() {
  QFETCH(QString, name);
  QFETCH(QByteArray, content);
  write(name.toUtf8().constData(), content.toStdString());
  Progress progress;
  const auto model = importModel(in(name.toUtf8().constData()), progress);
  QVERIFY(!model.ok());
  QVERIFY(model.error().message.size() > 20);
}

void TestProduct::crashingReaderEndsAsASentence() {
  write("crash.step", "x");
  qputenv("DUSK_IMPORT_WORKER", DUSK_FAILING_WORKER);
  Progress progress;
  const auto model = importModel(in("crash.step"), progress);
  QVERIFY(!model.ok());
  QVERIFY(model.error().message.find("broke on crash.step") != std::string::npos);
}

void TestProduct::loopingReaderIsEnded() {
  write("loop.step", "xx");
  Progress progress;
  QElapsedTimer clock;
  clock.start();
  const auto model = importModel(in("loop.step"), progress, {}, {0.5, size_t{1} << 30});
  QVERIFY(!model.ok() && clock.elapsed() < 5000);
  QVERIFY(model.error().message.find("longer than") != std::string::npos);
}

void TestProduct::importCanBeCancelled() {
  write("loop2.step", "xxx");
  Progress progress;
  std::thread later([&] {
    std::this_thread::sleep_for(std::chrono::milliseconds(200));
    progress.cancel();
  });
  const auto model = importModel(in("loop2.step"), progress);
  later.join();
  QVERIFY(!model.ok());
  QCOMPARE(model.error().kind, ErrorKind::cancelled);
}

void TestProduct::rubbishFromTheWorkerIsRefused() {
  write("rubbish.step", "xxxx");
  Progress progress;
  QVERIFY(!importModel(in("rubbish.step"), progress).ok());
  qputenv("DUSK_IMPORT_WORKER", DUSK_WORKER);
}

QTEST_APPLESS_MAIN(TestProduct)
#include "product.moc"
