#pragma once
#include <optional>

#include "core/colour/view.h"
#include "core/proof/prove.h"

namespace dusk {

/// How much of the product the blend turns plain white or black that is not so as it was rendered. `shown` is
/// the picture in code values of `view`, of the passes' size; nothing where hardly any product is seen.
std::optional<Finding> tonesFinding(const Picture& shown, const Passes& passes, const ColourView& view);

}  // namespace dusk
