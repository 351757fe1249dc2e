#pragma once
#include "core/assets/asset_store.h"
#include "core/picture/picture.h"
#include "core/trace/compile.h"

namespace dusk {

/// A shot as a small picture, at most `width` x `height`, traced with a few samples from the models that are
/// loaded, or with them read first. Display code values, three channels. Error: what keeps it from being
/// made.
Result<Picture> thumbnailOf(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                            int width, int height, Progress& progress, Models models = Models::loaded);

}  // namespace dusk
