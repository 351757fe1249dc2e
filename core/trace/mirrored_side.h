#pragma once
#include <optional>

#include "core/picture/picture.h"
#include "core/vantage/camera.h"

namespace dusk {

struct Scene;

/// What a spot of the photo mirrors; light in the photo's units, R, G, B.
struct MirroredSpot {
  Rgb mirrored;    ///< of what the photo shows; at least 0 and at most all of it
  Rgb matteShare;  ///< what is left of it, over what it shows
  Rgb expected;    ///< what it would mirror by panorama, lamps and stand-ins
  Rgb share;       ///< of light that is alike all round, that it mirrors
};

/// How the photo of a glossy place parts into what lies on it and what it mirrors. The tracer darkens the
/// first by the product's shadow, and takes away of the second only the share that the product hides: what
/// the place mirrored before is in the photo, whether or not the panorama knows it.
class MirroredSide {
 public:
  /// At a point of the place, in the world. Nothing where the photo shows no glossy surface.
  std::optional<MirroredSpot> at(const Vec3f& point) const;

 private:
  friend std::shared_ptr<const MirroredSide> findMirroredSide(const Scene& scene);
  Camera camera_;
  Picture mirrored_, matteShare_;  ///< R, G, B, at a size of its own
  Picture expected_, share_;       ///< R, G, B, coarse
  std::vector<bool> glossy_;       ///< by pixels of `mirrored_`
};

/// Of a scene's photo, place and lights; products and parts that glow have no say. Nothing without a photo or
/// without anything glossy in it.
///
/// Two things are known of what a spot mirrors: what the panorama, the lamps and the stand-ins would show
/// there (wrong where something near stands that they do not know), and that what is left is the surface
/// itself (alike all over it, as far as its pattern lets one say so). Each is believed as far as it can be
/// trusted, as normal distributions are; only what is common to all of a pattern can be mirrored, which an
/// opening by a few pixels tells (Serra 1982, "Image Analysis and Mathematical Morphology").
std::shared_ptr<const MirroredSide> findMirroredSide(const Scene& scene);

}  // namespace dusk
