#include "core/picture/write.h"

#include <OpenImageIO/imageio.h>

#include "core/base/files.h"
#include "core/picture/exr_writer.h"

namespace dusk {

struct PngWriter::State {
  explicit State(const std::filesystem::path& file) : whole(file) {}
  AtomicFile whole;
  std::unique_ptr<OIIO::ImageOutput> output{};
  int rowsDone = 0;

  Error failed(const std::string& why) const { return pictureNotWritten(whole.file(), why); }
};

PngWriter::PngWriter(std::unique_ptr<State> state) : state_(std::move(state)) {}
PngWriter::~PngWriter() = default;

Result<std::unique_ptr<PngWriter>> PngWriter::open(const std::filesystem::path& file, int width, int height,
                                                   int channels) {
  auto state = std::make_unique<State>(file);
  state->output = OIIO::ImageOutput::create("x.png");
  if (!state->output) return state->failed(OIIO::geterror());
  OIIO::ImageSpec spec(width, height, channels, OIIO::TypeUInt8);
  spec.attribute("oiio:ColorSpace", "sRGB");
  spec.attribute("oiio:UnassociatedAlpha", 1);
  spec.attribute("png:compressionLevel", 4);
  if (!state->output->open(state->whole.temporary().string(), spec))
    return state->failed(state->output->geterror());
  return std::unique_ptr<PngWriter>(new PngWriter(std::move(state)));
}

Outcome PngWriter::write(const Picture& rows) {
  std::vector<unsigned char> codes(rows.pixels.size());
  for (size_t i = 0; i < codes.size(); ++i)
    codes[i] = (unsigned char)std::lround(std::clamp(rows.pixels[i], 0.0f, 1.0f) * 255.0f);
  int& from = state_->rowsDone;
  if (!state_->output->write_scanlines(from, from + rows.height, 0, OIIO::TypeUInt8, codes.data()))
    return state_->failed(state_->output->geterror());
  from += rows.height;
  return done();
}

Outcome PngWriter::close() {
  if (!state_->output->close()) return state_->failed(state_->output->geterror());
  return state_->whole.commit();
}

Outcome writePng8(const std::filesystem::path& file, const Picture& picture) {
  const auto writer = PngWriter::open(file, picture.width, picture.height, picture.channelCount());
  if (!writer) return writer.error();
  if (const Outcome wrote = (*writer)->write(picture); !wrote) return wrote;
  return (*writer)->close();
}

Outcome writeExr(const std::filesystem::path& file, const std::vector<ExrPart>& parts) {
  std::vector<ExrPartHeader> headers;
  for (const ExrPart& p : parts) headers.push_back({p.name, p.picture->channels, p.fullFloat, p.metadata});
  const auto writer =
      ExrWriter::open(file, parts.front().picture->width, parts.front().picture->height, std::move(headers));
  if (!writer) return writer.error();
  for (size_t i = 0; i < parts.size(); ++i)
    if (const Outcome wrote = (*writer)->write(i, *parts[i].picture); !wrote) return wrote;
  return (*writer)->close(std::vector<bool>(parts.size(), true));
}

}  // namespace dusk
