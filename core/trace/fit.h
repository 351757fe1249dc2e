#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/project/surface.h"
#include "core/trace/scene.h"

/// A surface found by a photograph of the real thing.
namespace dusk {

/// What the photo shows of a part: pixels of the scene's camera and the photo's light there.
struct FitPatch {
  unsigned instance = 0, part = 0;
  std::vector<Vec2d> pixels;
  double footprint = 1;   ///< side of the square that the photo saw at each, in those pixels
  std::vector<Rgb> seen;  ///< scene-linear
  float clipped = 0.97f;  ///< from so much on the photo only says "at least"
};

/// A value that was found, and how sure that is.
struct FitValue {
  double value = 0, sigma = 0;
};

struct SurfaceFit {
  Surface surface;  ///< what was given, with the values found in place of its own
  FitValue colour[3], roughness, clearcoat, coatRoughness, metalness;
  bool coatIsSure = false, metalIsSure = false;  ///< whether the other answer fits clearly worse
  double error = 0;                              ///< mean CIEDE2000 of what is left
  std::vector<Rgb> fitted;                       ///< what it looks like at the pixels
  std::vector<std::string> doubts;               ///< what the light there cannot tell, as sentences
};

/// Pixels of a rectangle of the photo in which the camera sees the part and nothing but it, as many as are of
/// use, evenly spread; with what the scene's plate shows there. An error says why there are none.
Result<FitPatch> fitPatchOf(const Scene& scene, const Vec2d& corner, const Vec2d& opposite);

/// Colour, roughness, clearcoat and metalness with which the part, traced where it stands in the scene's
/// light, comes nearest to what the photo shows. Paint and metal, bare and lacquered are tried in all
/// roughnesses, the colour following from each (Golub & Pereyra 1973, "The Differentiation of Pseudo-Inverses
/// and Nonlinear Least Squares Problems Whose Variables Separate"); the best go on by Levenberg-Marquardt
/// (Marquardt 1963, "An Algorithm for Least-Squares Estimation of Nonlinear Parameters") over the same random
/// numbers. Differences count by the eye's own scale, highlights the most. The simpler answer stays unless
/// another fits clearly better (Schwarz 1978, "Estimating the Dimension of a Model").
Result<SurfaceFit> fitSurface(const Scene& scene, const FitPatch& patch, const Surface& from,
                              Progress& progress);

}  // namespace dusk
