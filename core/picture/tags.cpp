#include <webp/mux.h>

#include <exiv2/exiv2.hpp>

#include "core/base/files.h"
#include "core/base/words.h"
#include "core/picture/exr_writer.h"
#include "core/picture/tags.h"

namespace dusk {
namespace {

/// What the camera wrote, without what is no longer true of the picture: its size, how it was held, what its
/// maker put beside it, and its small pictures.
Exiv2::ExifData cameraData(const std::filesystem::path& file) {
  Exiv2::ExifData kept;
  try {
    auto photo = Exiv2::ImageFactory::open(file.string());
    photo->readMetadata();
    for (const Exiv2::Exifdatum& datum : photo->exifData()) {
      const std::string key = datum.key(), group = datum.groupName();
      const bool isShape = key == "Exif.Image.Orientation" || key == "Exif.Photo.PixelXDimension" ||
                           key == "Exif.Photo.PixelYDimension" || key == "Exif.Photo.MakerNote" ||
                           key == "Exif.Image.ImageWidth" || key == "Exif.Image.ImageLength";
      if (!isShape && (group == "Image" || group == "Photo" || group == "GPSInfo")) kept.add(datum);
    }
  } catch (const std::exception&) {  // a photo without it is still a photo
  }
  for (const char* pixels :
       {"StripOffsets", "StripByteCounts", "RowsPerStrip", "BitsPerSample", "Compression",
        "PhotometricInterpretation", "SamplesPerPixel", "PlanarConfiguration", "TileOffsets",
        "TileByteCounts", "SubIFDs", "InterColorProfile"})
    if (const auto at = kept.findKey(Exiv2::ExifKey(std::string("Exif.Image.") + pixels)); at != kept.end())
      kept.erase(at);
  return kept;
}

void say(const PictureTags& tags, int width, int height, Exiv2::ExifData& exif, Exiv2::XmpData& xmp) {
  const auto drop = [&](const std::string& key) {
    for (auto at = exif.findKey(Exiv2::ExifKey(key)); at != exif.end();
         at = exif.findKey(Exiv2::ExifKey(key)))
      exif.erase(at);
  };
  // When it was written is the file system's to say: the same picture is the same file.
  drop("Exif.Image.DateTime");
  if (!tags.exifOf.empty())
    for (const Exiv2::Exifdatum& datum : cameraData(tags.exifOf)) drop(datum.key()), exif.add(datum);
  exif["Exif.Image.Software"] = "Gentle Dusk";
  exif["Exif.Photo.PixelXDimension"] = uint32_t(width), exif["Exif.Photo.PixelYDimension"] = uint32_t(height);
  xmp["Xmp.xmp.CreatorTool"] = "Gentle Dusk";
  if (!tags.title.empty()) exif["Exif.Image.ImageDescription"] = tags.title, xmp["Xmp.dc.title"] = tags.title;
  if (!tags.creator.empty()) exif["Exif.Image.Artist"] = tags.creator, xmp["Xmp.dc.creator"] = tags.creator;
  if (!tags.rights.empty()) exif["Exif.Image.Copyright"] = tags.rights, xmp["Xmp.dc.rights"] = tags.rights;
}

}  // namespace

EncodedTags encoded(const PictureTags& tags, int width, int height) {
  Exiv2::ExifData exif;
  Exiv2::XmpData xmp;
  say(tags, width, height, exif, xmp);
  EncodedTags all;
  Exiv2::ExifParser::encode(all.exif, Exiv2::littleEndian, exif);
  Exiv2::XmpParser::encode(all.xmp, xmp, Exiv2::XmpParser::useCompactFormat);
  return all;
}

Outcome writeTags(const std::filesystem::path& file, const PictureTags& tags, int width, int height) {
  Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
  try {
    auto image = Exiv2::ImageFactory::open(file.string());
    image->readMetadata();
    say(tags, width, height, image->exifData(), image->xmpData());
    image->writeMetadata();
  } catch (const std::exception& error) {
    return pictureNotWritten(file, error.what());
  }
  return done();
}

Outcome writeWebpProfile(const std::filesystem::path& file, std::span<const std::byte> profile) {
  const auto all = readFile(file);
  if (!all) return all.error();
  const WebPData before{reinterpret_cast<const uint8_t*>(all->data()), all->size()},
      chunk{reinterpret_cast<const uint8_t*>(profile.data()), profile.size()};
  const std::unique_ptr<WebPMux, void (*)(WebPMux*)> mux(WebPMuxCreate(&before, 0), WebPMuxDelete);
  WebPData made{};
  const bool put = mux && WebPMuxSetChunk(mux.get(), "ICCP", &chunk, 0) == WEBP_MUX_OK &&
                   WebPMuxAssemble(mux.get(), &made) == WEBP_MUX_OK;
  const std::string text(reinterpret_cast<const char*>(made.bytes), made.size);
  WebPDataClear(&made);
  return put ? writeFileAtomically(file, text)
             : pictureNotWritten(file, words("its profile does not fit in"));
}

}  // namespace dusk
