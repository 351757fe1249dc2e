#pragma once
#include <string>

#include "core/base/maths.h"
#include "core/project/asset_ref.h"

namespace dusk {

/// What gives a feed its value: something plain, a picture, a pattern, or what the shape knows of the spot.
enum class FeedKind {
  plain,
  picture,
  noise,
  cloud,
  waves,
  brushing,
  turning,
  scratches,
  smudges,
  fingerprints,
  specks,
  droplets,
  speckle,
  gradient,
  cells,
  weave,
  twill,
  knit,
  wood,
  boards,
  stone,
  concrete,
  cast,
  hammered,
  leather,
  paper,
  cork,
  terrazzo,
  checker,
  stripes,
  brick,
  tile,
  ribs,
  knurl,
  edges,
  creases,
  facingUp,
  height,
  nearGround,
  thickness,
  perPart,
  facing,
  vertexColours
};

/// How a feed lies on what is below it.
enum class FeedJoin { mix, multiply, add };

/// How a place on a part becomes a place on a picture or pattern.
enum class MappingKind {
  solid,        ///< the pattern fills space, and the part is cut out of it
  coordinates,  ///< the mesh's own
  box,          ///< from three sides, blended where they meet
  cylinder,     ///< wrapped round an axis
  ball,
  flat,   ///< from one side
  camera  ///< thrown on by a camera, as it stood
};

enum class MappingAxis { x, y, z };

/// Lengths in millimetres of the real thing, in the frame of the model.
struct Mapping {
  MappingKind kind = MappingKind::solid;
  MappingAxis axis = MappingAxis::z;  ///< of the cylinder and the ball; that a flat one is looked at along
  /// Of one picture; a height of 0 keeps the picture's proportions. A width of 0: once across the
  /// coordinates.
  Vec2d sizeMm{0, 0};
  Vec2d shiftMm{0, 0};
  double turnDegrees = 0;
  double scatterMm = 0;  ///< each part lies up to so far off, so that no two look alike
  Vec3d eyeMm{0, -1000, 0}, aheadMm{0, 1000, 0}, up{0, 0, 1};  ///< `camera`: sizes hold `aheadMm` from it
  bool operator==(const Mapping&) const = default;
};

/// What of a picture is taken. `colour` is sRGB and becomes light; all others are data, as they are.
enum class PictureChannel { colour, data, red, green, blue, alpha };

/// One row of what gives a surface's value. Rows lie on each other, the first on top, the value itself below
/// all. A row's indent says what it does: a row that is one deeper than the one above it (or one as deep that
/// follows such) tells where that one counts, from nowhere (0) to fully (1).
struct Feed {
  FeedKind kind = FeedKind::plain;
  bool on = true;
  FeedJoin join = FeedJoin::mix;
  double strength = 1;
  int indent = 0;
  Vec3d low{0, 0, 0}, high{1, 1, 1};  ///< what 0 and 1 of it come to; numbers take the first
  double from = 0, to = 1;            ///< what of it counts as 0 and as 1; the other way round turns it over
  double sizeMm = 10;                 ///< of the thing that repeats, or the distance it looks over
  double stretch = 1;                 ///< how much longer than wide
  double share = 0.5;                 ///< what the kind makes of it: joints, cover, contrast
  int detail = 4;                     ///< octaves, each half the size of the one before
  int seed = 1;
  Mapping mapping{};
  AssetRef picture{};
  int texture = -1;  ///< of a model file that `picture` links to: which of its textures
  PictureChannel channel = PictureChannel::colour;
  bool operator==(const Feed&) const = default;
};

}  // namespace dusk
