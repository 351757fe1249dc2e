#pragma once
#include "core/picture/picture.h"
#include "core/project/project.h"

/// Where the sun stands, told in three ways: by a shadow in the photo, by time and place, by the panorama.
namespace dusk {

/// Azimuth clockwise from +Y (from north for `sunAt`), elevation above the horizon, degrees.
struct SunAngles {
  double azimuthDegrees = 0, elevationDegrees = 0;
};

/// What a gnomon says, with one-sigma margins for points that are `sigmaPx` off.
struct GnomonReading {
  SunAngles sun;
  bool hasElevation = false;  ///< only with a top
  double azimuthSigma = 0, elevationSigma = 0;
};
/// Nothing where base or tip is not on the ground, or the shadow has no length.
std::optional<GnomonReading> readGnomon(const Camera& camera, const Gnomon& gnomon, double sigmaPx = 1);

/// The same with where foot and tip are on the ground.
struct MarkedShadow {
  GnomonReading reading;
  Vec3d foot, tip;
};
std::optional<MarkedShadow> markedShadow(const Camera& camera, const Gnomon& gnomon);

/// How far two readings are apart, in degrees, and whether that is more than both can be wrong (three sigma).
struct GnomonsApart {
  double degrees = 0;
  bool disagree = false;
};
GnomonsApart apart(const GnomonReading& a, const GnomonReading& b);

/// The sun at a moment (UTC) and place, to about 0.01 degrees between 1950 and 2050, without refraction.
/// Michalsky 1988, "The Astronomical Almanac's algorithm for approximate solar position (1950-2050)".
SunAngles sunAt(int year, int month, int day, double hourUtc, double latitudeDegrees,
                double longitudeDegrees);

/// A panorama without its sun, and the sun: together as bright as before.
struct SplitSun {
  Picture rest;
  Vec3f direction{0, 0, 1};  ///< in the panorama's frame
  Rgb irradiance{0, 0, 0};   ///< on a surface that faces it
  double share = 0;          ///< of all light
};
/// Nothing where the panorama has no spot that outshines its neighbourhood by far: overcast, or a sun that
/// was clipped.
std::optional<SplitSun> splitSun(const Picture& panorama);

/// The panorama's picture with the surroundings' white, contrast and saturation. Contrast turns about the
/// mean in EV, and leaves the light as strong in all.
Picture graded(const Picture& panorama, const Surroundings& surroundings);
bool isGraded(const Surroundings& surroundings);

}  // namespace dusk
