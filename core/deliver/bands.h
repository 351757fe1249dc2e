#pragma once
#include <functional>

#include "core/base/progress.h"
#include "core/trace/film.h"
#include "core/trace/scene.h"

/// Large pictures are rendered from the top in bands, each to the end, so that little is held at a time.
namespace dusk {

/// How a picture is cut, and where in it the product matters. Depends on the scene and the size alone.
struct BandPlan {
  std::vector<Rows> bands;          ///< begin at multiples of the denoiser's block
  std::vector<unsigned char> mask;  ///< [pixel], as Film::samplingMask; empty: the film finds it by itself
  std::vector<double> done;         ///< [band]: about the share of the work that is done after it
};
/// A picture of up to `wholePixels` is one band, and no band is larger. Where the product matters in a larger
/// one is found in one of that size. Error: cancelled.
Result<BandPlan> planBands(const Scene& scene, int width, int height, long long wholePixels, bool everyPass,
                           Progress& progress);
/// [band]: the share of the work that is done after it, by the mask: a row takes about as long as one of its
/// pixels even where none matters.
std::vector<double> sharesDone(const BandPlan& plan, int width);
/// Rows of its bands.
int bandRows(int width, size_t lights, bool everyPass);
/// About what a pixel of a band takes, with its share of the film, in bytes.
size_t bytesPerBandPixel(size_t lights, bool everyPass);

/// A film that is exposed band by band.
class BandFilm {
 public:
  BandFilm(const Scene& scene, const BandPlan& plan, int width, int height)
      : plan_(plan), film_(width, height, scene.lights->groups()) {}
  /// Traces what is needed to denoise the rows, and lets go of what they do not need. Bands come in order.
  /// As render(): false when cancelled; `afterPass` may end a band early.
  bool expose(const Scene& scene, const Rows& band, int passes, Progress& progress,
              const std::function<bool()>& afterPass = {});
  const Film& film() const { return film_; }

 private:
  const BandPlan& plan_;
  Film film_;
  int exposedTo_ = 0;
};

/// Puts together, from the top, passes small enough to be held: those of a large picture are averaged over
/// squares of pixels.
class ReducedPasses {
 public:
  ReducedPasses(int width, int height);
  void add(const Passes& band);
  Passes take() { return std::move(all_); }

 private:
  int by_ = 1, rows_ = 0;
  Passes all_;
};

}  // namespace dusk
