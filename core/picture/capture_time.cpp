#include "core/picture/capture_time.h"

#include <cstdio>
#include <ctime>
#include <exiv2/exiv2.hpp>

namespace dusk {

std::optional<double> captureTime(const std::filesystem::path& file) {
  try {
    auto photo = Exiv2::ImageFactory::open(file.string());
    photo->readMetadata();
    const Exiv2::ExifData& exif = photo->exifData();
    const auto text = [&](const char* key) {
      const auto at = exif.findKey(Exiv2::ExifKey(key));
      return at == exif.end() ? std::string() : at->toString();
    };
    std::tm when{};
    const std::string original = text("Exif.Photo.DateTimeOriginal");
    if (std::sscanf(original.c_str(), "%d:%d:%d %d:%d:%d", &when.tm_year, &when.tm_mon, &when.tm_mday,
                    &when.tm_hour, &when.tm_min, &when.tm_sec) != 6)
      return {};
    when.tm_year -= 1900, when.tm_mon -= 1;
    const std::string part = text("Exif.Photo.SubSecTimeOriginal");
    const double fraction = part.empty() ? 0 : std::atof(("0." + part).c_str());
    return double(timegm(&when)) + fraction;
  } catch (const std::exception&) {  // a photo without it is still a photo
    return {};
  }
}

}  // namespace dusk
