#pragma once
#include "core/assets/asset_store.h"
#include "core/base/progress.h"
#include "core/surface/made_surface.h"
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

/// The scene of a shot at another moment: `scene` is that of `project`. What cannot have changed is shared,
/// most of all materials and lights. Requires models to be loaded. Error: as compile().
Result<Scene> compileMoved(const Project& project, const Scene& scene, const Project& moved, size_t shot,
                           AssetStore& assets, GeometryCache& cache, Progress& progress);

/// Gives a scene whose camera sees more than its plate shows a plate of all that: `plate`, of any size. What
/// is traced then finds beyond the picture's border what is delivered there.
void takePlate(Scene& scene, std::shared_ptr<const Picture> plate, const Shot& shot, AssetStore& assets);

/// The picture of a feed or decal, from the store; what cannot be had is said in `notes`, once each.
FindTexture textureFinder(const Project& project, AssetStore& assets, Progress& progress,
                          std::vector<std::string>& notes);
/// What the parts of a product look like: the surfaces they are given, or their file's, and what is printed
/// on them. Surfaces are made ready once for all parts.
class Dresser {
 public:
  Dresser(const Project& project, FindTexture find) : project_(project), find_(std::move(find)) {}
  /// `standsM`: height of what it stands on.
  std::vector<std::shared_ptr<const Material>> materialsOf(const Product& product,
                                                           const std::shared_ptr<const Model>& model,
                                                           GeometryCache& cache, double standsM);

 private:
  const Project& project_;
  FindTexture find_;
  std::map<std::string, std::shared_ptr<const SurfaceLayer>> layers_;
};
/// The surface the product gives a part; nullptr when that shows its file's own.
const Surface* surfaceOf(const Project& project, const Product& product, const Part& part);

/// Which of a product's parts: those that are rendered, those that only catch, or both.
enum class PartsOf { picture, place, both };

/// A product of a shot where it stands: hidden parts left out, moved ones moved.
PlacedGeometry::Instance placedInstance(const Product& product, const Shot& shot, const Placement& placement,
                                        const std::shared_ptr<const Model>& model, GeometryCache& cache,
                                        PartsOf parts = PartsOf::picture);

/// The place of a shot with all that catches in it, of models that are loaded.
Place placeOf(const Project& project, const Shot& shot, const AssetStore& assets);

/// The lights of a shot. What is missing is said in `notes`, which may be nullptr.
std::shared_ptr<const Lights> lightsOf(const Shot& shot, AssetStore& assets,
                                       std::vector<EmittingTriangle> emitters = {},
                                       std::vector<std::string>* notes = nullptr);

/// Radiance of the even sky that stands in while a shot has no light of its own.
inline constexpr float evenSkyRadiance = 0.6f;

}  // namespace dusk
