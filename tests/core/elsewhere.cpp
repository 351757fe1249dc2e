#include <zip.h>

#include <QImage>
#include <QTemporaryDir>
#include <fstream>

#include "core/assets/asset_store.h"
#include "core/base/srgb.h"
#include "core/product/import.h"
#include "core/product/plausible.h"
#include "core/product/side_files.h"
#include "core/surface/made_surface.h"
#include "core/trace/geometry.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// Models as they come from other people's programs and disks.
class TestElsewhere : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  fs::path in(const std::string& name) const { return fs::path(folder_.path().toStdString()) / name; }
  fs::path write(const std::string& name, const std::string& text) const {
    fs::create_directories(in(name).parent_path());
    std::ofstream(in(name), std::ios::binary) << text;
    return in(name);
  }
  void paint(const std::string& name, const QColor& colour) const {
    fs::create_directories(in(name).parent_path());
    QImage image(4, 4, QImage::Format_RGB32);
    image.fill(colour);
    QVERIFY(image.save(QString::fromStdString(in(name).string()), "PNG"));
  }
  /// An ASCII FBX of one triangle, 2 wide and 3 high along its third axis.
  static std::string fbx(const std::string& settings, const std::string& part = "") {
    return "; FBX 7.4.0 project file\nFBXHeaderExtension: {\n FBXVersion: 7400\n}\nGlobalSettings: {\n"
           " Version: 1000\n Properties70: {\n" +
           settings +
           " }\n}\nObjects: {\n Geometry: 1, \"Geometry::g\", \"Mesh\" {\n"
           "  Vertices: *9 {\n   a: 0,0,0,2,0,0,0,0,3\n  }\n  PolygonVertexIndex: *3 {\n   a: 0,1,-3\n  }\n "
           "}\n"
           " Model: 2, \"Model::part\", \"Mesh\" {\n  Properties70: {\n" +
           part + "  }\n }\n}\nConnections: {\n C: \"OO\",1,2\n C: \"OO\",2,0\n}\n";
  }
  static std::string number(const std::string& name, const std::string& kind, double value) {
    return "  P: \"" + name + "\", \"" + kind + "\", \"\", \"\"," + QString::number(value).toStdString() +
           "\n";
  }
  fs::path package(const std::string& unit) const {
    const fs::path file = in("part" + unit + ".3mf");
    zip_t* archive = zip_open(file.c_str(), ZIP_CREATE | ZIP_TRUNCATE, nullptr);
    const std::string model =
        "<?xml version=\"1.0\"?><model " + (unit.empty() ? "" : "unit=\"" + unit + "\" ") +
        "xmlns=\"http://schemas.microsoft.com/3dmanufacturing/core/2015/02\"><resources><object id=\"1\" "
        "type=\"model\"><mesh><vertices><vertex x=\"0\" y=\"0\" z=\"0\"/><vertex x=\"2\" y=\"0\" z=\"0\"/>"
        "<vertex x=\"0\" y=\"3\" z=\"0\"/></vertices><triangles><triangle v1=\"0\" v2=\"1\" v3=\"2\"/>"
        "</triangles></mesh></object></resources><build><item objectid=\"1\"/></build></model>";
    const std::string rels =
        "<?xml version=\"1.0\"?><Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/"
        "relationships\"><Relationship Target=\"/3D/3dmodel.model\" Id=\"r\" "
        "Type=\"http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel\"/></Relationships>";
    const auto add = [&](const char* name, const std::string& text) {
      zip_file_add(archive, name, zip_source_buffer(archive, text.data(), text.size(), 0), 0);
    };
    add("_rels/.rels", rels), add("3D/3dmodel.model", model);
    zip_close(archive);
    return file;
  }
  static Result<Model> read(const fs::path& file) {
    Progress progress;
    return importModel(file, progress);
  }
  static const FileMaterial& materialOf(const Model& model) { return model.materialOf(model.parts.at(0)); }
  static Vec3d sizeOf(const Model& model) {
    Product product;
    product.metresPerUnit = model.metresPerUnit, product.up = model.up;
    return trueSize(product, model.box());
  }

 private slots:
  void initTestCase() {
    QVERIFY(folder_.isValid());
    qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8());
  }
  void fbxIsAsLargeAndUprightAsItSays();
  void threeMfIsAsLargeAsItSays();
  void picturesAreFoundWhereTheyCameToLie();
  void nothingOutsideIsRead();
  void whatIsBesideCountsForTheCache();
  void whatComesLaterIsTaken();
  void verticesHaveColours();
  void coloursThatSayNothingAreLeftOut();
  void failuresAreSentences();
};

void TestElsewhere::fbxIsAsLargeAndUprightAsItSays() {
  struct Case {
    double factor;
    int up;
    double metres;
    const char* reason;
  };
  for (const Case& c : {Case{2.54, 2, 0.0254, "FBX says inch"}, Case{100, 1, 1, "FBX says metre"},
                        Case{500, 2, 5, "FBX says its unit"}}) {
    const auto model = read(write(
        "part.fbx", fbx(number("UpAxis", "int", c.up) + number("UnitScaleFactor", "double", c.factor))));
    QVERIFY2(model.ok(), model ? "" : model.error().message.c_str());
    QCOMPARE(model->unitReason, std::string(c.reason));
    QVERIFY(std::abs(model->metresPerUnit / c.metres - 1) < 1e-6);
    QCOMPARE(int(model->up), c.up);
    QVERIFY(std::abs(sizeOf(*model).z - (c.up == 2 ? 3 * c.metres : 0)) < 1e-5 * c.metres);
  }
  const auto silent = read(write("silent.fbx", fbx("")));
  QVERIFY(silent.ok());
  QCOMPARE(silent->metresPerUnit, 0.01);
  // The reader's own steps on the way to a part are not called by their names.
  const auto turned =
      read(write("turned.fbx", fbx("",
                                   "  P: \"RotationActive\", \"bool\", \"\", \"\",1\n"
                                   "  P: \"PreRotation\", \"Vector3D\", \"Vector\", \"\",0,0,90\n")));
  QVERIFY(turned.ok() && turned->groups.size() > silent->groups.size());
  for (const Group& group : turned->groups)
    QVERIFY2(group.name.find('$') == std::string::npos, group.name.c_str());
}

void TestElsewhere::threeMfIsAsLargeAsItSays() {
  for (const auto& [unit, metres] :
       {std::pair("inch", 0.0254), {"meter", 1.0}, {"micron", 1e-6}, {"", 1e-3}, {"furlong", 1e-3}}) {
    const auto model = read(package(unit));
    QVERIFY2(model.ok(), model ? "" : model.error().message.c_str());
    QCOMPARE(model->metresPerUnit, metres);
    QVERIFY(std::abs(sizeOf(*model).y - 3 * metres) < 1e-6 * metres);
  }
}

void TestElsewhere::picturesAreFoundWhereTheyCameToLie() {
  const auto box = [&](const std::string& name, const std::string& picture) {
    write(name + ".mtl", "newmtl a\nKd 1 1 1\nmap_Kd " + picture + "\n");
    const auto file =
        write(name + ".obj", "mtllib " + fs::path(name).filename().string() +
                                 ".MTL\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nusemtl a\nf 1/1 2/1 3/1\n");
    auto model = read(file);
    return model ? std::move(*model) : Model{};
  };
  paint("a/maps/oak.png", Qt::red);
  paint("b/textures/Ash.PNG", Qt::green);
  paint("b/source/deep/down/elm.png", Qt::blue);
  paint("a/above/deep/oak.png", Qt::black);  // the one in a/maps is less deep
  for (const auto& [name, picture] : {std::pair("a/one", "maps\\oak.png"),
                                      {"a/two", "C:\\Users\\x\\oak.png"},
                                      {"a/three", "/home/x/OAK.png"},
                                      {"b/source/four", "..\\ash.png"},
                                      {"b/source/five", "elm.png"}}) {
    const Model model = box(name, picture);
    QVERIFY2(model.textures.size() == 1 && materialOf(model).colourTexture == 0, name);
    QVERIFY2(SideFiles::missing(model.sideFiles).empty(), name);
    const int strongest = int(std::max_element(&model.textures[0].rgba[0], &model.textures[0].rgba[3]) -
                              &model.textures[0].rgba[0]);
    QCOMPARE(strongest, name[0] == 'a' ? 0 : std::string(picture) == "elm.png" ? 2 : 1);
  }
  const Model without = box("a/six", "pine.png");
  QVERIFY(without.textures.empty() && !without.parts.empty());
  QCOMPARE(SideFiles::missing(without.sideFiles), std::vector<std::string>{"pine.png"});
  // What was to glow by a picture does not glow all over without it.
  write("a/glow.mtl", "newmtl a\nKd 1 1 1\nKe 1 1 1\nmap_Ke lights.png\n");
  const auto glow = read(
      write("a/glow.obj", "mtllib glow.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nusemtl a\nf 1/1 2/1 3/1\n"));
  QVERIFY(glow.ok() && materialOf(*glow).emission == Vec3f(0));
  write("a/maps/birch.png", "no picture");
  QCOMPARE(SideFiles::missing(box("a/seven", "maps/birch.png").sideFiles),
           std::vector<std::string>{"birch.png"});
}

void TestElsewhere::nothingOutsideIsRead() {
  paint("private.png", Qt::red), write("private.txt", "private"), paint("other/private.png", Qt::red);
  SideFiles sides(write("own/model.obj", ""));
  for (const char* name : {"../private.png", "../private.txt", "/etc/passwd", "../other/private.png", "..",
                           ".", "", "../../../../etc/passwd", "own/../../private.txt"})
    QVERIFY2(!sides.find(name), name);
  QVERIFY(!sides.find(in("private.png").string()));
}

void TestElsewhere::whatComesLaterIsTaken() {
  const auto file =
      write("late/box.obj", "mtllib box.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nusemtl a\nf 1/1 2/1 3/1\n");
  write("late/box.mtl", "newmtl a\nmap_Kd late.png\n");
  AssetStore assets(file.parent_path());
  Product product;
  product.model = *assets.refer(file);
  Progress progress;
  const auto before = assets.model(product, progress);
  QVERIFY(before.ok() && (*before)->textures.empty());
  QCOMPARE(*assets.lookAgain(product, progress), *before);  // nothing has come
  paint("late/late.png", Qt::blue);
  QCOMPARE(*assets.model(product, progress), *before);  // nor is it looked for without being asked
  const auto after = assets.lookAgain(product, progress);
  QVERIFY(after.ok() && (*after)->textures.size() == 1 && SideFiles::missing((*after)->sideFiles).empty());
  QCOMPARE(assets.loadedModel(product), *after);
}

void TestElsewhere::whatIsBesideCountsForTheCache() {
  const auto file =
      write("kept/box.obj", "mtllib box.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nusemtl a\nf 1/1 2/1 3/1\n");
  write("kept/box.mtl", "newmtl a\nKd 1 0 0\nmap_Kd tone.png\n");
  Progress progress;
  const auto materialNow = [&] {
    const auto model = importModel(file, progress);
    return model ? materialOf(*model) : FileMaterial{};
  };
  const FileMaterial red = materialNow();
  QVERIFY(red.colour.x > 0.9f && red.colour.y < 0.1f && red.colourTexture < 0);
  QCOMPARE(materialNow(), red);
  write("kept/box.mtl", "newmtl a\nKd 0 1 0\nmap_Kd tone.png\n");
  QVERIFY(materialNow().colour.y > 0.9f);
  paint("kept/tone.png", Qt::gray);  // it comes later
  QVERIFY(materialNow().colourTexture == 0);
  const auto before = importModel(file, progress)->textures[0].rgba;
  paint("kept/tone.png", Qt::black);
  QVERIFY(importModel(file, progress)->textures[0].rgba != before);
}

void TestElsewhere::verticesHaveColours() {
  const std::string head =
      "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
      "property uchar red\nproperty uchar green\nproperty uchar blue\nelement face 1\n"
      "property list uchar int vertex_indices\nend_header\n";
  const auto scan = read(write("scan.ply", head + "0 0 0 255 0 0\n1 0 0 0 188 0\n0 1 0 0 0 255\n3 0 1 2\n"));
  QVERIFY2(scan.ok(), scan ? "" : scan.error().message.c_str());
  const Mesh& mesh = scan->meshes[0];
  QCOMPARE(mesh.colours.size(), size_t(3));
  QVERIFY(std::abs(mesh.colours[1].y - srgbDecoded(188 / 255.0f)) < 1e-5f);
  const FileMaterial& material = materialOf(*scan);
  QVERIFY(material.vertexColours && material.colour == Vec3f(1));
  // In the middle of the triangle it looks like the mean of its corners; on the way of every ray, too.
  GeometryCache cache;
  const auto shared = std::make_shared<Model>(*scan);
  const PlacedGeometry placed(cache.device(), {{cache.get(shared, {}), Similarity{}}});
  const Hit hit = placed.closest({{1 / 3.0f, 1 / 3.0f, 1}, {0, 0, -1}});
  QVERIFY(hit.found());
  const Vec3f mean = (mesh.colours[0] + mesh.colours[1] + mesh.colours[2]) / 3.0f;
  QVERIFY((placed.detail(hit).colour - mean).length() < 1e-5f);
  const auto shapes = cache.shapes(shared);
  const MadeSurface made(layerOf(surfaceFromFile(material), {}), {}, mesh,
                         factsOf(scan->parts[0], shapes->parts[0], Product{}, shapes->whole, 0), 1000, {});
  SurfacePoint point{};
  point.colour = placed.detail(hit).colour;
  BsdfParameters looks;
  Vec3f normal(0, 0, 1);
  made.at(point, looks, normal);
  QVERIFY((looks.base - mean).length() < 1e-5f);
}

void TestElsewhere::coloursThatSayNothingAreLeftOut() {
  const auto coloured = [&](const char* a, const char* b) {
    const auto model = read(
        write("c.obj", "v 0 0 0 " + std::string(a) + "\nv 1 0 0 " + b + "\nv 0 1 0 " + a + "\nf 1 2 3\n"));
    return model && !model->meshes[0].colours.empty() && materialOf(*model).vertexColours;
  };
  QVERIFY(!coloured("1 1 1", "1 1 1") && !coloured("0 0 0", "0 0 0"));
  QVERIFY(coloured("0.2 0.2 0.2", "0.2 0.2 0.2") && coloured("1 1 1", "0 0 0"));
}

void TestElsewhere::failuresAreSentences() {
  const auto said = [](const fs::path& file) {
    const auto model = read(file);
    return model ? std::string() : model.error().message;
  };
  const std::string old =
      said(write("old.gltf", R"({"asset":{"version":"1.0"},"scene":"s","accessors":{}})"));
  QVERIFY2(old.find("glTF 1") != std::string::npos && old.find("json") == std::string::npos, old.c_str());
  const std::string points = said(write("points.obj", "v 0 0 0\nv 1 0 0\nv 1 1 0\np 1\np 2\np 3\n"));
  QVERIFY2(points.find("no surfaces") != std::string::npos, points.c_str());
  for (const std::string& sentence :
       {old, points, said(write("none.ply", "")), said(write("none.obj", "v\n"))})
    QVERIFY2(!sentence.empty() && sentence.find("..") == std::string::npos, sentence.c_str());
}

DUSK_TEST(TestElsewhere, NoApplication);
#include "elsewhere.moc"
