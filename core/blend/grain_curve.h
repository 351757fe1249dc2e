#pragma once
#include <vector>

namespace dusk {

/// What the places of one brightness tell of a channel's noise.
struct GrainAt {
  double code = 0;    ///< their mean, 0 to 255
  double sigma = 0;   ///< the deviation they agree on, code values
  double weight = 0;  ///< 0: they do not agree, and tell `most` alone
  double most = 1e9;  ///< deviation of the quietest of them: noise is not more than that
};

/// Deviation against brightness.
struct GrainCurve {
  std::vector<double> sigma;  ///< at code values evenly spread from 0 to 255; empty: nothing agrees
  std::vector<double> trust;  ///< 0 to 1, of each that was given: texture is far above the curve
  double spread = 0;          ///< how far those that are trusted lie off it, as a share (root mean square)
};

/// The curve through what was found, in logarithms, smooth by the penalty on second differences of Eilers &
/// Marx 1996, "Flexible Smoothing with B-splines and Penalties". It is the lower envelope (Liu, Freeman,
/// Szeliski & Kang 2006, "Noise Estimation from a Single Image"): what lies above has more in it than noise
/// and counts less each time. Not far beyond the brightnesses that tell, it stays as it is: what a camera's
/// own curve does there is not known, and noise too strong is seen first.
GrainCurve grainCurve(const std::vector<GrainAt>& found, int knots);

}  // namespace dusk
