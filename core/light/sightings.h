#pragma once
#include <span>
#include <vector>

#include "core/light/landmarks.h"

namespace dusk {

inline constexpr double bearingSigma = 0.5 * pi / 180;  ///< radians that a bearing may be off

/// How likely landmarks are seen as they are from where a panorama is thought to be taken, against their
/// being seen anywhere: a log likelihood ratio, above 0 where it speaks for that (a contrario: Moisan &
/// Stival 2004, "A Probabilistic Criterion to Detect Rigid Point Matches"). A thing lies somewhere along its
/// bearing from the camera, or on the ground: from another place that is an arc, or a point. How much larger
/// it is seen from the one than from the other, and how it is turned, must go with that (Barath & Kukelova
/// 2019, "Homography from Two Orientation- and Scale-Covariant Features").
class Sightings {
 public:
  /// `eye`: the camera's place. `usualM`: how far off things are in such a photo.
  Sightings(std::vector<Landmark> landmarks, const Vec3d& eye, double usualM);
  size_t size() const { return landmarks_.size(); }

  /// `turn`: of the panorama, radians clockwise from above. `sigma`: how far off, in radians, a bearing may
  /// be.
  double likelihood(double turn, const Vec3d& captureM, double sigma) const;
  /// The same where nobody knows how far off each is: half a degree (a camera that is off by a percent of its
  /// focal length, a panorama that leans a little), a third or a tenth of it, one as likely as the other.
  double closely(double turn, const Vec3d& captureM) const;
  /// Indices of those that are likelier seen there than by chance.
  std::vector<size_t> fitting(double turn, const Vec3d& captureM) const;
  const Landmark& at(size_t i) const { return landmarks_[i]; }

 private:
  /// How a bearing lies to the plane of eye, panorama and thing; radians.
  struct Fit {
    double offPlane = 0;
    double there = 0, far = 0;  ///< its angle from the line to the eye, and that of what is infinitely far
    double offGround = pi;      ///< off the point on the ground
    double baseM = 0;           ///< from the panorama's place to the eye
  };
  Fit fitOf(const Landmark& l, double cosine, double sine, const Vec3d& captureM) const;
  /// Share of all things that are nearer to the camera.
  double nearerThan(double distanceM) const;
  /// How much likelier a thing is seen there than by chance, if it stands somewhere.
  double onArc(size_t i, const Fit& fit, double sigma) const;
  /// The same of its size and tilt alone, if it lies on the ground.
  double alikeOnGround(const Landmark& l, const Vec3d& captureM) const;
  /// How much likelier it is seen there than by chance, whichever it does.
  double ratio(size_t i, double cosine, double sine, const Vec3d& captureM,
               std::span<const double> sigmas) const;
  double likelihood(double turn, const Vec3d& captureM, std::span<const double> sigmas) const;

  std::vector<Landmark> landmarks_;
  Vec3d eye_;
  double usualM_;
  std::vector<double> upright_;  ///< how much likelier their tilts are for the same thing, if it stands
};

}  // namespace dusk
