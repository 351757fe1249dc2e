#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/picture/photo.h"

namespace dusk {

/// Reads a JPEG, PNG, TIFF or EXR as a photograph: EXIF read, turned upright, an embedded ICC profile
/// converted to sRGB primaries and encoding. EXR and HDR files, and float TIFFs, are taken as scene-linear
/// Rec.709. Error (unreadable): not a picture, truncated, or larger than `maxPixels` by its own header
/// (checked before any memory is taken).
Result<Photo> readPhoto(const std::filesystem::path& file);

/// Reads an EXR, HDR, TIFF or 8-bit picture as scene-linear light values; 8-bit code values are sRGB-decoded.
/// `progress` may be absent; cancelled there, it ends early.
Result<Picture> readLight(const std::filesystem::path& file, Progress* progress = nullptr);

/// One part of a multi-part EXR by name, with its own channel names.
Result<Picture> readExrPart(const std::filesystem::path& file, const std::string& part);
/// The names of the parts of an EXR file, in order.
Result<std::vector<std::string>> exrParts(const std::filesystem::path& file);

/// Width, height and channel count by the header alone, pixels untouched.
struct PictureHeader {
  int width = 0, height = 0, channels = 0;
  std::string format;
  PhotoInfo info;
};
Result<PictureHeader> readPictureHeader(const std::filesystem::path& file);

/// Largest picture accepted, in pixels: 16k x 8k panoramas and 150-megapixel photographs fit.
inline constexpr long long maxPixels = 300'000'000;

}  // namespace dusk
