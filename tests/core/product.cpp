#include <QtTest>
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
  const auto model = readStep(in("gauge.step"), 0.0002);
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
  QVERIFY(bezel && bezel->hasColour);
  QVERIFY((bezel->colour - Vec3f(0.78f, 0.53f, 0.22f)).length() < 0.01f);
  QCOMPARE(model->groups[size_t(bezel->parent)].name, std::string("Dial"));
  std::set<std::string> paths;
  for (const Part& p : model->parts) {
    QVERIFY(paths.insert(p.path).second);
    for (const Vec3f& n : p.mesh.normals) QVERIFY(std::abs(n.length() - 1) < 1e-3f);
  }
  // Outward normals: the divergence theorem gives the solid's volume, and it is positive.
  double volume = 0;
  for (size_t i = 0; i + 2 < bezel->mesh.indices.size(); i += 3) {
    const auto& m = bezel->mesh;
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

namespace {
Model wedge() {
  Model m;
  m.groups = {{"g", "g", -1}};
  Part p;
  p.path = "g/wedge", p.name = "wedge", p.parent = 0, p.hasColour = true;
  p.mesh.positions = {{-1, 2, 3}, {4, 2, 3}, {-1, 5, 3}, {-1, 2, 10}};
  p.mesh.normals.assign(4, Vec3f(0, 0, 1));
  p.mesh.indices = {0, 1, 2, 0, 1, 3};
  m.parts.push_back(p);
  m.up = UpAxis::y;
  return m;
}
}  // namespace

void TestProduct::modelBytesRoundTrip() {
  const Model m = wedge();
  const auto back = modelFromBytes(modelBytes(m));
  QVERIFY(back.ok());
  QCOMPARE(modelBytes(*back), modelBytes(m));
  QVERIFY(back->parts[0].mesh.positions == m.parts[0].mesh.positions);
  Model bad = wedge();
  bad.parts[0].mesh.indices[4] = 77;
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
  const auto model = importModel(in("loop.step"), progress, {0.5, size_t{1} << 30});
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
