#include <QImage>
#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/picture/read.h"
#include "core/project/file.h"
#include "tests/headless.h"
#include "tests/program.h"

using nlohmann::json;

class TestBatch : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  QString write(const char* name, const QByteArray& text) {
    QFile file(folder_.filePath(name));
    if (file.open(QIODevice::WriteOnly)) file.write(text);
    return file.fileName();
  }
  const QString demo_ = DUSK_SOURCE "/demo/brackwater/";

 private slots:
  void wrongUseIsTwo();
  void infoTellsWhatItIs();
  void vantageSolvesTheDemosEvidence();
  void unsolvedIsOne();
  void rendersAndRepeatsToTheBit();
  void panoramaIsAlignedAndTakenApart();
  void bracketsAreMerged();
};

void TestBatch::wrongUseIsTwo() {
  QCOMPARE(dusk::headless({}).code, 2);
  QCOMPARE(dusk::headless({"dance"}).code, 2);
  QCOMPARE(dusk::headless({"info", "/no/such/file.jpg"}).code, 2);
  QCOMPARE(dusk::headless({"render", demo_ + "brackwater.dusk"}).code, 2);
  QCOMPARE(dusk::headless({"render", demo_ + "brackwater.dusk", "--out", folder_.path(), "--shot", "nowhere"})
               .code,
           2);
  QCOMPARE(
      dusk::headless({"render", demo_ + "brackwater.dusk", "--out", folder_.path(), "--size", "wide"}).code,
      2);
  QCOMPARE(dusk::headless({"vantage", write("bad.json", "{")}).code, 2);
  QCOMPARE(dusk::headless({"--help"}).code, 0);
}

void TestBatch::infoTellsWhatItIs() {
  const auto plate = dusk::headless({"info", demo_ + "quay-plate.jpg", "--json"});
  QCOMPARE(plate.code, 0);
  QCOMPARE(plate.told()["focal_mm_35"].get<double>(), 30.0);
  const auto model = dusk::headless({"info", demo_ + "brackwater-gauge.step", "--json"}).told();
  QVERIFY(model["parts"].get<int>() >= 20);
  QVERIFY(std::abs(model["true_size_m"][2].get<double>() - 0.3445) < 0.002);
  const auto panorama = dusk::headless({"info", demo_ + "quay-panorama.exr", "--json"}).told();
  QVERIFY(panorama["range_ev"].get<double>() > 12);
  const auto drawing = dusk::headless({"info", demo_ + "brackwater-label.svg", "--json"}).told();
  QCOMPARE(drawing["kind"].get<std::string>(), std::string("drawing"));
  QCOMPARE(drawing["size_mm"].dump(), std::string("[64.0,16.0]"));
  QVERIFY(dusk::headless({"info", demo_ + "brackwater.dusk"}).out.contains("project"));
}

void TestBatch::vantageSolvesTheDemosEvidence() {
  QFile file(demo_ + "brackwater.dusk"), truthFile(demo_ + "truth.json");
  QVERIFY(file.open(QIODevice::ReadOnly) && truthFile.open(QIODevice::ReadOnly));
  const json project = dusk::jsonFrom(file.readAll().toStdString()),
             truth = dusk::jsonFrom(truthFile.readAll().toStdString());
  json evidence = {{"image", {{"width", 1920}, {"height", 1280}}},
                   {"strokes", json::array()},
                   {"lens", {{"solve", {"k1"}}}}};
  for (const json& s : project["shots"][0]["evidence"]["strokes"])
    evidence["strokes"].push_back({{"run", s["run"]}, {"points", s["points"]}});
  const json& f = project["shots"][0]["evidence"]["footprint"];
  evidence["footprint"] = {{"corners", f["corners"]}, {"size_m", f["sizeM"]}};
  const auto answer = dusk::headless(
      {"vantage", write("evidence.json", QByteArray::fromStdString(dusk::jsonText(evidence))), "--json"});
  QCOMPARE(answer.code, 0);
  const json solved = answer.told();
  QVERIFY(solved["solved"].get<bool>());
  QVERIFY(std::abs(solved["focal_px"].get<double>() / truth["camera"]["focalPx"].get<double>() - 1) < 0.01);
  QCOMPARE(solved["world_from_camera"].size(), size_t(16));
  QVERIFY(std::abs(solved["world_from_camera"][11].get<double>() -
                   truth["camera"]["position"][2].get<double>()) < 0.02);
  QCOMPARE(solved["items"].size(), size_t(9));
}

void TestBatch::unsolvedIsOne() {
  const auto answer = dusk::headless(
      {"vantage", write("thin.json", R"({"image": {"width": 100, "height": 100}})"), "--json"});
  QCOMPARE(answer.code, 1);
  QVERIFY(!answer.told()["solved"].get<bool>());
  QVERIFY(answer.words.contains("Draw two strokes"));
}

void TestBatch::rendersAndRepeatsToTheBit() {
  for (const char* name : {"a", "b"}) {
    QStringList arguments = {"render",    demo_ + "brackwater.dusk",
                             "--out",     folder_.filePath(name),
                             "--size",    "300x200",
                             "--samples", "10",
                             "--json"};
    if (*name == 'b')
      arguments << "--threads"
                << "1";
    const auto answer = dusk::headless(arguments);
    QVERIFY2(answer.code == 0, answer.words.constData());
    QCOMPARE(answer.told()["files"].size(), size_t(3));
  }
  const auto read = [&](const char* name) { return dusk::readPhoto(folder_.filePath(name).toStdString()); };
  QVERIFY(read("a/brackwater-quay.png")->picture == read("b/brackwater-quay.png")->picture);
}

void TestBatch::panoramaIsAlignedAndTakenApart() {
  const auto aligned = dusk::headless({"panorama", "align", demo_ + "brackwater.dusk", "--json"});
  QCOMPARE(aligned.code, 0);
  const json found = aligned.told();
  QVERIFY(std::abs(found["turn_deg"].get<double>()) < 1.5 && !found["mirrored"].get<bool>());
  QVERIFY(std::abs(found["gain_ev"].get<double>() - 3) < 0.12);
  const QString rest = folder_.filePath("rest.exr");
  const auto sun = dusk::headless({"panorama", "sun", demo_ + "quay-panorama.exr", "-o", rest, "--json"});
  QCOMPARE(sun.code, 0);
  const json where = sun.told();
  // As the set was lit.
  QVERIFY(std::abs(where["azimuth_deg"].get<double>() + 112) < 0.5);
  QVERIFY(std::abs(where["elevation_deg"].get<double>() - 25) < 0.5);
  QVERIFY(QFile::exists(rest));
  QCOMPARE(dusk::headless({"panorama", "sun", rest}).code, 1);  // it has none any more
  QCOMPARE(dusk::headless({"panorama"}).code, 2);
  // The quay's own shadow agrees with its panorama, whose sun is whole; nothing is added for it.
  const QString with = folder_.filePath("with-sun.dusk");
  const auto shadow = dusk::headless({"panorama", "shadow", demo_ + "brackwater.dusk", "-o", with, "--json"});
  QVERIFY2(shadow.code == 0, shadow.words.constData());
  const auto told = shadow.told();
  QVERIFY(told["marked"].get<bool>() && std::abs(told["azimuth_deg"].get<double>() + 112) < 2);
  QVERIFY(told["panorama_gives"].get<double>() > 0.8 && !told.contains("lamp_ev"));
  QVERIFY(dusk::loadProject(with.toStdString())->shots[0].lamps.size() ==
          dusk::loadProject((demo_ + "brackwater.dusk").toStdString())->shots[0].lamps.size());
  // Saved in another folder, its links still lead to the same files.
  const auto elsewhere = dusk::loadProject(with.toStdString());
  QVERIFY(std::filesystem::exists(std::filesystem::path(folder_.path().toStdString()) /
                                  elsewhere->shots[0].plate.path));
  const auto none = dusk::headless({"panorama", "shadow", demo_ + "../boathouse/boathouse.dusk"});
  QVERIFY(none.code == 1 && none.words.contains("No shadow is clear"));
}

void TestBatch::bracketsAreMerged() {
  // Two greys seen at three exposures by a camera with a plain power response.
  QStringList arguments{"panorama", "merge"};
  for (int i = 0; i < 3; ++i) {
    QImage photo(160, 80, QImage::Format_RGB32);
    for (int y = 0; y < 80; ++y)
      for (int x = 0; x < 160; ++x) {
        const double light = (x < 80 ? 0.02 : 0.2) * (1 + 0.5 * y / 80) * std::pow(4.0, i - 1);
        const int code = int(std::lround(255 * std::pow(std::min(1.0, light), 1 / 2.2)));
        photo.setPixel(x, y, qRgb(code, code, code));
      }
    arguments << folder_.filePath(QString("%1.png").arg(i));
    QVERIFY(photo.save(arguments.last()));
  }
  const QString out = folder_.filePath("merged.exr");
  QCOMPARE(dusk::headless(arguments + QStringList{"-o", out}).code, 1);  // nothing says the exposures
  const auto merged = dusk::headless(arguments + QStringList{"-o", out, "--ev", "-2,0,2", "--json"});
  QVERIFY2(merged.code == 0, merged.words.constData());
  const auto light = dusk::readLight(out.toStdString());
  QVERIFY(light.ok());
  QVERIFY2(std::abs(light->at(120, 40)[1] / light->at(40, 40)[1] - 10) < 0.6,
           qPrintable(QString::number(light->at(120, 40)[1] / light->at(40, 40)[1])));
}

DUSK_TEST(TestBatch, QCoreApplication);
#include "batch.moc"
