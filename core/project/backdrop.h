#pragma once
#include <string>

namespace dusk {

enum class BackdropKind { photo, plain, gradient, panorama };

/// What the picture is made on where that is no photo. Colours are the code values that are delivered,
/// "#rrggbb". The camera is then set by hand: it looks at a point over the origin.
struct Backdrop {
  BackdropKind kind = BackdropKind::photo;
  std::string colour = "#ffffff", upper = "#ffffff";  ///< of the gradient: at the lower and the upper border
  int width = 1920, height = 1280;
  double focalMm35 = 70, cameraHeightM = 0.6, distanceM = 1.6, aimHeightM = 0.15;
  double azimuthDegrees = 0;  ///< the way the camera looks, clockwise from +Y
  double sweepRadiusM = 0;    ///< of the bend between floor and wall; 0: the floor has no end
  double sweepBehindM = 1;    ///< how far behind the origin the wall stands
  bool operator==(const Backdrop&) const = default;
};

}  // namespace dusk
