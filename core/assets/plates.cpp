#include <sstream>

#include "core/assets/asset_store.h"
#include "core/base/hash.h"
#include "core/light/backdrop.h"
#include "core/picture/read.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

/// What a shot is made with: its photo as it was taken, cleaned, straightened, or what stands in its place.
namespace dusk {
namespace {

/// The photo in scene-linear light, no larger than a plate may be.
std::shared_ptr<const Picture> plateOf(const Photo& photo, const ColourView& view) {
  int w = photo.picture.width, h = photo.picture.height, by = 1;
  while ((long long)(w / by) * (h / by) > AssetStore::mostPlatePixels) by *= 2;
  if (by == 1) return std::make_shared<Picture>(sceneLinear(photo, view));
  w /= by, h /= by;
  return std::make_shared<Picture>(sceneLinearArea(photo, view, w, h, {0, 0, w, h}));
}

bool isCleaned(const Shot& shot) {
  return std::any_of(shot.cleanUps.begin(), shot.cleanUps.end(), [](const CleanUp& c) { return c.on; });
}

/// A text that says what the shot's clean-ups come to.
std::string cleanUpsOf(const Shot& shot) {
  std::string all;
  for (const CleanUp& c : shot.cleanUps)
    if (c.on) all += "||" + keyOf(c);
  return all;
}

}  // namespace

Result<std::shared_ptr<const Photo>> AssetStore::photo(const AssetRef& ref) {
  return kept(shelves_->photos, keyOf(ref), [&] {
    checkHash(ref);
    return shared(readPhoto(pathOf(ref)));
  });
}

Result<std::shared_ptr<const Picture>> AssetStore::plate(const AssetRef& ref, const BlendSettings& blend) {
  return kept(shelves_->plates, keyOf(ref) + "|" + keyOfView(blend),
              [&]() -> Result<std::shared_ptr<const Picture>> {
                const auto from = photo(ref);
                if (!from) return from.error();
                const auto how = view(blend);
                if (!how) return how.error();
                return plateOf(**from, **how);
              });
}

Result<std::shared_ptr<const FilledSpot>> AssetStore::spot(const CleanUp& of, const std::string& key,
                                                           const PackedPicture& before, Progress& progress) {
  const std::string name = hashBytes(key.data(), key.size());
  return kept(shelves_->spots, name, [&]() -> Result<std::shared_ptr<const FilledSpot>> {
    if (auto had = keptSpot(name)) return shared(Result<FilledSpot>(std::move(*had)));
    auto made = fillSpot(before, of, progress);
    if (made) keepSpot(name, *made);
    return shared(std::move(made));
  });
}

Result<std::shared_ptr<const Photo>> AssetStore::cleaned(const Shot& shot, Progress* progress) {
  const auto taken = photo(shot.plate);
  if (!taken || !isCleaned(shot)) return taken;
  const std::string whole = keyOf(shot.plate) + cleanUpsOf(shot);
  shelves_->cleaned.keepOnly(whole);
  return kept(shelves_->cleaned, whole, [&]() -> Result<std::shared_ptr<const Photo>> {
    auto clean = std::make_shared<Photo>(**taken);
    // A file is known by what is in it, wherever it lies.
    std::string key = shot.plate.hash.empty() ? keyOf(shot.plate) : shot.plate.hash;
    Progress own;
    for (const CleanUp& c : shot.cleanUps) {
      if (!c.on) continue;
      // Each is filled from what those before it left: its name tells of them, too.
      key += "||" + dusk::keyOf(c);
      const auto filled = spot(c, key, clean->picture, progress ? *progress : own);
      if (!filled) return filled.error();
      putIn(clean->picture, **filled);
    }
    return std::shared_ptr<const Photo>(std::move(clean));
  });
}

Result<std::shared_ptr<const Photo>> AssetStore::photo(const Shot& shot, Progress* progress) {
  if (shot.backdrop.kind != BackdropKind::photo) return made(shot);
  const auto bent = cleaned(shot, progress);
  if (!bent || workingCamera(shot.vantage) == shot.vantage.camera) return bent;
  const Camera& c = shot.vantage.camera;
  std::ostringstream key;
  key.precision(17);
  key << keyOf(shot.plate) << '|' << c.focalPx << '|' << c.cx << '|' << c.cy << '|' << c.k1 << '|' << c.k2
      << cleanUpsOf(shot);
  shelves_->straight.keepOnly(key.str());
  return kept(shelves_->straight, key.str(), [&]() -> Result<std::shared_ptr<const Photo>> {
    auto straight = std::make_shared<Photo>(**bent);
    straight->blocks.reset();
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
  if (hasFloor(b))
    key << '|' << b.floorRadiusM << '|' << b.floorSoftness << '|' << b.floorXM << '|' << b.floorYM
        << b.floorColour;
  if (all || hasFloor(b)) {
    for (const Vec3d& v : {c.position, c.axes.x, c.axes.y}) key << '|' << v.x << ',' << v.y << ',' << v.z;
    key << '|' << c.focalPx << '|' << c.cx << '|' << c.cy;
  }
  if (all) {
    const Surroundings& s = shot.surroundings;
    for (const Vec3d& v : {s.white, s.captureM.value_or(Vec3d(0, 0, -1))})
      key << '|' << v.x << ',' << v.y << ',' << v.z;
    key << '|' << keyOf(s.panorama);
    for (const double v : {s.turnDegrees, s.tiltDegrees, s.rollDegrees, s.gainEv, s.contrast, s.saturation,
                           s.lostRangeEv, s.domeRadiusM})
      key << '|' << v;
    key << s.mirrored;
  }
  shelves_->made.keepOnly(key.str());
  return kept(shelves_->made, key.str(), [&]() -> Result<std::shared_ptr<const Photo>> {
    auto photo = made(shot, c, {0, 0, c.width, c.height});
    if (!photo) return photo.error();
    return std::shared_ptr<const Photo>(std::make_shared<Photo>(std::move(*photo)));
  });
}

Result<Photo> AssetStore::made(const Shot& shot, const Camera& camera, const PixelArea& area) {
  if (isEven(shot.backdrop)) return backdropPhoto(shot.backdrop, camera, {{}, {}, {}, {}}, area);
  Surroundings whole = shot.surroundings;
  whole.sunApart = false;  // the picture shows the sun where it is
  const auto light = dome(whole);
  if (!light) return light.error();
  return backdropPhoto(shot.backdrop, camera, Lights(light->panorama, whole, {}, Rgb(0)), area);
}

Result<std::shared_ptr<const Picture>> AssetStore::plate(const Shot& shot, Progress* progress) {
  if (shot.backdrop.kind == BackdropKind::photo && !isCleaned(shot) &&
      workingCamera(shot.vantage) == shot.vantage.camera)
    return plate(shot.plate, shot.blend);
  return plateFrom(shot, progress);
}

Result<std::shared_ptr<const Picture>> AssetStore::plateFrom(const Shot& shot, Progress* progress) {
  const auto from = photo(shot, progress);
  if (!from) return from.error();
  const auto how = view(shot.blend);
  if (!how) return how.error();
  const std::string key = "made|" + keyOfView(shot.blend);
  {
    const std::lock_guard lock(shelves_->mutex);
    if (shelves_->plateFrom != *from) shelves_->plates.drop(key), shelves_->plateFrom = *from;
  }
  return kept(shelves_->plates, key,
              [&]() -> Result<std::shared_ptr<const Picture>> { return plateOf(**from, **how); });
}

Result<std::shared_ptr<const CutOutPicture>> AssetStore::cutOut(const Shot& shot, const CutOut& what) {
  const auto from = photo(shot);
  if (!from) return from.error();
  std::ostringstream key;
  key << from->get() << '|' << keyOfView(shot.blend) << '|' << dusk::keyOf(what);
  return kept(shelves_->cutOuts, key.str(), [&]() -> Result<std::shared_ptr<const CutOutPicture>> {
    const auto light = plate(shot);
    if (!light) return light.error();
    auto made = dusk::cutOut(what, **light, double((*light)->width) / (*from)->picture.width);
    if (!made) return made.error();
    (*made)->from = *from;
    return std::shared_ptr<const CutOutPicture>(std::move(*made));
  });
}

Result<Picture> AssetStore::plateArea(const Shot& shot, int width, int height, const PixelArea& area) {
  if (shot.backdrop.kind != BackdropKind::photo && !PixelArea{0, 0, width, height}.contains(area)) {
    const auto how = view(shot.blend);
    if (!how) return how.error();
    const auto beyond = made(shot, resized(shot.vantage.camera, width, height), area);
    return beyond ? Result(sceneLinear(*beyond, **how)) : beyond.error();
  }
  const auto from = photo(shot);
  if (!from) return from.error();
  const auto light = plate(shot);
  if (!light) return light.error();
  const Picture& at = **light;
  // A reduced plate is quicker to shrink than the photo, and then as good.
  if (at.width == (*from)->picture.width || (2 * width <= at.width && 2 * height <= at.height))
    return area == PixelArea{0, 0, width, height} ? resized(at, width, height)
                                                  : resizedArea(at, width, height, area);
  const auto how = view(shot.blend);
  if (!how) return how.error();
  return sceneLinearArea(**from, **how, width, height, area);
}

}  // namespace dusk
