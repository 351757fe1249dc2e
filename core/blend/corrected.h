#pragma once
#include "core/blend/mask.h"
#include "core/colour/table.h"

namespace dusk {

/// Light (3 channels, or 4 premultiplied) with a row's corrections done to it, one after the other. A colour
/// table is asked of `tableOf`; one it does not give leaves the light as it is.
using FindTable = std::function<std::shared_ptr<const ColourTable>(const AssetRef&)>;
NodePtr corrected(NodePtr light, const std::vector<Correction>& corrections, BlendRole role,
                  const MaskWorld& world, const FindTable& tableOf);

/// From one picture towards another: by a strength, and a mask that may be nullptr.
NodePtr between(const NodePtr& from, const NodePtr& to, float strength, const NodePtr& mask);

/// A picture times a strength, and a mask that may be nullptr. `keepsAlpha`: its fourth channel stays.
NodePtr weighted(const NodePtr& picture, float strength, const NodePtr& mask, bool keepsAlpha = false);

}  // namespace dusk
