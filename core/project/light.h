#pragma once
#include <array>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/maths.h"
#include "core/project/asset_ref.h"

namespace dusk {

/// The light all round. Mirroring comes first, then the roll (its upright leans towards +X), the tilt
/// (towards +Y), and the turn, clockwise from above. What is done to its colours changes the lighting alone.
struct Surroundings {
  AssetRef panorama;       ///< equirectangular; its middle looks along +Y
  double turnDegrees = 0;  ///< clockwise from above
  double gainEv = 0;
  bool mirrored = false;
  double tiltDegrees = 0;                ///< its upright leans towards +Y
  double rollDegrees = 0;                ///< and before that towards +X
  Vec3d white{1, 1, 1};                  ///< times its light, per channel
  double contrast = 1, saturation = 1;   ///< about its mean, in EV; about its grey
  bool sunApart = false;                 ///< its sun is a light of its own, as bright in all
  double sunDiscDegrees = 0.53;          ///< apparent size of that
  std::optional<Vec2d> sunMovedDegrees;  ///< azimuth clockwise from +Y, elevation; else where it was
  std::optional<Vec3d> captureM;         ///< where it was taken: its floor then lies where the ground is
  bool captureFound = false;             ///< by aligning, and not told: aligning again looks for it anew
  double domeRadiusM = 0;            ///< how far its walls are from there; 0: far away, alike from everywhere
  double reflectionBlurDegrees = 0;  ///< what mirrors show of it is smoothed over so much
  /// How many EV the brightest code values of an 8-bit panorama are taken to have been above white: a guess.
  double lostRangeEv = 0;
  bool operator==(const Surroundings&) const = default;
};

/// `area` is a rectangle; `photo` one that shines with a crop of a picture; `card` one that is seen in
/// reflections only: a reflector, or a black flag.
enum class LampKind { sun, area, disc, sphere, spot, photo, card };

/// A lamp, or a sun. Which of the numbers count is its kind's to say.
struct Lamp {
  std::string id, name;
  LampKind kind = LampKind::sun;
  bool on = true;
  double kelvin = 5500;  ///< its colour, where `colour` is none
  /// Sun: irradiance on a surface that faces it, in EV over what makes a white sheet photo white (pi).
  /// The others: radiance in EV over photo white.
  double powerEv = 0;
  double azimuthDegrees = 0, elevationDegrees = 30;  ///< of a sun; azimuth clockwise from +Y
  double discDegrees = 0.53;                         ///< apparent size of a sun
  Vec3d positionM{0, 0, 1.5};                        ///< of the middle of the others
  Vec3d targetM{0, 0, 0};                            ///< what it faces
  std::string aimedAt{};  ///< a placement: the target goes along with it, as far off its foot as targetM says
  std::optional<Vec3d> colour{};                ///< in place of kelvin; luminance 1
  double widthM = 0.6, heightM = 0.6;           ///< of a rectangle
  double radiusM = 0.2;                         ///< disc, sphere, spot
  double coneDegrees = 40, coneSoftness = 0.3;  ///< spot: full angle, and the share of it that fades
  bool seenByCamera = false, seenInReflections = true, castsShadows = true;
  double shade = 1;                        ///< card: how bright it looks; 0 a black flag
  AssetRef picture{};                      ///< photo: what it shows; empty: the plate
  std::array<double, 4> crop{0, 0, 1, 1};  ///< of that: left, top, right, bottom as shares of its size
  std::set<std::string> leavesOut{};       ///< what it does not light: "placement" or "placement/part path"
  bool operator==(const Lamp&) const = default;
};

/// Lamps and surroundings kept under a name, for other shots.
struct Rig {
  Rig();
  Rig(const Rig&);
  Rig(Rig&&) noexcept;
  Rig& operator=(const Rig&);
  Rig& operator=(Rig&&) noexcept;
  ~Rig();
  std::string id, name;
  Surroundings surroundings;
  std::vector<Lamp> lamps;
  bool operator==(const Rig&) const;
};

}  // namespace dusk
