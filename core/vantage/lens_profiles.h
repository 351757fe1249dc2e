#pragma once
#include "core/picture/photo.h"
#include "core/project/project.h"

/// Measured lenses by name, from Debian's lensfun data.
namespace dusk {

/// One lens of the data that may have taken a photo.
struct LensMatch {
  std::string name;
  double crop = 1;   ///< of the camera body: 1 for 36 x 24 mm
  double score = 0;  ///< of the match, higher is surer; as lensfun gives it
};

/// Lenses that fit what EXIF says of camera and lens, best first; empty where the data knows none or is not
/// installed. The first call reads the data and takes some tenths of a second: call it from a worker.
std::vector<LensMatch> lensesFor(const PhotoInfo& info);

/// Lenses whose name holds all words of `text`, in any case; at most `most`.
std::vector<LensMatch> lensesNamed(const std::string& text, size_t most = 40);

/// What a lens does at a focal length (millimetres, as marked) and f-number, for pictures of `width` x
/// `height` pixels: distortion fitted to k1, k2 of Camera over the whole frame; vignetting and fringes kept
/// for the blend. Nothing where the data has no calibration of the distortion.
std::optional<LensProfile> lensProfile(const LensMatch& lens, double focalMm, double fNumber, int width,
                                       int height);

}  // namespace dusk
