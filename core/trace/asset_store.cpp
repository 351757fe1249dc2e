#include "core/trace/asset_store.h"

#include <sstream>

#include "core/base/hash.h"
#include "core/light/backdrop.h"
#include "core/light/reshape.h"
#include "core/light/sun.h"
#include "core/picture/read.h"
#include "core/product/formats.h"
#include "core/product/import.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace fs = std::filesystem;

fs::path AssetStore::pathOf(const AssetRef& ref) const {
  const fs::path path(ref.path);
  return path.is_absolute() ? path : folder_ / path;
}

Result<AssetRef> AssetStore::refer(const fs::path& file) const {
  auto hash = hashFile(file);
  if (!hash) return hash.error();
  std::error_code code;
  const fs::path whole = fs::weakly_canonical(file, code);
  fs::path path = whole;
  if (!folder_.empty()) {
    const fs::path near = whole.lexically_relative(fs::weakly_canonical(folder_, code));
    if (!near.empty() && !near.string().starts_with("..")) path = near;
  }
  return AssetRef{path.string(), *hash};
}

template <typename T, typename Load>
Result<std::shared_ptr<const T>> AssetStore::kept(Kept<T>& in, const std::string& key, const Load& load) {
  {
    const std::lock_guard lock(mutex_);
    if (const auto found = in.find(key); found != in.end()) return found->second;
  }
  Result<std::shared_ptr<const T>> loaded = load();
  if (!loaded) return loaded;
  const std::lock_guard lock(mutex_);
  return in.emplace(key, *loaded).first->second;
}

namespace {
/// Two files of one name but other content are two assets.
std::string keyOf(const AssetRef& ref) { return ref.path + "|" + ref.hash; }

template <typename T>
Result<std::shared_ptr<const T>> shared(Result<T> result) {
  if (!result) return result.error();
  return std::shared_ptr<const T>(std::make_shared<T>(std::move(*result)));
}
}  // namespace

Result<std::shared_ptr<const Photo>> AssetStore::photo(const AssetRef& ref) {
  return kept(photos_, keyOf(ref), [&] { return shared(readPhoto(pathOf(ref))); });
}

Result<std::shared_ptr<const Picture>> AssetStore::plate(const AssetRef& ref, const std::string& viewName) {
  return kept(plates_, keyOf(ref) + "|" + viewName, [&]() -> Result<std::shared_ptr<const Picture>> {
    const auto from = photo(ref);
    if (!from) return from.error();
    const auto how = view(viewName);
    if (!how) return how.error();
    return std::shared_ptr<const Picture>(std::make_shared<Picture>(sceneLinear(**from, **how)));
  });
}

Result<std::shared_ptr<const Photo>> AssetStore::photo(const Shot& shot) {
  if (shot.backdrop.kind != BackdropKind::photo) return made(shot);
  const auto bent = photo(shot.plate);
  if (!bent || workingCamera(shot.vantage) == shot.vantage.camera) return bent;
  const Camera& c = shot.vantage.camera;
  std::ostringstream key;
  key.precision(17);
  key << keyOf(shot.plate) << '|' << c.focalPx << '|' << c.cx << '|' << c.cy << '|' << c.k1 << '|' << c.k2;
  {  // one camera's straight plate is enough to hold
    const std::lock_guard lock(mutex_);
    if (!straight_.contains(key.str())) straight_.clear();
  }
  return kept(straight_, key.str(), [&]() -> Result<std::shared_ptr<const Photo>> {
    auto straight = std::make_shared<Photo>(**bent);
    straight->picture = straightened((*bent)->picture, c);
    return std::shared_ptr<const Photo>(std::move(straight));
  });
}

Result<std::shared_ptr<const Photo>> AssetStore::made(const Shot& shot) {
  const Backdrop& b = shot.backdrop;
  const Camera& c = shot.vantage.camera;
  const bool all = b.kind == BackdropKind::panorama;
  std::ostringstream key;
  key.precision(17);
  key << int(b.kind) << b.colour << b.upper << '|' << c.width << 'x' << c.height;
  if (all) {
    const Surroundings& s = shot.surroundings;
    for (const Vec3d& v : {c.position, c.axes.x, c.axes.y, s.white, s.captureM.value_or(Vec3d(0, 0, -1))})
      key << '|' << v.x << ',' << v.y << ',' << v.z;
    key << '|' << c.focalPx << '|' << keyOf(s.panorama);
    for (const double v : {s.turnDegrees, s.tiltDegrees, s.gainEv, s.contrast, s.saturation, s.lostRangeEv})
      key << '|' << v;
    key << s.mirrored;
  }
  {
    const std::lock_guard lock(mutex_);
    if (!made_.contains(key.str())) made_.clear();
  }
  return kept(made_, key.str(), [&]() -> Result<std::shared_ptr<const Photo>> {
    if (!all)
      return std::shared_ptr<const Photo>(std::make_shared<Photo>(backdropPhoto(b, c, {{}, {}, {}, {}})));
    Surroundings whole = shot.surroundings;
    whole.sunApart = false;  // the picture shows the sun where it is
    const auto light = dome(whole);
    if (!light) return light.error();
    return std::shared_ptr<const Photo>(
        std::make_shared<Photo>(backdropPhoto(b, c, Lights(light->panorama, whole, {}, Rgb(0)))));
  });
}

Result<std::shared_ptr<const Picture>> AssetStore::plate(const Shot& shot) {
  if (shot.backdrop.kind == BackdropKind::photo && workingCamera(shot.vantage) == shot.vantage.camera)
    return plate(shot.plate, shot.blend.view);
  return plateFrom(shot);
}

Result<std::shared_ptr<const Picture>> AssetStore::plateFrom(const Shot& shot) {
  const auto from = photo(shot);
  if (!from) return from.error();
  const auto how = view(shot.blend.view);
  if (!how) return how.error();
  const std::string key = "made|" + shot.blend.view;
  {
    const std::lock_guard lock(mutex_);
    if (plateFrom_ != *from) plates_.erase(key), plateFrom_ = *from;
  }
  return kept(plates_, key, [&]() -> Result<std::shared_ptr<const Picture>> {
    return std::shared_ptr<const Picture>(std::make_shared<Picture>(sceneLinear(**from, **how)));
  });
}

Result<std::shared_ptr<const Panorama>> AssetStore::panorama(const AssetRef& ref, Progress* progress) {
  return kept(panoramas_, keyOf(ref), [&]() -> Result<std::shared_ptr<const Panorama>> {
    auto light = readLight(pathOf(ref), progress);
    if (!light) return light.error();
    return Panorama::make(std::move(*light));
  });
}

/// What is made of a panorama's pixels, before it is turned.
struct AssetStore::MadeDome {
  std::shared_ptr<const Panorama> panorama, mirrored;
  std::optional<SplitSun> sun;
};

Result<AssetStore::Dome> AssetStore::dome(const Surroundings& s) {
  const auto plain = panorama(s.panorama);
  if (!plain) return plain.error();
  const bool guessed = s.lostRangeEv > 0 && (*plain)->isLowRange();
  if (!isGraded(s) && !s.sunApart && !guessed && s.reflectionBlurDegrees <= 0)
    return Dome{*plain, {}, nullptr, false};
  std::ostringstream key;
  key.precision(17);
  key << keyOf(s.panorama) << '|' << s.white.x << '|' << s.white.y << '|' << s.white.z << '|' << s.contrast
      << '|' << s.saturation << '|' << s.sunApart << '|' << (guessed ? s.lostRangeEv : 0) << '|'
      << s.reflectionBlurDegrees;
  {  // one at a time is enough to hold
    const std::lock_guard lock(mutex_);
    if (!domes_.contains(key.str())) domes_.clear();
  }
  const auto made = kept(domes_, key.str(), [&]() -> Result<std::shared_ptr<const MadeDome>> {
    auto out = std::make_shared<MadeDome>();
    Picture picture = (*plain)->picture();
    if (guessed) picture = withGuessedRange(picture, s.lostRangeEv);
    if (isGraded(s)) picture = graded(picture, s);
    if (s.sunApart)
      if (auto split = splitSun(picture)) {
        picture = std::move(split->rest);
        out->sun = std::move(*split);
      }
    if (s.reflectionBlurDegrees > 0)
      out->mirrored = Panorama::make(blurredPanorama(picture, s.reflectionBlurDegrees));
    out->panorama = Panorama::make(std::move(picture));
    return std::shared_ptr<const MadeDome>(std::move(out));
  });
  if (!made) return made.error();
  Dome dome{(*made)->panorama, {}, (*made)->mirrored, s.sunApart && !(*made)->sun};
  if (const auto& sun = (*made)->sun) {
    dome.sun = SunApart{worldFromPanorama(s, sun->direction), sun->irradiance, s.sunDiscDegrees};
    if (s.sunMovedDegrees) {
      Lamp at;
      at.azimuthDegrees = s.sunMovedDegrees->x, at.elevationDegrees = s.sunMovedDegrees->y;
      dome.sun->direction = sunDirection(at);
    }
  }
  return dome;
}

namespace {
/// A mesh is read for its crease; a CAD model is the same thing however fine.
std::string keyOf(const Product& product) {
  return keyOf(product.model) + (product.creaseDegrees && !isCadFile(product.model.path)
                                     ? "|" + std::to_string(*product.creaseDegrees)
                                     : "");
}
}  // namespace

Result<std::shared_ptr<const Model>> AssetStore::model(const Product& product, Progress& progress) {
  return kept(models_, keyOf(product), [&] {
    ReadOptions how;
    how.creaseDegrees = product.creaseDegrees;
    if (product.chordMm) how.chordM = *product.chordMm / 1000;
    return shared(importModel(pathOf(product.model), progress, how));
  });
}

Result<std::shared_ptr<const Model>> AssetStore::finer(const Product& product, double chordM,
                                                       Progress& progress) {
  auto now = model(product, progress);
  if (!now || (*now)->chordM <= chordM * (1 + 1e-9) || chordM <= 0) return now;
  ReadOptions how;
  how.chordM = chordM;
  auto better = shared(importModel(pathOf(product.model), progress, how));
  if (!better) return better;
  const std::lock_guard lock(mutex_);
  ++refinements_;
  return models_[keyOf(product)] = *better;
}

template <typename T>
std::shared_ptr<const T> AssetStore::loaded(const Kept<T>& in, const std::string& key) const {
  const std::lock_guard lock(mutex_);
  const auto found = in.find(key);
  return found == in.end() ? nullptr : found->second;
}

std::shared_ptr<const Model> AssetStore::loadedModel(const Product& product) const {
  return loaded(models_, keyOf(product));
}
std::shared_ptr<const Photo> AssetStore::loadedPhoto(const AssetRef& ref) const {
  return loaded(photos_, keyOf(ref));
}
std::shared_ptr<const Panorama> AssetStore::loadedPanorama(const AssetRef& ref) const {
  return loaded(panoramas_, keyOf(ref));
}

Result<std::shared_ptr<const ColourView>> AssetStore::view(const std::string& name) {
  return kept(views_, name, [&] { return ColourView::make(name); });
}

}  // namespace dusk
