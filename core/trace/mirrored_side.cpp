#include "core/trace/mirrored_side.h"

#include <map>
#include <opencv2/imgproc.hpp>

#include "core/base/median.h"
#include "core/trace/sampler.h"
#include "core/trace/shading.h"

namespace dusk {
namespace {

constexpr int coarseWidth = 40, fineWidth = 960, lobeSamples = 16;
// How far off a panorama's light may be for things near at hand, over the mean of what is mirrored.
constexpr float nearThings = 0.6f;
// No surface sends back more of its light by itself, lights that are not known of included.
constexpr float palestOwn = 1.2f;

/// What a ray through a pixel meets of the place, if that mirrors.
struct GlossySpot {
  PlaceHit hit;
  Vec3f point, from;
};
std::optional<GlossySpot> glossySpot(const Scene& scene, const Camera& camera, const Vec2d& pixel) {
  const Vec3f from = toFloat(rayThrough(camera, pixel)), eye = toFloat(camera.position);
  const PlaceHit hit = scene.place.closest({eye, from}, 1e30f, PlaceRay::film);
  if (!hit.found() || !hit.catches || hit.gloss.strength <= 0) return {};
  return GlossySpot{hit, eye + from * hit.distance, from};
}

/// What it would mirror there, and the share of light that it mirrors at all.
struct Expected {
  Rgb light{0}, share{0};
};
Expected expectedAt(const Scene& scene, const GlossySpot& spot, int x, int y) {
  const Lights& lights = *scene.lights;
  const Vec3f& n = spot.hit.normal;
  const Triadf frame = triadAround(n);
  const Bsdf bsdf(glossParameters(spot.hit.gloss), frame.toLocal(-spot.from));
  const Vec3f start = offset(spot.point, n, n);
  const Integrator integrator(scene);
  Expected sum;
  for (int i = 0; i < lobeSamples; ++i) {
    Sampler sampler(5, x, y, uint32_t(i), Sampler::bitsFor(lobeSamples));
    const Vec2f u = sampler.next2(), v = sampler.next2();
    const LightSample light = lights.sample(spot.point, n, u, sampler.next1());
    if (light.pdf > 0 && light.direction.dot(n) > 0 &&
        !scene.place.blocks({start, light.direction}, light.distance)) {
      const Vec3f wi = frame.toLocal(light.direction);
      const Rgb value = bsdf.value(wi).specular * (balance(light.pdf, bsdf.pdf(wi)) / light.pdf);
      for (const Glow& glow : light.light)
        if (glow.onSpecular && !lights.isGlow(glow.group)) sum.light += value * glow.radiance;
    }
    const Bsdf::Sample next = bsdf.sample(v, 0.0f);
    if (next.pdf <= 0 || next.wi.z <= 0) continue;
    const Ray onwards{start, frame.toWorld(next.wi)};
    sum.share += next.weight.specular;
    if (const PlaceHit other = scene.place.closest(onwards, lights.lampDistance(start, onwards.direction));
        other.found()) {
      sum.light += next.weight.specular * integrator.placeRadiance(onwards, other);
    } else {
      const Lights::Seen beyond = lights.seen(start, onwards.direction, n);
      const Rgb weight = next.weight.specular * balance(next.pdf, beyond.pdf);
      for (const Glow& glow : beyond.light)
        if (glow.onSpecular) sum.light += weight * glow.radiance;
    }
  }
  const float each = spot.hit.gloss.strength / lobeSamples;
  return {sum.light * each, sum.share * each};
}

/// The photo without its grain and without what is brighter than all about it by less than a few pixels'
/// width.
Picture opened(const Picture& photo) {
  Picture out = photo;
  cv::Mat pixels(photo.height, photo.width, CV_32FC3, out.pixels.data());
  const int wide = std::max(1, photo.width / 240);
  cv::GaussianBlur(pixels, pixels, {0, 0}, 1);
  cv::morphologyEx(pixels, pixels, cv::MORPH_OPEN,
                   cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * wide + 1, 2 * wide + 1}));
  return out;
}

/// What is known of one glossy surface: the light that is its own, over the irradiance there.
struct GlossySurface {
  struct Seen {
    float share, pattern,
        mirrored;  ///< of light that it mirrors; bright pattern; what it mirrors, over its share
    Rgb own, shown;
  };
  std::vector<Seen> seen;   ///< at its coarse spots
  Rgb usual{0}, spread{0};  ///< of its own light, and how far off that may be
  float nearby = 0;         ///< mean of what it would mirror, over its share
  void conclude();
};
void GlossySurface::conclude() {
  const auto median = [&](const auto& of) {
    std::vector<float> values;
    for (const Seen& each : seen) values.push_back(of(each));
    return medianInPlace(values);
  };
  nearby = median([](const Seen& s) { return s.mirrored; });
  const float bright = median([](const Seen& s) { return s.pattern; });
  // What is its own shows best where it mirrors least.
  std::sort(seen.begin(), seen.end(), [](const Seen& a, const Seen& b) { return a.share < b.share; });
  seen.resize((seen.size() + 1) / 2);
  for (int c = 0; c < 3; ++c) {
    std::vector<float> shown;
    for (const Seen& each : seen) shown.push_back(each.shown[c]);
    std::sort(shown.begin(), shown.end());
    // Where it mirrors nearly nothing, all that shows is its own.
    usual[c] = std::min(median([c](const Seen& s) { return s.own[c]; }), shown[shown.size() / 4]);
    spread[c] = (0.04f + bright) * usual[c] + 0.01f * shown[shown.size() / 2];
  }
}

using SurfaceKey = std::tuple<bool, float, float, float, int, int, int>;
SurfaceKey keyOf(const PlaceHit& hit) {
  const auto rounded = [](float v) { return int(std::lround(v * 100)); };
  return {hit.ground,           hit.gloss.strength,    hit.gloss.roughness,
          hit.gloss.ior,        rounded(hit.normal.x), rounded(hit.normal.y),
          rounded(hit.normal.z)};
}

/// Everything at coarse spots, in rows.
struct Coarse {
  int width, height;
  std::vector<std::optional<GlossySpot>> spots;
  Picture expected, share, irradiance;
};
Coarse coarseOf(const Scene& scene, const Camera& camera) {
  const int width = coarseWidth, height = std::max(1, coarseWidth * camera.height / camera.width);
  const Picture none = Picture::rgb(width, height);
  Coarse out{width, height, {}, none, none, none};
  out.spots.resize(size_t(width) * height);
  tbb::parallel_for(0, height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      const size_t i = size_t(y) * width + x;
      out.spots[i] =
          glossySpot(scene, camera, {(x + 0.5) * camera.width / width, (y + 0.5) * camera.height / height});
      if (!out.spots[i]) continue;
      const Expected e = expectedAt(scene, *out.spots[i], x, y);
      const Rgb light = scene.lights->irradiance(out.spots[i]->point, out.spots[i]->hit.normal);
      for (const auto& [to, value] :
           {std::pair{&out.expected, e.light}, {&out.share, e.share}, {&out.irradiance, light}})
        std::copy_n(&value.x, 3, to->at(x, y));
    }
  });
  return out;
}

/// What lies beside a glossy spot is as that is, so that lookups between them are right to the border.
void spread(const std::vector<std::optional<GlossySpot>>& spots, Picture& picture) {
  std::vector<bool> known(spots.size());
  for (size_t i = 0; i < spots.size(); ++i) known[i] = spots[i].has_value();
  for (int round = 0; round < 2; ++round) {
    const std::vector<bool> before = known;
    const Picture was = picture;
    for (int y = 0; y < picture.height; ++y)
      for (int x = 0; x < picture.width; ++x) {
        if (before[size_t(y) * picture.width + x]) continue;
        Rgb sum(0);
        int count = 0;
        for (const auto& [dx, dy] : {std::pair{-1, 0}, {1, 0}, {0, -1}, {0, 1}}) {
          const int sx = x + dx, sy = y + dy;
          if (sx < 0 || sy < 0 || sx >= picture.width || sy >= picture.height ||
              !before[size_t(sy) * picture.width + sx])
            continue;
          sum += was.rgbAt(sx, sy), ++count;
        }
        if (!count) continue;
        sum /= float(count);
        std::copy_n(&sum.x, 3, picture.at(x, y)), known[size_t(y) * picture.width + x] = true;
      }
  }
}

std::map<SurfaceKey, GlossySurface> surfacesOf(const Coarse& coarse, const Picture& shown,
                                               const Picture& common) {
  std::map<SurfaceKey, GlossySurface> all;
  const Picture means = resized(shown, coarse.width, coarse.height),
                floors = resized(common, coarse.width, coarse.height);
  for (size_t i = 0; i < coarse.spots.size(); ++i) {
    if (!coarse.spots[i]) continue;
    GlossySurface& surface = all[keyOf(coarse.spots[i]->hit)];
    const float *mean = &means.pixels[i * 3], *floor = &floors.pixels[i * 3],
                *expected = &coarse.expected.pixels[i * 3], *share = &coarse.share.pixels[i * 3];
    GlossySurface::Seen seen{share[1], std::max(0.0f, mean[1] - floor[1]) / std::max(1e-6f, mean[1]),
                             expected[1] / std::max(1e-6f, share[1]), Rgb(0), Rgb(0)};
    for (int c = 0; c < 3; ++c) {
      const float light = std::max(1e-6f, coarse.irradiance.pixels[i * 3 + size_t(c)]);
      seen.own[c] = std::max(0.0f, floor[c] - expected[c]) / light, seen.shown[c] = floor[c] / light;
    }
    surface.seen.push_back(seen);
  }
  for (auto& [key, surface] : all) surface.conclude();
  return all;
}

/// What is known of a spot before its photo is looked at, of one channel: what it would mirror, how bright
/// that is on average, what is usually its own and how far off that may be, and the most that could be.
struct Beliefs {
  float expected, usualMirrored, own, spread, mostOwn;
};
/// What it mirrors, of what is `common` to its pattern.
float mirroredOf(float common, const Beliefs& b) {
  const float left = common - b.expected;
  // Darker than usual is what shadows are.
  if (left >= 0 && left <= b.own) return b.expected;
  const float trusted = nearThings * b.usualMirrored, mine = trusted * trusted, theirs = b.spread * b.spread;
  const float pull = (left - b.own) * mine / std::max(1e-20f, mine + theirs);
  // A paler spot is a paler surface, unless the surface is nearly all mirror.
  const float dark = std::clamp(1 - b.own / std::max(1e-9f, b.usualMirrored), 0.0f, 1.0f),
              most = trusted * (2 + 8 * dark);
  return std::clamp(b.expected + std::clamp(pull, -most, most), std::max(0.0f, common - b.mostOwn), common);
}

}  // namespace

std::optional<MirroredSpot> MirroredSide::at(const Vec3f& point) const {
  const auto pixel = projected(camera_, toDouble(point));
  if (!pixel) return {};
  const float x = float(pixel->x) / camera_.width, y = float(pixel->y) / camera_.height;
  const int px = int(x * mirrored_.width), py = int(y * mirrored_.height);
  if (!(x >= 0 && y >= 0) || px >= mirrored_.width || py >= mirrored_.height ||
      !glossy_[size_t(py) * mirrored_.width + px])
    return {};
  const auto looked = [&](const Picture& p) { return sampleBilinear(p, x * p.width, y * p.height); };
  return MirroredSpot{looked(mirrored_), looked(matteShare_), looked(expected_), looked(share_)};
}

std::shared_ptr<const MirroredSide> findMirroredSide(const Scene& scene) {
  const Camera& whole = scene.plateCamera;
  if (!scene.plate || whole.width <= 0) return nullptr;
  Coarse coarse = coarseOf(scene, whole);
  if (std::none_of(coarse.spots.begin(), coarse.spots.end(), [](const auto& s) { return s.has_value(); }))
    return nullptr;
  const int width = std::min(fineWidth, scene.plate->width),
            height = std::max(1, width * scene.plate->height / scene.plate->width);
  const Picture shown = resized(*scene.plate, width, height), common = opened(shown);
  const auto surfaces = surfacesOf(coarse, shown, common);
  for (Picture* each : {&coarse.expected, &coarse.share, &coarse.irradiance}) spread(coarse.spots, *each);

  auto side = std::make_shared<MirroredSide>();
  side->camera_ = whole;
  side->mirrored_ = Picture::rgb(width, height), side->matteShare_ = Picture::rgb(width, height);
  std::vector<char> glossy(size_t(width) * height);
  // Known alike for four pixels at a time.
  tbb::parallel_for(0, (height + 1) / 2, [&](int half) {
    auto known = surfaces.end();
    for (int left = 0; left < width; left += 2) {
      const double u = (left + 1.0) / width, v = (2 * half + 1.0) / height;
      const auto spot = glossySpot(scene, whole, {u * whole.width, v * whole.height});
      if (!spot) continue;
      // Mostly the same as its neighbour's.
      if (const SurfaceKey key = keyOf(spot->hit); known == surfaces.end() || known->first != key)
        known = surfaces.find(key);
      if (known == surfaces.end()) continue;
      const GlossySurface& surface = known->second;
      const auto looked = [&](const Picture& p) {
        return sampleBilinear(p, float(u) * p.width, float(v) * p.height);
      };
      const Rgb expected = looked(coarse.expected), share = looked(coarse.share),
                light = looked(coarse.irradiance);
      for (int y = 2 * half; y < std::min(2 * half + 2, height); ++y)
        for (int x = left; x < std::min(left + 2, width); ++x) {
          for (int c = 0; c < 3; ++c) {
            const float all = std::max(0.0f, shown.at(x, y)[c]),
                        of = std::clamp(common.at(x, y)[c], 0.0f, all);
            const float mirrored =
                mirroredOf(of, {expected[c], surface.nearby * share[c], surface.usual[c] * light[c],
                                surface.spread[c] * light[c], palestOwn / pif * light[c]});
            side->mirrored_.at(x, y)[c] = mirrored;
            side->matteShare_.at(x, y)[c] = all > 0 ? (all - mirrored) / all : 1;
          }
          glossy[size_t(y) * width + x] = 1;
        }
    }
  });
  side->glossy_.assign(glossy.begin(), glossy.end());
  side->expected_ = std::move(coarse.expected), side->share_ = std::move(coarse.share);
  return side;
}

}  // namespace dusk
