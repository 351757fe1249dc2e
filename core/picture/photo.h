#pragma once
#include "core/picture/jpeg_blocks.h"
#include "core/picture/packed.h"

namespace dusk {

/// What the camera wrote into the file; zero or empty where it did not.
struct PhotoInfo {
  double focalMm = 0, focalMm35 = 0, exposureSeconds = 0, fNumber = 0, iso = 0;
  std::string camera, lens, profile;
  bool operator==(const PhotoInfo&) const = default;
};

/// A photograph as read, turned upright.
/// `sceneLinear` false: display code values, sRGB-encoded, 0..1 (another embedded profile has been
/// converted).
struct Photo {
  PackedPicture picture;
  PhotoInfo info;
  bool sceneLinear = false;
  int bitsPerChannel = 8;
  std::optional<JpegBlocks> blocks{};  ///< as its pixels lie in it; nothing where they were moved since
};

}  // namespace dusk
