#include "core/picture/write.h"

#include <OpenImageIO/imageio.h>

#include "core/base/files.h"
#include "core/picture/exr_writer.h"

namespace dusk {

Outcome writePng8(const std::filesystem::path& file, const Picture& picture) {
  const auto failed = [&](const std::string& why) { return pictureNotWritten(file, why); };
  return replaceFileAtomically(file, [&](const std::filesystem::path& temporary) -> Outcome {
    const auto output = OIIO::ImageOutput::create("x.png");
    if (!output) return failed(OIIO::geterror());
    OIIO::ImageSpec spec(picture.width, picture.height, picture.channelCount(), OIIO::TypeUInt8);
    spec.attribute("oiio:ColorSpace", "sRGB");
    spec.attribute("oiio:UnassociatedAlpha", 1);
    spec.attribute("png:compressionLevel", 4);
    std::vector<unsigned char> codes(picture.pixels.size());
    for (size_t i = 0; i < codes.size(); ++i)
      codes[i] = (unsigned char)std::lround(std::clamp(picture.pixels[i], 0.0f, 1.0f) * 255.0f);
    if (!output->open(temporary.string(), spec) ||
        !output->write_scanlines(0, picture.height, 0, OIIO::TypeUInt8, codes.data()) || !output->close())
      return failed(output->geterror());
    return done();
  });
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
