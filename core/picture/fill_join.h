#pragma once
#include "core/picture/fill_shifts.h"

namespace dusk::fill {

/// The hole's values: slopes as they are where its pixels are taken from, heights as at its border (Pérez,
/// Gangnet, Blake 2003, "Poisson Image Editing"). `map`: [pixel] as shiftMap; requires each to lead to a
/// known pixel.
void joinPieces(Sized& picture, const std::vector<Shift>& shifts, const std::vector<int>& map);

}  // namespace dusk::fill
