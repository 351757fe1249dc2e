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
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;
using nlohmann::json;

/// Surfaces and products from and to the files of others.
class TestExchange : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const char* name) { return fs::path(folder_.path().toStdString()) / name; }
  /// A sheet as .gltf whose one material is `material`.
  Result<Model> sheetWith(const json& material);

 private slots:
  void initTestCase() { qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8()); }
  void everyExtensionIsRead();
  void texturesOfExtensionsAreRead();
  void materialsThatMakeNoSenseAreLeftOut();
  void writtenProductsAreReadBack();
  void feedsAreBakedWhereThereAreCoordinates();
  void hiddenAndMovedPartsAreAsShown();
  void materialFilesGoRound_data();
  void materialFilesGoRound();
  void othersMaterialFilesAreRead();
  void brokenMaterialFilesAreTold_data();
  void brokenMaterialFilesAreTold();
};

Result<Model> TestExchange::sheetWith(const json& material) {
  const float numbers[] = {0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 0,
                           0, 1, 0, 0, 1, 0, 0, 1, 0, 1, 1, 1, 1, 0, 0, 0};
  const uint16_t corners[] = {0, 1, 2, 0, 2, 3};
  QByteArray bytes(reinterpret_cast<const char*>(numbers), sizeof numbers);
  bytes.append(reinterpret_cast<const char*>(corners), sizeof corners);
  QImage picture(2, 2, QImage::Format_ARGB32);
  picture.fill(qRgba(64, 128, 255, 200));
  QByteArray png;
  QBuffer buffer(&png);
  (void)(buffer.open(QIODevice::WriteOnly) && picture.save(&buffer, "PNG"));
  const json views = {{{"buffer", 0}, {"byteLength", 48}},
                      {{"buffer", 0}, {"byteOffset", 48}, {"byteLength", 48}},
                      {{"buffer", 0}, {"byteOffset", 96}, {"byteLength", 32}},
                      {{"buffer", 0}, {"byteOffset", 128}, {"byteLength", 12}},
                      {{"buffer", 1}, {"byteLength", png.size()}}};
  const json gltf = {{"asset", {{"version", "2.0"}}},
                     {"scene", 0},
                     {"scenes", {{{"nodes", {0}}}}},
                     {"nodes", {{{"name", "sheet"}, {"mesh", 0}}}},
                     {"meshes",
                      {{{"primitives",
                         {{{"attributes", {{"POSITION", 0}, {"NORMAL", 1}, {"TEXCOORD_0", 2}}},
                           {"indices", 3},
                           {"material", 0}}}}}}},
                     {"materials", {material}},
                     {"textures", {{{"source", 0}}, {{"source", 1}}}},
                     {"images",
                      {{{"uri", "data:image/png;base64," + png.toBase64().toStdString()}},
                       {{"bufferView", 4}, {"mimeType", "image/png"}}}},
                     {"accessors",
                      {{{"bufferView", 0},
                        {"componentType", 5126},
                        {"count", 4},
                        {"type", "VEC3"},
                        {"min", {0, 0, 0}},
                        {"max", {1, 1, 0}}},
                       {{"bufferView", 1}, {"componentType", 5126}, {"count", 4}, {"type", "VEC3"}},
                       {{"bufferView", 2}, {"componentType", 5126}, {"count", 4}, {"type", "VEC2"}},
                       {{"bufferView", 3}, {"componentType", 5123}, {"count", 6}, {"type", "SCALAR"}}}},
                     {"bufferViews", views},
                     {"buffers",
                      {{{"byteLength", 140},
                        {"uri", "data:application/octet-stream;base64," + bytes.toBase64().toStdString()}},
                       {{"byteLength", png.size()},
                        {"uri", "data:application/octet-stream;base64," + png.toBase64().toStdString()}}}}};
  std::ofstream(in("sheet.gltf")) << jsonText(gltf);
  Progress progress;
  return importModel(in("sheet.gltf"), progress);
}

void TestExchange::everyExtensionIsRead() {
  const json material = {
      {"name", "all of it"},
      {"pbrMetallicRoughness",
       {{"baseColorFactor", {0.5, 0.25, 0.125, 1}}, {"metallicFactor", 0}, {"roughnessFactor", 0.5}}},
      {"emissiveFactor", {0.5, 1, 0}},
      {"extensions",
       {{"KHR_materials_emissive_strength", {{"emissiveStrength", 8}}},
        {"KHR_materials_ior", {{"ior", 1.75}}},
        {"KHR_materials_specular", {{"specularFactor", 0.5}}},
        {"KHR_materials_transmission", {{"transmissionFactor", 0.75}}},
        {"KHR_materials_volume",
         {{"thicknessFactor", 0.01}, {"attenuationColor", {0.5, 0.25, 1}}, {"attenuationDistance", 0.125}}},
        {"KHR_materials_dispersion", {{"dispersion", 0.5}}},
        {"KHR_materials_sheen", {{"sheenColorFactor", {0.5, 0.5, 1}}, {"sheenRoughnessFactor", 0.25}}},
        {"KHR_materials_clearcoat", {{"clearcoatFactor", 0.5}, {"clearcoatRoughnessFactor", 0.125}}},
        {"KHR_materials_iridescence",
         {{"iridescenceFactor", 1}, {"iridescenceIor", 1.25}, {"iridescenceThicknessMaximum", 550}}},
        {"KHR_materials_anisotropy", {{"anisotropyStrength", 0.5}, {"anisotropyRotation", 0.25}}}}}};
  const auto model = sheetWith(material);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  const Surface s = surfaceFromFile(model->materialOf(model->parts[0]));
  QCOMPARE(s.baseColour, Vec3d(0.5, 0.25, 0.125));
  QCOMPARE(s.emission, Vec3d(4, 8, 0));
  QVERIFY(s.ior == 1.75 && s.specular == 0.5 && s.transmission == 0.75 && !s.thinWalled);
  QVERIFY(s.absorptionColour == Vec3d(0.5, 0.25, 1) && s.absorptionDepthM == 0.125 && s.abbe == 40);
  QVERIFY(s.sheen == 1 && s.sheenColour == Vec3d(0.5, 0.5, 1) && s.sheenRoughness == 0.25);
  QVERIFY(s.clearcoat == 0.5 && s.clearcoatRoughness == 0.125);
  QVERIFY(s.filmNm == 550 && s.filmIor == 1.25);
  QVERIFY(s.anisotropy == 0.5 && std::abs(s.anisotropyTurnDegrees - degrees(0.25)) < 1e-4);
  // Without a volume it is a sheet; a film on a share of it is a coat.
  json sheet = material;
  sheet["extensions"].erase("KHR_materials_volume");
  sheet["extensions"]["KHR_materials_iridescence"]["iridescenceFactor"] = 0.25;
  const auto thin = sheetWith(sheet);
  const Surface t = surfaceFromFile(thin->materialOf(thin->parts[0]));
  QVERIFY(t.thinWalled && t.filmNm == 0 && t.coats.size() == 1 && t.coats[0].strength == 0.25);
  QCOMPARE(t.coats[0].surface.filmNm, 550.0);
}

void TestExchange::texturesOfExtensionsAreRead() {
  const json one = {{"index", 0}}, other = {{"index", 1}};
  const auto model = sheetWith(
      {{"name", "pictures"},
       {"pbrMetallicRoughness", {{"baseColorTexture", one}}},
       {"emissiveFactor", {1, 1, 1}},
       {"emissiveTexture", one},
       {"normalTexture", {{"index", 0}, {"texCoord", 1}}},
       {"extensions",
        {{"KHR_materials_transmission", {{"transmissionFactor", 1}, {"transmissionTexture", other}}},
         {"KHR_materials_clearcoat",
          {{"clearcoatFactor", 1},
           {"clearcoatTexture", one},
           {"clearcoatRoughnessTexture", one},
           {"clearcoatNormalTexture", one}}},
         {"KHR_materials_sheen",
          {{"sheenColorFactor", {1, 1, 1}},
           {"sheenColorTexture", one},
           {"sheenRoughnessFactor", 1},
           {"sheenRoughnessTexture", one}}},
         {"KHR_materials_specular", {{"specularTexture", one}}},
         {"KHR_materials_iridescence",
          {{"iridescenceFactor", 1},
           {"iridescenceThicknessMinimum", 200},
           {"iridescenceThicknessTexture", one}}}}}});
  QVERIFY(model.ok());
  QCOMPARE(model->textures.size(), size_t(2));  // each picture once: one from text, one from a buffer
  const Surface s = surfaceFromFile(model->materialOf(model->parts[0]), {"sheet.gltf", ""});
  using enum SurfaceValue;
  for (const SurfaceValue v : {baseColour, emission, clearcoat, clearcoatRoughness, coatNormal, sheenColour,
                               sheenRoughness, specular, film, transmission})
    QVERIFY2(s.feeds.contains(v) && s.feeds.at(v).size() == 1, qPrintable(QString::number(int(v))));
  QVERIFY(!s.feeds.contains(normal));  // on a second set of coordinates, which there is not
  QCOMPARE(s.feeds.at(film)[0].low, Vec3d(200));
  QCOMPARE(s.feeds.at(sheenRoughness)[0].channel, PictureChannel::alpha);
  QVERIFY(s.feeds.at(transmission)[0].texture != s.feeds.at(baseColour)[0].texture);
}

void TestExchange::materialsThatMakeNoSenseAreLeftOut() {
  // Of the wrong type, out of range, and pictures that are nowhere: the plain reader's values stay.
  const auto model = sheetWith(
      {{"name", "odd"},
       {"pbrMetallicRoughness", {{"roughnessFactor", 0.5}, {"baseColorTexture", {{"index", 77}}}}},
       {"extensions",
        {{"KHR_materials_clearcoat", {{"clearcoatFactor", 12}, {"clearcoatTexture", {{"index", 55}}}}},
         {"KHR_materials_ior", {{"ior", -3}}}}}});
  if (!model.ok()) {  // the reader of the shapes may refuse it, with a sentence
    QVERIFY(!model.error().message.empty());
    return;
  }
  const FileMaterial& m = model->materialOf(model->parts[0]);
  QVERIFY(m.clearcoat <= 1 && m.ior >= 1 && m.colourTexture == -1 && m.roughness == 0.5f);
}

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
  const auto made = sheetWith({{"name", "plain"}});
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
  Progress progress;
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
