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
  Rgb absorption{0, 0, 0};  ///< of the body, per metre
};

}  // namespace dusk
