#pragma once
#include "core/picture/picture.h"
#include "core/product/model.h"
#include "core/surface/material.h"

namespace dusk {

/// A surface as it is all over a part, over the part's own coordinates brought to 0 to 1.
struct Baked {
  Picture colour;      ///< sRGB codes, and the share that is there as alpha
  Picture metalRough;  ///< roughness in green, metalness in blue
  Picture normal;      ///< tangent space, 0 to 1
  Picture glow;  ///< sRGB codes of the light it gives off over `brightest`; empty where it gives off none
  float brightest = 0;
  Vec2f low{0, 0}, high{1, 1};  ///< of the coordinates
  BsdfParameters mean;
};

/// `side`: of the pictures, which are empty for a mesh without coordinates: then the mean alone says how it
/// looks. Spots between the triangles take the nearest one's look. `unitM`: of the mesh, in metres.
Baked baked(const Material& material, const Mesh& mesh, int side, double unitM);

}  // namespace dusk
