#include "core/blend/measure_grain.h"

#include <tbb/parallel_for.h>

#include <array>
#include <cmath>
#include <mutex>
#include <optional>

#include "core/base/median.h"
#include "core/blend/grain_curve.h"
#include "core/blend/grain_neighbours.h"

namespace dusk {
namespace {

constexpr int ring = 8, all = grainPatch + 2 * ring, cell = 4;
constexpr int knots = 17;
constexpr int agreeing = 10;  ///< patches that can be said to agree

struct Patch {
  int x = 0, y = 0;
  std::array<double, 3> mean{}, variance{};
  double around = 0;  ///< how much the surroundings vary, in code values squared
  double brightness = 0;
};

/// Variation of the surroundings: of means of cells, against the surface through all of them.
double variationAround(const Picture& strip, int x0) {
  constexpr int cells = all / cell;
  static const Quadratic surface(cells);
  double most = 0;
  for (int c = 0; c < 3; ++c) {
    std::vector<double> means(cells * cells);
    for (int v = 0; v < all; ++v)
      for (int u = 0; u < all; ++u)
        means[size_t(v / cell * cells + u / cell)] += 255.0 * strip.at(x0 + u, v)[c] / (cell * cell);
    const auto inside = [](size_t i) {
      constexpr int from = ring / cell, to = (ring + grainPatch) / cell;
      const int u = int(i) % cells, v = int(i) / cells;
      return u >= from && u < to && v >= from && v < to;
    };
    // The inside has no say: it is taken as the mean of what surrounds it, then as the surface goes there.
    double outer = 0;
    int n = 0;
    for (size_t i = 0; i < means.size(); ++i)
      if (!inside(i)) outer += means[i], ++n;
    std::vector<double> filled = means;
    for (size_t i = 0; i < means.size(); ++i)
      if (inside(i)) filled[i] = outer / n;
    for (int round = 0; round < 6; ++round) {
      std::vector<double> left = filled;
      surface.takeAway(left);
      for (size_t i = 0; i < means.size(); ++i)
        if (inside(i)) filled[i] -= left[i];
    }
    surface.takeAway(filled);
    double sum = 0;
    for (size_t i = 0; i < means.size(); ++i)
      if (!inside(i)) sum += filled[i] * filled[i];
    most = std::max(most, sum / n);
  }
  return most;
}

std::vector<double> residual(const Picture& strip, int x0, int channel) {
  static const Quadratic surface(grainPatch);
  std::vector<double> values(grainPatch * grainPatch);
  for (int v = 0; v < grainPatch; ++v)
    for (int u = 0; u < grainPatch; ++u)
      values[size_t(v * grainPatch + u)] = 255.0 * strip.at(x0 + ring + u, ring + v)[channel];
  surface.takeAway(values);
  return values;
}

Patch look(const Picture& strip, int x0, int y0) {
  Patch p;
  p.x = x0, p.y = y0, p.around = variationAround(strip, x0);
  for (int c = 0; c < 3; ++c) {
    double sum = 0;
    for (int v = 0; v < grainPatch; ++v)
      for (int u = 0; u < grainPatch; ++u) sum += 255.0 * strip.at(x0 + ring + u, ring + v)[c];
    p.mean[size_t(c)] = sum / (grainPatch * grainPatch);
    double squares = 0;
    for (const double r : residual(strip, x0, c)) squares += r * r;
    p.variance[size_t(c)] = squares / (grainPatch * grainPatch - 6);
  }
  p.brightness = 0.2126 * p.mean[0] + 0.7152 * p.mean[1] + 0.0722 * p.mean[2];
  return p;
}

Picture stripOf(const CodeRows& photo, int y0) {
  Picture strip = Picture::rgb(photo.width, all);
  for (int v = 0; v < all; ++v) photo.row(y0 + v, strip.at(0, v));
  return strip;
}

/// The middle of those that agree, and the share of all that do: larger ones have more in them than noise.
struct Agreed {
  double middle, share;
};
Agreed agreed(std::vector<double> values) {
  std::sort(values.begin(), values.end());
  double middle = values[values.size() / 4];
  size_t n = 0;
  for (int round = 0; round < 10; ++round) {
    double sum = 0;
    n = 0;
    for (const double v : values)
      if (v < middle * 1.3 && v > middle / 1.5) sum += v, ++n;
    if (n == 0) return {middle, 0};
    middle = sum / double(n);
  }
  return {middle, double(n) / double(values.size())};
}

/// Steps across the borders of 8 x 8 blocks over those elsewhere, less 1.
double blockingOf(const CodeRows& photo, const std::vector<Patch>& flat) {
  double at = 0, else_ = 0, n = 0, m = 0;
  for (size_t i = 0; i < flat.size() && i < 400; ++i) {
    const Picture strip = stripOf(photo, flat[i].y);
    for (int v = ring; v < ring + grainPatch; ++v)
      for (int u = ring; u < ring + grainPatch; ++u) {
        const int x = flat[i].x + u;
        const double step = std::abs(strip.at(x, v)[1] - strip.at(x - 1, v)[1]);
        (x % 8 == 0 ? (n += 1, at) : (m += 1, else_)) += step;
      }
  }
  return n > 0 && else_ > 0 ? std::max(0.0, at / n / (else_ / m) - 1) : 0;
}

std::vector<Patch> patchesOf(const CodeRows& photo, const Progress& progress) {
  std::vector<Patch> patches;
  std::mutex mutex;
  // A large photo has flat places enough: not all are looked at.
  const double pixels = double(photo.width) * photo.height;
  const int step = std::max(12, int(std::sqrt(pixels / 40'000)));
  tbb::parallel_for(0, std::max(0, (photo.height - all) / step + 1), [&](int i) {
    if (progress.cancelled()) return;
    const int y = i * step;
    const Picture strip = stripOf(photo, y);
    std::vector<Patch> row;
    for (int x = 0; x + all <= photo.width; x += step) row.push_back(look(strip, x, y));
    const std::lock_guard lock(mutex);
    patches.insert(patches.end(), row.begin(), row.end());
  });
  // Clipped noise is no noise.
  std::erase_if(patches, [](const Patch& p) {
    const auto [least, most] = std::minmax_element(p.mean.begin(), p.mean.end());
    return *least < 2 || *most > 251;
  });
  std::sort(patches.begin(), patches.end(), [](const Patch& a, const Patch& b) {
    return std::tie(a.around, a.y, a.x) < std::tie(b.around, b.y, b.x);
  });
  return patches;
}

/// What the flattest places of one brightness tell.
struct Bin {
  std::array<GrainAt, 3> found;
  std::vector<Patch> flat;
  size_t size = 0;
};
/// They tell the noise where they agree: noise is the same everywhere at one brightness, texture is not. Else
/// they tell that noise is not more than the quietest have. `floor`: variance of rounding.
std::optional<Bin> binOf(const std::vector<Patch>& all, double floor) {
  if (int(all.size()) < agreeing) return {};
  const size_t taken = std::clamp<size_t>(all.size() / 6, size_t(agreeing), 400);
  const auto deviation = [&](double variance) { return std::sqrt(std::max(0.0, variance - floor)); };
  Bin bin;
  bin.size = all.size();
  for (size_t c = 0; c < 3; ++c) {
    std::vector<double> variances, uneven, own;
    GrainAt& f = bin.found[c];
    for (size_t i = 0; i < taken; ++i)
      variances.push_back(all[i].variance[c]), f.code += all[i].mean[c] / double(taken);
    const Agreed one = agreed(variances);
    f.sigma = deviation(one.middle);
    // Noise that is cut off at black or white is no noise.
    if (std::min(f.code, 255 - f.code) < 2.5 * f.sigma) continue;
    for (const Patch& p : all) own.push_back(p.variance[c]);
    const auto quiet = own.begin() + long(own.size() / 50);
    std::nth_element(own.begin(), quiet, own.end());
    // Of noise alone the quietest patches have a little less than all.
    f.most = 1.15 * deviation(*quiet);
    // Less than half a code is not seen, whether it agrees or not; more than these no camera delivers.
    constexpr double enough = 0.6, unseen = 0.5, strongest = 20;
    if ((one.share < enough && f.sigma > unseen) || f.sigma > strongest) continue;
    for (size_t i = 0; i < taken; ++i) uneven.push_back(all[i].around / std::max(0.05, f.sigma * f.sigma));
    const double r = medianInPlace(uneven) / 1.5;
    f.weight = std::min(2.0, double(taken) * std::max(one.share, 0.5) / 20) / (1 + r * r * r);
  }
  const double variance = bin.found[1].sigma * bin.found[1].sigma + floor;
  for (size_t i = 0; i < std::max<size_t>(size_t(agreeing), taken / 2); ++i)
    if (all[i].variance[1] < 1.5 * variance) bin.flat.push_back(all[i]);
  return bin;
}

}  // namespace

GrainFound measureGrain(const CodeRows& photo, const Progress& progress) {
  GrainFound out;
  if (photo.width < all || photo.height < all) return out;
  const std::vector<Patch> patches = patchesOf(photo, progress);
  constexpr int steps = 20;
  std::vector<std::vector<Patch>> byBrightness(steps);
  for (const Patch& p : patches)
    byBrightness[size_t(std::min(steps - 1, int(p.brightness * steps / 256)))].push_back(p);
  const double floor = photo.bits <= 8 ? 1.0 / 12 : 0;
  std::vector<Bin> bins;
  for (const auto& all : byBrightness)
    if (const auto bin = binOf(all, floor)) bins.push_back(*bin);
  std::array<GrainCurve, 3> curves;
  for (size_t c = 0; c < 3; ++c) {
    std::vector<GrainAt> found;
    for (const Bin& bin : bins) found.push_back(bin.found[c]);
    curves[c] = grainCurve(found, knots);
  }
  if (curves[1].sigma.empty()) return out;
  // A colour that is nowhere but at black or white has no grain to tell: green's.
  for (const size_t c : {0, 2})
    if (curves[c].sigma.empty()) curves[c] = curves[1];
  std::vector<Patch> flat;
  std::vector<double> told;
  size_t largest = 0;
  for (size_t i = 0; i < bins.size(); ++i) {
    if (curves[1].trust[i] < 0.5) continue;
    const Bin& bin = bins[i];
    flat.insert(flat.end(), bin.flat.begin(), bin.flat.end()), told.push_back(bin.found[1].sigma);
    if (bin.size > largest) largest = bin.size, out.sigma = bin.found[1].sigma;
  }
  if (int(flat.size()) < agreeing) return out;
  out.patches = int(flat.size());
  std::sort(flat.begin(), flat.end(),
            [](const Patch& a, const Patch& b) { return std::tie(a.y, a.x) < std::tie(b.y, b.x); });
  GrainNeighbours neighbours;
  const size_t every = std::max<size_t>(1, flat.size() / 600);
  for (size_t i = 0; i < flat.size() && !progress.cancelled(); i += every) {
    const Picture strip = stripOf(photo, flat[i].y);
    neighbours.add(
        {residual(strip, flat[i].x, 0), residual(strip, flat[i].x, 1), residual(strip, flat[i].x, 2)}, floor);
  }
  out.blocking = blockingOf(photo, flat);
  // The margin: of a variance from so many values that go together in small groups, and of the curve.
  out.margin = std::hypot(std::sqrt(2.0 / (grainPatch * grainPatch / 4.0 * std::max(1, out.patches / 4))) / 2,
                          curves[1].spread / std::sqrt(double(told.size())));
  // The middle of all brightnesses: where it is not seen, or may be rounding, there is none.
  constexpr double seen = 0.3;
  if (medianInPlace(told) < seen || neighbours.n < 3) return out;
  const double n = neighbours.n;
  const std::vector<double> truth = putBack(neighbours.lag());
  const double middle = truth[size_t(GrainLook::lags) / 2], more = std::sqrt(std::max(1.0, middle));
  for (const double lag : truth) out.look.correlation.push_back(std::clamp(lag / middle, -1.0, 1.0));
  for (size_t k = 0; k < size_t(knots); ++k)
    out.look.sigma.push_back(Vec3d(curves[0].sigma[k], curves[1].sigma[k], curves[2].sigma[k]) * more);
  out.look.channels = {std::clamp(neighbours.rg / n, -1.0, 1.0), std::clamp(neighbours.rb / n, -1.0, 1.0),
                       std::clamp(neighbours.gb / n, -1.0, 1.0)};
  return out;
}

}  // namespace dusk
