#include "core/assets/asset_store.h"

#include <functional>
#include <sstream>

#include "core/base/hash.h"
#include "core/light/reshape.h"
#include "core/light/sun.h"
#include "core/picture/read.h"
#include "core/product/formats.h"
#include "core/product/import.h"
#include "core/product/set/piece_kinds.h"
#include "core/product/side_files.h"
#include "core/surface/drawn.h"

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

size_t bytesOf(const Picture& p) { return p.pixels.size() * sizeof p.pixels[0]; }
size_t bytesOf(const Photo& p) { return p.picture.bytes(); }
size_t bytesOf(const FilledSpot& s) { return s.filled.size() + s.rgb.size() * sizeof(float); }
size_t bytesOf(const Panorama& p) {  // with what it is sampled by
  return bytesOf(p.picture()) + std::min<size_t>(bytesOf(p.picture()), size_t{100} << 20);
}
size_t bytesOf(const Texture&) { return 1024; }  // its tiles have a budget of their own
size_t bytesOf(const Model& m) {
  size_t sum = sizeof m;
  for (const Mesh& mesh : m.meshes)
    sum += (mesh.positions.size() + mesh.normals.size() + mesh.colours.size()) * sizeof(Vec3f) +
           mesh.uvs.size() * sizeof(Vec2f) + mesh.indices.size() * sizeof(uint32_t);
  for (const FileTexture& t : m.textures) sum += t.rgba.size();
  return sum + m.parts.size() * (sizeof(Part) + 96);
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

namespace {

/// As the product asks, and as finely; 0: as finely as usual.
Result<std::shared_ptr<const Model>> imported(const Product& product, const fs::path& file, double chordM,
                                              Progress& progress) {
  ReadOptions how;
  how.creaseDegrees = product.creaseDegrees;
  if (chordM > 0) how.chordM = chordM;
  return shared(importModel(file, progress, how));
}

}  // namespace

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
    auto loaded = imported(product, pathOf(product.model), product.chordMm.value_or(0) / 1000, progress);
    if (loaded) ++shelves_->modelChanges;
    return loaded;
  });
}

Result<std::shared_ptr<const Model>> AssetStore::finer(const Product& product, double chordM,
                                                       Progress& progress) {
  auto now = model(product, progress);
  if (!now || (*now)->chordM <= chordM * (1 + 1e-9) || chordM <= 0) return now;
  auto better = imported(product, pathOf(product.model), chordM, progress);
  if (!better) return better;
  shelves_->models.put(keyOf(product), *better);
  ++shelves_->modelChanges;
  return better;
}

Result<std::shared_ptr<const Model>> AssetStore::lookAgain(const Product& product, Progress& progress) {
  auto now = model(product, progress);
  if (!now || !product.piece.kind.empty() || SideFiles::areAsBefore((*now)->sideFiles, pathOf(product.model)))
    return now;
  auto anew = imported(product, pathOf(product.model), (*now)->chordM, progress);
  if (!anew) return anew;
  shelves_->models.put(keyOf(product), *anew);
  ++shelves_->modelChanges;
  return anew;
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

std::string AssetStore::keyOfView(const BlendSettings& blend) const {
  const ViewConfig& c = blend.config;
  if (c.file.empty()) return blend.view;
  return keyOf(c.file) + '|' + c.display + '|' + blend.view + '|' + c.look + '|' + c.linear;
}

Result<std::shared_ptr<const ColourConfig>> AssetStore::config(const AssetRef& ref) {
  return kept(shelves_->configs, keyOf(ref), [&] {
    checkHash(ref);
    return ColourConfig::read(pathOf(ref));
  });
}
std::shared_ptr<const ColourConfig> AssetStore::loadedConfig(const AssetRef& ref) const {
  return shelves_->configs.find(keyOf(ref));
}

Result<std::shared_ptr<const ColourView>> AssetStore::view(const BlendSettings& blend) {
  return kept(shelves_->views, keyOfView(blend), [&]() -> Result<std::shared_ptr<const ColourView>> {
    const ViewConfig& c = blend.config;
    if (c.file.empty()) return ColourView::make(blend.view);
    const auto own = config(c.file);
    if (!own) return own.error();
    return (*own)->view({c.display, blend.view, c.look, c.linear});
  });
}

Result<std::shared_ptr<const ColourTable>> AssetStore::table(const AssetRef& ref) {
  return kept(shelves_->tables, keyOf(ref), [&] {
    checkHash(ref);
    return readColourTable(pathOf(ref));
  });
}

size_t AssetStore::bytes() const {
  return shelves_->photos.bytes() + shelves_->cleaned.bytes() + shelves_->spots.bytes() +
         shelves_->straight.bytes() + shelves_->made.bytes() + shelves_->plates.bytes() +
         shelves_->cutOuts.bytes() + shelves_->panoramas.bytes() + shelves_->domes.bytes() +
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
    const auto [any, drop] = oldest(shelves_->photos, shelves_->cleaned, shelves_->spots, shelves_->straight,
                                    shelves_->made, shelves_->plates, shelves_->cutOuts, shelves_->panoramas,
                                    shelves_->domes, shelves_->models, shelves_->textures);
    if (!any) return;
    drop();
  }
}

}  // namespace dusk
