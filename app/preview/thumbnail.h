#pragma once
#include <QImage>

#include "core/assets/asset_store.h"
#include "core/trace/geometry.h"

namespace dusk {

/// A shot as a small picture, at most `width` x `height`, traced with a few samples from what is loaded.
/// Error: what keeps it from being made.
Result<QImage> thumbnailOf(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                           int width, int height, Progress& progress);

}  // namespace dusk
