#pragma once
#include <functional>

#include "core/base/progress.h"
#include "core/trace/film.h"
#include "core/trace/integrator.h"

namespace dusk {

/// Adds passes (one sample per pixel each) until the film holds `passes`, on all cores. The result depends on
/// the scene and the number of passes alone, not on threads or on how the passes were asked for. The first
/// `thinPasses` find where the product matters, and a margin around; later ones go only there, and with a
/// noise target only until that is met. Cancelled: the pass under way is left unfinished and the film must be
/// thrown away; returns false. `afterPass` runs on the calling thread after each pass; returning false ends
/// early with true.
bool render(const Scene& scene, Film& film, int passes, Progress& progress,
            const std::function<bool()>& afterPass = {});

/// The first passes of the pixels in `mask` (1: wanted) alone, of a film in which nothing is yet: render()
/// goes on with the others, and in the end the film is the same. As render() otherwise.
bool renderAhead(const Scene& scene, Film& film, const std::vector<unsigned char>& mask, int passes,
                 Progress& progress, const std::function<bool()>& afterPass = {});

inline constexpr int thinPasses = 8;
/// The smallest change of the ground's light that is gone after; less is left to the plate.
inline constexpr double leastInfluence = 0.0015;

}  // namespace dusk
