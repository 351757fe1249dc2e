#include "core/deliver/bands.h"

#include "core/trace/denoise.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

static_assert(denoiserBlock % Film::tileSize == 0);

constexpr size_t bandBytes = size_t{512} << 20;

/// The mask of a picture of about `pixels`, brought to the size.
Result<std::vector<unsigned char>> findMask(const Scene& scene, int width, int height, long long pixels,
                                            Progress& progress) {
  const double s = std::sqrt(double(pixels) / (double(width) * height));
  const int w = std::max(1, int(width * s)), h = std::max(1, int(height * s));
  Scene small = scene;
  small.camera = resized(scene.camera, w, h), small.noiseTarget = 0;
  Film film(w, h, scene.lights->groups());
  if (!render(small, film, thinPasses, progress)) return cancelledError();
  std::vector<unsigned char> mask(size_t(width) * size_t(height));
  if (film.samplingMask.empty()) return mask;  // nothing is placed
  for (int y = 0; y < height; ++y) {
    const unsigned char* from = &film.samplingMask[size_t(int64_t(y) * h / height) * size_t(w)];
    for (int x = 0; x < width; ++x)
      mask[size_t(y) * size_t(width) + size_t(x)] = from[int64_t(x) * w / width];
  }
  return mask;
}

}  // namespace

std::vector<size_t> mattering(const BandPlan& plan, int width) {
  if (plan.mask.empty()) return std::vector<size_t>(plan.bands.size());
  std::vector<size_t> counts;
  const auto row = [&](int y) { return plan.mask.begin() + long(size_t(y) * size_t(width)); };
  for (const Rows& band : plan.bands) counts.push_back(size_t(std::count(row(band.first), row(band.end), 1)));
  return counts;
}

std::vector<double> sharesDone(const BandPlan& plan, int width) {
  std::vector<double> done;
  const std::vector<size_t> matter = mattering(plan, width);
  double sum = 0;
  for (size_t i = 0; i < plan.bands.size(); ++i)
    done.push_back(sum += double(matter[i]) + plan.bands[i].count());
  for (double& share : done) share /= sum;
  return done;
}

size_t bytesPerBandPixel(size_t lights, bool everyPass) {
  const size_t film = sizeof(Film::Pixel) + lights * sizeof(GroupLight);
  // What is blended, with the plate; every pass, and what is made of them for the file.
  constexpr size_t blended = 120, listed = 380;
  return film + blended + (everyPass ? listed + lights * sizeof(GroupLight) : 0);
}

int bandRows(int width, size_t lights, bool everyPass) {
  const size_t row = size_t(width) * bytesPerBandPixel(lights, everyPass);
  return int(std::max<size_t>(1, bandBytes / row / denoiserBlock)) * denoiserBlock;
}

Result<BandPlan> planBands(const Scene& scene, int width, int height, long long wholePixels, bool everyPass,
                           Progress& progress) {
  BandPlan plan;
  if ((long long)width * height <= wholePixels) {
    plan.bands.push_back({0, height}), plan.done.push_back(1);
    return plan;
  }
  auto mask = findMask(scene, width, height, std::min(wholePixels, planPixels), progress);
  if (!mask) return mask.error();
  plan.mask = std::move(*mask);
  const int most = int(std::max(1LL, wholePixels / width / denoiserBlock)) * denoiserBlock,
            rows = std::min(most, bandRows(width, scene.lights->groups().size(), everyPass));
  for (int y = 0; y < height; y += rows) plan.bands.push_back({y, std::min(height, y + rows)});
  plan.done = sharesDone(plan, width);
  return plan;
}

ReducedPasses::ReducedPasses(int width, int height) {
  constexpr long long most = 8'000'000;
  while ((long long)(width / by_) * (height / by_) > most) by_ *= 2;
  all_.reduction = float(by_);
}

void ReducedPasses::add(const Passes& band) {
  const int w = std::max(1, band.width() / by_), h = std::max(1, band.height() / by_);
  for (const auto member : {&Passes::beauty, &Passes::alpha, &Passes::ratio, &Passes::reflection,
                            &Passes::albedo, &Passes::normal, &Passes::depth}) {
    const Picture& from = band.*member;
    Picture& to = all_.*member;
    if (from.empty() && to.empty()) continue;
    if (to.empty()) to.width = w, to.channels = from.channels;
    // Gloss may begin in this band, or have ended before it: where it is not, it is nothing.
    const size_t row = size_t(w) * to.channels.size();
    to.height = rows_ + h;
    to.pixels.resize(size_t(to.height) * row);
    if (from.empty()) continue;
    const Picture small = resized(from, w, h);
    std::copy(small.pixels.begin(), small.pixels.end(), to.pixels.end() - long(size_t(h) * row));
  }
  rows_ += h;
}

}  // namespace dusk
