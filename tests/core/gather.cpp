#include "core/deliver/gather.h"

#include <zip.h>

#include <QtTest>
#include <fstream>

#include "core/base/files.h"
#include "core/deliver/deliver.h"
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
  write(from / "thing.obj", "mtllib thing.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  write(from / "thing.mtl", "newmtl a\nmap_Kd -s 1 1 1 textures/wood.png\nmap_Bump ../outside.png\n");
  write(from / "textures/wood.png", "png"), write(in("outside.png"), "png");
  write(from / "scene.gltf",
        R"({"buffers": [{"uri": "my%20data.bin"}, {"uri": "data:xyz"}], "images": [{"uri":"/etc/passwd"}]})");
  write(from / "my data.bin", "bin");
  QCOMPARE(sideFilesOf(from / "thing.obj"), (std::vector<fs::path>{"textures/wood.png", "thing.mtl"}));
  QCOMPARE(sideFilesOf(from / "scene.gltf"), std::vector<fs::path>{"my data.bin"});
  QVERIFY(sideFilesOf(from / "none.obj").empty() && sideFilesOf(demo_ / "brackwater-gauge.step").empty());
  const AssetStore assets(from);
  Project p = emptyProject();
  for (const char* name : {"thing.obj", "scene.gltf"})
    p.products.push_back({freshId(p.products, "product"), name, *assets.refer(from / name)});
  Progress progress;
  const auto report = gather(p, assets, in("beside"), progress);
  QVERIFY(report.ok());
  QCOMPARE(report->files, 6);
  const auto q = loadProject(report->project);
  const fs::path model = in("beside") / q->products[0].model.path;
  QVERIFY(fs::exists(model.parent_path() / "textures/wood.png") &&
          fs::exists(model.parent_path() / "thing.mtl"));
  QVERIFY(!fs::exists(in("beside") / "outside.png"));
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
