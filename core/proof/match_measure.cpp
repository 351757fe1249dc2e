#include "core/base/median.h"
#include "core/base/srgb.h"
#include "core/light/align.h"
#include "core/project/light_edit.h"
#include "core/proof/match.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// The value that so large a share of all lies below.
double quantile(std::vector<float>& values, double share) {
  const auto at = values.begin() + long(share * double(values.size() - 1));
  std::nth_element(values.begin(), at, values.end());
  return *at;
}

/// Where the first placed product stands, in pixels of a picture of that size.
std::optional<Vec2d> productAt(const Shot& shot, int width, int height) {
  if (!shot.vantage.solved || shot.placements.empty()) return {};
  const Placement& p = shot.placements.front();
  return projected(resized(workingCamera(shot.vantage), width, height),
                   {p.xM, p.yM, planeHeightM(shot, p) + p.liftM});
}

}  // namespace

std::optional<Vec3d> blackOf(const Picture& plate) {
  Vec3d black(0), soonAfter(0);
  const size_t step = std::max<size_t>(1, plate.pixels.size() / 3 / 1'000'000);
  for (int c = 0; c < 3; ++c) {
    std::vector<float> values;
    for (size_t i = 0; i < plate.pixels.size() / 3; i += step)
      values.push_back(plate.pixels[i * 3 + size_t(c)]);
    black[c] = std::max(0.0, quantile(values, 0.0008)), soonAfter[c] = std::max(0.0, quantile(values, 0.01));
  }
  const auto code = [](const Vec3d& light) { return 255 * srgbEncoded(luminance(light)); };
  constexpr double none = 8, dark = 38, floor = 10;
  const double at = code(black);
  if (at > dark || (at > none && code(soonAfter) - at > floor)) return {};
  return black;
}

Result<PhotoCharacter> measurePhoto(const Shot& shot, AssetStore& assets, Progress& progress) {
  const auto photo = assets.photo(shot);
  if (!photo) return photo.error();
  const auto plate = assets.plate(shot);
  if (!plate) return plate.error();
  const auto view = assets.view(shot.blend);
  if (!view) return view.error();
  PhotoCharacter out;
  const PackedPicture& pixels = (*photo)->picture;
  const bool linear = (*photo)->sceneLinear;
  CodeRows rows{pixels.width, pixels.height,
                [&](int y, float* rgb) {
                  pixels.row(y, rgb);
                  if (linear) (*view)->toDisplay(rgb, size_t(pixels.width));
                },
                (*photo)->bitsPerChannel};
  if (const auto& b = (*photo)->blocks) {
    out.blocks = BlockLook{{b->brightness.begin(), b->brightness.end()}, {}, b->colourStep};
    if (b->colour != decltype(b->colour){}) out.blocks->colour.assign(b->colour.begin(), b->colour.end());
  }
  out.grain = measureGrain(rows, progress);
  progress.report(0.5);
  if (progress.cancelled()) return cancelledError();
  const Picture& light = **plate;
  const double scale = double(pixels.width) / light.width;
  // At a grey of 0.2, code value 124, a code is so much light.
  const double noise = out.grain.sigma / 255 * srgbSlope(0.2);
  const std::vector<EdgeFit> edges = cleanEdges(light, noise, progress);
  out.softness = softnessOf(edges, light, productAt(shot, light.width, light.height), 0.3 * light.width);
  if (out.softness && scale != 1) {
    for (double& s : out.softness->sigma) s *= scale;
    out.softness->haloPx *= scale;
  }
  out.fringes = fringesOf(edges, light.width, light.height);
  progress.report(0.9);
  if (progress.cancelled()) return cancelledError();
  if (shot.evidence.lens && shot.evidence.lens->vignetting != decltype(shot.evidence.lens->vignetting){}) {
    const auto& v = shot.evidence.lens->vignetting;
    out.vignette = {Vec3d(v[0], v[1], v[2]), -(v[0] + v[1] + v[2]), 0.01};
  } else if (const auto own = measureVignette(light); own && own->margin < 0.02) {
    out.vignette = own;
  }
  out.black = blackOf(light);
  // A panorama that nobody has turned is hardly one of that place, nor is one of grounds of other colours.
  if (!isAsItCame(shot.surroundings)) out.tone = suggestedBalance(shot, assets);
  if (out.tone && !isWhiteOfOnePlace(out.tone->white)) out.tone.reset();
  if (const auto own = measureSaturation(shot, assets, out.black.value_or(Vec3d(0)));
      own && own->margin < 0.08)
    out.saturation = own;
  return out;
}

RenderCharacter measureRender(const Passes& passes) {
  RenderCharacter out;
  const int w = passes.width(), h = passes.height();
  Picture cover = Picture::rgb(w, h);
  for (size_t i = 0; i < passes.alpha.pixels.size(); ++i)
    std::fill_n(&cover.pixels[i * 3], 3, passes.alpha.pixels[i]);
  Progress progress;
  const std::vector<EdgeFit> edges = cleanEdges(cover, 0.002, progress);
  if (const auto own = softnessOf(edges, cover, {}, 0)) out.sigmaPx = own->sigma[1];
  // Immerkaer 1996, "Fast Noise Variance Estimation": what a mask leaves that is blind to slopes; its smaller
  // values, where there is no detail.
  std::array<std::vector<float>, 3> left, light;
  for (int y = 2; y + 2 < h; ++y)
    for (int x = 2; x + 2 < w; ++x) {
      bool inside = true;
      for (int v = -1; v <= 1; ++v)
        for (int u = -1; u <= 1; ++u) inside = inside && passes.alpha.at(x + u, y + v)[0] > 0.999f;
      if (!inside) continue;
      for (int c = 0; c < 3; ++c) {
        const auto code = [&](int u, int v) {
          return 255 * srgbEncoded(std::clamp(passes.beauty.at(x + u, y + v)[c], 0.0f, 1.0f));
        };
        const float r = code(-1, -1) - 2 * code(0, -1) + code(1, -1) - 2 * code(-1, 0) + 4 * code(0, 0) -
                        2 * code(1, 0) + code(-1, 1) - 2 * code(0, 1) + code(1, 1);
        left[size_t(c)].push_back(std::abs(r) / 6), light[size_t(c)].push_back(passes.beauty.at(x, y)[c]);
      }
    }
  if (left[0].size() < 200) return out;
  Vec3d black(0);
  for (int c = 0; c < 3; ++c) {
    // A quarter of normal values lie within 0.3186 deviations.
    out.grain[c] = quantile(left[size_t(c)], 0.25) / 0.3186;
    black[c] = std::max(0.0, quantile(light[size_t(c)], 0.005));
  }
  out.black = black;
  return out;
}

}  // namespace dusk
