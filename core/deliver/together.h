#pragma once

#include <span>

#include "core/deliver/deliver.h"

namespace dusk {

/// Delivers variants of one shot, each as deliver() alone would, to the bit. What is traced of them is shared
/// as far as they differ by surfaces alone: a sample that meets none of those is traced once for all. As many
/// are held at a time as there is memory for. Gives a report, or what went wrong, for each, but for those
/// that were not begun after one had failed.
std::vector<Result<DeliverReport>> deliverTogether(std::span<const Project> variants, size_t shot,
                                                   AssetStore& assets, GeometryCache& cache,
                                                   const DeliverOptions& options, Progress& progress);

}  // namespace dusk
