#pragma once
#include <span>
#include <string>
#include <vector>

#include "core/picture/file_writer.h"

namespace dusk {

/// What is said of a picture, as EXIF and XMP hold it.
struct EncodedTags {
  std::vector<unsigned char> exif;  ///< from the header of its byte order on
  std::string xmp;
};
EncodedTags encoded(const PictureTags& tags, int width, int height);

/// Puts what is said of a picture into a finished JPEG, PNG, TIFF or WebP. Error: the file cannot be changed.
Outcome writeTags(const std::filesystem::path& file, const PictureTags& tags, int width, int height);
/// Puts a profile into a finished WebP. Error: as above.
Outcome writeWebpProfile(const std::filesystem::path& file, std::span<const std::byte> profile);

}  // namespace dusk
