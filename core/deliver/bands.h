#pragma once
#include <functional>

#include "core/deliver/trace_call.h"
#include "core/deliver/trace_log.h"

/// Large pictures are rendered from the top in bands, each to the end, so that little is held at a time.
namespace dusk {

/// How a picture is cut, and where in it the product matters. Depends on the scene and the size alone.
struct BandPlan {
  std::vector<Rows> bands;          ///< begin at multiples of the denoiser's block
  std::vector<unsigned char> mask;  ///< [pixel], as Film::samplingMask
  std::vector<double> done;         ///< [band]: about the share of the work that is done after it
};
/// Where the product matters is found in a picture of a quarter of the pixels, and of at most so many: once
/// for all its bands, parts and films.
inline constexpr long long mostPlanned = 1'000'000;
/// Pixels of that picture.
long long plannedPixels(int width, int height);
/// [band]: how many of its pixels the mask says matter.
std::vector<size_t> mattering(const BandPlan& plan, int width);
/// [band]: the share of the work that is done after it, by the mask: a row takes about as long as one of its
/// pixels even where none matters.
std::vector<double> sharesDone(const BandPlan& plan, int width);
/// Rows of its bands.
int bandRows(int width, size_t lights, bool everyPass);
/// About what a pixel of a band takes, with its share of the film, in bytes.
size_t bytesPerBandPixel(size_t lights, bool everyPass);

/// How a film is exposed.
struct FilmExposure {
  int passes = 1;
  std::function<bool()> afterPass{};  ///< may end a band early; not with a log
  TraceLog* log = nullptr;            ///< where what is traced is kept, and what is there need not be traced
  int layer = 0;                      ///< of the log: which of several films this is
  bool onlyOwn = false;  ///< traces the pieces of the log's part alone; without, what is missing is an error
                         ///< where the log cannot be written
  TraceFilm trace{};     ///< in place of render()
};

/// A picture of up to `wholePixels` is one band, and no band is larger. `how`: where the plan is kept, and
/// what traces it. Error: cancelled, or the log's disk.
Result<BandPlan> planBands(const Scene& scene, int width, int height, long long wholePixels, bool everyPass,
                           const FilmExposure& how, Progress& progress);

/// A film that is exposed band by band.
class BandFilm {
 public:
  BandFilm(const Scene& scene, const BandPlan& plan, int width, int height)
      : plan_(plan), film_(width, height, scene.lights->groups()) {}
  /// Traces what is needed to denoise the rows, and lets go of what they do not need. Bands come in order.
  /// The samples are the same with a log and without. Error: cancelled, or the log's disk.
  Outcome expose(const Scene& scene, const Rows& band, const FilmExposure& how, Progress& progress);
  const Film& film() const { return film_; }

 private:
  bool trace(const Scene& scene, const FilmExposure& how, Progress& progress,
             const std::function<bool()>& afterPass);
  Outcome exposePieces(const Scene& scene, const FilmExposure& how, Progress& progress);
  Outcome tracePiece(const Scene& scene, const Film::Window& piece, const FilmExposure& how,
                     Progress& progress);

  const BandPlan& plan_;
  Film film_;
  int exposedTo_ = 0;
};

/// Which of so many parts of a trace each piece belongs to, from 1 on: so that all have about as much to do.
/// Depends on the pieces' weights alone.
std::vector<int> sharedOut(const std::vector<size_t>& weights, int parts);

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
