#pragma once
#include "core/base/progress.h"
#include "core/surface/parameters.h"
#include "core/trace/fit.h"

/// What the fit of a surface and the search for where it begins share.
namespace dusk {

/// What is looked for: colour, roughness, and where it is lacquered that coat's share and roughness.
struct FitGuess {
  bool metal = false, coated = false;
  double values[6] = {0.4, 0.4, 0.4, 0.4, 1, 0.1};
  int count() const { return coated ? 6 : 4; }
};
/// The least that a value may be; the most is 1.
inline double leastOf(int value) { return value == 3 || value == 5 ? 0.02 : 0.004; }
BsdfParameters parametersFor(const Surface& from, const FitGuess& guess, const double* values);

/// The patch as a surface shows it, at every pixel by so many looks. Other seeds look other ways.
class FitTracer {
 public:
  FitTracer(const Scene& scene, const FitPatch& patch, int looks, uint32_t seed = 23);
  std::vector<Rgb> with(const BsdfParameters& p) const;

 private:
  Scene scene_;
  const FitPatch& patch_;
  int looks_;
  uint32_t seed_;
};

/// What photo and tracing leave at best, of a code value of 1.
inline constexpr double fitNoise = 0.01;
/// [pixel]: what a difference of light counts, per channel, in units of that noise: by the eye's own scale,
/// highlights the most.
std::vector<Vec3d> fitWeights(const FitPatch& patch);
/// What is left at a pixel, in those units; nothing where the photo is at its end and the surface beyond.
inline double leftAt(const FitPatch& patch, size_t pixel, int channel, float shown, double weight) {
  const float photo = patch.seen[pixel][channel];
  return photo >= patch.clipped && shown >= photo ? 0 : weight * double(shown - photo);
}

/// Where the way down is to begin: the best of all that is tried, most promising first, no two of one kind
/// side by side. `left`: the sum of squares of what each leaves, without tracing's own noise: that of two
/// traces by other random numbers does not agree, and comes to nothing in their product.
struct FitStart {
  FitGuess guess;
  double left = 1e300;
};
std::vector<FitStart> fitStarts(const Scene& scene, const FitPatch& patch, const Surface& from,
                                Progress& progress);
/// The same sum for one guess, by so many looks twice.
double leftBy(const Scene& scene, const FitPatch& patch, const Surface& from, const FitGuess& guess,
              int looks);

}  // namespace dusk
