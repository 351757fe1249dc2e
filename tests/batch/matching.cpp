// The match verb, and layers through files and deliveries.
#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/deliver/deliver.h"
#include "core/light/backdrop.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "tests/headless.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

class TestMatching : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  const fs::path demo_ = fs::path(DUSK_SOURCE) / "demo/brackwater";
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }

 private slots:
  void thePhotosCharacterIsTold();
  void aMatchedProjectIsWritten();
  void whatCannotBeReadIsSaid();
  void aLogoIsDelivered();
  void aTableIsDelivered();
};

void TestMatching::thePhotosCharacterIsTold() {
  const Headless match = headless({"match", QString::fromStdString(demo_ / "brackwater.dusk"), "--json"});
  QCOMPARE(match.code, 0);
  const auto answer = match.told();
  QCOMPARE(answer["rows"].size(), size_t(10));
  QVERIFY(answer["flatPlaces"].get<int>() > 50);
  for (const auto& row : answer["rows"]) {
    QVERIFY(row["what"].is_string() && row["product"].is_number());
    if (row["what"] != "Softness" || row["photo"].is_null()) continue;
    // What is matched comes to the photo's.
    QVERIFY(std::abs(row["matched"].get<double>() - row["photo"].get<double>()) < 0.05);
  }
}

void TestMatching::aMatchedProjectIsWritten() {
  const fs::path to = in("matched.dusk");
  const Headless match = headless(
      {"match", QString::fromStdString(demo_ / "brackwater.dusk"), "-o", QString::fromStdString(to)});
  QCOMPARE(match.code, 0);
  const auto project = loadProject(to);
  QVERIFY2(project.ok(), project.ok() ? "" : project.error().message.c_str());
  const Project before = *loadProject(demo_ / "brackwater.dusk");
  QVERIFY(project->shots[0].blend != before.shots[0].blend);
  Project same = *project;
  same.shots[0].blend = before.shots[0].blend;
  QVERIFY(same.shots == before.shots);  // nothing else was touched
}

void TestMatching::whatCannotBeReadIsSaid() {
  QCOMPARE(headless({"match", "nowhere.dusk"}).code, 2);
  QCOMPARE(headless({"match", QString::fromStdString(demo_ / "brackwater.dusk"), "--shot", "none"}).code, 2);
  QCOMPARE(headless({"match"}).code, 2);
}

void TestMatching::aLogoIsDelivered() {
  Picture logo(20, 10, {"R", "G", "B", "A"});
  for (int y = 0; y < 10; ++y)
    for (int x = 0; x < 20; ++x) {
      logo.at(x, y)[0] = 1;
      logo.at(x, y)[3] = x < 10 ? 1 : 0;
    }
  QVERIFY(writePng8(in("logo.png"), logo).ok());
  Project p;
  p.shots.resize(1);
  Shot& shot = p.shots[0];
  shot.id = "shot-1";
  shot.backdrop.kind = BackdropKind::plain, shot.backdrop.width = 200, shot.backdrop.height = 100;
  shot.backdrop.colour = "#ffffff";
  shot.vantage.solved = true;
  shot.vantage.camera = handCamera(shot.backdrop, shot.backdrop.width, shot.backdrop.height);
  shot.deliverables = {{DeliverableKind::png, "out.png"}};
  AssetStore assets(folder_.path().toStdString());
  ExtraLayer layer;
  layer.id = "layer-1", layer.name = "Logo", layer.anchor = LayerAnchor::bottomRight, layer.size = 0.2,
  layer.margin = 0.1;
  layer.file = *assets.refer(in("logo.png"));
  shot.blend.layers = {layer};
  GeometryCache cache;
  Progress progress;
  const auto report = deliver(p, 0, assets, cache, {in("out"), {}, {}, {}}, progress);
  QVERIFY2(report.ok(), report.ok() ? "" : report.error().message.c_str());
  QVERIFY(report->notes.empty());
  const auto made = readPhoto(in("out") / "out.png");
  QVERIFY(made.ok());
  // 40 by 20 pixels, 10 from the edges: red on its left half, the white ground through its right.
  const Rgb red = made->picture.rgbAt(155, 80), white = made->picture.rgbAt(185, 80),
            ground = made->picture.rgbAt(20, 20);
  QVERIFY(red.x > 0.98f && red.y < 0.02f && white.y > 0.98f && ground.y > 0.98f);
  layer.file.path = "gone.png";
  shot.blend.layers = {layer};
  const auto without = deliver(p, 0, assets, cache, {in("without"), {}, {}, {}}, progress);
  QVERIFY(without.ok() && without->notes.size() == 1);
  QVERIFY(without->notes[0].find("Logo") != std::string::npos);
}

void TestMatching::aTableIsDelivered() {
  const std::string swap = "LUT_3D_SIZE 2\n0 0 0\n0 0 1\n0 1 0\n0 1 1\n1 0 0\n1 0 1\n1 1 0\n1 1 1\n";
  QFile file(QString::fromStdString(in("swap.cube")));
  QVERIFY(file.open(QIODevice::WriteOnly) && file.write(swap.c_str()) > 0);
  file.close();
  Project p;
  p.shots.resize(1);
  Shot& shot = p.shots[0];
  shot.id = "shot-1";
  shot.backdrop.kind = BackdropKind::plain, shot.backdrop.width = 60, shot.backdrop.height = 40;
  shot.backdrop.colour = "#d0803a";
  shot.vantage.solved = true;
  shot.vantage.camera = handCamera(shot.backdrop, shot.backdrop.width, shot.backdrop.height);
  shot.deliverables = {{DeliverableKind::png, "out.png"}};
  AssetStore assets(folder_.path().toStdString());
  GeometryCache cache;
  Progress progress;
  const auto colourOf = [&](const char* to) {
    const auto report = deliver(p, 0, assets, cache, {in(to), {}, {}, {}}, progress);
    return report ? readPhoto(in(to) / "out.png")->picture.rgbAt(30, 20) : Rgb(-1);
  };
  const Rgb before = colourOf("plain");
  shot.blend.rows["view"].corrections = {
      {CorrectionKind::table, true, 1, {}, {}, *assets.refer(in("swap.cube"))}};
  const Rgb after = colourOf("swapped");
  QVERIFY(std::abs(after.x - before.z) < 0.006f && std::abs(after.z - before.x) < 0.006f &&
          after.y == before.y);
}

DUSK_TEST(TestMatching, QCoreApplication);
#include "matching.moc"
