#pragma once
#include <array>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/picture/picture.h"

namespace dusk {

/// One photo of a bracket.
struct Exposure {
  Picture codes;       ///< R, G, B code values 0 to 1, as the camera wrote them
  double seconds = 0;  ///< its exposure; only ratios matter
};

struct Merged {
  Picture light;  ///< scene-linear; the exposure in the middle shows white as about 1
  /// Inverse response: log2 of light times seconds for each of 256 codes, per channel; 0 at the code 128.
  std::array<std::vector<float>, 3> response;
  std::vector<std::pair<int, int>> shifts;  ///< of each photo against the middle one, pixels, as found
  double rangeEv = 0;     ///< darkest to brightest light that any photo tells, over the 0.1 % quantile
  double ghostShare = 0;  ///< of the values that were left out since something had moved
};

/// Merges photos of one view, of the same size, taken at different exposures. They are shifted onto each
/// other by their median threshold bitmaps (Ward 2003, "Fast, Robust Image Registration for Compositing High
/// Dynamic Range Photographs from Handheld Exposures"); the camera's response is recovered from the photos
/// themselves (Debevec & Malik 1997, "Recovering High Dynamic Range Radiance Maps from Photographs"), and
/// each pixel is the mean of what they say, weighted by how exactly each can say it (Granados et al. 2010,
/// "Optimal HDR Reconstruction with Linear Digital Cameras"); photos that contradict the best exposed one
/// beyond their noise are left out there. Error: fewer than two photos, sizes that differ, exposures all
/// alike, cancelled.
Result<Merged> mergeBracket(std::vector<Exposure> photos, Progress& progress);

}  // namespace dusk
