#pragma once
#include "core/assets/asset_store.h"
#include "core/picture/picture.h"
#include "core/project/blend_edit.h"
#include "core/trace/compile.h"

namespace dusk {

struct Thumbnail {
  Picture codes;                         ///< display code values, three channels
  std::optional<ProductSeen> seen = {};  ///< where it shows the product
};

/// A shot as a small picture, at most `width` x `height`, traced with a few samples from the models that are
/// loaded, or with them read first. Error: what keeps it from being made.
Result<Thumbnail> thumbnailOf(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                              int width, int height, Progress& progress, Models models = Models::loaded);

}  // namespace dusk
