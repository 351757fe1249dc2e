#pragma once
#include <string>
#include <vector>

#include "core/project/project.h"

namespace dusk {

/// How well one item of the evidence agrees with the solved camera.
struct EvidenceItem {
  std::string what;  ///< "stroke", "footprint", "pin", "length", "level line"
  std::string id;    ///< a stroke's id; else a running number
  double rmsPx = 0;
  bool outlier = false;
  /// Stroke: from each drawn point to the line it should lie on, in pixels of the photo.
  std::vector<Vec2d> bows;
};

/// Covariance, row by row, of (log focal, cx, cy, k1, k2, turn about the camera's x, y, z in radians,
/// position in metres).
using CameraCovariance = std::array<double, 121>;

struct VantageAnswer {
  Vantage vantage;  ///< `solved` false: the camera holds nothing to rely on
  std::vector<EvidenceItem> items;
  std::vector<std::string> advice;  ///< why not, or what would make it better
  bool scaleKnown = false;
  std::optional<Vec2d> footprintSizeM;  ///< the given or the found one
  CameraCovariance covariance{};
};

/// The camera that explains the evidence drawn on a photo of `width` x `height` pixels: initial candidates
/// from vanishing points (Caprile & Torre 1990, "Using vanishing points for camera calibration"), the
/// footprint's homography (Zhang 2000, "A flexible new technique for camera calibration") or the pins (direct
/// linear transform; three points, Grunert 1841), then robust least squares in pixels of the distorted photo
/// (Ceres) with one free angle per stroke, and margins from the inverse of its normal equations. One-sigma
/// margins assume `noisePx` per drawn point, more when residuals say so. The lens's bend k1 is found too
/// where that is asked for, or where the strokes themselves are bent.
VantageAnswer solve(const Evidence& evidence, int width, int height);

/// How far the evidence may be off a camera that fits, pixels: strokes are drawn and seen on a screen, so a
/// large photo's may be off by more of its pixels.
double fitLimitPx(const Camera& camera);

/// Expected standard deviation of a drawn point, pixels.
inline constexpr double noisePx = 0.7;

/// Whether the evidence says how large the place is.
bool scaleIsKnown(const Evidence& evidence);

}  // namespace dusk
