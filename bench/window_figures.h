#pragma once
#include <filesystem>

#include "app/preview/preview.h"

namespace dusk {

/// Time from a request to its first picture, at the size the picture has at 1280 x 800.
double firstImageMs(Preview& preview, const Project& project, const std::shared_ptr<AssetStore>& assets,
                    const std::shared_ptr<GeometryCache>& cache);

/// Prints how fast a tree of 5,000 parts and a product of a million triangles are in the hand.
void bigProducts(const std::filesystem::path& demo);

}  // namespace dusk
