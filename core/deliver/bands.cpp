#include "core/deliver/bands.h"

#include "core/trace/denoise.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

static_assert(denoiserBlock % Film::tileSize == 0);

constexpr size_t bandBytes = size_t{512} << 20;

/// The scene in a picture of that size, at all moments of an open shutter.
Scene smaller(const Scene& scene, int width, int height) {
  Scene small = scene;
  small.camera = resized(scene.camera, width, height);
  for (auto& moment : small.during) moment = std::make_shared<const Scene>(smaller(*moment, width, height));
  return small;
}

/// Of the log: no film's.
constexpr int planLayer = -1'000'000;

/// Passes of the small picture by which it is found where the product matters.
Outcome tracePlan(const Scene& scene, Film& film, const FilmExposure& how, Progress& progress) {
  const Film::Window whole = film.windowed();
  if (how.log && how.log->isComplete(planLayer, whole)) return how.log->load(planLayer, whole, film);
  const std::function<bool()> afterPass = [&] { return !film.maskIsGiven; };
  const TraceStep step{-1};
  const bool traced = how.trace ? how.trace({scene, film, thinPasses, progress, afterPass, step})
                                : render(scene, film, thinPasses, progress, afterPass);
  if (!traced || progress.cancelled()) return cancelledError();
  if (!how.log || !how.log->isWritable()) return done();
  film.eachTile(whole, [&](int tile) { film.forgetTile(tile); });  // only the mask is of use
  return how.log->save(planLayer, whole, film, film.passesDone, true);
}

/// Where the product matters, by a smaller picture.
Result<std::vector<unsigned char>> findMask(const Scene& scene, int width, int height,
                                            const FilmExposure& how, Progress& progress) {
  const double s = std::sqrt(double(plannedPixels(width, height)) / (double(width) * height));
  const int w = std::max(1, int(width * s)), h = std::max(1, int(height * s));
  std::vector<unsigned char> mask(size_t(width) * size_t(height));
  if (scene.geometry->empty()) return mask;
  Scene small = smaller(scene, w, h);
  small.noiseTarget = 0;
  Film film(w, h, scene.lights->groups());
  if (const Outcome traced = tracePlan(small, film, how, progress); !traced) return traced.error();
  for (int y = 0; y < height; ++y) {
    const unsigned char* from = &film.samplingMask[size_t(int64_t(y) * h / height) * size_t(w)];
    for (int x = 0; x < width; ++x)
      mask[size_t(y) * size_t(width) + size_t(x)] = from[int64_t(x) * w / width];
  }
  return mask;
}

}  // namespace

std::vector<size_t> mattering(const BandPlan& plan, int width) {
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

long long plannedPixels(int width, int height) {
  return std::clamp((long long)width * height / 4, 1LL, mostPlanned);
}

Result<BandPlan> planBands(const Scene& scene, int width, int height, long long wholePixels, bool everyPass,
                           const FilmExposure& how, Progress& progress) {
  BandPlan plan;
  auto mask = findMask(scene, width, height, how, progress);
  if (!mask) return mask.error();
  plan.mask = std::move(*mask);
  if ((long long)width * height <= wholePixels) {
    plan.bands.push_back({0, height}), plan.done.push_back(1);
    return plan;
  }
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
