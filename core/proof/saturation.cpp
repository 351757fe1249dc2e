#include "core/proof/saturation.h"

#include <array>
#include <cmath>

#include "core/base/jackknife.h"
#include "core/base/median.h"
#include "core/proof/balance.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

constexpr int blocksAcross = 96, sectors = 12;
/// What no sector tells of: both were looked at through other lenses, and as fine as that. In places where
/// the truth is known, answers are off by so much.
constexpr double systematic = 0.03;

/// The same thing in the photo and in the panorama.
struct Pair {
  Rgb photo, place;
  int sector;  ///< of the picture, for what is left out in turn
};

/// Mean of the panorama's light along some looks through a block of the photo.
Rgb placeSeen(const Lights& lights, const Camera& camera, const Vec2d& from, double size) {
  Rgb sum(0);
  constexpr int looks = 3;
  for (int k = 0; k < looks * looks; ++k) {
    const Vec2d pixel = from + Vec2d((k % looks + 0.5) / looks, (k / looks + 0.5) / looks) * size;
    const Vec3d way = rayThrough(camera, pixel);
    const double reach = way.z < -1e-3 ? -camera.position.z / way.z : 1e9;
    const Vec3f direction = toFloat(way);
    // The ground near by is seen from where the panorama was taken; what is farther, as if far away.
    sum +=
        reach < 15 ? lights.floor(toFloat(camera.position + way * reach), direction) : lights.sky(direction);
  }
  return sum / float(looks * looks);
}

std::vector<Pair> pairsOf(const Picture& plate, const Camera& camera, const Lights& lights,
                          const Rgb& black) {
  std::vector<Pair> pairs;
  const int block = std::max(2, plate.width / blocksAcross);
  const double scale = double(camera.width) / plate.width;
  for (int y = 0; y + block <= plate.height; y += block)
    for (int x = 0; x + block <= plate.width; x += block) {
      Rgb sum(0);
      bool usable = true;
      for (int v = 0; v < block; ++v)
        for (int u = 0; u < block; ++u) {
          const Rgb p = plate.rgbAt(x + u, y + v);
          for (int c = 0; c < 3; ++c) usable = usable && p[c] > 0.002f && p[c] < 0.93f;
          sum += p;
        }
      if (!usable) continue;
      const Rgb place = placeSeen(lights, camera, Vec2d(x, y) * scale, block * scale);
      if (place.x <= 0 || place.y <= 0 || place.z <= 0) continue;
      const int column = 4 * x / plate.width, row = 3 * y / plate.height;
      const Rgb photo = sum / float(block * block) - black;
      if (photo.x > 0.001f && photo.y > 0.001f && photo.z > 0.001f)
        pairs.push_back({photo, place, row * 4 + column});
    }
  return pairs;
}

/// Those that agree in brightness once gain and white are the same; brings the place's light to them.
std::vector<Pair> agreeing(std::vector<Pair> pairs) {
  for (int pass = 0; pass < 3 && pairs.size() >= 60; ++pass) {
    std::array<std::vector<float>, 3> ratios;
    for (const Pair& p : pairs)
      for (int c = 0; c < 3; ++c) ratios[size_t(c)].push_back(p.photo[c] / p.place[c]);
    Rgb gain;
    for (int c = 0; c < 3; ++c) gain[c] = median(ratios[size_t(c)]);
    std::vector<Pair> kept;
    for (Pair p : pairs) {
      p.place *= gain;
      if (std::abs(std::log2(luminance(p.photo) / luminance(p.place))) < 0.8 / (pass + 1)) kept.push_back(p);
    }
    pairs = std::move(kept);
  }
  return pairs;
}

/// The line's slope, without one sector (-1: all); nothing where there is too little colour to tell.
std::optional<double> slopeOf(const std::vector<Pair>& pairs, int without) {
  // Red and blue over a grey as bright, each about its own middle: that is white's affair.
  std::array<std::vector<Vec2d>, 2> points;
  for (const Pair& p : pairs) {
    if (p.sector == without) continue;
    const float yPhoto = luminance(p.photo), yPlace = luminance(p.place);
    for (const int k : {0, 1})
      points[size_t(k)].emplace_back(p.place[2 * k] / yPlace - 1, p.photo[2 * k] / yPhoto - 1);
  }
  if (points[0].size() < 60) return {};
  double slope = 1, spread = 0.1;
  std::array<Vec2d, 2> middle{Vec2d(0), Vec2d(0)};
  for (int pass = 0; pass < 16; ++pass) {
    double xx = 0, xy = 0, yy = 0, all = 0;
    std::vector<double> off;
    for (const size_t k : {0, 1}) {
      Vec2d sum(0);
      double n = 0, xxHere = 0, xyHere = 0, yyHere = 0;
      for (const Vec2d& p : points[k]) {
        const Vec2d d = p - middle[k];
        const double error = pass == 0 ? 0 : std::abs(d.y - slope * d.x) / std::hypot(1, slope);
        const double w = 1 / (1 + error * error / (spread * spread));
        n += w, sum += p * w, xxHere += w * p.x * p.x, xyHere += w * p.x * p.y, yyHere += w * p.y * p.y;
        off.push_back(error);
      }
      middle[k] = sum / n;
      xx += xxHere - n * middle[k].x * middle[k].x, xy += xyHere - n * middle[k].x * middle[k].y;
      yy += yyHere - n * middle[k].y * middle[k].y, all += n;
    }
    if (xy <= 0) return {};
    slope = (yy - xx + std::sqrt((yy - xx) * (yy - xx) + 4 * xy * xy)) / (2 * xy);
    if (pass > 0) spread = std::max(0.01, 1.4826 * median(off));
    if (pass == 15 && (xx < 0.04 * 0.04 * all || xy < 0.8 * std::sqrt(xx * yy))) return {};
  }
  return slope;
}

}  // namespace

std::optional<SaturationFound> measureSaturation(const Shot& shot, AssetStore& assets, const Vec3d& black) {
  // As the panorama has it: what was done to its colours by hand says nothing of the photo's.
  Shot bare = shot;
  bare.surroundings.saturation = 1;
  const auto place = photoAndPanorama(bare, assets);
  if (!place) return {};
  const std::vector<Pair> pairs =
      agreeing(pairsOf(*place->plate, place->camera, *place->panorama, toFloat(black)));
  const auto whole = slopeOf(pairs, -1);
  if (!whole) return {};
  bool everywhere = true;
  const double own = jackknifeSigma(sectors, [&](int without) {
    const auto answer = slopeOf(pairs, without);
    everywhere = everywhere && answer;
    return answer.value_or(*whole);
  });
  if (!everywhere) return {};  // what one sector alone says has no margin
  return SaturationFound{*whole, std::hypot(systematic, own)};
}

}  // namespace dusk
