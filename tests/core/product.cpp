#include <assimp/scene.h>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <IGESControl_Writer.hxx>
#include <QImage>
#include <QtTest>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_LayerTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <assimp/Exporter.hpp>
#include <fstream>

#include "core/product/import.h"
#include "core/product/model_file.h"
#include "core/product/plausible.h"
#include "core/product/read_model.h"
#include "core/product/repair.h"
#include "core/product/revise.h"
#include "core/product/stand.h"
#include "core/trace/detail.h"
#include "core/vantage/camera.h"
#include "demo/product.h"
#include "tests/one_mesh.h"
#include "tests/program.h"

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
  void oneShapeInManyPlacesIsOneMesh();
  void normalsAndFacetsFollowTheExactSurface();
  void gltfBringsMaterialsAndTextures();
  void mtlBringsItsTexture();
  void fbxComesInCentimetres();
  void brokenMeshesAreRepairedAndCounted();
  void creaseKeepsSharpEdges();
  void revisionCarriesOver();
  void movesTurnAboutTheirHinge();
  void standsAgainstLines();
  void sizeIsDoubtedWhereItCannotBe();
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
  void whatIsWantedIsFineEnough();
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

namespace {

/// Three like pins of 5 mm radius and 40 mm length in a group, one a quarter turned, and a box with one red
/// face.
void writePins(const fs::path& file) {
  Handle(TDocStd_Document) document;
  XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
  const auto shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  const auto colours = XCAFDoc_DocumentTool::ColorTool(document->Main());
  const auto layers = XCAFDoc_DocumentTool::LayerTool(document->Main());
  const TDF_Label root = shapes->NewShape(), pins = shapes->NewShape();
  TDataStd_Name::Set(root, "Rig");
  TDataStd_Name::Set(pins, "Pins");
  const TDF_Label pin = shapes->AddShape(BRepPrimAPI_MakeCylinder(5, 40).Shape(), false);
  TDataStd_Name::Set(pin, "Pin");
  for (int i = 0; i < 3; ++i) {
    gp_Trsf place, turn;
    place.SetTranslation(gp_Vec(100.0 * i, 0, 0));
    if (i == 2) turn.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)), pi / 2);
    shapes->AddComponent(pins, pin, TopLoc_Location(place * turn));
  }
  shapes->AddComponent(root, pins, TopLoc_Location());
  const TopoDS_Shape block = BRepPrimAPI_MakeBox(20.0, 20.0, 20.0).Shape();
  const TDF_Label box = shapes->AddShape(block, false);
  TDataStd_Name::Set(box, "Block");
  colours->SetColor(box, Quantity_Color(0.1, 0.2, 0.3, Quantity_TOC_RGB), XCAFDoc_ColorSurf);
  const TDF_Label face = shapes->AddSubShape(box, TopExp_Explorer(block, TopAbs_FACE).Current());
  colours->SetColor(face, Quantity_Color(0.9, 0.0, 0.0, Quantity_TOC_RGB), XCAFDoc_ColorSurf);
  layers->SetLayer(box, "Castings");
  shapes->AddComponent(root, box, TopLoc_Location());
  shapes->UpdateAssemblies();
  STEPCAFControl_Writer writer;
  writer.SetColorMode(true), writer.SetNameMode(true), writer.SetLayerMode(true);
  QVERIFY(writer.Transfer(document) && writer.Write(file.c_str()) == IFSelect_RetDone);
}

}  // namespace

void TestProduct::oneShapeInManyPlacesIsOneMesh() {
  writePins(in("pins.step"));
  const auto model = readCad(in("pins.step"), 0.0001);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  std::vector<const Part*> pins, blocks;
  for (const Part& p : model->parts) (p.path.find("Pins") != std::string::npos ? pins : blocks).push_back(&p);
  QCOMPARE(pins.size(), size_t(3));
  QVERIFY(pins[0]->mesh == pins[1]->mesh && pins[1]->mesh == pins[2]->mesh);
  // A polygon with a corner at the seam is not quite symmetrical: the chord's tenth of a millimetre.
  QVERIFY((model->boxOf(*pins[1]).middle() - Vec3d(100, 0, 20)).length() < 0.1);
  QVERIFY((model->boxOf(*pins[2]).size() - Vec3d(10, 40, 10)).length() < 1e-2);  // lies down
  // Its centre line is offered as a hinge, where it stands.
  QVERIFY(!pins[2]->axes.empty() && std::abs(std::abs(pins[2]->axes[0].direction.y) - 1) < 1e-6f);
  QVERIFY(std::abs(pins[2]->axes[0].radius - 5) < 1e-4f && std::abs(pins[2]->axes[0].point.x - 200) < 1e-3f);
  // The red face beside the rest of its box.
  QCOMPARE(blocks.size(), size_t(2));
  size_t red = 0, rest = 0;
  for (const Part* p : blocks) {
    const bool isRed = model->materialOf(*p).colour.x > 0.5f;
    (isRed ? red : rest) += model->meshOf(*p).triangles();
    QCOMPARE(p->layer, std::string("Castings"));
  }
  QVERIFY(red == 2 && rest == 10);
}

void TestProduct::normalsAndFacetsFollowTheExactSurface() {
  writePins(in("chord.step"));
  size_t before = 0;
  for (const double chord : {0.0004, 0.0001, 0.000025}) {
    const auto model = readCad(in("chord.step"), chord);
    QVERIFY(model.ok() && model->chordM == chord);
    const Mesh& pin = model->meshOf(model->parts[0]);
    double off = 0;
    for (size_t i = 0; i < pin.indices.size(); i += 3) {
      const Vec3f &a = pin.positions[pin.indices[i]], &b = pin.positions[pin.indices[i + 1]];
      const Vec3f middle = (a + b) * 0.5f, n = pin.normals[pin.indices[i]];
      if (std::abs(n.z) > 0.5f) continue;
      off = std::max(off, 5 - std::hypot(double(middle.x), double(middle.y)));
      // Radial at the vertex, not averaged over facets.
      QVERIFY((n - Vec3f(a.x, a.y, 0) / 5.0f).length() < 1e-5f);
    }
    QVERIFY2(off > 0 && off <= chord * 1000 * 1.01, qPrintable(QString("%1 mm").arg(off)));
    QVERIFY(pin.triangles() >= before);
    before = pin.triangles();
  }
}

void TestProduct::gltfBringsMaterialsAndTextures() {
  // Two sheets of one mesh, one of them unevenly scaled, in a material with a 2 x 1 texture.
  QImage picture(2, 1, QImage::Format_RGB32);
  picture.setPixel(0, 0, qRgb(255, 0, 0)), picture.setPixel(1, 0, qRgb(0, 128, 255));
  QByteArray png;
  QBuffer buffer(&png);
  QVERIFY(buffer.open(QIODevice::WriteOnly) && picture.save(&buffer, "PNG"));
  const float numbers[] = {0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0,  // positions
                           0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1,  // normals
                           0, 1, 1, 1, 1, 0, 0, 0};             // texture coordinates
  const uint16_t corners[] = {0, 1, 2, 0, 2, 3};
  QByteArray bytes(reinterpret_cast<const char*>(numbers), sizeof numbers);
  bytes.append(reinterpret_cast<const char*>(corners), sizeof corners);
  const QString json = R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0,1]}],
    "nodes":[{"name":"plain","mesh":0},{"name":"tall","mesh":0,"scale":[1,3,1],"translation":[5,0,0]}],
    "meshes":[{"name":"sheet","primitives":[{"attributes":{"POSITION":0,"NORMAL":1,"TEXCOORD_0":2},
      "indices":3,"material":0}]}],
    "materials":[{"name":"painted","alphaMode":"MASK","alphaCutoff":0.25,"pbrMetallicRoughness":{"baseColorFactor":[0.5,1,1,0.875],"metallicFactor":0.25,
      "roughnessFactor":0.75,"baseColorTexture":{"index":0}}}],
    "textures":[{"source":0}],"images":[{"uri":"data:image/png;base64,%1"}],
    "accessors":[{"bufferView":0,"componentType":5126,"count":4,"type":"VEC3","min":[0,0,0],"max":[1,1,0]},
      {"bufferView":1,"componentType":5126,"count":4,"type":"VEC3"},
      {"bufferView":2,"componentType":5126,"count":4,"type":"VEC2"},
      {"bufferView":3,"componentType":5123,"count":6,"type":"SCALAR"}],
    "bufferViews":[{"buffer":0,"byteOffset":0,"byteLength":48},{"buffer":0,"byteOffset":48,"byteLength":48},
      {"buffer":0,"byteOffset":96,"byteLength":32},{"buffer":0,"byteOffset":128,"byteLength":12}],
    "buffers":[{"byteLength":140,"uri":"data:application/octet-stream;base64,%2"}]})";
  write("painted.gltf", json.arg(QString(png.toBase64()), QString(bytes.toBase64())).toStdString());
  Progress progress;
  const auto model = importModel(in("painted.gltf"), progress);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->parts.size(), size_t(2));
  const FileMaterial& m = model->materialOf(model->parts[0]);
  QCOMPARE(m.name, std::string("painted"));
  QVERIFY(std::abs(m.metalness - 0.25f) < 1e-6f && std::abs(m.roughness - 0.75f) < 1e-6f);
  QVERIFY(m.cutAt == 0.25f && m.alpha == 0.875f && m.transmission == 0);
  QVERIFY(m.colourTexture >= 0);
  const FileTexture& t = model->textures[size_t(m.colourTexture)];
  QVERIFY(t.width == 2 && t.height == 1 && t.rgba[0] == 255 && t.rgba[5] == 128);
  QVERIFY((model->boxOf(model->parts[1]).size() - Vec3d(1, 3, 0)).length() < 1e-5);
  QVERIFY(model->parts[0].mesh != model->parts[1].mesh);  // uneven scale cannot share
}

void TestProduct::mtlBringsItsTexture() {
  QImage picture(1, 2, QImage::Format_RGB32);
  picture.setPixel(0, 0, qRgb(10, 20, 30)), picture.setPixel(0, 1, qRgb(200, 210, 220));
  QVERIFY(picture.save(QString::fromStdString(in("label.png").string())));
  QImage relief(4, 4, QImage::Format_RGB32);
  relief.fill(qRgb(120, 132, 250));
  QVERIFY(relief.save(QString::fromStdString(in("relief.png").string())));
  write("label.mtl",
        "newmtl paper\nKd 0.8 0.7 0.6\nNs 100\nd 0.75\nmap_Kd label.png\nmap_bump relief.png\n"
        "newmtl lost\nKd 0.1 0.2 0.3\nmap_Kd gone.png\nmap_bump label.png\n");
  write("label.obj",
        "mtllib label.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\n"
        "o front\nusemtl paper\nf 1/1 2/2 3/3\no back\nusemtl lost\nf 1/1 3/3 2/2\n");
  Progress progress;
  const auto model = importModel(in("label.obj"), progress);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->parts.size(), size_t(2));
  const FileMaterial &paper = model->materialOf(model->parts[0]), &lost = model->materialOf(model->parts[1]);
  QVERIFY(paper.name == "paper" && std::abs(paper.colour.y - 0.7f) < 1e-5f);
  QVERIFY(std::abs(paper.transmission - 0.25f) < 1e-5f);
  QVERIFY(paper.roughness > 0.3f && paper.roughness < 0.45f);  // as wide as the 100th power of the cosine
  QVERIFY(paper.colourTexture >= 0);
  const FileTexture& t = model->textures[size_t(paper.colourTexture)];
  QVERIFY(t.width == 1 && t.height == 2 &&
          t.rgba == (std::vector<uint8_t>{10, 20, 30, 255, 200, 210, 220, 255}));
  // Normals that are called bumps are normals; heights without a unit are none.
  QVERIFY(paper.normalTexture >= 0 && lost.normalTexture < 0);
  QCOMPARE(model->textures[size_t(paper.normalTexture)].width, 4);
  // A texture that is not there leaves the plain colour.
  QVERIFY(lost.colourTexture < 0 && std::abs(lost.colour.z - 0.3f) < 1e-5f);
}

void TestProduct::fbxComesInCentimetres() {
  aiScene scene;
  fillOneMesh(scene, "shelf", {{0, 0, 0}, {30, 0, 0}, {0, 20, 0}}, {}, {0, 1, 2});
  const aiColor3D green(0.2f, 0.6f, 0.1f);
  scene.mMaterials[0]->AddProperty(&green, 1, AI_MATKEY_COLOR_DIFFUSE);
  QVERIFY(Assimp::Exporter().Export(&scene, "fbxa", in("shelf.fbx").string()) == aiReturn_SUCCESS);
  Progress progress;
  const auto model = importModel(in("shelf.fbx"), progress);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->parts.size(), size_t(1));
  QCOMPARE(model->metresPerUnit, 0.01);
  QVERIFY((model->box().size() - Vec3d(30, 20, 0)).length() < 1e-4);
  QVERIFY((model->materialOf(model->parts[0]).colour - Vec3f(0.2f, 0.6f, 0.1f)).length() < 1e-3f);
}

void TestProduct::brokenMeshesAreRepairedAndCounted() {
  // A cube as loose triangles without normals: one turned, one without area, all vertices in triples.
  Mesh soup;
  const Vec3f p[8] = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 1, 0}, {0, 0, 1}, {1, 0, 1}, {0, 1, 1}, {1, 1, 1}};
  const unsigned faces[12][3] = {{0, 2, 1}, {1, 2, 3}, {4, 5, 6}, {5, 7, 6}, {0, 1, 4}, {1, 5, 4},
                                 {2, 6, 3}, {3, 6, 7}, {0, 4, 2}, {2, 4, 6}, {1, 3, 5}, {3, 7, 5}};
  const auto add = [&](unsigned a, unsigned b, unsigned c) {
    for (unsigned i : {a, b, c})
      soup.indices.push_back(uint32_t(soup.positions.size())), soup.positions.push_back(p[i]);
  };
  for (int i = 0; i < 12; ++i)
    if (i == 7)
      add(faces[i][0], faces[i][2], faces[i][1]);
    else
      add(faces[i][0], faces[i][1], faces[i][2]);
  add(0, 0, 3);
  const Repairs done = repair(soup, {});
  QCOMPARE(done.degenerate, uint64_t(1));
  QCOMPARE(done.flipped, uint64_t(1));
  QCOMPARE(done.duplicateVertices, uint64_t(39 - 8));
  QCOMPARE(done.withoutNormals, uint64_t(39));
  QVERIFY(soup.triangles() == 12 && soup.positions.size() == 24);  // four to a side: edges are sharp
  double volume = 0;
  for (size_t i = 0; i < soup.indices.size(); i += 3) {
    const Vec3f &a = soup.positions[soup.indices[i]], &b = soup.positions[soup.indices[i + 1]],
                &c = soup.positions[soup.indices[i + 2]];
    volume += double(a.dot(b.cross(c))) / 6;
    QVERIFY((b - a).cross(c - a).dot(soup.normals[soup.indices[i]]) > 0.99f);
  }
  QVERIFY(std::abs(volume - 1) < 1e-6);
  // Inside out as a whole is turned as a whole; what is whole already is left alone.
  Mesh inverted = soup;
  inverted.normals.clear();
  for (size_t i = 0; i < inverted.indices.size(); i += 3)
    std::swap(inverted.indices[i], inverted.indices[i + 1]);
  QCOMPARE(repair(inverted, {}).flipped, uint64_t(12));
  QCOMPARE(repair(inverted, {}), Repairs{});
}

void TestProduct::creaseKeepsSharpEdges() {
  // A twelve-sided tube: 30 degrees between sides.
  Mesh tube;
  for (int i = 0; i < 12; ++i)
    for (float z : {0.0f, 1.0f})
      tube.positions.push_back({float(std::cos(i * pi / 6)), float(std::sin(i * pi / 6)), z});
  for (uint32_t i = 0; i < 12; ++i) {
    const uint32_t a = 2 * i, b = 2 * ((i + 1) % 12);
    for (uint32_t k : {a, b, a + 1, a + 1, b, b + 1}) tube.indices.push_back(k);
  }
  Mesh smooth = tube, sharp = tube;
  repair(smooth, 40), repair(sharp, 20);
  QCOMPARE(smooth.positions.size(), size_t(24));
  QCOMPARE(sharp.positions.size(), size_t(48));
  for (size_t i = 0; i < smooth.positions.size(); ++i)
    QVERIFY((smooth.normals[i] - Vec3f(smooth.positions[i].x, smooth.positions[i].y, 0)).length() < 0.15f);
}

namespace {

Mesh blockMesh(const Vec3f& low, const Vec3f& high) {
  Mesh m;
  for (int i = 0; i < 8; ++i)
    m.positions.push_back({i & 1 ? high.x : low.x, i & 2 ? high.y : low.y, i & 4 ? high.z : low.z});
  m.normals.assign(8, {0, 0, 1});
  m.indices = {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4,
               2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5};
  return m;
}

}  // namespace

void TestProduct::revisionCarriesOver() {
  Model before, after;
  const auto add = [](Model& m, const char* path, const Vec3f& low, const Vec3f& high) {
    const std::string p = path;
    m.add({p, p.substr(p.rfind('/') + 1)}, blockMesh(low, high));
  };
  add(before, "G/lid", {0, 0, 10}, {10, 10, 12});
  add(before, "G/body", {0, 0, 0}, {10, 10, 10});
  add(before, "G/foot", {0, 0, -1}, {1, 1, 0});
  add(before, "G/plate", {3, -1, 3}, {7, 0, 5});
  add(after, "G/lid", {0, 0, 10}, {10, 10, 13});       // same path, thicker
  add(after, "G/Case/body", {0, 0, 0}, {10, 10, 10});  // same name, elsewhere in the tree
  add(after, "G/pad", {0, 0, -1.02f}, {1, 1, 0});      // another name, nearly the same shape
  add(after, "G/antenna", {5, 5, 13}, {5.2f, 5.2f, 40});
  const auto fates = compareModels(before, after);
  const auto fateOf = [&](const std::string& path) {
    for (const PartFate& f : fates)
      if (f.before == path || f.after == path) return f;
    return PartFate{PartFate::gone, "", ""};
  };
  QCOMPARE(fates.size(), size_t(5));
  QCOMPARE(fateOf("G/lid").kind, PartFate::kept);
  QCOMPARE(fateOf("G/body").after, std::string("G/Case/body"));
  QCOMPARE(fateOf("G/foot").kind, PartFate::guessed);
  QVERIFY(fateOf("G/foot").after == "G/pad" && fateOf("G/foot").likeness > 0.9);
  QVERIFY(fateOf("G/plate").kind == PartFate::gone && fateOf("G/antenna").kind == PartFate::fresh);

  Project p;
  Product product{"p", "p", {"old.step", "1"}};
  product.surfaceOfPart = {{"G/body", "red"}, {"G/foot", "black"}, {"G/plate", "brass"}};
  product.hiddenParts = {"G/foot"};
  product.moves["G"] = {}, product.moves["G/lid"].turnDegrees = 70;
  p.products = {product};
  const Product now = revised(p, "p", {"new.step", "2"}, fates).products[0];
  QCOMPARE(now.model.path, std::string("new.step"));
  QVERIFY(now.surfaceOfPart ==
          (std::map<std::string, std::string>{{"G/Case/body", "red"}, {"G/pad", "black"}}));
  QVERIFY(now.hiddenParts == std::set<std::string>{"G/pad"});
  QVERIFY(now.moves.contains("G") && now.moves.at("G/lid").turnDegrees == 70);
  // A guess that is turned down drops what was said.
  auto refused = fates;
  for (PartFate& f : refused) f.accepted = false;
  QVERIFY(!revised(p, "p", {"new.step", "2"}, refused).products[0].surfaceOfPart.contains("G/pad"));
  // The same file again: everything stays.
  for (const PartFate& f : compareModels(before, before)) QCOMPARE(f.kind, PartFate::kept);
}

void TestProduct::movesTurnAboutTheirHinge() {
  Product product;
  Part lid;
  lid.path = "G/Lid/plate";
  product.moves["G/Lid"] = {{0, 10, 5}, {1, 0, 0}, {0, 0, 0}, -90};
  const Similarity open = movedWithin(product, lid);
  QVERIFY((open.point({3, 10, 5}) - Vec3d(3, 10, 5)).length() < 1e-12);  // the hinge stays
  QVERIFY((open.point({0, 0, 5}) - Vec3d(0, 10, 15)).length() < 1e-12);  // the front edge goes up
  product.moves["G/Lid/plate"].shift = {0, 1, 0};                        // its own move comes first
  QVERIFY((movedWithin(product, lid).point({0, 0, 5}) - Vec3d(0, 10, 14)).length() < 1e-12);
  lid.path = "G/Lidless";
  QVERIFY(movedWithin(product, lid) == Similarity{});
  // Turning back brings back.
  const Vec3d p(1, 2, 3);
  QVERIFY((open.inverse().point(open.point(p)) - p).length() < 1e-12);
}

void TestProduct::standsAgainstLines() {
  Model m;
  m.add({"box", "box"}, blockMesh({-0.1f, -0.2f, 0}, {0.1f, 0.2f, 0.3f}));
  Product product;
  product.metresPerUnit = 1;
  const StandLines lines{{0.5}, {1.0}};
  Placement p{"p", "b", 0.885, 0.29, 0, 0};
  StandSnap s = snappedToLines(lines, product, p, m, 0.02);
  QVERIFY(std::abs(s.xM - 0.9) < 1e-7 && std::abs(s.yM - 0.3) < 1e-7);  // its sides touch both
  QCOMPARE(s.lines.size(), size_t(2));
  p.turnDegrees = 90;  // the long side lies along x now
  p.xM = 0.79, p.yM = 0.41;
  s = snappedToLines(lines, product, p, m, 0.02);
  QVERIFY(std::abs(s.xM - 0.8) < 1e-7 && std::abs(s.yM - 0.4) < 1e-7);
  p.turnDegrees = 30;  // askew: only its middle
  QVERIFY(snappedToLines(lines, product, p, m, 0.02).lines.empty());
  p.xM = 1.01;
  QCOMPARE(snappedToLines(lines, product, p, m, 0.02).xM, 1.0);
  QCOMPARE(snappedTurn(88.5, 2), 90.0);
  QCOMPARE(snappedTurn(85, 2), 85.0);
}

void TestProduct::sizeIsDoubtedWhereItCannotBe() {
  Model m;
  m.add({"box", "box"}, blockMesh({0, 0, 0}, {190, 110, 340}));
  Product product;
  Vantage vantage;
  vantage.solved = true;
  vantage.camera = {1600, 1067, 1200, 800, 533, 0, 0, {{1, 0, 0}, {0, 0, -1}, {0, 1, 0}}, {0, -2.5, 1.5}};
  for (const auto& [unit, doubted] :
       {std::pair(0.001, false), {1.0, true}, {0.00001, true}, {0.0254, true}}) {
    product.metresPerUnit = unit;
    const auto doubt = sizeDoubt(product, {}, m, vantage, 0);
    QCOMPARE(doubt.has_value(), doubted);
    if (doubt && unit > 0.001) QCOMPARE(doubt->units.at(0).metres, 0.001);
  }
  vantage.solved = false;
  product.metresPerUnit = 0.001;
  QVERIFY(!sizeDoubt(product, {}, m, vantage, 0));
  QVERIFY(sizeDoubt(product, {}, m, {}, 0).has_value() == false);
  product.metresPerUnit = 1;
  QVERIFY(sizeDoubt(product, {}, m, vantage, 0));
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
  fillOneMesh(scene, "tetra", {{0, 0, 0}, {3, 0, 0}, {0, 2, 0}, {0, 0, 1}},
              {{-1, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, {0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3});
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

// What was read as fine as it is wanted is fine enough: else it would be read again and again.
void TestProduct::whatIsWantedIsFineEnough() {
  qputenv("DUSK_IMPORT_WORKER", DUSK_WORKER);
  writePins(in("near.step"));
  Project p;
  p.products.push_back({"p", "Pins", AssetRef{"near.step", ""}});
  Shot& shot = p.shots.emplace_back();
  shot.placements.push_back({"at", "p"});
  shot.vantage.solved = true;
  AssetStore assets(in("").parent_path());
  Progress progress;
  const Product& product = p.products[0];
  QVERIFY(assets.model(product, progress).ok());
  std::set<double> all;
  for (double away = 8; away > 0.03; away *= 0.7) {
    shot.vantage.camera = lookAt(1600, 1200, 3000, {0, -away, 0.1}, {0, 0, 0});
    const double wanted = wantedChordM(p, product, assets);
    const auto model = assets.finer(product, wanted, progress);
    QVERIFY(model.ok());
    QVERIFY2((*model)->chordM <= wanted, qPrintable(QString::number(wanted * 1e9, 'g', 17)));
    all.insert(wanted);
  }
  QVERIFY(all.size() >= 4);
}

void TestProduct::rubbishFromTheWorkerIsRefused() {
  write("rubbish.step", "xxxx");
  Progress progress;
  QVERIFY(!importModel(in("rubbish.step"), progress).ok());
  qputenv("DUSK_IMPORT_WORKER", DUSK_WORKER);
}

DUSK_TEST(TestProduct, NoApplication);
#include "product.moc"
