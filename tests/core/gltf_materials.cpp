#include <QGuiApplication>
#include <QtTest>

#include "core/product/import.h"
#include "core/product/specular_glossiness.h"
#include "core/surface/made_surface.h"
#include "tests/gltf_sheet.h"
#include "tests/program.h"

using namespace dusk;
using nlohmann::json;

/// What a glTF file says of its surfaces, as it is read.
class TestGltfMaterials : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  Result<Model> sheetWith(const json& material) {
    Progress progress;
    return importModel(writeSheet(folder_.path().toStdString(), material), progress);
  }

 private slots:
  void initTestCase() { qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8()); }
  void everyExtensionIsRead();
  void texturesOfExtensionsAreRead();
  void specularAndGlossinessIsConverted();
  void texturesLieWhereTheySay_data();
  void texturesLieWhereTheySay();
  void placesThatAreNoneAreLeftOut();
  void aSecondSetOfCoordinatesIsTaken();
  void materialsThatMakeNoSenseAreLeftOut();
};

void TestGltfMaterials::everyExtensionIsRead() {
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

void TestGltfMaterials::texturesOfExtensionsAreRead() {
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

void TestGltfMaterials::specularAndGlossinessIsConverted() {
  const auto surface = [&](const json& diffuse, const json& specular, const json& textures = json::object()) {
    json old = {{"diffuseFactor", diffuse}, {"specularFactor", specular}, {"glossinessFactor", 0.75}};
    old.update(textures);
    const auto model =
        sheetWith({{"name", "old"}, {"extensions", {{"KHR_materials_pbrSpecularGlossiness", old}}}});
    return model ? std::pair(surfaceFromFile(model->materialOf(model->parts[0])), *model)
                 : std::pair(Surface{}, Model{});
  };
  // What mirrors as everything does is no metal, and what scatters nothing is one of its mirror's colour.
  const Surface plastic = surface({0.5, 0.25, 0.125, 1}, {0.04, 0.04, 0.04}).first;
  QVERIFY((plastic.baseColour - Vec3d(0.5, 0.25, 0.125)).length() < 0.01 && plastic.metalness < 0.01);
  QCOMPARE(plastic.roughness, 0.25);
  const Surface gold = surface({0, 0, 0, 1}, {0.9, 0.6, 0.3}).first;
  QVERIFY((gold.baseColour - Vec3d(0.9, 0.6, 0.3)).length() < 1e-5 && gold.metalness > 0.999);
  // Greys mirror and scatter the same by either description, exactly.
  for (const float m : {0.1f, 0.5f, 0.9f})
    for (const float grey : {0.2f, 0.8f}) {
      const float specular = 0.04f * (1 - m) + grey * m, diffuse = 0.96f * grey * (1 - m) / (1 - specular);
      const auto [base, metalness] = baseAndMetalness(Vec3f(diffuse), Vec3f(specular));
      QVERIFY2(std::abs(metalness - m) < 1e-3f && (base - Vec3f(grey)).length() < 1e-3f,
               qPrintable(QString("%1 for %2, %3 for %4").arg(metalness).arg(m).arg(base.x).arg(grey)));
    }
  // With a texture, new ones are made.
  const auto [textured, model] =
      surface({1, 1, 1, 1}, {0.04, 0.04, 0.04}, {{"diffuseTexture", {{"index", 0}}}});
  QCOMPARE(model.textures.size(), size_t(3));
  QCOMPARE(textured.feeds.at(SurfaceValue::baseColour)[0].texture, 1);
  QCOMPARE(textured.feeds.at(SurfaceValue::metalness)[0].texture, 2);
  const auto &from = model.textures[0].rgba, &to = model.textures[1].rgba;
  QCOMPARE(from.size(), to.size());
  for (size_t i = 0; i < from.size(); ++i) QVERIFY(std::abs(int(from[i]) - int(to[i])) <= 2);
  QVERIFY(std::abs(int(model.textures[2].rgba[1]) - 64) <= 1 && model.textures[2].rgba[2] <= 1);
}

void TestGltfMaterials::texturesLieWhereTheySay_data() {
  // The extension's own example shows the lower left quarter, turned clockwise by a quarter.
  QTest::addColumn<double>("turn");
  QTest::addColumn<Vec2d>("scale");
  QTest::addColumn<Vec2d>("offset");
  QTest::addColumn<Vec2d>("origin");  // where (0, 0) and (1, 0) of the file come to, v downwards
  QTest::addColumn<Vec2d>("right");
  QTest::newRow("a quarter, turned") << 90.0 << Vec2d(0.5, 0.5) << Vec2d(0, 1) << Vec2d(0, 1)
                                     << Vec2d(0, 0.5);
  QTest::newRow("upside down") << 0.0 << Vec2d(1, -1) << Vec2d(0, 1) << Vec2d(0, 1) << Vec2d(1, 1);
  QTest::newRow("tiled") << 0.0 << Vec2d(3, 5) << Vec2d(0.25, 0) << Vec2d(0.25, 0) << Vec2d(3.25, 0);
}

void TestGltfMaterials::texturesLieWhereTheySay() {
  QFETCH(double, turn);
  QFETCH(Vec2d, scale);
  QFETCH(Vec2d, offset);
  QFETCH(Vec2d, origin);
  QFETCH(Vec2d, right);
  const json moved = {
      {"KHR_texture_transform",
       {{"rotation", radians(turn)}, {"scale", {scale.x, scale.y}}, {"offset", {offset.x, offset.y}}}}};
  const json here = {{"index", 0}, {"extensions", moved}};
  json strong = here;
  strong["scale"] = 0.5;
  const auto model = sheetWith({{"name", "moved"},
                                {"pbrMetallicRoughness", {{"baseColorTexture", here}}},
                                {"normalTexture", strong},
                                {"emissiveTexture", {{"index", 1}}},
                                {"emissiveFactor", {1, 1, 1}}});
  QVERIFY(model.ok());
  const Mesh& mesh = model->meshes[0];
  const auto at = [&](double x, double y) {  // where that corner of the sheet shows the picture, v downwards
    for (size_t i = 0; i < mesh.positions.size(); ++i)
      if ((mesh.positions[i] - Vec3f(float(x), float(y), 0)).length() < 1e-5f)
        return Vec2d(double(mesh.uvs[i].x), 1 - double(mesh.uvs[i].y));
    return Vec2d(-9);
  };
  const auto plain = sheetWith({{"name", "plain"}});
  const Mesh& before = plain->meshes[0];
  for (size_t i = 0; i < before.positions.size(); ++i) {
    const Vec2d uv(double(before.uvs[i].x), 1 - double(before.uvs[i].y));
    const Vec2d expected = origin + (right - origin) * uv.x +
                           Vec2d(std::sin(radians(turn)), std::cos(radians(turn))) * scale.y * uv.y;
    const Vec2d found = at(double(before.positions[i].x), double(before.positions[i].y));
    QVERIFY2((found - expected).length() < 1e-5, qPrintable(QString("%1 %2").arg(found.x).arg(found.y)));
  }
  // All on it lie as the first; one that does not is left out. The relief keeps its strength.
  const Surface s = surfaceFromFile(model->materialOf(model->parts[0]), {"sheet.gltf", ""});
  QVERIFY(s.feeds.contains(SurfaceValue::baseColour) && !s.feeds.contains(SurfaceValue::emission));
  QCOMPARE(s.feeds.at(SurfaceValue::normal)[0].strength, 0.5);
}

void TestGltfMaterials::placesThatAreNoneAreLeftOut() {
  for (const json& moved : {json{{"scale", {1e39, 1}}, {"rotation", 1e39}}, json{{"offset", {-1e39, 1e300}}},
                            json{{"scale", {1}}}, json(7), json{{"texCoord", -5}}, json{{"texCoord", 12}}}) {
    const json here = {{"index", 0}, {"extensions", {{"KHR_texture_transform", moved}}}};
    const auto model = sheetWith({{"name", "odd"}, {"pbrMetallicRoughness", {{"baseColorTexture", here}}}});
    if (!model.ok()) continue;  // the reader of the shapes may refuse it
    for (const Vec2f& uv : model->meshes[0].uvs) QVERIFY(std::isfinite(uv.x) && std::isfinite(uv.y));
  }
}

void TestGltfMaterials::aSecondSetOfCoordinatesIsTaken() {
  const json second = {{"index", 0}, {"texCoord", 1}};
  const auto model =
      sheetWith({{"name", "second"}, {"pbrMetallicRoughness", {{"baseColorTexture", second}}}});
  QVERIFY(model.ok());
  const auto plain = sheetWith({{"name", "plain"}});
  QVERIFY(model->materialOf(model->parts[0]).colourTexture >= 0);
  for (size_t i = 0; i < model->meshes[0].uvs.size(); ++i) {
    const Vec2f first = plain->meshes[0].uvs[i];  // v upwards
    QCOMPARE(model->meshes[0].uvs[i], Vec2f(first.x / 2, 1 - (1 - first.y) / 2));
  }
}

void TestGltfMaterials::materialsThatMakeNoSenseAreLeftOut() {
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

DUSK_TEST(TestGltfMaterials, QGuiApplication);
#include "gltf_materials.moc"
