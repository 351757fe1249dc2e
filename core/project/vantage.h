#pragma once
#include <string>

#include "core/project/evidence.h"

/// The solved camera, and what is measured by it.
namespace dusk {

/// A pinhole camera with Brown-Conrady distortion. x right, y down, z forward; pixel centres at +0.5.
struct Camera {
  int width = 0, height = 0;
  double focalPx = 0;
  double cx = 0, cy = 0;  ///< the optical axis, pixels from the upper left corner
  double k1 = 0, k2 = 0;  ///< Brown-Conrady on normalised coordinates, undistorted to distorted
  Triadd axes;            ///< the camera's x, y, z axes in the world
  Vec3d position{0, 0, 0};
  bool operator==(const Camera&) const = default;
};

/// One-sigma margins of the solve, in the units of the names.
struct VantageSigma {
  double focalPx = 0, tiltDegrees = 0, rollDegrees = 0, heightM = 0, k1 = 0, k2 = 0;
  bool operator==(const VantageSigma&) const = default;
};

/// The camera as it was found, or as it is locked.
struct Vantage {
  bool solved = false;
  Camera camera;
  VantageSigma sigma;
  double rmsPx = 0;           ///< how far the evidence is off it
  bool locked = false;        ///< more evidence does not move it
  bool straightened = false;  ///< the plate's lens bend is taken out; else the render is bent to the photo
  bool operator==(const Vantage&) const = default;
};

/// A vantage put aside under a name, with what it was found from.
struct KeptVantage {
  std::string id, name;
  Evidence evidence;
  Vantage vantage;
  bool operator==(const KeptVantage&) const = default;
};

/// A level plane of the place besides the ground: a table top, a shelf.
struct LevelPlane {
  std::string id, name;
  double heightM = 0;  ///< above the ground
  bool operator==(const LevelPlane&) const = default;
};

/// Something upright of known height in the photo (a door, a brick course), not used to find the camera: by
/// it the camera's scale, and with it the product's size, is checked.
struct HeightReference {
  std::string id, name;
  Vec2d foot{0, 0}, top{0, 0};  ///< pixels; the foot is on the ground
  double metres = 1;
  bool operator==(const HeightReference&) const = default;
};

}  // namespace dusk
