#pragma once

#include <functional>
#include <span>

#include "core/deliver/deliver.h"

namespace dusk {

/// Delivers variants of one shot, each as deliver() alone would, to the bit. What is traced of them is shared
/// as far as they differ by surfaces alone: a sample that meets none of those is traced once for all. As many
/// are held at a time as there is memory for. Gives a report, or what went wrong, for each, but for those
/// that were not begun after one had failed. `finish` is called with each report in turn, as soon as it is
/// there: what it takes out of it, as the passes, is not held until all are done.
std::vector<Result<DeliverReport>> deliverTogether(std::span<const Project> variants, size_t shot,
                                                   AssetStore& assets, GeometryCache& cache,
                                                   const DeliverOptions& options, Progress& progress,
                                                   const std::function<void(DeliverReport&)>& finish = {});

/// Calls deliveries, each in a thread of its own but one at a time, and brings them together where they
/// trace, by what they are given: films of the shot with that index that differBySurfaces() are traced as
/// one. A delivery must not throw.
void traceTogether(std::span<const std::function<void(const TraceFilmOf&)>> deliveries, size_t shot);
/// Whether what is traced of a shot is the same but for surfaces, as far as documents tell.
bool differBySurfaces(const Project& a, const Project& b, size_t shot);
/// How many deliveries of that size are held at a time, at most; 1 and more.
size_t mostTogether(const Project& project, size_t shot, AssetStore& assets, const DeliverOptions& options);

}  // namespace dusk
