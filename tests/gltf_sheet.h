#pragma once
#include <QBuffer>
#include <QImage>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"

namespace dusk {

/// Bytes as glTF files hold them in themselves.
inline std::string dataUri(const QByteArray& bytes, const char* type = "application/octet-stream") {
  return std::string("data:") + type + ";base64," + bytes.toBase64().toStdString();
}

/// Writes "sheet.gltf": a square of one metre with one material, and two textures that it may use. Its second
/// coordinates are half its first.
inline std::filesystem::path writeSheet(const std::filesystem::path& folder, const nlohmann::json& material) {
  using nlohmann::json;
  const float numbers[] = {0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0,   1,   0,   0,   1, 0, 0,
                           1, 0, 0, 1, 0, 1, 1, 1, 1, 0, 0, 0, 0, .5f, .5f, .5f, .5f, 0, 0, 0};
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
                      {{"buffer", 0}, {"byteOffset", 160}, {"byteLength", 12}},
                      {{"buffer", 1}, {"byteLength", png.size()}},
                      {{"buffer", 0}, {"byteOffset", 128}, {"byteLength", 32}}};
  const json gltf = {
      {"asset", {{"version", "2.0"}}},
      {"scene", 0},
      {"scenes", {{{"nodes", {0}}}}},
      {"nodes", {{{"name", "sheet"}, {"mesh", 0}}}},
      {"meshes",
       {{{"primitives",
          {{{"attributes", {{"POSITION", 0}, {"NORMAL", 1}, {"TEXCOORD_0", 2}, {"TEXCOORD_1", 4}}},
            {"indices", 3},
            {"material", 0}}}}}}},
      {"materials", {material}},
      {"textures", {{{"source", 0}}, {{"source", 1}}}},
      {"images", {{{"uri", dataUri(png, "image/png")}}, {{"bufferView", 4}, {"mimeType", "image/png"}}}},
      {"accessors",
       {{{"bufferView", 0},
         {"componentType", 5126},
         {"count", 4},
         {"type", "VEC3"},
         {"min", {0, 0, 0}},
         {"max", {1, 1, 0}}},
        {{"bufferView", 1}, {"componentType", 5126}, {"count", 4}, {"type", "VEC3"}},
        {{"bufferView", 2}, {"componentType", 5126}, {"count", 4}, {"type", "VEC2"}},
        {{"bufferView", 3}, {"componentType", 5123}, {"count", 6}, {"type", "SCALAR"}},
        {{"bufferView", 5}, {"componentType", 5126}, {"count", 4}, {"type", "VEC2"}}}},
      {"bufferViews", views},
      {"buffers",
       {{{"byteLength", 172}, {"uri", dataUri(bytes)}},
        {{"byteLength", png.size()}, {"uri", dataUri(png)}}}}};
  const std::filesystem::path file = folder / "sheet.gltf";
  std::ofstream(file) << jsonText(gltf);
  return file;
}

}  // namespace dusk
