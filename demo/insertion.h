#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/picture/picture.h"

namespace dusk::demo {

/// Our composite of the demo against the truth: the set rendered with the product physically in it.
struct Insertion {
  /// Mean and worst CIEDE2000 over some pixels.
  struct Off {
    double sum = 0, worst = 0;
    size_t count = 0;
    void add(double off) { sum += off, worst = std::max(worst, off), ++count; }
    double mean() const { return count ? sum / double(count) : 0; }
  };
  enum Where { product, influence, outside };
  Off off[3];                 ///< where the product shows; where it changes the ground by over 1 %; elsewhere
  Off untouched;              ///< the plate without any product against the truth, everywhere
  Picture truth, composite;   ///< sRGB code values
  Picture difference, alpha;  ///< CIEDE2000 by pixel; cover by the product
};

/// Renders both, without grain, `width` wide. The composite is made from photo, panorama and the vantage
/// solved from drawn lines alone; `trueCamera`: with the set's own camera instead, which tells what of the
/// difference is the vantage's.
Result<Insertion> insertionTruth(const std::filesystem::path& folderOfDemo, int width, int samples,
                                 bool trueCamera = false);

}  // namespace dusk::demo
