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
};

/// Things that look alike in the photo and in the cuts of a panorama, and like nothing else there (Lowe 2004,
/// "Distinctive Image Features from Scale-Invariant Keypoints"): first as the panorama is, then in its mirror
/// image.
std::array<std::vector<Landmark>, 2> landmarks(const Cut& photo, const std::vector<Cut>& cuts);

/// How likely landmarks are seen as they are from where a panorama is thought to be taken, against their
/// being seen anywhere: a log likelihood ratio, above 0 where it speaks for that (a contrario: Moisan &
/// Stival 2004, "A Probabilistic Criterion to Detect Rigid Point Matches"). A thing lies somewhere along its
/// bearing from the camera, or on the ground: from another place that is an arc, or a point.
class Sightings {
 public:
  Sightings(std::vector<Landmark> landmarks, const Vec3d& eye)
      : landmarks_(std::move(landmarks)), eye_(eye) {}
  size_t size() const { return landmarks_.size(); }

  /// `turn`: of the panorama, radians clockwise from above. `sigma`: how far off, in radians, a bearing may
  /// be.
  double likelihood(double turn, const Vec3d& captureM, double sigma) const;
  /// Indices of those that fit, within three sigma.
  std::vector<size_t> fitting(double turn, const Vec3d& captureM, double sigma) const;
  const Landmark& at(size_t i) const { return landmarks_[i]; }

 private:
  struct Fit {
    double offArc, arc;  ///< radians off, and the arc's length
    double offGround;    ///< radians off the point on the ground; large where there is none
  };
  Fit fitOf(const Landmark& l, double cosine, double sine, const Vec3d& captureM) const;

  std::vector<Landmark> landmarks_;
  Vec3d eye_;
};

}  // namespace dusk
