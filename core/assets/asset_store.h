#pragma once
#include <atomic>
#include <filesystem>
#include <memory>
#include <mutex>
#include <set>

#include "core/assets/cache.h"
#include "core/assets/clean_plate.h"
#include "core/assets/cut_out.h"
#include "core/base/progress.h"
#include "core/colour/config.h"
#include "core/colour/table.h"
#include "core/colour/view.h"
#include "core/light/lights.h"
#include "core/picture/photo.h"
#include "core/product/model.h"
#include "core/project/project.h"
#include "core/surface/texture.h"

namespace dusk {

/// The heavy things a project links to, loaded once each whatever the number of threads that ask, and held as
/// immutable shared values. What nobody uses goes, longest unused first, when all together take more than the
/// budget. Safe to use from several threads; a load runs on the thread that asked first.
class AssetStore {
 public:
  /// Paths in the project are relative to `folder`. What is loaded comes to at most about `budgetBytes`,
  /// unless more than that is in use.
  explicit AssetStore(std::filesystem::path folder = {}, size_t budgetBytes = size_t{6} << 30)
      : folder_(std::move(folder)), budget_(budgetBytes) {}

  /// The store of a project that was moved to `folder`: what is loaded here is loaded there.
  std::shared_ptr<AssetStore> inFolder(const std::filesystem::path& folder) const;

  std::filesystem::path pathOf(const AssetRef& ref) const;
  /// A reference to `file`: relative to the folder where that is possible without climbing out of it, and
  /// hashed.
  Result<AssetRef> refer(const std::filesystem::path& file) const;
  /// The same link as `ref` for a project in this store's folder; the file need not be there, nor is it read.
  AssetRef relinked(const AssetRef& ref, const AssetStore& from) const;
  /// Links whose files are other than when they were linked, as found while loading: these were taken as they
  /// are now.
  std::vector<AssetRef> changedSinceLinked() const;
  /// About what all loaded values take.
  size_t bytes() const;

  Result<std::shared_ptr<const Photo>> photo(const AssetRef& ref);
  /// The photo in scene-linear light under the inverse of the blend's view; a photo of more than
  /// `mostPlatePixels` at half the size, or a quarter.
  Result<std::shared_ptr<const Picture>> plate(const AssetRef& ref, const BlendSettings& blend);
  /// The photo, or the plate in scene-linear light, as a shot is made with them: cleaned, straightened where
  /// its vantage asks for that, or what is made in its place. A large plate may be smaller than its photo: it
  /// is what the place is lit and measured by.
  Result<std::shared_ptr<const Photo>> photo(const Shot& shot, Progress* progress = nullptr);
  Result<std::shared_ptr<const Picture>> plate(const Shot& shot, Progress* progress = nullptr);
  /// What is shown of the plate: that area of it at the size asked for, from the photo itself. What is made
  /// in place of a photo goes on beyond its border.
  Result<Picture> plateArea(const Shot& shot, int width, int height, const PixelArea& area);
  /// A thing cut out of the plate.
  Result<std::shared_ptr<const CutOutPicture>> cutOut(const Shot& shot, const CutOut& what);
  static constexpr long long mostPlatePixels = 16'000'000;
  Result<std::shared_ptr<const Panorama>> panorama(const AssetRef& ref, Progress* progress = nullptr);
  /// The panorama as a shot is lit with it: graded, and without its sun where that is a light of its own.
  struct Dome {
    std::shared_ptr<const Panorama> panorama;
    std::optional<SunApart> sun;               ///< where it stands in the world
    std::shared_ptr<const Panorama> mirrored;  ///< what reflections show, where that is smoothed
    bool noSun = false;                        ///< it was to be apart, but there is none
  };
  Result<Dome> dome(const Surroundings& surroundings);
  /// A picture that a surface shows: a file of pixels, or a page of SVG or PDF (drawn apart, in a process of
  /// its own). `colour`: as light.
  Result<std::shared_ptr<const Texture>> texture(const AssetRef& ref, bool colour, int page,
                                                 Progress& progress);
  /// A product's model, read as the product asks; a CAD model as finely as it happens to be loaded.
  Result<std::shared_ptr<const Model>> model(const Product& product, Progress& progress);
  /// The same with facets no farther than `chordM` metres off the CAD surface (0: any will do): read anew
  /// where the one at hand is coarser, which it then replaces for all.
  Result<std::shared_ptr<const Model>> finer(const Product& product, double chordM, Progress& progress);
  /// The model read anew where files that it names (pictures, materials) have come, gone or changed since,
  /// which then replaces it for all; else the one at hand.
  Result<std::shared_ptr<const Model>> lookAgain(const Product& product, Progress& progress);
  /// Grows with every model that was loaded, or replaced by another.
  int modelChanges() const { return shelves_->modelChanges; }
  /// The model if it is loaded already; never waits for a load.
  std::shared_ptr<const Model> loadedModel(const Product& product) const;
  std::shared_ptr<const Texture> loadedTexture(const AssetRef& ref, bool colour, int page) const;
  std::shared_ptr<const Photo> loadedPhoto(const AssetRef& ref) const;
  std::shared_ptr<const Panorama> loadedPanorama(const AssetRef& ref) const;
  /// The view that a blend is shown and delivered in.
  Result<std::shared_ptr<const ColourView>> view(const BlendSettings& blend);
  Result<std::shared_ptr<const ColourConfig>> config(const AssetRef& ref);
  std::shared_ptr<const ColourConfig> loadedConfig(const AssetRef& ref) const;
  Result<std::shared_ptr<const ColourTable>> table(const AssetRef& ref);

 private:
  template <typename T, typename Load>
  Result<std::shared_ptr<const T>> kept(AssetCache<T>& in, const std::string& key, const Load& load);
  /// Remembers a link whose file is not the one that was linked.
  void checkHash(const AssetRef& ref);
  std::string linkTo(const std::filesystem::path& whole) const;

  Result<std::shared_ptr<const Photo>> made(const Shot& shot);
  Result<Photo> made(const Shot& shot, const Camera& camera, const PixelArea& area);
  /// The photo as it was taken, without what must go.
  Result<std::shared_ptr<const Photo>> cleaned(const Shot& shot, Progress* progress);
  Result<std::shared_ptr<const FilledSpot>> spot(const CleanUp& of, const std::string& key,
                                                 const PackedPicture& before, Progress& progress);
  /// Scene-linear, and held by the photo it was made from, so that the same one comes back while that lasts.
  Result<std::shared_ptr<const Picture>> plateFrom(const Shot& shot, Progress* progress);
  struct MadeDome;
  friend size_t bytesOf(const MadeDome& dome);
  void trim();
  /// Two files of one name but other content are two assets; one file that two folders link to is one.
  std::string keyOf(const AssetRef& ref) const { return pathOf(ref).string() + "|" + ref.hash; }
  std::string keyOf(const Product& product) const;
  std::string keyOfView(const BlendSettings& blend) const;
  std::string keyOf(const AssetRef& ref, bool colour, int page) const {
    return keyOf(ref) + "|" + std::to_string(page) + (colour ? "|light" : "|values");
  }

  /// What is loaded: shared by the stores of one document in different folders.
  struct Shelves {
    std::mutex mutex;  ///< of the next two
    std::set<std::pair<std::string, std::string>> changed;
    std::shared_ptr<const Photo> plateFrom;
    AssetCache<Photo> photos, cleaned, straight, made;
    AssetCache<FilledSpot> spots;
    AssetCache<Picture> plates;
    AssetCache<CutOutPicture> cutOuts;
    AssetCache<Panorama> panoramas;
    AssetCache<MadeDome> domes;  // the latest
    AssetCache<Model> models;
    AssetCache<Texture> textures;
    std::atomic<int> modelChanges{0};
    AssetCache<ColourConfig> configs;
    AssetCache<ColourView> views;
    AssetCache<ColourTable> tables;
  };

  std::filesystem::path folder_;
  size_t budget_;
  std::shared_ptr<Shelves> shelves_ = std::make_shared<Shelves>();
};

/// What was loaded or made, as it is shared.
template <typename T>
Result<std::shared_ptr<const T>> shared(Result<T> result) {
  if (!result) return result.error();
  return std::shared_ptr<const T>(std::make_shared<T>(std::move(*result)));
}
template <typename T, typename Load>
Result<std::shared_ptr<const T>> AssetStore::kept(AssetCache<T>& in, const std::string& key,
                                                  const Load& load) {
  bool fresh = false;
  auto value = in.get(key, [&]() -> Result<std::shared_ptr<const T>> {
    fresh = true;
    return load();
  });
  if (fresh && value) trim();
  return value;
}

}  // namespace dusk
