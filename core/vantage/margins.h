#pragma once
#include "core/vantage/solve.h"

/// What the covariance of a solved camera means for people: margins in their units, and pixels of wobble.
namespace dusk {

/// `camera` moved by `step` in the terms of CameraCovariance.
Camera stepped(const Camera& camera, const std::array<double, 11>& step);

VantageSigma margins(const Camera& camera, const CameraCovariance& covariance);

/// How far the corners of an upright box of `sizeM` (along x, y, z) that stands on the ground under `spot`
/// (pixel of the photo) would wander, one sigma in pixels, root mean square over the corners, when the camera
/// is as unsure as `covariance` says and the box keeps standing under that pixel. Zero where the ground is
/// not seen. First-order propagation.
double wobblePx(const Camera& camera, const CameraCovariance& covariance, const Vec2d& spot,
                const Vec3d& sizeM);

}  // namespace dusk
