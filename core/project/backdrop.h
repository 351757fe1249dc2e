#pragma once
#include <map>
#include <string>

namespace dusk {

enum class BackdropKind { photo, plain, gradient, panorama };

/// What the picture is made on where that is no photo. Colours are the code values that are delivered,
/// "#rrggbb". The camera is then set by hand: it looks at a point.
struct Backdrop {
  BackdropKind kind = BackdropKind::photo;
  std::string colour = "#ffffff", upper = "#ffffff";  ///< of the gradient: at the lower and the upper border
  int width = 1920, height = 1280;
  double focalMm35 = 70, cameraHeightM = 0.6, distanceM = 1.6, aimHeightM = 0.15;
  double azimuthDegrees = 0;      ///< the way the camera looks, clockwise from +Y
  double sweepRadiusM = 0;        ///< of the bend between floor and wall; 0: the floor has no end
  double sweepBehindM = 1;        ///< how far behind the origin the wall stands
  double aimXM = 0, aimYM = 0;    ///< the spot over which it looks at that height, and is away from
  bool uprightsStraight = false;  ///< it looks level, and its lens is shifted to where it looks
  bool locked = false;            ///< no hand moves the camera by accident
  /// Of a round floor about a spot, whose own colour fades into the backdrop's; 0: there is none.
  double floorRadiusM = 0;
  double floorSoftness = 0.6;           ///< the outer part of its radius in which it fades
  double floorXM = 0, floorYM = 0;      ///< its middle
  std::string floorColour = "#d8d4cc";  ///< code values, delivered as the backdrop's
  bool operator==(const Backdrop&) const = default;
};

/// A camera by hand that was put aside under a name: its lens, where it stands and what it looks at, as a
/// backdrop tells them.
struct KeptCamera {
  std::string id, name;
  double focalMm35 = 70, cameraHeightM = 0.6, distanceM = 1.6, aimHeightM = 0.15, azimuthDegrees = 0;
  double aimXM = 0, aimYM = 0;
  bool uprightsStraight = false;
  bool operator==(const KeptCamera&) const = default;
};

/// The furnished set a shot was given, from which it can be made anew. What it placed has ids that begin with
/// "set-".
struct SetRecipe {
  std::string kind;  ///< a name of `setKinds`; empty: none
  int seed = 1;
  std::map<std::string, double> sliders{};  ///< 0 to 1, by name; others as usual
  bool operator==(const SetRecipe&) const = default;
};

}  // namespace dusk
