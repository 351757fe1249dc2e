#pragma once
#include <memory>
#include <vector>

#include "core/light/lights.h"
#include "core/surface/material.h"
#include "core/trace/bsdf.h"
#include "core/trace/geometry.h"
#include "core/trace/place.h"
#include "core/trace/reach.h"

namespace dusk {

class MirroredSide;

/// What a placed part is called, for ID mattes.
struct PartLabel {
  std::string part, surface, product;
  std::string path;  ///< of the part in its model
};

/// A lens that is sharp at one distance only.
struct Aperture {
  float radiusM = 0;    ///< 0: everything is sharp
  float distanceM = 1;  ///< along the optical axis
  int blades = 0;       ///< below 3: round
  float turn = 0;       ///< of the blades, radians
};

/// Everything a render needs, as immutable values: what `compile` makes of a shot.
struct Scene {
  Camera camera;       ///< of the picture that is traced
  Camera plateCamera;  ///< of the whole photo, of which that may be a piece, at any size
  std::shared_ptr<const PlacedGeometry> geometry;
  std::vector<std::vector<std::shared_ptr<const Material>>> materials;  ///< [instance][part]
  std::vector<PartLabel> labels;          ///< of all parts, instance after instance
  std::vector<std::string> placementIds;  ///< [instance]
  std::shared_ptr<const Lights> lights;
  std::shared_ptr<const Picture> plate;  ///< scene-linear; may be absent
  bool plateGoesOn = false;  ///< beyond its border the place looks as at it: floor and wall of a colour
  Place place;               ///< the ground and the stand-ins
  std::shared_ptr<const MirroredSide> mirrored;  ///< of the plate; absent where nothing in it is glossy
  Reach reach;                                   ///< how far the products change those
  /// [instance][part]: bit g is set where light of group g is kept from it. Empty: nothing is.
  std::vector<std::vector<uint32_t>> lightMasks;
  /// [instance][part]. Empty: all do everything.
  std::vector<std::vector<PartRole>> roles;
  bool gaps = false;                        ///< a part lets rays by
  bool unevenGlow = false;                  ///< a part gives off light that differs from spot to spot
  std::shared_ptr<const ShapeProbe> probe;  ///< may be absent
  Aperture aperture;
  int bounces = 6, diffuseBounces = 6, mirrorBounces = 6, glassSides = 32;
  float clampIndirect = 0;  ///< 0: not
  bool caustics = true;
  float occlusionM = 0;  ///< how far occlusion looks; 0: not wanted
  uint32_t seed = 1;
  float noiseTarget = 0;  ///< 0: none
  float denoise = 1;  ///< strength that will take the noise out: what that leaves is what the target is for
  /// Moments of an open shutter: pass after pass sees one after the other, and begins again. Empty: this
  /// alone. All have this one's parts and groups of light. Haeberli & Akeley 1990, "The Accumulation Buffer:
  /// Hardware Support for High-Quality Rendering".
  std::vector<std::shared_ptr<const Scene>> during{};
  int samples = 64;  ///< asked for: samples are spread over neighbours in blocks of so many
};

}  // namespace dusk
