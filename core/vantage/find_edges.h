#pragma once
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/picture/photo.h"
#include "core/vantage/solve.h"

namespace dusk {

/// Strokes that a photo proposes by itself, for a person to accept, drop or relabel.
struct EdgeProposal {
  std::vector<Stroke> strokes;  ///< up to `mostPerRun` a run, the longest and farthest apart
  int segmentsSeen = 0;         ///< straight segments found before grouping
  bool bent = false;            ///< they agree much better behind a lens that bends lines
  /// How well the photo's segments agree on three directions, by their length: about 0.7 to 1.6 where there
  /// are such, below where hardly any belong together.
  double agreement = 0;
  /// A sentence where they hardly do; empty where all is well.
  std::string doubt() const;
};

inline constexpr int mostPerRun = 8;

/// Finds straight segments (Grompone von Gioi et al. 2010, "LSD: a fast line segment detector with a false
/// detection control", in OpenCV), joins those on one line, groups them to three perpendicular vanishing
/// points by random sampling of two segment pairs, which fix the focal length (Caprile & Torre 1990) - or one
/// pair and a single segment where `focalMm35` is known - and snaps the best of each group to the edge. Where
/// they agree clearly better behind a lens of some radial distortion, they are grouped behind that. The
/// same photo always gives the same proposal. Error: cancelled, or no picture.
Result<EdgeProposal> findEdges(const Photo& photo, std::optional<double> focalMm35, Progress& progress);

/// Whether strokes say so clearly that the lens bends lines that k1 should be solved: more than three sigma
/// off zero, and a better fit.
bool bendsMatter(const Evidence& evidence, int width, int height);

}  // namespace dusk
