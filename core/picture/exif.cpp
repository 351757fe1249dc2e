#include "core/picture/exif.h"

#include <exiv2/exiv2.hpp>

namespace dusk {
namespace {

std::optional<Exiv2::ExifData> exifOf(const std::filesystem::path& file) {
  // Exiv2 throws on files it does not know, and writes to stderr; both end here.
  Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
  try {
    auto image = Exiv2::ImageFactory::open(file.string());
    if (!image.get()) return {};
    image->readMetadata();
    return image->exifData();
  } catch (const std::exception&) {
    return {};
  }
}

double number(const Exiv2::ExifData& data, const char* key) {
  const auto found = data.findKey(Exiv2::ExifKey(key));
  return found == data.end() || found->count() == 0 ? 0.0 : double(found->toFloat());
}

std::string text(const Exiv2::ExifData& data, const char* key) {
  const auto found = data.findKey(Exiv2::ExifKey(key));
  if (found == data.end()) return {};
  std::string value = found->toString().substr(0, 80);
  std::erase_if(value, [](unsigned char c) { return c < 32 || c > 126; });
  return value;
}

}  // namespace

PhotoInfo readExif(const std::filesystem::path& file) {
  PhotoInfo info;
  const auto data = exifOf(file);
  if (!data) return info;
  info.focalMm = number(*data, "Exif.Photo.FocalLength");
  info.focalMm35 = number(*data, "Exif.Photo.FocalLengthIn35mmFilm");
  info.exposureSeconds = number(*data, "Exif.Photo.ExposureTime");
  info.fNumber = number(*data, "Exif.Photo.FNumber");
  info.iso = number(*data, "Exif.Photo.ISOSpeedRatings");
  info.camera = text(*data, "Exif.Image.Model");
  info.lens = text(*data, "Exif.Photo.LensModel");
  for (double* value : {&info.focalMm, &info.focalMm35, &info.exposureSeconds, &info.fNumber, &info.iso})
    if (!std::isfinite(*value) || *value < 0) *value = 0;
  return info;
}

int readOrientation(const std::filesystem::path& file) {
  const auto data = exifOf(file);
  const int value = data ? int(number(*data, "Exif.Image.Orientation")) : 1;
  return value >= 1 && value <= 8 ? value : 1;
}

}  // namespace dusk
