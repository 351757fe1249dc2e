#pragma once
#include "core/product/model.h"
#include "core/surface/print.h"

namespace dusk {

/// Width and height, millimetres, of what a print could lie on at its place: of the part's faces within its
/// reach that do not lean away from it, along its own right and up. Nothing where there is none. A part that
/// it is wrapped round has room for it once about.
std::optional<Vec2d> roomFor(const Decal& decal, const Model& model, const Part& part, double unitMm);

}  // namespace dusk
