#pragma once
#include "core/base/progress.h"
#include "core/trace/asset_store.h"
#include "core/trace/scene.h"

namespace dusk {

/// The scene of one shot: assets loaded through `assets`, geometry through `cache`. A missing panorama or
/// plate is left out and said in `notes`; a missing model is an error only when nothing else is placed.
struct Compiled {
  Scene scene;
  std::vector<std::string> notes;
};
Result<Compiled> compile(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                         Progress& progress);

/// A project's surface as the tracer takes it.
BsdfParameters parametersOf(const Surface& surface);
/// The look of a part that no surface was given to: the colour from its file, a little satin.
Surface surfaceFromFile(const Part& part);

/// Radiance of the even sky that stands in while a shot has no light of its own.
inline constexpr float evenSkyRadiance = 0.6f;

}  // namespace dusk
