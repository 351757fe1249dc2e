#include "core/picture/texture.h"

#include <OpenImageIO/imageio.h>

#include <cstdlib>
#include <fstream>

namespace dusk {
namespace {

Result<Texture8> read(OIIO::ImageInput* input, const std::string& name) {
  const Error unreadable{"The texture " + name + " cannot be read. Export the model with its pictures again.",
                         ErrorKind::unreadable};
  if (!input) return OIIO::geterror(), unreadable;
  const OIIO::ImageSpec& spec = input->spec();
  if (spec.width <= 0 || spec.height <= 0 || spec.width > 16384 || spec.height > 16384 || spec.nchannels < 1)
    return unreadable;
  const int channels = spec.nchannels;
  const size_t pixels = size_t(spec.width) * size_t(spec.height);
  std::vector<uint8_t> raw(pixels * size_t(channels));
  if (!input->read_image(0, 0, 0, channels, OIIO::TypeDesc::UINT8, raw.data()))
    return input->geterror(), unreadable;
  Texture8 out{spec.width, spec.height, std::vector<uint8_t>(pixels * 4)};
  for (size_t i = 0; i < pixels; ++i) {
    const uint8_t* p = &raw[i * size_t(channels)];
    uint8_t* q = &out.rgba[i * 4];
    const bool grey = channels < 3;
    q[0] = p[0], q[1] = grey ? p[0] : p[1], q[2] = grey ? p[0] : p[2];
    q[3] = channels == 2 ? p[1] : channels >= 4 ? p[3] : 255;
  }
  return out;
}

}  // namespace

Result<Texture8> readTexture(const std::filesystem::path& file) {
  OIIO::ImageSpec how;
  how["oiio:UnassociatedAlpha"] = 1;
  const auto input = OIIO::ImageInput::open(file.string(), &how);
  return read(input.get(), file.filename().string());
}

Result<Texture8> readTexture(std::span<const char> bytes, const std::string& name) {
  // Not every reader takes bytes from memory; all take a file.
  char folder[] = "/tmp/gentle-dusk-texture-XXXXXX";
  if (!::mkdtemp(folder)) return Error{"There is no room in /tmp for the texture " + name + "."};
  const std::filesystem::path file = std::filesystem::path(folder) / std::filesystem::path(name).filename();
  std::ofstream(file, std::ios::binary).write(bytes.data(), std::streamsize(bytes.size()));
  auto texture = readTexture(file);
  std::error_code ignored;
  std::filesystem::remove_all(folder, ignored);
  return texture;
}

}  // namespace dusk
