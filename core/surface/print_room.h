#pragma once
#include "core/product/model.h"
#include "core/surface/print.h"

namespace dusk {

/// What a print could lie on at its place, from its middle along its own right and up, millimetres.
struct PrintRoom {
  Vec2d low{0, 0}, high{0, 0};
  Vec2d size() const { return high - low; }
};
/// Of the part's faces within its reach that do not lean away from it; nothing where there is none. A part
/// that it is wrapped round has room for it once about.
std::optional<PrintRoom> roomFor(const Decal& decal, const Model& model, const Part& part, double unitMm);

/// A print no larger than fits on the part, and then whole on it: its width, and where its middle is, are
/// changed where it would not fit. `proportion`: height over width.
void fitOn(Decal& decal, const Model& model, const Part& part, double unitMm, double proportion);

}  // namespace dusk
