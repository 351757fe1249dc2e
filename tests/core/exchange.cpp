#include <QGuiApplication>
#include <QtTest>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/assets/asset_store.h"
#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/deliver/dressed.h"
#include "core/product/import.h"
#include "core/project/feed_kinds.h"
#include "core/surface/library.h"
#include "core/surface/made_surface.h"
#include "core/surface/material_file.h"
#include "tests/core/sheet.h"
#include "tests/gltf_sheet.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;
using nlohmann::json;

/// Surfaces and products from and to the files of others.
class TestExchange : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }

 private slots:
  void initTestCase() { qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8()); }
  void writtenProductsAreReadBack();
  void feedsAreBakedWhereThereAreCoordinates();
  void hiddenAndMovedPartsAreAsShown();
  void materialFilesGoRound_data();
  void materialFilesGoRound();
  void othersMaterialFilesAreRead();
  void brokenMaterialFilesAreTold_data();
  void brokenMaterialFilesAreTold();
};

void TestExchange::writtenProductsAreReadBack() {
  Project project;
  Surface glass = *librarySurface("preset-acrylic"), paint;
  glass.id = "glass", glass.feeds.clear(), glass.abbe = 40, glass.absorptionDepthM = 0.02;
  glass.absorptionColour = {0.8, 0.4, 0.2};
  paint.id = "paint", paint.name = "Paint", paint.baseColour = {0.25, 0.5, 0.75}, paint.roughness = 0.5;
  paint.clearcoat = 0.5, paint.emission = {2, 1, 0}, paint.subsurface = 0.5;
  project.surfaces = {glass, paint};
  AssetStore assets(fs::path(DUSK_SOURCE) / "demo/jar");
  Product jar{"jar", "Jar", *assets.refer(fs::path(DUSK_SOURCE) / "demo/jar/brackwater-jar.step")};
  Progress progress;
  const auto model = assets.model(jar, progress);
  QVERIFY(model.ok());
  for (const Part& part : (*model)->parts)
    jar.surfaceOfPart[part.path] = part.name == "Glass" ? "glass" : "paint";
  project.products = {jar};
  const auto notes = writeDressed(project, "jar", assets, in("jar.glb"), 64, progress);
  QVERIFY2(notes.ok(), notes.ok() ? "" : notes.error().message.c_str());
  QCOMPARE(notes->parts, (*model)->parts.size());
  QCOMPARE(notes->pictures, size_t(0));
  QVERIFY(notes->lost.size() == 1 && notes->lost[0].find("below the surface") != std::string::npos);

  const auto back = importModel(in("jar.glb"), progress);
  QVERIFY2(back.ok(), back.ok() ? "" : back.error().message.c_str());
  QCOMPARE(back->parts.size(), (*model)->parts.size());
  QCOMPARE(back->metresPerUnit, 1.0);
  // 140 mm, now upright along Y.
  QVERIFY(std::abs(back->box().size().y - 0.1402) < 2e-4);
  for (const Part& part : back->parts) {
    const Surface s = surfaceFromFile(back->materialOf(part));
    const bool isGlass = part.name == "Glass";
    QVERIFY(close(s.transmission, isGlass ? 1 : 0));
    if (isGlass) {
      const BsdfParameters was = parametersOf(glass), is = parametersOf(s);
      QVERIFY(close(s.ior, glass.ior) && close(s.abbe, 40, 1e-3) && !s.thinWalled);
      for (int c = 0; c < 3; ++c)
        QVERIFY(std::abs(was.absorption[c] - is.absorption[c]) < 1e-3f * was.absorption[c]);
    } else {
      QVERIFY((s.baseColour - paint.baseColour).length() < 1e-5 && close(s.roughness, 0.5) &&
              close(s.clearcoat, 0.5));
      QVERIFY((s.emission - paint.emission).length() < 1e-5);
    }
  }
  QVERIFY(!writeDressed(project, "none", assets, in("no.glb"), 64, progress).ok());
  progress.cancel();
  const auto cancelled = writeDressed(project, "jar", assets, in("no.glb"), 64, progress);
  QVERIFY(!cancelled.ok() && !fs::exists(in("no.glb")));
}

void TestExchange::feedsAreBakedWhereThereAreCoordinates() {
  // A sheet of one metre, checkered: the baked picture has its squares, half of them of each colour.
  Progress progress;
  const auto made = importModel(writeSheet(folder_.path().toStdString(), {{"name", "plain"}}), progress);
  QVERIFY(made.ok());
  Project project;
  Surface s;
  s.id = "checker", s.name = "Checker";
  Feed f = newFeed(FeedKind::checker);
  f.sizeMm = 250, f.low = Vec3d(0, 0, 0), f.high = Vec3d(1, 0, 0);
  f.mapping.kind = MappingKind::coordinates, f.mapping.sizeMm = {1, 1};
  s.feeds[SurfaceValue::baseColour] = {f};
  project.surfaces = {s};
  AssetStore assets(fs::path(folder_.path().toStdString()));
  Product product{"sheet", "LitSheet", *assets.refer(in("sheet.gltf"))};
  product.metresPerUnit = 1, product.up = UpAxis::y;
  product.surfaceOfPart[made->parts[0].path] = "checker";
  project.products = {product};
  const auto notes = writeDressed(project, "sheet", assets, in("checker.glb"), 64, progress);
  QVERIFY2(notes.ok(), notes.ok() ? "" : notes.error().message.c_str());
  QCOMPARE(notes->pictures, size_t(3));
  const auto back = importModel(in("checker.glb"), progress);
  QVERIFY(back.ok());
  const FileMaterial& m = back->materialOf(back->parts[0]);
  QVERIFY(m.colourTexture >= 0 && m.metalRoughTexture >= 0 && m.normalTexture >= 0);
  const FileTexture& t = back->textures[size_t(m.colourTexture)];
  int red = 0, changes = 0;
  for (int x = 0; x < t.width; ++x) {
    const auto at = [&](int column) {
      return t.rgba[4 * (size_t(8) * size_t(t.width) + size_t(column))] > 128;
    };
    red += at(x), changes += x > 0 && at(x) != at(x - 1);
  }
  QVERIFY2(std::abs(red - t.width / 2) <= 2 && changes == 3,
           qPrintable(QString("%1 red, %2 changes").arg(red).arg(changes)));
  QVERIFY(!fs::exists(in("checker.glb.picture.png")));  // nothing is left beside it
}

void TestExchange::hiddenAndMovedPartsAreAsShown() {
  AssetStore assets(fs::path(DUSK_SOURCE) / "demo/jar");
  Project project;
  Product jar{"jar", "Jar", *assets.refer(fs::path(DUSK_SOURCE) / "demo/jar/brackwater-jar.step")};
  Progress progress;
  const auto model = assets.model(jar, progress);
  for (const Part& part : (*model)->parts)
    if (part.name != "Screw cap") jar.hiddenParts.insert(part.path);
  for (const Part& part : (*model)->parts)
    if (part.name == "Screw cap") jar.moves[part.path] = {{0, 0, 0}, {0, 0, 1}, {100, 0, 0}, 0};
  project.products = {jar};
  QVERIFY(writeDressed(project, "jar", assets, in("cap.glb"), 0, progress).ok());
  const auto back = importModel(in("cap.glb"), progress);
  QVERIFY(back.ok() && back->parts.size() == 1);
  QVERIFY(std::abs(back->box().middle().x - 0.1) < 1e-4);
  jar.hiddenParts.insert(model.value()->parts[0].path);
  for (const Part& part : (*model)->parts) project.products[0].hiddenParts.insert(part.path);
  const auto none = writeDressed(project, "jar", assets, in("none.glb"), 0, progress);
  QVERIFY(!none.ok() && none.error().message.find("hidden") != std::string::npos);
}

void TestExchange::materialFilesGoRound_data() {
  QTest::addColumn<QString>("id");
  for (const char* id : {"preset-harbour-enamel", "preset-cut-crystal", "preset-candle-wax",
                         "preset-soap-film", "preset-tide-brass", "preset-felt", "preset-red-lens"})
    QTest::newRow(id) << id;
}

void TestExchange::materialFilesGoRound() {
  QFETCH(QString, id);
  const Surface* preset = librarySurface(id.toStdString());
  QVERIFY(preset);
  Surface s = *preset;
  s.feeds.clear(), s.coats.clear();
  MaterialNotes out, back;
  const std::string text = materialFileOf({s}, out);
  QVERIFY(out.lost.empty());
  const auto read = surfacesFromMaterialFile(text, "it.mtlx", back);
  QVERIFY2(read.ok() && read->size() == 1, text.c_str());
  const BsdfParameters a = parametersOf(s), b = parametersOf(read->front());
  const auto near = [](const Rgb& x, const Rgb& y) { return (x - y).length() < 1e-4f * (1 + x.length()); };
  QVERIFY(near(a.base, b.base) && near(a.emission, b.emission) && near(a.coatColour, b.coatColour));
  QVERIFY(near(a.absorption, b.absorption));
  for (float BsdfParameters::*v :
       {&BsdfParameters::metalness, &BsdfParameters::roughness, &BsdfParameters::ior,
        &BsdfParameters::transmission, &BsdfParameters::clearcoat, &BsdfParameters::clearcoatRoughness,
        &BsdfParameters::specular, &BsdfParameters::filmNm, &BsdfParameters::abbe,
        &BsdfParameters::subsurface, &BsdfParameters::opacity})
    QVERIFY(std::abs(a.*v - b.*v) < 1e-5f * (1 + std::abs(a.*v)));
  QCOMPARE(a.thinWalled, b.thinWalled);
  if (a.subsurface > 0) QVERIFY(near(a.subsurfaceM * 1000.0f, b.subsurfaceM * 1000.0f));
}

void TestExchange::othersMaterialFilesAreRead() {
  const char* text = R"(<?xml version="1.0"?>
<materialx version="1.38">
  <nodegraph name="NG">
    <tiledimage name="grain" type="color3">
      <input name="file" type="filename" value="oak.png" colorspace="srgb_texture"/>
      <input name="realworldimagesize" type="vector2" value="0.4, 0.25"/>
    </tiledimage>
    <image name="rough" type="float"><input name="file" type="filename" value="rough.png"/></image>
    <noise2d name="waves" type="float"/>
    <output name="colour_out" type="color3" nodename="grain"/>
    <output name="rough_out" type="float" nodename="rough"/>
    <output name="coat_out" type="float" nodename="waves"/>
  </nodegraph>
  <standard_surface name="SR_oak" type="surfaceshader">
    <input name="base" type="float" value="0.5"/>
    <input name="base_color" type="color3" nodegraph="NG" output="colour_out"/>
    <input name="specular_roughness" type="float" nodegraph="NG" output="rough_out"/>
    <input name="coat" type="float" nodegraph="NG" output="coat_out"/>
    <input name="emission" type="float" value="3"/>
    <input name="emission_color" type="color3" value="1, 0.5, 0.25"/>
    <input name="metalness" type="float" value="7"/>
  </standard_surface>
  <surfacematerial name="oak" type="material"><input name="surfaceshader" type="surfaceshader" nodename="SR_oak"/></surfacematerial>
</materialx>)";
  MaterialNotes notes;
  const auto read = surfacesFromMaterialFile(text, "oak.mtlx", notes);
  QVERIFY(read.ok() && read->size() == 1);
  const Surface& s = read->front();
  QCOMPARE(s.name, std::string("oak"));
  const Feed& grain = s.feeds.at(SurfaceValue::baseColour)[0];
  QVERIFY(grain.picture.path == "oak.png" && grain.mapping.sizeMm == Vec2d(400, 250));
  QCOMPARE(s.feeds.at(SurfaceValue::roughness)[0].channel, PictureChannel::red);
  QVERIFY(!s.feeds.contains(SurfaceValue::clearcoat));
  QVERIFY(notes.lost.size() == 1 && notes.lost[0].find("noise2d") != std::string::npos);
  QCOMPARE(s.emission, Vec3d(3, 1.5, 0.75));
  QCOMPARE(s.metalness, 1.0);  // never out of range
  // What pictures there are goes out again as it came; patterns are told.
  Surface own = s;
  own.feeds[SurfaceValue::clearcoat] = {newFeed(FeedKind::noise)};
  MaterialNotes lost;
  const std::string again = materialFileOf({own}, lost);
  QVERIFY(again.find("realworldimagesize") != std::string::npos &&
          again.find("oak.png") != std::string::npos);
  QVERIFY(lost.lost.size() == 1 && lost.lost[0].find("patterns") != std::string::npos);
}

void TestExchange::brokenMaterialFilesAreTold_data() {
  QTest::addColumn<QByteArray>("text");
  QTest::newRow("nothing") << QByteArray();
  QTest::newRow("not XML") << QByteArray("{\"a\": 1}");
  QTest::newRow("other XML") << QByteArray("<svg/>");
  QTest::newRow("no surface") << QByteArray("<materialx version=\"1.38\"/>");
  QTest::newRow("cut off") << QByteArray("<materialx><standard_surface name=\"a\"><input");
  QTest::newRow("deep") << QByteArray("<materialx>") + QByteArray("<a>").repeated(20000);
}

void TestExchange::brokenMaterialFilesAreTold() {
  QFETCH(QByteArray, text);
  MaterialNotes notes;
  const auto read = surfacesFromMaterialFile(text.toStdString(), "mine.mtlx", notes);
  QVERIFY(!read.ok() && read.error().message.find("mine.mtlx") != std::string::npos);
}

DUSK_TEST(TestExchange, QGuiApplication);
#include "exchange.moc"
