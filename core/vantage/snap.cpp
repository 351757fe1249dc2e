#include "core/vantage/snap.h"

#include "core/base/biweight.h"
#include "core/base/median.h"

namespace dusk {
namespace {

constexpr double finest = 0.5;   // pixels between samples of a profile, at the last look
constexpr int mostColumns = 24;  // either side: wider reaches are looked through coarsely first

/// Luminance with the display encoding roughly undone: blur by the lens is symmetric in light, not in code
/// values.
double light(const Photo& photo, const Vec2d& p) {
  const Rgb c = sampleBilinear(photo.picture, float(p.x), float(p.y));
  const double l = luminance(c);
  return photo.sceneLinear ? l : l * std::abs(l);
}

/// A path through the drawn points, as equally spaced places with the direction across.
struct Place {
  Vec2d at, across;
};

std::vector<Place> placesAlong(const std::vector<Vec2d>& drawn) {
  double length = 0;
  for (size_t i = 1; i < drawn.size(); ++i) length += (drawn[i] - drawn[i - 1]).length();
  const double step = std::max(1.0, length / 300);
  std::vector<Place> places;
  const Vec2d chord = (drawn.back() - drawn.front()).normalized(), across(-chord.y, chord.x);
  double ahead = step / 2;
  for (size_t i = 1; i < drawn.size(); ++i) {
    const Vec2d d = drawn[i] - drawn[i - 1];
    const double piece = d.length();
    for (; ahead < piece; ahead += step) places.push_back({drawn[i - 1] + d * (ahead / piece), across});
    ahead -= piece;
  }
  return places;
}

/// Derivative of light across the edge at every place (rows) and offset (columns).
struct Gradients {
  int reach;  ///< columns either side of the middle
  std::vector<float> values;
  int width() const { return 2 * reach + 1; }
  float at(size_t row, int offset) const { return values[row * size_t(width()) + size_t(offset + reach)]; }
};

Gradients gradientsAcross(const Photo& photo, const std::vector<Place>& places, double reachPx, double step) {
  Gradients g;
  g.reach = int(std::ceil(reachPx / step));
  const double blur = 2;  // sigma of the derivative's kernel, columns
  const int border = int(std::ceil(3 * blur)), n = g.reach + border;
  std::vector<double> kernel(size_t(2 * border + 1));
  for (int i = -border; i <= border; ++i)
    kernel[size_t(i + border)] =
        i * std::exp(-i * i / (2 * blur * blur)) / (blur * blur * blur * std::sqrt(2 * pi));
  std::vector<double> profile(size_t(2 * n + 1));
  for (const Place& place : places) {
    for (int i = -n; i <= n; ++i) profile[size_t(i + n)] = light(photo, place.at + place.across * (i * step));
    for (int o = -g.reach; o <= g.reach; ++o) {
      double sum = 0;
      for (int i = -border; i <= border; ++i) sum += kernel[size_t(i + border)] * profile[size_t(o + i + n)];
      g.values.push_back(float(sum));
    }
  }
  return g;
}

/// Offset of the curve at share `t` along: offsets at both ends and a bow in the middle, in columns.
struct Curve {
  double from = 0, to = 0, bow = 0;
  double at(double t) const { return from + (to - from) * t + bow * 4 * t * (1 - t); }
};

/// The curve along which signed gradients add up to most, near ones preferred a little.
std::optional<Curve> strongest(const Gradients& g, size_t rows) {
  Curve best;
  double bestSum = 0, square = 0;
  for (float v : g.values) square += double(v) * v;
  const int mostBow = std::min(g.reach, 8);
  for (int from = -g.reach; from <= g.reach; ++from)
    for (int to = -g.reach; to <= g.reach; ++to)
      for (int bow = -mostBow; bow <= mostBow; bow += 2) {
        const Curve c{double(from), double(to), double(bow)};
        double sum = 0;
        for (size_t row = 0; row < rows; row += 2) {
          const int o = int(std::lround(c.at((double(row) + 0.5) / double(rows))));
          if (std::abs(o) <= g.reach) sum += g.at(row, o);
        }
        const double off =
            (double(from) * from + double(to) * to + 2.0 * bow * bow) / (g.reach * double(g.reach));
        sum = std::abs(sum) * std::exp(-0.35 * off);
        if (sum > bestSum) bestSum = sum, best = c;
      }
  // A chance sum grows with the root of the number of rows; an edge with the number itself.
  const double chance = std::sqrt(square / double(g.values.size()) * double(rows) / 2);
  return bestSum > 4 * chance ? std::optional(best) : std::nullopt;
}

/// Column of the gradient's peak near `around`, by the parabola through its three highest samples.
std::optional<double> peakNear(const Gradients& g, size_t row, double around, double sign, int window) {
  const int middle = int(std::lround(around));
  int best = 0;
  double most = 0;
  for (int o = std::max(middle - window, -g.reach + 1); o <= std::min(middle + window, g.reach - 1); ++o)
    if (const double v = sign * g.at(row, o); v > most) most = v, best = o;
  if (most <= 0) return {};
  const double a = sign * g.at(row, best - 1), b = most, c = sign * g.at(row, best + 1);
  const double bend = a - 2 * b + c;
  if (bend >= 0) return {};
  const double shift = 0.5 * (a - c) / bend;
  return std::abs(shift) <= 1 ? std::optional(best + shift) : std::nullopt;
}

/// Mean of the values, robust to a minority (Tukey's biweight about the median).
double robustMean(const std::vector<double>& values) {
  const double centre = median(values);
  std::vector<double> off;
  for (double v : values) off.push_back(std::abs(v - centre));
  const double spread = std::max(1.4826 * median(off), 0.02);
  return biweightMean(values, centre, 3 * spread);
}

}  // namespace

std::optional<SnappedStroke> snapped(const Photo& photo, const std::vector<Vec2d>& drawn, double reachPx) {
  if (drawn.size() < 2 || photo.picture.empty()) return {};
  for (const Vec2d& p : drawn)
    if (!std::isfinite(p.x + p.y)) return {};
  auto places = placesAlong(drawn);
  if (places.size() < 8 || (drawn.back() - drawn.front()).length() < 8) return {};
  const size_t rows = places.size();
  const auto share = [&](size_t row) { return (double(row) + 0.5) / double(rows); };
  double step = std::max(finest, reachPx / mostColumns);
  Gradients g = gradientsAcross(photo, places, reachPx, step);
  auto curve = strongest(g, rows);
  while (curve && step > finest) {
    for (size_t row = 0; row < rows; ++row)
      places[row].at += places[row].across * (curve->at(share(row)) * step);
    const double reach = 4 * step;
    step = std::max(finest, reach / mostColumns);
    g = gradientsAcross(photo, places, reach, step);
    curve = strongest(g, rows);
  }
  if (!curve) return {};
  double sum = 0;
  for (size_t row = 0; row < rows; ++row)
    if (const int o = int(std::lround(curve->at(share(row)))); std::abs(o) <= g.reach) sum += g.at(row, o);
  const double sign = sum < 0 ? -1 : 1;

  const double length = (drawn.back() - drawn.front()).length();
  const size_t pieces = std::clamp<size_t>(size_t(length / 40), 2, 8);
  SnappedStroke result;
  std::vector<double> scatter;
  for (size_t piece = 0; piece < pieces; ++piece) {
    std::vector<double> straight;
    Vec2d middle(0, 0);
    size_t count = 0;
    for (size_t row = piece * rows / pieces; row < (piece + 1) * rows / pieces; ++row) {
      const double expected = curve->at(share(row));
      if (const auto o = peakNear(g, row, expected, sign, 5)) straight.push_back(*o - expected);
      middle += places[row].at;
      ++count;
    }
    if (straight.size() * 3 < count) continue;  // covered by something here
    const double off = robustMean(straight);
    for (double s : straight) scatter.push_back(std::abs(s - off));
    middle /= double(count);
    const double centre = (double(piece) + 0.5) / double(pieces);
    // The curve's mean over the piece, not its value in the middle: the bow is small either way.
    result.points.push_back(middle + places[rows / 2].across * ((curve->at(centre) + off) * step));
  }
  if (result.points.size() < 2) return {};
  result.scatterPx = 1.4826 * median(scatter) * step;
  return result;
}

}  // namespace dusk
