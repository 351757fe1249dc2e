#include "core/deliver/gather.h"

#include <zip.h>

#include <QImage>
#include <QtTest>
#include <fstream>

#include "core/base/files.h"
#include "core/deliver/deliver.h"
#include "core/product/import.h"
#include "core/product/side_files.h"
#include "core/project/file.h"
#include "core/project/shots.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// A project and all it needs, carried elsewhere.
class TestGather : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  const fs::path demo_ = fs::path(DUSK_SOURCE) / "demo/brackwater";
  Project project_ = *loadProject(demo_ / "brackwater.dusk");
  AssetStore assets_{demo_};
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  static void write(const fs::path& file, const std::string& text) {
    fs::create_directories(file.parent_path());
    std::ofstream(file) << text;
  }
  static int count(const fs::path& folder) {
    int n = 0;
    for (const auto& entry : fs::recursive_directory_iterator(folder)) n += entry.is_regular_file();
    return n;
  }

 private slots:
  void everythingLinkedIsThere();
  void openedElsewhereThePixelsAreTheSame();
  void filesOfOneNameKeepApart();
  void oneFileLinkedTwiceIsCopiedOnce();
  void sideFilesComeAlong();
  void zipHoldsTheSame();
  void whatIsThereIsNotOverwritten();
  void aMissingFileLeavesNothingHalf();
  void cancelledLeavesNothing();
  void changedFilesAreTold();
};

void TestGather::everythingLinkedIsThere() {
  Progress progress;
  const auto report = gather(project_, assets_, in("all"), progress);
  QVERIFY2(report.ok(), report ? "" : report.error().message.c_str());
  const auto project = loadProject(report->project);
  QVERIFY(project.ok());
  QCOMPARE(count(in("all")), report->files);
  const AssetStore there(in("all"));
  for (const AssetRef& ref :
       {project->products[0].model, project->shots[0].plate, project->shots[0].surroundings.panorama}) {
    QVERIFY(fs::path(ref.path).is_relative() && fs::exists(there.pathOf(ref)));
    QCOMPARE(there.refer(there.pathOf(ref))->hash, ref.hash);
  }
  QVERIFY(report->notes.empty());
}

void TestGather::openedElsewhereThePixelsAreTheSame() {
  Project p = project_;
  p.shots[0].render.samples = 2;
  p.shots[0].deliverables = {{DeliverableKind::png, "p.png"}};
  Progress progress;
  const auto report = gather(p, assets_, in("pixels"), progress);
  QVERIFY(report.ok());
  const auto gathered = loadProject(report->project);
  const auto pixels = [&](const Project& of, AssetStore& assets, const char* to) {
    GeometryCache cache;
    DeliverOptions options;
    options.folder = in(to), options.size = {240, 160};
    const auto made = deliver(of, 0, assets, cache, options, progress);
    return made ? *readFile(made->files[0]) : std::string();
  };
  AssetStore there(in("pixels"));
  const std::string here = pixels(p, assets_, "out-a"), elsewhere = pixels(*gathered, there, "out-b");
  QVERIFY(!here.empty() && here == elsewhere);
}

void TestGather::filesOfOneNameKeepApart() {
  write(in("src/a/lamp.png"), "one"), write(in("src/b/lamp.png"), "two");
  const AssetStore assets(in("src"));
  Project p = emptyProject();
  for (const char* path : {"a/lamp.png", "b/lamp.png"}) {
    Lamp lamp;
    lamp.id = freshId(p.shots[0].lamps, "lamp"), lamp.picture = *assets.refer(in("src") / path);
    p.shots[0].lamps.push_back(lamp);
  }
  Progress progress;
  const auto report = gather(p, assets, in("apart"), progress);
  QVERIFY(report.ok());
  QCOMPARE(report->files, 3);
  const auto q = loadProject(report->project);
  QVERIFY(q->shots[0].lamps[0].picture.path != q->shots[0].lamps[1].picture.path);
  QCOMPARE(*readFile(in("apart") / q->shots[0].lamps[1].picture.path), std::string("two"));
}

void TestGather::oneFileLinkedTwiceIsCopiedOnce() {
  Project p = project_;
  addShot(p, 0, true), addShot(p, 1, true);
  Progress progress;
  const auto one = gather(project_, assets_, in("once"), progress),
             three = gather(p, assets_, in("thrice"), progress);
  QVERIFY(one.ok() && three.ok());
  QCOMPARE(one->files, three->files);
}

void TestGather::sideFilesComeAlong() {
  const fs::path from = in("models");
  // One where it says, one in a folder beside, one that nobody may read, one of a name in other letters.
  write(from / "thing.obj", "mtllib thing.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nusemtl a\nf 1/1 2/1 3/1\n");
  write(from / "thing.mtl",
        "newmtl a\nmap_Kd -s 1 1 1 textures/wood.png\nmap_Bump C:\\work\\maps\\bumps.png\n"
        "map_Ke ../outside.png\n");
  QImage dot(2, 2, QImage::Format_RGB32);
  dot.fill(Qt::red);
  write(from / "textures/wood.png", ""), write(in("maps/Bumps.PNG"), ""), write(in("outside.png"), "png");
  dot.save(QString::fromStdString((from / "textures/wood.png").string()));
  dot.save(QString::fromStdString(in("maps/Bumps.PNG").string()), "PNG");
  write(from / "scene.gltf",
        R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],
            "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],
            "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,0]}],
            "bufferViews":[{"buffer":0,"byteLength":36}],
            "buffers":[{"uri":"my%20data.bin","byteLength":36}],"images":[{"uri":"/etc/passwd"}]})");
  const float corners[9] = {0, 0, 0, 1, 0, 0, 0, 1, 0};
  write(from / "my data.bin", std::string(reinterpret_cast<const char*>(corners), sizeof corners));
  const AssetStore assets(from);
  Project p = emptyProject();
  for (const char* name : {"thing.obj", "scene.gltf"})
    p.products.push_back({freshId(p.products, "product"), name, *assets.refer(from / name)});
  Progress progress;
  const auto report = gather(p, assets, in("beside"), progress);
  QVERIFY(report.ok() && report->notes.empty());
  QCOMPARE(report->files, 7);
  const auto q = loadProject(report->project);
  const fs::path model = in("beside") / q->products[0].model.path;
  for (const char* beside : {"textures/wood.png", "thing.mtl", "Bumps.PNG"})
    QVERIFY2(fs::exists(model.parent_path() / beside), beside);
  for (const auto& file : fs::recursive_directory_iterator(in("beside")))
    QVERIFY(file.path().filename() != "outside.png" && file.path().filename() != "passwd");
  // Read there, it is the same.
  const auto here = importModel(from / "thing.obj", progress), there = importModel(model, progress);
  QVERIFY(here.ok() && there.ok());
  QCOMPARE(there->textures.size(), size_t(2));
  QCOMPARE(here->textures.size(), size_t(2));
  QCOMPARE(there->materials, here->materials);
  QCOMPARE(SideFiles::missing(there->sideFiles), std::vector<std::string>{"outside.png"});
}

void TestGather::zipHoldsTheSame() {
  Progress progress;
  const auto folder = gather(project_, assets_, in("as-folder"), progress);
  const auto report = gather(project_, assets_, in("as-file.zip"), progress);
  QVERIFY2(report.ok(), report ? "" : report.error().message.c_str());
  zip_t* archive = zip_open(in("as-file.zip").c_str(), ZIP_RDONLY | ZIP_CHECKCONS, nullptr);
  QVERIFY(archive);
  QCOMPARE(int(zip_get_num_entries(archive, 0)), folder->files);
  for (zip_int64_t i = 0; i < zip_get_num_entries(archive, 0); ++i) {
    zip_stat_t stat;
    zip_stat_index(archive, zip_uint64_t(i), 0, &stat);
    const std::string name = stat.name;
    QVERIFY(name.starts_with("as-file/"));
    const auto same = readFile(in("as-folder") / name.substr(8));
    QVERIFY2(same.ok(), name.c_str());
    std::string bytes(stat.size, '\0');
    zip_file_t* file = zip_fopen_index(archive, zip_uint64_t(i), 0);
    QCOMPARE(zip_fread(file, bytes.data(), stat.size), zip_int64_t(stat.size));
    zip_fclose(file);
    QVERIFY2(bytes == *same, name.c_str());
  }
  zip_discard(archive);
}

void TestGather::whatIsThereIsNotOverwritten() {
  write(in("full/mine.txt"), "mine"), write(in("full.zip"), "mine");
  Progress progress;
  for (const char* to : {"full", "full.zip"}) {
    const auto report = gather(project_, assets_, in(to), progress);
    QVERIFY(!report && report.error().message.find(to) != std::string::npos);
  }
  QCOMPARE(*readFile(in("full/mine.txt")), std::string("mine"));
  QCOMPARE(*readFile(in("full.zip")), std::string("mine"));
}

void TestGather::aMissingFileLeavesNothingHalf() {
  Project p = project_;
  p.shots[0].surroundings.panorama.path = "gone.exr";
  Progress progress;
  const auto report = gather(p, assets_, in("missing"), progress);
  QVERIFY(!report && report.error().message.find("gone.exr") != std::string::npos);
  QVERIFY(!fs::exists(in("missing")));
}

void TestGather::cancelledLeavesNothing() {
  for (const char* to : {"stopped", "stopped.zip"}) {
    Progress progress;
    progress.cancel();
    const auto report = gather(project_, assets_, in(to), progress);
    QVERIFY(!report && report.error().kind == ErrorKind::cancelled);
    QVERIFY2(!fs::exists(in(to)), to);
  }
}

void TestGather::changedFilesAreTold() {
  write(in("changing/plate.jpg"), "first");
  const AssetStore assets(in("changing"));
  Project p = emptyProject();
  p.shots[0].plate = *assets.refer(in("changing/plate.jpg"));
  write(in("changing/plate.jpg"), "second");
  Progress progress;
  const auto report = gather(p, assets, in("changed"), progress);
  QVERIFY(report.ok());
  QCOMPARE(report->notes.size(), size_t(1));
  QVERIFY(report->notes[0].find("plate.jpg") != std::string::npos);
}

DUSK_TEST(TestGather, QCoreApplication);
#include "gather.moc"
