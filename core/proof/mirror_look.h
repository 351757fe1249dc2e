#pragma once
#include "core/base/result.h"
#include "core/picture/picture.h"
#include "core/vantage/camera.h"

namespace dusk {

/// An edge of a thing that the photo shows and, below it, the same edge as level ground mirrors it; pixels of
/// the vantage's camera, as a person marks them: some pixels off.
struct MirroredEdge {
  Vec2d thing, mirrored;
};

/// What the ground must be for the edge to be mirrored so faintly and so softly.
struct MirrorLook {
  double strength = 0;  ///< of its mirror-like side
  double ior = 1.5;     ///< as it was given; higher where it mirrors more than that could
  double roughness = 0;
  double strengthSigma = 0;
  Vec3d thingM;         ///< where the edge is, in the world
  double contrast = 0;  ///< of the mirrored edge over the thing's own
};

/// The two rays tell where the thing is (the second as the ground turns it back); both edges are then crossed
/// alike, and a step with a soft edge is fitted to each. The heights of the steps tell the reflectance,
/// whatever else shines there; by how much the second is softer, the roughness: that whose microfacets
/// (Walter et al. 2007, "Microfacet Models for Refraction through Rough Surfaces") spread what is seen as
/// wide. `plate`: scene-linear. Error, in a sentence: the marks are no mirror images of each other, or no
/// edge is there.
Result<MirrorLook> measureMirror(const Picture& plate, const Camera& camera, double groundM, double ior,
                                 const MirroredEdge& edge);

}  // namespace dusk
