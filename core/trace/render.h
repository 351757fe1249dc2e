#pragma once
#include <functional>

#include "core/base/progress.h"
#include "core/trace/film.h"

namespace dusk {

/// Adds passes (one sample per pixel each) until the film holds `passes`, on all cores. The result depends on
/// the scene and the number of passes alone, not on threads or on how the passes were asked for. The first
/// `thinPasses` go over the whole picture; later ones only where the product was seen to matter, and a margin
/// around. Cancelled: the pass under way is left unfinished and the film must be thrown away; returns false.
/// `afterPass` runs on the calling thread after each pass; returning false ends early with true.
bool render(const Scene& scene, Film& film, int passes, Progress& progress,
            const std::function<bool()>& afterPass = {});

inline constexpr int thinPasses = 8;

}  // namespace dusk
