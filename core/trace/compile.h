#pragma once
#include "core/assets/asset_store.h"
#include "core/base/progress.h"
#include "core/trace/scene.h"

namespace dusk {

/// The scene of one shot: assets loaded through `assets`, geometry through `cache`. A missing panorama or
/// plate is left out and said in `notes`; a missing model is an error only when nothing else is placed.
struct Compiled {
  Scene scene;
  std::vector<std::string> notes;
};
/// `loaded`: models that are not loaded are left out. `wait`: they are loaded first, as finely as they happen
/// to be. `fine`: CAD models are tessellated as finely as the shot needs, too, which may take its time.
enum class Models { loaded, wait, fine };
Result<Compiled> compile(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                         Progress& progress, Models models = Models::wait);

/// A project's surface as the tracer takes it.
BsdfParameters parametersOf(const Surface& surface);
/// The look of a part that no surface was given to: the material from its file, without textures.
Surface surfaceFromFile(const FileMaterial& material);
/// The surface the product gives a part; nullptr when that shows its file's own.
const Surface* surfaceOf(const Project& project, const Product& product, const Part& part);

/// A product of a shot where it stands: hidden parts left out, moved ones moved.
PlacedGeometry::Instance placedInstance(const Product& product, const Shot& shot, const Placement& placement,
                                        const std::shared_ptr<const Model>& model, GeometryCache& cache);

/// The lights of a shot. What is missing is said in `notes`, which may be nullptr.
std::shared_ptr<const Lights> lightsOf(const Shot& shot, AssetStore& assets,
                                       std::vector<EmittingTriangle> emitters = {},
                                       std::vector<std::string>* notes = nullptr);

/// Radiance of the even sky that stands in while a shot has no light of its own.
inline constexpr float evenSkyRadiance = 0.6f;

}  // namespace dusk
