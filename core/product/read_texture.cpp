// The one small reader here starts at once; the picture library that reads plates takes 0.2 s to load, in
// every import, whether the model has textures or not.
#include "core/product/read_texture.h"

#include "core/base/files.h"

#define STB_IMAGE_IMPLEMENTATION
#define STB_IMAGE_STATIC
#define STBI_ONLY_PNG
#define STBI_ONLY_JPEG
#define STBI_ONLY_TGA
#define STBI_ONLY_BMP
#define STBI_ONLY_PSD
#define STBI_NO_STDIO
#define STBI_MAX_DIMENSIONS 16384
#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wunused-function"
#include <stb/stb_image.h>
#pragma GCC diagnostic pop
#include <webp/decode.h>

namespace dusk {
namespace {

/// False where it is none, or damaged.
bool readWebp(std::span<const char> bytes, FileTexture& out) {
  const auto* data = reinterpret_cast<const uint8_t*>(bytes.data());
  if (!WebPGetInfo(data, bytes.size(), &out.width, &out.height)) return false;
  out.rgba.resize(size_t(out.width) * size_t(out.height) * 4);
  return WebPDecodeRGBAInto(data, bytes.size(), out.rgba.data(), out.rgba.size(), out.width * 4) != nullptr;
}

}  // namespace

Result<FileTexture> readTexture(std::span<const char> bytes, const std::string& name) {
  FileTexture out{name, 0, 0, {}};
  if (readWebp(bytes, out)) return out;
  int channels = 0;
  stbi_uc* rgba = bytes.size() > size_t(INT_MAX)
                      ? nullptr
                      : stbi_load_from_memory(reinterpret_cast<const stbi_uc*>(bytes.data()),
                                              int(bytes.size()), &out.width, &out.height, &channels, 4);
  if (!rgba)
    return Error{
        "The texture " + name + " cannot be read. Export the model with its pictures as PNG or JPEG again.",
        ErrorKind::unreadable};
  out.rgba.assign(rgba, rgba + size_t(out.width) * size_t(out.height) * 4);
  stbi_image_free(rgba);
  return out;
}

Result<FileTexture> readTexture(const std::filesystem::path& file) {
  const auto bytes = readFile(file);
  if (!bytes) return bytes.error();
  return readTexture(*bytes, file.filename().string());
}

}  // namespace dusk
