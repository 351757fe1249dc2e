#pragma once
#include "core/colour/view.h"
#include "core/project/project.h"
#include "core/trace/film.h"

/// The blend of passes and plate at one go, for who has no further use of the graph (see stack.h).
namespace dusk {

/// Multiplier per channel that the blend's exposure and warmth put on the product.
Rgb productGain(const BlendSettings& blend);
/// Multiplier per channel that its mix puts on one light.
Rgb mixGain(const BlendSettings& blend, const std::string& group);
/// Whether its mix asks for anything.
bool isMixed(const BlendSettings& blend);
/// Whether a light has a row of its own that does something.
bool hasLightRows(const BlendSettings& blend);

/// The picture, scene-linear. Without a plate, the product over black. `plate` must have the passes' size.
/// Where the passes change nothing, the plate's values come out untouched. Layers' pictures and cut-outs are
/// left out.
Picture blend(const Shot& shot, const Passes& passes, const Picture* plate);

/// Display code values 0..1 of the blend. Pixels that the passes do not change take `shownPlate` (the plate's
/// own code values, same size) as they are.
Picture blendForDisplay(const Shot& shot, const Passes& passes, const Picture* plate,
                        const Picture* shownPlate, const ColourView& view);

}  // namespace dusk
