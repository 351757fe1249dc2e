// Shapes that glTF files hold rounded or packed come in as they were.
#include <draco/compression/encode.h>
#include <draco/mesh/triangle_soup_mesh_builder.h>
#include <meshoptimizer.h>
#include <webp/encode.h>

#include <QtTest>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/product/import.h"
#include "tests/gltf_sheet.h"
#include "tests/program.h"

using namespace dusk;
using nlohmann::json;

namespace {

/// A hill of side x side squares over half a metre: in whole numbers, of which the largest is half a metre.
struct Hill {
  static constexpr int side = 12, most = 16383;
  struct Vertex {
    uint16_t position[3] = {}, unused = 0;
    int8_t normal[4] = {0, 0, 127, 0};
    uint16_t uv[2] = {};
  };
  std::vector<Vertex> vertices;
  std::vector<uint16_t> corners;

  Hill() {
    for (int j = 0; j <= side; ++j)
      for (int i = 0; i <= side; ++i) {
        Vertex v;
        v.position[0] = uint16_t(most * i / side), v.position[1] = uint16_t(most * j / side);
        v.position[2] = uint16_t(2000 * std::sin(3.0 * i / side));
        v.uv[0] = uint16_t(65535 * i / side), v.uv[1] = uint16_t(65535 * j / side);
        vertices.push_back(v);
      }
    const auto at = [](int i, int j) { return uint16_t(j * (side + 1) + i); };
    for (int j = 0; j < side; ++j)
      for (int i = 0; i < side; ++i)
        for (const uint16_t c :
             {at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1)})
          corners.push_back(c);
  }
};

std::string bytesOf(const auto& list) {
  return {reinterpret_cast<const char*>(list.data()), list.size() * sizeof list[0]};
}

/// The hill as a document whose data is in two views.
json document(const Hill& hill, const std::string& data, const json& vertices, const json& corners) {
  const size_t count = hill.vertices.size();
  const auto accessor = [&](int offset, int type, const char* shape, bool isShare) {
    return json{{"bufferView", 0}, {"byteOffset", offset}, {"componentType", type},
                {"count", count},  {"type", shape},        {"normalized", isShare}};
  };
  const double scale = 0.5 / Hill::most;
  return {
      {"asset", {{"version", "2.0"}}},
      {"extensionsUsed", {"KHR_mesh_quantization", "EXT_meshopt_compression"}},
      {"extensionsRequired", {"KHR_mesh_quantization"}},
      {"scene", 0},
      {"scenes", {{{"nodes", {0}}}}},
      {"nodes", {{{"name", "hill"}, {"mesh", 0}, {"scale", {scale, scale, scale}}}}},
      {"meshes",
       {{{"primitives",
          {{{"attributes", {{"POSITION", 0}, {"NORMAL", 1}, {"TEXCOORD_0", 2}}}, {"indices", 3}}}}}}},
      {"accessors",
       {accessor(0, 5123, "VEC3", false),
        accessor(8, 5120, "VEC3", true),
        accessor(12, 5123, "VEC2", true),
        {{"bufferView", 1}, {"componentType", 5123}, {"count", hill.corners.size()}, {"type", "SCALAR"}}}},
      {"bufferViews", {vertices, corners}},
      {"buffers", {{{"byteLength", data.size()}, {"uri", dataUri(QByteArray::fromStdString(data))}}}}};
}

json rounded(const Hill& hill) {
  const std::string vertices = bytesOf(hill.vertices), corners = bytesOf(hill.corners);
  return document(hill, vertices + corners,
                  {{"buffer", 0},
                   {"byteOffset", 0},
                   {"byteLength", vertices.size()},
                   {"byteStride", sizeof(Hill::Vertex)}},
                  {{"buffer", 0}, {"byteOffset", vertices.size()}, {"byteLength", corners.size()}});
}

json packed(const Hill& hill) {
  const size_t count = hill.vertices.size(), stride = sizeof(Hill::Vertex);
  std::string vertices(meshopt_encodeVertexBufferBound(count, stride), '\0'),
      corners(meshopt_encodeIndexBufferBound(hill.corners.size(), count), '\0');
  const auto bytes = [](std::string& s) { return reinterpret_cast<unsigned char*>(s.data()); };
  vertices.resize(
      meshopt_encodeVertexBuffer(bytes(vertices), vertices.size(), hill.vertices.data(), count, stride));
  const std::vector<unsigned> wide(hill.corners.begin(), hill.corners.end());
  corners.resize(meshopt_encodeIndexBuffer(bytes(corners), corners.size(), wide.data(), wide.size()));
  const auto view = [](size_t at, size_t packedBytes, size_t number, size_t size, const char* mode) {
    return json{{"buffer", 0},
                {"byteLength", number * size},
                {"extensions",
                 {{"EXT_meshopt_compression",
                   {{"buffer", 0},
                    {"byteOffset", at},
                    {"byteLength", packedBytes},
                    {"byteStride", size},
                    {"count", number},
                    {"mode", mode}}}}}};
  };
  json first = view(0, vertices.size(), count, stride, "ATTRIBUTES");
  first["byteStride"] = stride;
  return document(hill, vertices + corners, first,
                  view(vertices.size(), corners.size(), hill.corners.size(), 2, "TRIANGLES"));
}

/// As the extension for it packs; in metres.
json packedOtherwise(const Hill& hill) {
  draco::TriangleSoupMeshBuilder builder;
  builder.Start(int(hill.corners.size() / 3));
  const int position = builder.AddAttribute(draco::GeometryAttribute::POSITION, 3, draco::DT_FLOAT32),
            uv = builder.AddAttribute(draco::GeometryAttribute::TEX_COORD, 2, draco::DT_FLOAT32);
  for (size_t f = 0; f < hill.corners.size() / 3; ++f) {
    Vec3f at[3];
    Vec2f on[3];
    for (size_t c = 0; c < 3; ++c) {
      const Hill::Vertex& v = hill.vertices[hill.corners[3 * f + c]];
      for (int k = 0; k < 3; ++k) at[c][k] = 0.5f * float(v.position[k]) / Hill::most;
      on[c] = Vec2f(v.uv[0] / 65535.0f, v.uv[1] / 65535.0f);
    }
    const draco::FaceIndex face{uint32_t(f)};
    builder.SetAttributeValuesForFace(position, face, &at[0], &at[1], &at[2]);
    builder.SetAttributeValuesForFace(uv, face, &on[0], &on[1], &on[2]);
  }
  const auto mesh = builder.Finalize();
  draco::Encoder encoder;
  encoder.SetAttributeQuantization(draco::GeometryAttribute::POSITION, 16);
  encoder.SetAttributeQuantization(draco::GeometryAttribute::TEX_COORD, 14);
  draco::EncoderBuffer buffer;
  (void)encoder.EncodeMeshToBuffer(*mesh, &buffer);
  const std::string data(buffer.data(), buffer.size());
  json j = document(hill, data, {{"buffer", 0}, {"byteLength", data.size()}},
                    {{"buffer", 0}, {"byteLength", data.size()}});
  j["extensionsUsed"] = j["extensionsRequired"] = {"KHR_draco_mesh_compression"};
  j["nodes"][0].erase("scale");
  const auto accessor = [](size_t count, const char* type, int component) {
    return json{{"componentType", component}, {"count", count}, {"type", type}};
  };
  j["accessors"] = {accessor(mesh->num_points(), "VEC3", 5126), accessor(mesh->num_points(), "VEC2", 5126),
                    accessor(hill.corners.size(), "SCALAR", 5123)};
  json& primitive = j["meshes"][0]["primitives"][0];
  primitive["attributes"] = {{"POSITION", 0}, {"TEXCOORD_0", 1}}, primitive["indices"] = 2;
  primitive["extensions"] = {{"KHR_draco_mesh_compression",
                              {{"bufferView", 0},
                               {"attributes",
                                {{"POSITION", mesh->attribute(position)->unique_id()},
                                 {"TEXCOORD_0", mesh->attribute(uv)->unique_id()}}}}}};
  return j;
}

}  // namespace

class TestGltfPacked : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  Result<Model> read(const json& document) {
    const auto file = std::filesystem::path(folder_.path().toStdString()) / "hill.gltf";
    if (const auto written = writeFileAtomically(file, jsonText(document)); !written) return written.error();
    Progress progress;
    return importModel(file, progress);
  }

 private slots:
  void initTestCase() { qputenv("XDG_CACHE_HOME", folder_.filePath("cache").toUtf8()); }
  void shapesComeInAsTheyWere_data();
  void shapesComeInAsTheyWere();
  void instancesAreThere();
  void picturesMayBeWebp();
  void damagedOnesAreOneSentence_data();
  void damagedOnesAreOneSentence();
};

void TestGltfPacked::shapesComeInAsTheyWere_data() {
  QTest::addColumn<int>("kind");
  QTest::newRow("rounded") << 0;
  QTest::newRow("rounded and packed") << 1;
  QTest::newRow("packed otherwise") << 2;
}

void TestGltfPacked::shapesComeInAsTheyWere() {
  QFETCH(int, kind);
  const Hill hill;
  const auto model = read(kind == 0 ? rounded(hill) : kind == 1 ? packed(hill) : packedOtherwise(hill));
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->parts.size(), size_t(1));
  QCOMPARE(model->parts[0].name, std::string("hill"));
  QCOMPARE(model->triangles(), hill.corners.size() / 3);
  const Vec3d size = model->box().size();
  QVERIFY2((size - Vec3d(0.5, 0.5, 0.5 * 2000 / Hill::most)).length() < 1e-3,
           qPrintable(QString("%1 %2 %3").arg(size.x).arg(size.y).arg(size.z)));
  const Mesh& mesh = model->meshOf(model->parts[0]);
  QCOMPARE(mesh.uvs.size(), mesh.positions.size());
  for (size_t i = 0; i < mesh.positions.size(); ++i) {
    const Vec3f at = model->parts[0].place.point(mesh.positions[i]);
    QVERIFY(std::abs(mesh.uvs[i].x - 2 * at.x) < 2e-3f && std::abs(1 - mesh.uvs[i].y - 2 * at.y) < 2e-3f);
    QVERIFY(std::abs(mesh.normals[i].length() - 1) < 1e-3f && mesh.normals[i].z > 0.5f);
  }
}

void TestGltfPacked::instancesAreThere() {
  json j = rounded(Hill());
  const std::vector<float> places{0, 0, 0, 2, 0, 0, 4, 0, 0};
  const std::string data = bytesOf(places);
  j["buffers"].push_back({{"byteLength", data.size()}, {"uri", dataUri(QByteArray::fromStdString(data))}});
  j["bufferViews"].push_back({{"buffer", 1}, {"byteLength", data.size()}});
  j["accessors"].push_back({{"bufferView", 2}, {"componentType", 5126}, {"count", 3}, {"type", "VEC3"}});
  j["nodes"][0].erase("scale");
  j["nodes"][0]["extensions"] = {{"EXT_mesh_gpu_instancing", {{"attributes", {{"TRANSLATION", 4}}}}}};
  const auto model = read(j);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->parts.size(), size_t(3));
  QCOMPARE(model->meshes.size(), size_t(1));  // held once
  QCOMPARE(std::lround(model->box().size().x), long(Hill::most) + 4);
}

void TestGltfPacked::picturesMayBeWebp() {
  const std::vector<uint8_t> pixels{255, 0, 0, 255, 0, 128, 0, 255, 0, 0, 64, 255, 9, 9, 9, 255};
  uint8_t* made = nullptr;
  const size_t bytes = WebPEncodeLosslessRGBA(pixels.data(), 2, 2, 8, &made);
  const QByteArray webp(reinterpret_cast<const char*>(made), qsizetype(bytes));
  WebPFree(made);
  json j = rounded(Hill());
  j["meshes"][0]["primitives"][0]["material"] = 0;
  j["materials"] = {{{"name", "painted"}, {"pbrMetallicRoughness", {{"baseColorTexture", {{"index", 0}}}}}}};
  // Who does not know the extension takes the other.
  j["textures"] = {{{"source", 0}, {"extensions", {{"EXT_texture_webp", {{"source", 1}}}}}}};
  j["images"] = {{{"uri", "nowhere.png"}}, {{"uri", dataUri(webp, "image/webp")}}};
  const auto model = read(j);
  QVERIFY2(model.ok(), model.ok() ? "" : model.error().message.c_str());
  QCOMPARE(model->textures.size(), size_t(1));
  QVERIFY(model->textures[0].width == 2 && model->textures[0].rgba == pixels);
}

void TestGltfPacked::damagedOnesAreOneSentence_data() {
  QTest::addColumn<int>("kind");
  QTest::addColumn<QString>("place");
  QTest::addColumn<int>("value");
  const QString how = "/bufferViews/0/extensions/EXT_meshopt_compression/";
  QTest::newRow("more vertices than are packed") << 1 << how + "count" << 4000;
  QTest::newRow("no stride") << 1 << how + "byteStride" << 0;
  QTest::newRow("a stride of its own") << 1 << how + "byteStride" << 6;
  QTest::newRow("packed beyond its end") << 1 << how + "byteLength" << 1'000'000;
  QTest::newRow("cut off") << 1 << how + "byteLength" << 40;
  QTest::newRow("rounded numbers beyond their end") << 0 << "/accessors/0/count" << 100'000;
  QTest::newRow("a view that is not there") << 0 << "/accessors/0/bufferView" << 9;
  QTest::newRow("an accessor that is not there") << 0 << "/meshes/0/primitives/0/attributes/POSITION" << 9;
  QTest::newRow("packed otherwise, cut off") << 2 << "/bufferViews/0/byteLength" << 30;
  QTest::newRow("packed otherwise, nothing of the kind")
      << 2 << "/meshes/0/primitives/0/extensions/KHR_draco_mesh_compression/attributes/POSITION" << 77;
}

void TestGltfPacked::damagedOnesAreOneSentence() {
  QFETCH(int, kind);
  QFETCH(QString, place);
  QFETCH(int, value);
  const Hill hill;
  json j = kind == 0 ? rounded(hill) : kind == 1 ? packed(hill) : packedOtherwise(hill);
  j[json::json_pointer(place.toStdString())] = value;
  const auto model = read(j);
  QVERIFY(!model.ok());
  QVERIFY2(model.error().message.find("hill.gltf") != std::string::npos &&
               model.error().message.find("Export it again") != std::string::npos,
           model.error().message.c_str());
}

DUSK_TEST(TestGltfPacked, NoApplication);
#include "gltf_packed.moc"
