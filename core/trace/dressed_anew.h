#pragma once
#include "core/base/progress.h"
#include "core/project/project.h"
#include "core/trace/render_together.h"

namespace dusk {

/// Marks what wears another surface, or is printed with something else, in `b` than in `a`: two projects
/// whose products are the same otherwise. `scene`: compiled of that shot of either.
void markDiffering(const Project& a, const Project& b, const Shot& shot, const Scene& scene,
                   DifferingParts& marks);

/// [pixel] of the picture that `scene`, compiled of a shot of `now`, is traced for: where a part is seen that
/// wears another surface than it did in `before`, or one that such a part may be seen through, or what
/// borders on those. Both have the same products, placed alike.
std::vector<unsigned char> dressedAnew(const Project& before, const Project& now, const Shot& shot,
                                       const Scene& scene, const Progress& progress);

/// What is within so many pixels of what a mask of that width holds, in a square.
std::vector<unsigned char> grown(const std::vector<unsigned char>& mask, int width, int around);

}  // namespace dusk
