#pragma once
#include <optional>

#include "core/assets/asset_store.h"
#include "core/light/lights.h"

/// The product's tone brought to the photo's.
namespace dusk {

/// By how much to multiply: 2^ev times white, which leaves luminance alone for a grey.
struct Balance {
  double ev = 0;
  Vec3d white{1, 1, 1};
};

/// Mean of a round patch of a scene-linear picture, pixels; nothing where it is all outside.
std::optional<Rgb> patchMean(const Picture& linear, const Vec2d& centre, double radius);
/// The same of a plate, which may be smaller than the photo in whose pixels the place is told.
std::optional<Rgb> patchOfPlate(const Picture& plate, const Camera& camera, const Vec2d& centre,
                                double radius);

/// What brings `now` to `wanted`, both scene-linear; nothing where a channel has no light.
std::optional<Balance> balanceBetween(const Rgb& now, const Rgb& wanted);

/// Photo and panorama of a shot, to be compared: scene light of both, by the camera that took the one.
struct PhotoAndPanorama {
  std::shared_ptr<const Picture> plate;
  Camera camera;
  std::shared_ptr<const Lights> panorama;  ///< as it stands, without any lamp
};
/// Nothing without photo, camera or panorama.
std::optional<PhotoAndPanorama> photoAndPanorama(Shot shot, AssetStore& assets);

/// What the panorama's light has to be multiplied by so that it shows the ground about the products as bright
/// and as coloured as the photo does: medians over what both show. Nothing without photo, camera or panorama.
std::optional<Balance> suggestedBalance(const Shot& shot, AssetStore& assets);

}  // namespace dusk
