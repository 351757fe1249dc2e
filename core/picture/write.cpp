#include "core/picture/write.h"

#include <OpenImageIO/imageio.h>

#include "core/base/files.h"

namespace dusk {
namespace {

Error writeFailed(const std::filesystem::path& file, const std::string& detail) {
  return {"Writing " + file.string() + " failed: " + detail +
          " Check the folder and the free space on its disk."};
}

OIIO::ImageSpec specOf(const Picture& picture, OIIO::TypeDesc type) {
  OIIO::ImageSpec spec(picture.width, picture.height, picture.channelCount(), type);
  spec.channelnames = picture.channels;
  return spec;
}

}  // namespace

Outcome writePng8(const std::filesystem::path& file, const Picture& picture) {
  return replaceFileAtomically(file, [&](const std::filesystem::path& temporary) -> Outcome {
    std::vector<unsigned char> codes(picture.pixels.size());
    for (size_t i = 0; i < codes.size(); ++i)
      codes[i] = (unsigned char)std::lround(std::clamp(picture.pixels[i], 0.0f, 1.0f) * 255.0f);
    auto output = OIIO::ImageOutput::create(temporary.string());
    if (!output) return writeFailed(file, OIIO::geterror());
    OIIO::ImageSpec spec = specOf(picture, OIIO::TypeUInt8);
    spec.attribute("oiio:ColorSpace", "sRGB");
    spec.attribute("oiio:UnassociatedAlpha", 1);
    spec.attribute("png:compressionLevel", 4);
    if (!output->open(temporary.string(), spec) || !output->write_image(OIIO::TypeUInt8, codes.data()) ||
        !output->close())
      return writeFailed(file, output->geterror());
    return done();
  });
}

Outcome writeExr(const std::filesystem::path& file, const std::vector<ExrPart>& parts) {
  return replaceFileAtomically(file, [&](const std::filesystem::path& temporary) -> Outcome {
    std::vector<OIIO::ImageSpec> specs;
    for (const ExrPart& part : parts) {
      specs.push_back(specOf(*part.picture, part.fullFloat ? OIIO::TypeFloat : OIIO::TypeHalf));
      specs.back().attribute("name", part.name);
      specs.back().attribute("compression", "zip");
      for (const auto& [key, text] : part.metadata) specs.back().attribute(key, text);
    }
    auto output = OIIO::ImageOutput::create(temporary.string());
    if (!output) return writeFailed(file, OIIO::geterror());
    if (!output->open(temporary.string(), int(specs.size()), specs.data()))
      return writeFailed(file, output->geterror());
    for (size_t i = 0; i < parts.size(); ++i) {
      if (i > 0 && !output->open(temporary.string(), specs[i], OIIO::ImageOutput::AppendSubimage))
        return writeFailed(file, output->geterror());
      // A half of more than it can hold would be an infinity, which spoils every sum in other programs.
      constexpr float mostInHalf = 65504;
      std::vector<float> held;
      if (!parts[i].fullFloat) {
        held = parts[i].picture->pixels;
        for (float& v : held) v = std::isnan(v) ? 0.0f : std::clamp(v, -mostInHalf, mostInHalf);
      }
      if (!output->write_image(OIIO::TypeFloat,
                               parts[i].fullFloat ? parts[i].picture->pixels.data() : held.data()))
        return writeFailed(file, output->geterror());
    }
    if (!output->close()) return writeFailed(file, output->geterror());
    return done();
  });
}

}  // namespace dusk
