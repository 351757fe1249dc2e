#pragma once
#include <optional>

#include "core/picture/packed.h"

namespace dusk {

/// How plainly a photo shows that it was made larger than it was taken: how far its trace stands out of what
/// is usual beside it, in times that; up to 4 in photos as they were taken. What lies between two pixels of a
/// smaller picture is made of both, so that its curvature is less: the size of the second derivative rises
/// and falls with the old pixels, whatever the filter (Gallagher 2005, "Detection of Linear and Cubic
/// Interpolation in JPEG Compressed Images"). Looked for along rows and down columns, which must agree; not
/// at the frequencies of JPEG's blocks, one of which a camera's colour mosaic and a picture twice as large
/// share: that is not told. A grid of tiles taken exactly from the front may look alike. Nothing for a photo
/// that is too small.
std::optional<double> enlargedTrace(const PackedPicture& photo);

}  // namespace dusk
