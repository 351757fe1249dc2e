#pragma once
#include <vector>

#include "core/project/project.h"

namespace dusk {

/// The surfaces we ship; ids begin with "preset-". Dropping one on a part copies it into the project, where
/// it may change.
const std::vector<Surface>& surfacePresets();

}  // namespace dusk
