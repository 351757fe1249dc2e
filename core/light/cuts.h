#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "core/light/panorama.h"
#include "core/project/vantage.h"

namespace dusk {

/// A picture of a place by its log light in 8 bits, so that exposure says little, with the camera it is seen
/// through.
struct Cut {
  Camera camera;
  cv::Mat grey;
  /// The direction of a position in its pixels, unit, in the frame of its camera's world.
  Vec3d direction(double x, double y) const;
};

/// The photo, reduced to about a tenth of a degree a pixel.
Cut cutOf(const Picture& photo, const Camera& camera);

/// Views all round, from 56 degrees below the horizon to as much above, overlapping. In the panorama's own
/// frame.
std::vector<Cut> cutsOf(const Panorama& panorama);

/// Whether of all cuts this one shows the direction nearest to its middle: each thing is of one cut only.
bool isNearestTo(const std::vector<Cut>& cuts, size_t index, const Vec3d& direction);

}  // namespace dusk
