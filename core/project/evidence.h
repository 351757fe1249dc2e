#pragma once
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/base/maths.h"

/// What the photo tells about the camera that took it. Positions in pixels of the photo as taken.
namespace dusk {

/// Which world axis a stroke follows: a is +X, b is +Y (both level), up is +Z.
enum class Run { a, b, up };

/// Points along a straight edge of the photo, in order.
struct Stroke {
  std::string id;
  Run run = Run::a;
  std::vector<Vec2d> points;  ///< along the edge
  std::vector<Vec2d>
      drawn{};  ///< as drawn by hand, while `points` lie on the edge they snapped to; else empty
  bool operator==(const Stroke&) const = default;
};

/// Four corners of a real, level rectangle, around from the origin along +X first.
struct Footprint {
  std::array<Vec2d, 4> corners{Vec2d(0, 0), Vec2d(0, 0), Vec2d(0, 0), Vec2d(0, 0)};
  std::optional<Vec2d> sizeM;     ///< along +X, along +Y
  std::optional<double> ratio{};  ///< length along +X over length along +Y, where the size is not known
  double heightM = 0;             ///< above the ground: a sheet on a table
  bool operator==(const Footprint&) const = default;
};

/// A pixel of the photo that shows a known point.
struct Pin {
  Vec2d at{0, 0};
  Vec3d worldM{0, 0, 0};
  bool operator==(const Pin&) const = default;
};

enum class LengthOn { ground, upright };

/// A distance known on the ground, or the height of something upright from its foot on the ground.
struct KnownLength {
  Vec2d from{0, 0}, to{0, 0};
  double metres = 1.0;
  LengthOn on = LengthOn::ground;
  bool operator==(const KnownLength&) const = default;
};

/// Base and shadow tip, on the ground, of something upright in the photo: which way the place's shadows run.
/// With its top, which throws the tip, also how high the sun stands.
struct Gnomon {
  Vec2d base{0, 0}, shadowTip{0, 0};
  std::optional<Vec2d> top{};
  bool operator==(const Gnomon&) const = default;
};

/// What is known of a lens by its name: distortion as in Camera, and what the blend may need later.
struct LensProfile {
  std::string name;
  double k1 = 0, k2 = 0;
  /// Falling off of light towards the corners: 1 + v0 r^2 + v1 r^4 + v2 r^6, r = 1 at the frame's corner.
  std::array<double, 3> vignetting{};
  double redScale = 1, blueScale = 1;  ///< size of the red and blue picture against the green
  bool operator==(const LensProfile&) const = default;
};

/// What was marked in the photo and is known of the camera. What is null is not known.
struct Evidence {
  Evidence();
  Evidence(const Evidence&);
  Evidence(Evidence&&) noexcept;
  Evidence& operator=(const Evidence&);
  Evidence& operator=(Evidence&&) noexcept;
  ~Evidence();
  std::vector<Stroke> strokes;
  std::optional<Footprint> footprint;
  std::vector<Pin> pins;
  std::vector<KnownLength> lengths;
  std::vector<Vec2d> levelLine;     ///< points on the horizon: eye level, where level planes end
  std::optional<double> focalMm35;  ///< focal length as of a frame 36 mm wide
  std::optional<double> heightM;    ///< of the camera above the ground
  std::optional<LensProfile> lens;
  bool solveK1 = false, solveK2 = false;  ///< the lens's bend is found, too
  bool shifted = false;         ///< cropped, or a shift lens: the optical axis need not meet the middle
  std::optional<Vec2d> origin;  ///< pixel of the ground that is the world's origin; pins say it otherwise
  int quarterTurns = 0;         ///< of the world about the upright, counter-clockwise from above
  bool operator==(const Evidence&) const;
};

}  // namespace dusk
