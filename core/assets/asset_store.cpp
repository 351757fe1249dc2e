#include "core/assets/asset_store.h"

#include <functional>
#include <sstream>

#include "core/base/hash.h"
#include "core/light/backdrop.h"
#include "core/light/reshape.h"
#include "core/light/sun.h"
#include "core/picture/read.h"
#include "core/product/formats.h"
#include "core/product/import.h"
#include "core/product/set/piece_kinds.h"
#include "core/surface/drawn.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace fs = std::filesystem;

std::shared_ptr<AssetStore> AssetStore::inFolder(const fs::path& folder) const {
  auto there = std::make_shared<AssetStore>(folder, budget_);
  there->shelves_ = shelves_;
  return there;
}

fs::path AssetStore::pathOf(const AssetRef& ref) const {
  const fs::path path(ref.path);
  return path.is_absolute() ? path : folder_ / path;
}

Result<AssetRef> AssetStore::refer(const fs::path& file) const {
  auto hash = hashFile(file);
  if (!hash) return hash.error();
  std::error_code code;
  const fs::path whole = fs::weakly_canonical(file, code);
  return AssetRef{linkTo(whole), *hash};
}

std::string AssetStore::linkTo(const fs::path& whole) const {
  if (folder_.empty()) return whole.string();
  std::error_code code;
  const fs::path near = whole.lexically_relative(fs::weakly_canonical(folder_, code));
  return !near.empty() && !near.string().starts_with("..") ? near.string() : whole.string();
}

AssetRef AssetStore::relinked(const AssetRef& ref, const AssetStore& from) const {
  if (ref.empty()) return ref;
  std::error_code code;
  return {linkTo(fs::weakly_canonical(fs::absolute(from.pathOf(ref), code), code)), ref.hash};
}

void AssetStore::checkHash(const AssetRef& ref) {
  if (ref.hash.empty()) return;
  const auto now = hashFile(pathOf(ref));
  if (!now || *now == ref.hash) return;
  const std::lock_guard lock(shelves_->mutex);
  shelves_->changed.emplace(pathOf(ref).string(), ref.hash);
}

std::vector<AssetRef> AssetStore::changedSinceLinked() const {
  const std::lock_guard lock(shelves_->mutex);
  std::vector<AssetRef> all;
  for (const auto& [path, hash] : shelves_->changed) all.push_back({linkTo(path), hash});
  return all;
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

size_t bytesOf(const Picture& p) { return p.pixels.size() * sizeof p.pixels[0]; }
size_t bytesOf(const Photo& p) { return p.picture.bytes(); }
size_t bytesOf(const Panorama& p) {  // with what it is sampled by
  return bytesOf(p.picture()) + std::min<size_t>(bytesOf(p.picture()), size_t{100} << 20);
}
size_t bytesOf(const Texture&) { return 1024; }  // its tiles have a budget of their own
size_t bytesOf(const Model& m) {
  size_t sum = sizeof m;
  for (const Mesh& mesh : m.meshes)
    sum += (mesh.positions.size() + mesh.normals.size()) * sizeof(Vec3f) + mesh.uvs.size() * sizeof(Vec2f) +
           mesh.indices.size() * sizeof(uint32_t);
  for (const FileTexture& t : m.textures) sum += t.rgba.size();
  return sum + m.parts.size() * (sizeof(Part) + 96);
}

namespace {

/// The photo in scene-linear light, no larger than a plate may be.
std::shared_ptr<const Picture> plateOf(const Photo& photo, const ColourView& view) {
  int w = photo.picture.width, h = photo.picture.height, by = 1;
  while ((long long)(w / by) * (h / by) > AssetStore::mostPlatePixels) by *= 2;
  if (by == 1) return std::make_shared<Picture>(sceneLinear(photo, view));
  w /= by, h /= by;
  return std::make_shared<Picture>(sceneLinearArea(photo, view, w, h, {0, 0, w, h}));
}

template <typename T>
Result<std::shared_ptr<const T>> shared(Result<T> result) {
  if (!result) return result.error();
  return std::shared_ptr<const T>(std::make_shared<T>(std::move(*result)));
}
}  // namespace

Result<std::shared_ptr<const Photo>> AssetStore::photo(const AssetRef& ref) {
  return kept(shelves_->photos, keyOf(ref), [&] {
    checkHash(ref);
    return shared(readPhoto(pathOf(ref)));
  });
}

Result<std::shared_ptr<const Picture>> AssetStore::plate(const AssetRef& ref, const std::string& viewName) {
  return kept(shelves_->plates, keyOf(ref) + "|" + viewName, [&]() -> Result<std::shared_ptr<const Picture>> {
    const auto from = photo(ref);
    if (!from) return from.error();
    const auto how = view(viewName);
    if (!how) return how.error();
    return plateOf(**from, **how);
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
  shelves_->straight.keepOnly(key.str());
  return kept(shelves_->straight, key.str(), [&]() -> Result<std::shared_ptr<const Photo>> {
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
  shelves_->made.keepOnly(key.str());
  return kept(shelves_->made, key.str(), [&]() -> Result<std::shared_ptr<const Photo>> {
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
    const std::lock_guard lock(shelves_->mutex);
    if (shelves_->plateFrom != *from) shelves_->plates.drop(key), shelves_->plateFrom = *from;
  }
  return kept(shelves_->plates, key,
              [&]() -> Result<std::shared_ptr<const Picture>> { return plateOf(**from, **how); });
}

Result<Picture> AssetStore::plateArea(const Shot& shot, int width, int height, const PixelArea& area) {
  const auto from = photo(shot);
  if (!from) return from.error();
  const auto light = plate(shot);
  if (!light) return light.error();
  const Picture& at = **light;
  // A reduced plate is quicker to shrink than the photo, and then as good.
  if (at.width == (*from)->picture.width || (2 * width <= at.width && 2 * height <= at.height))
    return area == PixelArea{0, 0, width, height} ? resized(at, width, height)
                                                  : resizedArea(at, width, height, area);
  const auto how = view(shot.blend.view);
  if (!how) return how.error();
  return sceneLinearArea(**from, **how, width, height, area);
}

Result<std::shared_ptr<const Panorama>> AssetStore::panorama(const AssetRef& ref, Progress* progress) {
  return kept(shelves_->panoramas, keyOf(ref), [&]() -> Result<std::shared_ptr<const Panorama>> {
    checkHash(ref);
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

size_t bytesOf(const AssetStore::MadeDome& dome) {
  return bytesOf(*dome.panorama) + (dome.mirrored ? bytesOf(*dome.mirrored) : 0);
}

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
  shelves_->domes.keepOnly(key.str());
  const auto made = kept(shelves_->domes, key.str(), [&]() -> Result<std::shared_ptr<const MadeDome>> {
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

/// A mesh is read for its crease; a CAD model is the same thing however fine.
std::string AssetStore::keyOf(const Product& product) const {
  if (!product.piece.kind.empty()) {
    std::ostringstream key;
    key.precision(17);
    key << "piece|" << product.piece.kind << '|' << product.piece.seed;
    for (const auto& [name, value] : product.piece.measures) key << '|' << name << '=' << value;
    return key.str();
  }
  return keyOf(product.model) + (product.creaseDegrees && !isCadFile(product.model.path)
                                     ? "|" + std::to_string(*product.creaseDegrees)
                                     : "");
}

Result<std::shared_ptr<const Model>> AssetStore::model(const Product& product, Progress& progress) {
  return kept(shelves_->models, keyOf(product), [&] {
    if (!product.piece.kind.empty()) {
      auto made = shared(makePiece(product.piece));
      if (made) ++shelves_->modelChanges;
      return made;
    }
    checkHash(product.model);
    ReadOptions how;
    how.creaseDegrees = product.creaseDegrees;
    if (product.chordMm) how.chordM = *product.chordMm / 1000;
    auto loaded = shared(importModel(pathOf(product.model), progress, how));
    if (loaded) ++shelves_->modelChanges;
    return loaded;
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
  shelves_->models.put(keyOf(product), *better);
  ++shelves_->modelChanges;
  return better;
}

std::shared_ptr<const Model> AssetStore::loadedModel(const Product& product) const {
  return shelves_->models.find(keyOf(product));
}
std::shared_ptr<const Texture> AssetStore::loadedTexture(const AssetRef& ref, bool colour, int page) const {
  return shelves_->textures.find(keyOf(ref, colour, page));
}
std::shared_ptr<const Photo> AssetStore::loadedPhoto(const AssetRef& ref) const {
  return shelves_->photos.find(keyOf(ref));
}
std::shared_ptr<const Panorama> AssetStore::loadedPanorama(const AssetRef& ref) const {
  return shelves_->panoramas.find(keyOf(ref));
}

Result<std::shared_ptr<const Texture>> AssetStore::texture(const AssetRef& ref, bool colour, int page,
                                                           Progress& progress) {
  const std::string key = keyOf(ref, colour, page);
  return kept(shelves_->textures, key, [&]() -> Result<std::shared_ptr<const Texture>> {
    checkHash(ref);
    const fs::path file = pathOf(ref);
    const auto hash = hashFile(file);  // of what is there now, which need not be what was linked
    if (!hash) return hash.error();
    if (!isDrawing(file)) return openTexture(file, *hash, colour, progress);
    const auto pixels = drawn(file, *hash, page, progress);
    if (!pixels) return pixels.error();
    return openTexture(pixels->pixels, {}, colour, progress);
  });
}

Result<std::shared_ptr<const ColourView>> AssetStore::view(const std::string& name) {
  return kept(shelves_->views, name, [&] { return ColourView::make(name); });
}

Result<std::shared_ptr<const ColourTable>> AssetStore::table(const AssetRef& ref) {
  return kept(shelves_->tables, keyOf(ref), [&] {
    checkHash(ref);
    return readColourTable(pathOf(ref));
  });
}

size_t AssetStore::bytes() const {
  return shelves_->photos.bytes() + shelves_->straight.bytes() + shelves_->made.bytes() +
         shelves_->plates.bytes() + shelves_->panoramas.bytes() + shelves_->domes.bytes() +
         shelves_->models.bytes() + shelves_->textures.bytes();
}

void AssetStore::trim() {
  const auto oldest = [](auto& first, auto&... rest) {
    std::optional<unsigned long> use = first.oldestUse();
    std::function<void()> drop = [&first] { first.dropOldest(); };
    const auto look = [&](auto& cache) {
      const auto at = cache.oldestUse();
      if (at && (!use || *at < *use)) use = at, drop = [&cache] { cache.dropOldest(); };
    };
    (look(rest), ...);
    return std::pair(use.has_value(), drop);
  };
  while (bytes() > budget_) {
    const auto [any, drop] =
        oldest(shelves_->photos, shelves_->straight, shelves_->made, shelves_->plates, shelves_->panoramas,
               shelves_->domes, shelves_->models, shelves_->textures);
    if (!any) return;
    drop();
  }
}

}  // namespace dusk
