#pragma once
#include "core/base/maths.h"

namespace dusk {

/// A surface at one point, ready for light. All shares 0..1.
struct BsdfParameters {
  Rgb base{0.5f, 0.5f, 0.5f}, emission{0, 0, 0}, sheenColour{1, 1, 1};
  float metalness = 0, roughness = 0.5f, ior = 1.5f, transmission = 0, clearcoat = 0,
        clearcoatRoughness = 0.05f;
  float anisotropy = 0, anisotropyTurn = 0;  ///< turn of the brushing in radians
  float sheen = 0, sheenRoughness = 0.4f;
  float specular = 1;                ///< of the dielectric's mirror; 1 = as its IOR says
  float filmNm = 0, filmIor = 1.4f;  ///< a thin film over the base; 0: none
  bool thinWalled = false;
  Rgb coatColour{1, 1, 1};
  Vec3f coatNormal{0, 0, 0};  ///< of the clearcoat alone, world; 0: as of all
  float opacity = 1;
  float subsurface = 0;
  Rgb subsurfaceM{1e-3f, 6e-4f, 4e-4f};  ///< mean free path, metres
  // Of the body behind it.
  Rgb absorption{0, 0, 0}, scattering{0, 0, 0};  ///< per metre
  float forward = 0;                             ///< mean cosine of a scattering, there and below the surface
  float abbe = 0;                                ///< Abbe number; 0: colours stay together
  int priority = 0;
};

}  // namespace dusk
