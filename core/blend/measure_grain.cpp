#include "core/blend/measure_grain.h"

#include <tbb/parallel_for.h>

#include <array>
#include <cmath>
#include <mutex>

#include "core/base/srgb.h"

namespace dusk {
namespace {

constexpr int core = 24, ring = 8, all = core + 2 * ring, cell = 4;
constexpr int reach = GrainLook::reach, side = 2 * reach + 1, lagCount = GrainLook::lags;
constexpr int knots = 17;

/// What is left of values on a square when a quadratic surface is taken away; `basis` spans those.
struct Quadratic {
  explicit Quadratic(int n) : size(n) {
    std::vector<std::vector<double>> raw(6, std::vector<double>(size_t(n) * size_t(n)));
    for (int y = 0; y < n; ++y)
      for (int x = 0; x < n; ++x) {
        const double u = (x - (n - 1) / 2.0) / n, v = (y - (n - 1) / 2.0) / n;
        const double values[] = {1, u, v, u * u, u * v, v * v};
        for (size_t k = 0; k < 6; ++k) raw[k][size_t(y * n + x)] = values[k];
      }
    // Gram-Schmidt.
    for (auto& b : raw) {
      for (const auto& o : basis) {
        double dot = 0;
        for (size_t i = 0; i < b.size(); ++i) dot += b[i] * o[i];
        for (size_t i = 0; i < b.size(); ++i) b[i] -= dot * o[i];
      }
      double norm = 0;
      for (const double v : b) norm += v * v;
      for (double& v : b) v /= std::sqrt(norm);
      basis.push_back(b);
    }
  }
  void takeAway(std::vector<double>& values) const {
    for (const auto& b : basis) {
      double dot = 0;
      for (size_t i = 0; i < b.size(); ++i) dot += b[i] * values[i];
      for (size_t i = 0; i < b.size(); ++i) values[i] -= dot * b[i];
    }
  }
  int size;
  std::vector<std::vector<double>> basis;
};

struct Patch {
  int x = 0, y = 0;
  std::array<double, 3> mean{}, variance{};
  double around = 0;    ///< how much the surroundings vary, in code values squared
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
      constexpr int from = ring / cell, to = (ring + core) / cell;
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
  static const Quadratic surface(core);
  std::vector<double> values(core * core);
  for (int v = 0; v < core; ++v)
    for (int u = 0; u < core; ++u)
      values[size_t(v * core + u)] = 255.0 * strip.at(x0 + ring + u, ring + v)[channel];
  surface.takeAway(values);
  return values;
}

Patch look(const Picture& strip, int x0, int y0) {
  Patch p;
  p.x = x0, p.y = y0, p.around = variationAround(strip, x0);
  for (int c = 0; c < 3; ++c) {
    double sum = 0;
    for (int v = 0; v < core; ++v)
      for (int u = 0; u < core; ++u) sum += 255.0 * strip.at(x0 + ring + u, ring + v)[c];
    p.mean[size_t(c)] = sum / (core * core);
    double squares = 0;
    for (const double r : residual(strip, x0, c)) squares += r * r;
    p.variance[size_t(c)] = squares / (core * core - 6);
  }
  p.brightness = 0.2126 * p.mean[0] + 0.7152 * p.mean[1] + 0.0722 * p.mean[2];
  return p;
}

Picture stripOf(const CodeRows& photo, int y0) {
  Picture strip = Picture::rgb(photo.width, all);
  for (int v = 0; v < all; ++v) photo.row(y0 + v, strip.at(0, v));
  return strip;
}

/// The middle of those that agree: larger ones, which have more in them than noise, are left out.
double agreed(std::vector<double> values) {
  std::sort(values.begin(), values.end());
  double middle = values[values.size() / 3];
  for (int round = 0; round < 8; ++round) {
    double sum = 0;
    int n = 0;
    for (const double v : values)
      if (v < middle * 1.35) sum += v, ++n;
    if (n == 0) return middle;
    middle = sum / n;
  }
  return middle;
}

/// Sums that tell of neighbours and channels.
struct Neighbours {
  std::array<double, lagCount> lag{};
  double rg = 0, rb = 0, gb = 0, n = 0;

  void add(const std::array<std::vector<double>, 3>& r, double floor) {
    std::array<double, 3> variance{};
    for (size_t c = 0; c < 3; ++c)
      for (const double v : r[c]) variance[c] += v * v / (core * core - 6.0);
    for (size_t c = 0; c < 3; ++c) {
      if (variance[c] <= floor * 1.5) return;
      for (int dy = -reach; dy <= reach; ++dy)
        for (int dx = -reach; dx <= reach; ++dx) {
          double sum = 0;
          int pairs = 0;
          for (int y = std::max(0, -dy); y < std::min(core, core - dy); ++y)
            for (int x = std::max(0, -dx); x < std::min(core, core - dx); ++x, ++pairs)
              sum += r[c][size_t(y * core + x)] * r[c][size_t((y + dy) * core + x + dx)];
          // What the surface took along with itself lies evenly over all lags.
          const double taken = 6.0 / (core * core);
          lag[size_t((dy + reach) * side + dx + reach)] +=
              (sum / pairs - (dx == 0 && dy == 0 ? floor : 0)) / (variance[c] - floor) / 3 + (dx == 0 && dy == 0 ? 0 : taken / 3);
        }
    }
    const auto both = [&](size_t a, size_t b) {
      double sum = 0;
      for (size_t i = 0; i < r[a].size(); ++i) sum += r[a][i] * r[b][i];
      return sum / (core * core - 6) / std::sqrt((variance[a] - floor) * (variance[b] - floor));
    };
    rg += both(0, 1), rb += both(0, 2), gb += both(1, 2), n += 1;
  }
};

/// Steps across the borders of 8 x 8 blocks over those elsewhere, less 1.
double blockingOf(const CodeRows& photo, const std::vector<Patch>& flat) {
  double at = 0, else_ = 0, n = 0, m = 0;
  for (size_t i = 0; i < flat.size() && i < 400; ++i) {
    const Picture strip = stripOf(photo, flat[i].y);
    for (int v = ring; v < ring + core; ++v)
      for (int u = ring; u < ring + core; ++u) {
        const int x = flat[i].x + u;
        const double step = std::abs(strip.at(x, v)[1] - strip.at(x - 1, v)[1]);
        (x % 8 == 0 ? (n += 1, at) : (m += 1, else_)) += step;
      }
  }
  return n > 0 && else_ > 0 ? std::max(0.0, at / n / (else_ / m) - 1) : 0;
}

double lightSlope(double code) {
  const double light = srgbDecoded(code / 255);
  return light <= 0.0031308 ? 1 / 12.92 : 2.4 / 1.055 * std::pow(light, 1.4 / 2.4);
}

/// Deviation of one channel at all knots from what was found at some brightnesses: [code, deviation, weight].
struct Found {
  double code, sigma, weight;
};
std::vector<double> throughAll(const std::vector<Found>& found) {
  // In light, variance is a + b light; neither below 0.
  double s1 = 0, sx = 0, sxx = 0, sy = 0, sxy = 0;
  for (const Found& f : found) {
    const double light = srgbDecoded(f.code / 255), deviation = f.sigma / 255 * lightSlope(f.code), y = deviation * deviation;
    const double w = f.weight / std::max(y * y, 1e-16);
    s1 += w, sx += w * light, sxx += w * light * light, sy += w * y, sxy += w * light * y;
  }
  const double det = s1 * sxx - sx * sx;
  double a = det > 1e-12 * s1 * sxx ? (sxx * sy - sx * sxy) / det : sy / s1, b = det > 1e-12 * s1 * sxx ? (s1 * sxy - sx * sy) / det : 0;
  if (a < 0) a = 0, b = sxy / std::max(sxx, 1e-30);
  if (b < 0) b = 0, a = sy / s1;
  const auto model = [&](double code) {
    return 255 * std::sqrt(std::max(1e-12, a + b * srgbDecoded(code / 255))) / lightSlope(code);
  };
  std::vector<double> out;
  for (int k = 0; k < knots; ++k) {
    const double code = 255.0 * k / (knots - 1);
    // What was found near here counts more than the model; far from anything the model goes on.
    double sum = 0.15, ratio = 0.15;
    for (const Found& f : found) {
      const double off = (f.code - code) / 14, w = std::min(f.weight / 8, 3.0) * std::exp(-off * off / 2);
      sum += w, ratio += w * f.sigma / model(f.code);
    }
    out.push_back(model(code) * ratio / sum);
  }
  return out;
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

}  // namespace

GrainFound measureGrain(const CodeRows& photo, const Progress& progress) {
  GrainFound out;
  if (photo.width < all || photo.height < all) return out;
  const std::vector<Patch> patches = patchesOf(photo, progress);
  constexpr int bins = 20, least = 10;
  std::vector<std::vector<Patch>> byBrightness(bins);
  for (const Patch& p : patches) byBrightness[size_t(std::min(bins - 1, int(p.brightness * bins / 256)))].push_back(p);
  const double floor = photo.bits <= 8 ? 1.0 / 12 : 0;
  std::array<std::vector<Found>, 3> found;
  std::vector<Patch> flat;
  size_t largest = 0;
  for (const auto& bin : byBrightness) {
    if (int(bin.size()) < least) continue;
    const size_t taken = std::clamp<size_t>(bin.size() / 4, least, 400);
    std::array<double, 3> sigma{};
    for (size_t c = 0; c < 3; ++c) {
      std::vector<double> variances;
      double code = 0;
      for (size_t i = 0; i < taken; ++i) variances.push_back(bin[i].variance[c]), code += bin[i].mean[c] / double(taken);
      sigma[c] = std::sqrt(std::max(0.0, agreed(variances) - floor));
      found[c].push_back({code, std::max(sigma[c], 1e-3), double(taken)});
    }
    for (size_t i = 0; i < taken; ++i)
      if (bin[i].variance[1] < 1.35 * (sigma[1] * sigma[1] + floor)) flat.push_back(bin[i]);
    if (bin.size() > largest) largest = bin.size(), out.sigma = sigma[1];
  }
  out.patches = int(flat.size());
  if (out.patches < least) return out;
  std::sort(flat.begin(), flat.end(), [](const Patch& a, const Patch& b) { return std::tie(a.y, a.x) < std::tie(b.y, b.x); });
  Neighbours neighbours;
  const size_t every = std::max<size_t>(1, flat.size() / 600);
  for (size_t i = 0; i < flat.size() && !progress.cancelled(); i += every) {
    const Picture strip = stripOf(photo, flat[i].y);
    neighbours.add({residual(strip, flat[i].x, 0), residual(strip, flat[i].x, 1), residual(strip, flat[i].x, 2)}, floor);
  }
  out.blocking = blockingOf(photo, flat);
  // The margin: of a variance from so many values that go together in small groups.
  out.margin = std::sqrt(2.0 / (core * core / 4.0 * std::max(1, out.patches / 4))) / 2;
  double most = 0;
  for (const Found& f : found[1]) most = std::max(most, f.sigma);
  constexpr double seen = 0.3;  // of a code value: less is not seen, and may be rounding
  if (most < seen || neighbours.n < 3) return out;
  std::array<std::vector<double>, 3> sigma;
  for (size_t c = 0; c < 3; ++c) sigma[c] = throughAll(found[c]);
  for (size_t k = 0; k < size_t(knots); ++k) out.look.sigma.emplace_back(sigma[0][k], sigma[1][k], sigma[2][k]);
  const double middle = neighbours.lag[lagCount / 2];
  for (const double lag : neighbours.lag) out.look.correlation.push_back(std::clamp(lag / middle, -1.0, 1.0));
  const double n = neighbours.n;
  out.look.channels = {std::clamp(neighbours.rg / n, -1.0, 1.0), std::clamp(neighbours.rb / n, -1.0, 1.0),
                       std::clamp(neighbours.gb / n, -1.0, 1.0)};
  return out;
}

}  // namespace dusk
