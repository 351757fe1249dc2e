#pragma once
#include <atomic>
#include <filesystem>
#include <map>
#include <memory>
#include <mutex>

#include "core/base/progress.h"
#include "core/colour/view.h"
#include "core/light/lights.h"
#include "core/picture/picture.h"
#include "core/product/model.h"
#include "core/project/project.h"

namespace dusk {

/// The heavy things a project links to, loaded once by path and held as immutable shared values. Safe to use
/// from several threads; a load runs on the calling thread.
class AssetStore {
 public:
  /// Paths in the project are relative to `folder`.
  explicit AssetStore(std::filesystem::path folder = {}) : folder_(std::move(folder)) {}

  std::filesystem::path pathOf(const AssetRef& ref) const;
  /// A reference to `file`: relative to the folder where that is possible without climbing out of it, and
  /// hashed.
  Result<AssetRef> refer(const std::filesystem::path& file) const;

  Result<std::shared_ptr<const Photo>> photo(const AssetRef& ref);
  /// The photo in scene-linear light under the inverse of `view`.
  Result<std::shared_ptr<const Picture>> plate(const AssetRef& ref, const std::string& view);
  /// The photo, or the plate in scene-linear light, as a shot is made with them: straightened where its
  /// vantage asks for that, or what is made in its place.
  Result<std::shared_ptr<const Photo>> photo(const Shot& shot);
  Result<std::shared_ptr<const Picture>> plate(const Shot& shot);
  Result<std::shared_ptr<const Panorama>> panorama(const AssetRef& ref, Progress* progress = nullptr);
  /// The panorama as a shot is lit with it: graded, and without its sun where that is a light of its own.
  struct Dome {
    std::shared_ptr<const Panorama> panorama;
    std::optional<SunApart> sun;               ///< where it stands in the world
    std::shared_ptr<const Panorama> mirrored;  ///< what reflections show, where that is smoothed
    bool noSun = false;                        ///< it was to be apart, but there is none
  };
  Result<Dome> dome(const Surroundings& surroundings);
  /// A product's model, read as the product asks; a CAD model as finely as it happens to be loaded.
  Result<std::shared_ptr<const Model>> model(const Product& product, Progress& progress);
  /// The same with facets no farther than `chordM` metres off the CAD surface (0: any will do): read anew
  /// where the one at hand is coarser, which it then replaces for all.
  Result<std::shared_ptr<const Model>> finer(const Product& product, double chordM, Progress& progress);
  /// Grows with every model that was replaced by a finer one.
  int refinements() const { return refinements_; }
  /// The model if it is loaded already; never waits for a load.
  std::shared_ptr<const Model> loadedModel(const Product& product) const;
  std::shared_ptr<const Photo> loadedPhoto(const AssetRef& ref) const;
  std::shared_ptr<const Panorama> loadedPanorama(const AssetRef& ref) const;
  Result<std::shared_ptr<const ColourView>> view(const std::string& name);

 private:
  template <typename T>
  using Kept = std::map<std::string, std::shared_ptr<const T>>;
  template <typename T, typename Load>
  Result<std::shared_ptr<const T>> kept(Kept<T>& in, const std::string& key, const Load& load);

  Result<std::shared_ptr<const Photo>> made(const Shot& shot);
  /// Scene-linear, and held by the photo it was made from, so that the same one comes back while that lasts.
  Result<std::shared_ptr<const Picture>> plateFrom(const Shot& shot);
  template <typename T>
  std::shared_ptr<const T> loaded(const Kept<T>& in, const std::string& key) const;

  std::filesystem::path folder_;
  mutable std::mutex mutex_;
  Kept<Photo> photos_, straight_, made_;
  Kept<Picture> plates_;
  std::shared_ptr<const Photo> plateFrom_;
  Kept<Panorama> panoramas_;
  struct MadeDome;
  Kept<MadeDome> domes_;  // the latest
  Kept<Model> models_;
  std::atomic<int> refinements_{0};
  Kept<ColourView> views_;
};

}  // namespace dusk
