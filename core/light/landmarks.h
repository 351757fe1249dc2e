#pragma once
#include <array>
#include <optional>
#include <vector>

#include "core/light/cuts.h"

namespace dusk {

/// One thing seen in the photo and in the panorama.
struct Landmark {
  Vec3d photo;     ///< bearing from the camera, world
  Vec3d panorama;  ///< bearing from where the panorama was taken, in its own frame, mirroring undone
  std::optional<Vec3d> groundM{};  ///< where it is if it lies on the ground
  double same = 0.4;               ///< how likely the two are the same thing, by how they look alone
  double octaves = 0;  ///< how much larger it is seen in the photo than in the panorama, log2 of angles
  double tilt = 0;     ///< how it is turned in the photo against the panorama, radians
};

/// Things that look alike in the photo and in the cuts of a panorama, and like nothing else there (Lowe 2004,
/// "Distinctive Image Features from Scale-Invariant Keypoints"): first as the panorama is, then in its mirror
/// image.
std::array<std::vector<Landmark>, 2> landmarks(const Cut& photo, const std::vector<Cut>& cuts);

}  // namespace dusk
