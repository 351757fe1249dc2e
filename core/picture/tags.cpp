#include <exiv2/exiv2.hpp>

#include "core/picture/exr_writer.h"
#include "core/picture/file_writer.h"

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

}  // namespace

Outcome writeTags(const std::filesystem::path& file, const PictureTags& tags, int width, int height) {
  Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
  try {
    auto image = Exiv2::ImageFactory::open(file.string());
    image->readMetadata();
    Exiv2::ExifData& exif = image->exifData();
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
    exif["Exif.Photo.PixelXDimension"] = uint32_t(width),
    exif["Exif.Photo.PixelYDimension"] = uint32_t(height);
    Exiv2::XmpData& xmp = image->xmpData();
    xmp["Xmp.xmp.CreatorTool"] = "Gentle Dusk";
    if (!tags.title.empty())
      exif["Exif.Image.ImageDescription"] = tags.title, xmp["Xmp.dc.title"] = tags.title;
    if (!tags.creator.empty()) exif["Exif.Image.Artist"] = tags.creator, xmp["Xmp.dc.creator"] = tags.creator;
    if (!tags.rights.empty()) exif["Exif.Image.Copyright"] = tags.rights, xmp["Xmp.dc.rights"] = tags.rights;
    image->writeMetadata();
  } catch (const std::exception& error) {
    return pictureNotWritten(file, error.what());
  }
  return done();
}

}  // namespace dusk
