#pragma once
#include "core/colour/view.h"
#include "core/deliver/pass_list.h"

namespace dusk {

/// A pass as a picture to look at: R, G, B display code values. Light goes through the view; a ratio of 1 is
/// white; directions are shown about middle grey; lengths and places between the nearest and the farthest;
/// identities in flat colours.
Picture shownPass(const NamedPass& pass, const ColourView& view);

/// The values at a pixel, with unit and meaning: "R 0.123  G 0.110  B 0.102"; for identities the names and
/// shares. Empty outside.
std::string readOut(const NamedPass& pass, int x, int y);

}  // namespace dusk
