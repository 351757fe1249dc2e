#pragma once
#include "core/colour/view.h"
#include "core/project/project.h"
#include "core/trace/film.h"

namespace dusk {

/// Multiplier per channel that the blend's exposure and warmth put on the product.
Rgb productGain(const BlendSettings& blend);

/// The passes with each light as strong and coloured as the blend's mix says: beauty, ratio and reflection
/// are made anew from the lights' own shares, nothing is traced. `passes` must hold those (see
/// Film::resolve). Where the mix asks for nothing, the same values come back to the last bit.
Passes mixed(const Passes& passes, const BlendSettings& blend);
/// Whether it asks for anything.
bool isMixed(const BlendSettings& blend);

/// The picture, scene-linear: plate * ratio * (1 - alpha) + product * gain. Without a plate, the product over
/// black. `plate` must have the passes' size. Where the passes change nothing, the plate's values come out
/// untouched.
Picture blend(const Shot& shot, const Passes& passes, const Picture* plate);

/// Display code values 0..1 of the blend. Pixels that the passes do not change take `shownPlate` (the plate's
/// own code values, same size) as they are, which makes the identity rule hold bit for bit and saves the
/// work.
Picture blendForDisplay(const Shot& shot, const Passes& passes, const Picture* plate,
                        const Picture* shownPlate, const ColourView& view);

}  // namespace dusk
