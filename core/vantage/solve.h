#pragma once
#include <string>
#include <vector>

#include "core/project/project.h"

namespace dusk {

/// How well one item of the evidence agrees with the solved camera.
struct EvidenceItem {
  std::string what;  ///< "stroke", "footprint", "pin", "length"
  std::string id;    ///< a stroke's id; else a running number
  double rmsPx = 0;
  bool outlier = false;
};

struct VantageAnswer {
  Vantage vantage;  ///< `solved` false: the camera holds nothing to rely on
  std::vector<EvidenceItem> items;
  std::vector<std::string> advice;  ///< why not, or what would make it better
  bool scaleKnown = false;
  std::optional<Vec2d> footprintSizeM;  ///< the given or the found one
};

/// The camera that explains the evidence drawn on a photo of `width` x `height` pixels: initial candidates
/// from vanishing points (Caprile & Torre 1990, "Using vanishing points for camera calibration"), the
/// footprint's homography (Zhang 2000, "A flexible new technique for camera calibration") or the pins (direct
/// linear transform), then robust least squares in pixels of the distorted photo (Ceres) with one free angle
/// per stroke, and ceres::Covariance for the margins. One-sigma margins assume `noisePx` per drawn point,
/// more when residuals say so.
VantageAnswer solve(const Evidence& evidence, int width, int height);

inline constexpr double noisePx = 0.7;

}  // namespace dusk
