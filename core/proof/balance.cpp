#include "core/proof/balance.h"

#include "core/base/median.h"
#include "core/trace/compile.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {

std::optional<Rgb> patchMean(const Picture& linear, const Vec2d& centre, double radius) {
  Rgb sum(0);
  int count = 0;
  const double r = std::max(radius, 0.5);
  for (int y = std::max(0, int(centre.y - r)); y < std::min(linear.height, int(centre.y + r) + 1); ++y)
    for (int x = std::max(0, int(centre.x - r)); x < std::min(linear.width, int(centre.x + r) + 1); ++x)
      if (std::hypot(x + 0.5 - centre.x, y + 0.5 - centre.y) <= std::max(r, 0.71))
        sum += linear.rgbAt(x, y), ++count;
  if (!count) return {};
  return sum / float(count);
}

std::optional<Rgb> patchOfPlate(const Picture& plate, const Camera& camera, const Vec2d& centre,
                                double radius) {
  const double s = camera.width > 0 ? double(plate.width) / camera.width : 1;
  return patchMean(plate, centre * s, radius * s);
}

std::optional<Balance> balanceBetween(const Rgb& now, const Rgb& wanted) {
  for (int c = 0; c < 3; ++c)
    if (now[c] <= 1e-6f || wanted[c] <= 1e-6f) return {};
  const double gain = double(luminance(wanted)) / double(luminance(now));
  Balance b;
  b.ev = std::log2(gain);
  for (int c = 0; c < 3; ++c) b.white[c] = double(wanted[c]) / double(now[c]) / gain;
  return b;
}

std::optional<PhotoAndPanorama> photoAndPanorama(Shot shot, AssetStore& assets) {
  if (!shot.vantage.solved || shot.surroundings.panorama.empty() || !hasPlate(shot)) return {};
  const auto plate = assets.plate(shot);
  if (!plate) return {};
  shot.lamps.clear();
  return PhotoAndPanorama{*plate, workingCamera(shot.vantage), lightsOf(shot, assets)};
}

std::optional<Balance> suggestedBalance(const Shot& shot, AssetStore& assets) {
  const auto place = photoAndPanorama(shot, assets);
  if (!place) return {};
  const auto& [plate, camera, lights] = *place;
  const Vec2d about =
      shot.placements.empty() ? Vec2d(0, 0) : Vec2d(shot.placements[0].xM, shot.placements[0].yM);
  // Two metres each way, less where the camera stood close.
  const double step = 0.1 * std::clamp(camera.position.z / 0.7, 0.01, 1.0);
  std::vector<float> ratios[3];
  for (int i = -20; i <= 20; ++i)
    for (int k = -20; k <= 20; ++k) {
      const Vec3d spot(about.x + i * step, about.y + k * step, 0);
      const auto pixel = projected(camera, spot);
      if (!pixel || pixel->x < 1 || pixel->y < 1 || pixel->x >= camera.width - 1 ||
          pixel->y >= camera.height - 1)
        continue;
      const Rgb photo = plateAt(*plate, camera, *pixel),
                there = lights->floor(toFloat(spot), toFloat((spot - camera.position).normalized()));
      for (int c = 0; c < 3; ++c)
        if (photo[c] > 0.004f && photo[c] < 0.95f && there[c] > 0) ratios[c].push_back(photo[c] / there[c]);
    }
  Rgb gain(0);
  for (int c = 0; c < 3; ++c) {
    if (ratios[c].size() < 30) return {};
    gain[c] = medianInPlace(ratios[c]);
  }
  return balanceBetween(Rgb(1), gain);
}

}  // namespace dusk
