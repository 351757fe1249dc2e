#pragma once
#include <filesystem>

#include "core/picture/photo.h"

namespace dusk {

/// What EXIF says of the exposure; all zero when there is none or it cannot be read (never an error: a photo
/// without it is still a photo).
PhotoInfo readExif(const std::filesystem::path& file);
/// EXIF orientation, 1 to 8; 1 when not said.
int readOrientation(const std::filesystem::path& file);

}  // namespace dusk
