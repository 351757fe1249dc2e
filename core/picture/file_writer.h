#pragma once
#include <filesystem>
#include <memory>
#include <optional>

#include "core/base/result.h"
#include "core/picture/picture.h"

namespace dusk {

enum class PictureFormat { png, jpeg, tiff, webp, avif };

/// What is said of a picture in its file.
struct PictureTags {
  std::string title, creator, rights;
  std::filesystem::path exifOf{};  ///< what a camera wrote into this file goes along; empty: nothing
};

/// How a picture is written.
struct PictureFileKind {
  PictureFormat format = PictureFormat::png;
  int width = 0, height = 0;
  bool hasAlpha = false, premultiplied = false;
  int bits = 8;  ///< 8 or 16: display code values; 32: scene light
  double quality = 92;
  size_t mostBytes = 0;  ///< of a JPEG; 0: any
  bool isSrgb = true;    ///< codes are; else no profile is said, since we know none
  double dpi = 0;
  std::optional<PictureTags> tags{};  ///< none: nothing is said
};

/// Writes a picture some rows at a time, with its profile embedded where the format holds one. The file takes
/// its place with close() alone; without, nothing is left of it.
class PictureWriter {
 public:
  static Result<std::unique_ptr<PictureWriter>> open(const std::filesystem::path& file,
                                                     const PictureFileKind& kind);
  ~PictureWriter();
  /// The next rows, from the top: R, G, B, and A where it has that. Codes are rounded to the nearest, and cut
  /// off at 0 and 1. Error: the disk.
  Outcome write(const Picture& rows);
  /// Error: the disk, or a size that is not reached at the least quality.
  Outcome close();

 private:
  struct State;
  explicit PictureWriter(std::unique_ptr<State> state);
  std::unique_ptr<State> state_;
};

/// The same of a picture that is all there; its size is the kind's.
Outcome writePicture(const std::filesystem::path& file, PictureFileKind kind, const Picture& picture);

}  // namespace dusk
