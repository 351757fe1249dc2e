#include "core/blend/measure_edges.h"

#include <tbb/parallel_for.h>

#include <cmath>
#include <mutex>

#include "core/base/dense.h"
#include "core/base/median.h"
#include "core/base/normal_integral.h"
#include "core/blend/blur.h"

namespace dusk {
namespace {

constexpr int along = 6, acrossBy = 9;

struct Sample {
  double d, t, value;
};

/// v = low + (high - low) Phi((d - offset - tilt t) / sigma)
struct Profile {
  double offset = 0, tilt = 0, sigma = 1, low = 0, high = 1;
};

using Five = Eigen::Matrix<double, 5, 5>;

/// Least squares by Levenberg's and Marquardt's damped steps; the rms that is left. The tilt may be fixed.
double fit(const std::vector<Sample>& samples, Profile& p, bool tilts) {
  double damping = 1e-3;
  const auto cost = [&](const Profile& q) {
    double sum = 0;
    for (const Sample& s : samples) {
      const double v =
          q.low + (q.high - q.low) * normalIntegral((s.d - q.offset - q.tilt * s.t) / q.sigma) - s.value;
      sum += v * v;
    }
    return sum;
  };
  double now = cost(p);
  for (int round = 0; round < 25; ++round) {
    Five a = Five::Zero();
    Eigen::Matrix<double, 5, 1> b = Eigen::Matrix<double, 5, 1>::Zero(), j;
    for (const Sample& s : samples) {
      const double z = (s.d - p.offset - p.tilt * s.t) / p.sigma;
      const auto [f, density] = normalAt(z);
      const double slope = (p.high - p.low) * density / p.sigma;
      j << -slope, tilts ? -slope * s.t : 0, -slope * z, 1 - f, f;
      b += j * (s.value - (p.low + (p.high - p.low) * f));
      a += j * j.transpose();
    }
    a.diagonal() = a.diagonal() * (1 + damping) + Eigen::Matrix<double, 5, 1>::Constant(1e-12);
    const Eigen::Matrix<double, 5, 1> step = solveSymmetric(a, b);
    if (!step.allFinite()) break;
    Profile next{p.offset + step[0], p.tilt + step[1], std::clamp(p.sigma + step[2], 0.1, 8.0),
                 p.low + step[3], p.high + step[4]};
    const double then = cost(next);
    if (then < now) {
      const bool settled = now - then < 1e-7 * now;
      p = next, now = then, damping = std::max(1e-7, damping / 4);
      if (settled) break;
    } else if ((damping *= 6) > 1e5) {
      break;
    }
  }
  return std::sqrt(now / double(samples.size()));
}

std::vector<Sample> samplesOf(const Picture& light, const Vec2d& at, const Vec2d& n, int channel) {
  std::vector<Sample> samples;
  const int reach = std::max(along, acrossBy) + 2;
  for (int y = int(at.y) - reach; y <= int(at.y) + reach; ++y)
    for (int x = int(at.x) - reach; x <= int(at.x) + reach; ++x) {
      const Vec2d off(x + 0.5 - at.x, y + 0.5 - at.y);
      const double d = off.dot(n), t = -off.x * n.y + off.y * n.x;
      if (std::abs(d) > acrossBy || std::abs(t) > along) continue;
      const float* p = light.at(x, y);
      samples.push_back({d, t, channel < 0 ? luminance(Rgb(p[0], p[1], p[2])) : p[channel]});
    }
  return samples;
}

double luminanceAt(const Picture& light, int x, int y) { return luminance(light.rgbAt(x, y)); }

Vec2d gradientAt(const Picture& l, int x, int y) {
  const auto v = [&](int dx, int dy) { return luminanceAt(l, x + dx, y + dy); };
  return {v(1, -1) + 2 * v(1, 0) + v(1, 1) - v(-1, -1) - 2 * v(-1, 0) - v(-1, 1),
          v(-1, 1) + 2 * v(0, 1) + v(1, 1) - v(-1, -1) - 2 * v(0, -1) - v(1, -1)};
}

/// Whether the edge's ends lie off the line through its middle.
bool isBent(const std::vector<Sample>& samples, const Profile& p) {
  double offset[3];
  for (int part = 0; part < 3; ++part) {
    std::vector<Sample> own;
    for (const Sample& s : samples)
      if (std::abs(s.t - 4 * (part - 1)) <= 2) own.push_back({s.d - p.tilt * s.t, 0, s.value});
    Profile q = p;
    q.tilt = 0;
    fit(own, q, false);
    offset[part] = q.offset;
  }
  return std::abs(offset[0] + offset[2] - 2 * offset[1]) > 0.5;
}

std::optional<EdgeFit> fitAt(const Picture& light, int x, int y, double noise) {
  // The direction, from all gradients about (structure tensor).
  double xx = 0, xy = 0, yy = 0;
  Vec2d mean(0, 0);
  for (int v = -3; v <= 3; ++v)
    for (int u = -3; u <= 3; ++u) {
      const Vec2d g = gradientAt(light, x + u, y + v);
      xx += g.x * g.x, xy += g.x * g.y, yy += g.y * g.y, mean += g;
    }
  const double angle = 0.5 * std::atan2(2 * xy, xx - yy);
  Vec2d n(std::cos(angle), std::sin(angle));
  if (n.dot(mean) < 0) n = n * -1.0;
  const double strong = std::hypot(xx - yy, 2 * xy);
  if (strong < 0.8 * (xx + yy)) return {};
  const Vec2d at(x + 0.5, y + 0.5);
  const std::vector<Sample> samples = samplesOf(light, at, n, -1);
  Profile p;
  p.low = 1e30, p.high = -1e30;
  for (const Sample& s : samples) p.low = std::min(p.low, s.value), p.high = std::max(p.high, s.value);
  const double rms = fit(samples, p, true);
  const double contrast = p.high - p.low, room = acrossBy - std::abs(p.offset);
  const double allowed = std::hypot(0.06 * contrast, 1.3 * noise);
  if (contrast < std::max(0.02, 14 * noise) || rms > allowed || std::abs(p.tilt) > 0.15 ||
      std::abs(p.offset) > 3 || p.sigma * 2.5 > room || p.low < -0.02)
    return {};
  if (isBent(samples, p)) return {};
  EdgeFit e;
  e.at = at, e.contrast = contrast, e.rms = rms / contrast;
  const double turn = -std::atan(p.tilt);
  e.across = {n.x * std::cos(turn) - n.y * std::sin(turn), n.x * std::sin(turn) + n.y * std::cos(turn)};
  for (int c = 0; c < 3; ++c) {
    Profile q = p;
    const std::vector<Sample> own = samplesOf(light, at, n, c);
    q.low = 1e30, q.high = -1e30;
    for (const Sample& s : own) q.low = std::min(q.low, s.value), q.high = std::max(q.high, s.value);
    const double left = fit(own, q, false), step = std::abs(q.high - q.low);
    if (q.high < q.low || step < std::max(0.3 * contrast, 10 * noise) ||
        left > std::hypot(0.07 * step, 1.6 * noise))
      return {};
    e.sigma[size_t(c)] = q.sigma, e.offset[size_t(c)] = q.offset;
  }
  return e;
}

}  // namespace

std::vector<EdgeFit> cleanEdges(const Picture& light, double noise, const Progress& progress) {
  constexpr int cell = 20, border = acrossBy + 4;
  std::vector<EdgeFit> edges;
  std::mutex mutex;
  const int rows = std::max(0, (light.height - 2 * border) / cell);
  tbb::parallel_for(0, rows, [&](int r) {
    if (progress.cancelled()) return;
    std::vector<EdgeFit> own;
    for (int x0 = border; x0 + cell <= light.width - border; x0 += cell) {
      // The three strongest gradients of a cell, one after the other.
      std::vector<std::tuple<double, int, int>> strong;
      for (int y = border + r * cell; y < border + (r + 1) * cell; y += 2)
        for (int x = x0; x < x0 + cell; x += 2) strong.emplace_back(gradientAt(light, x, y).length(), x, y);
      std::partial_sort(strong.begin(), strong.begin() + 3, strong.end(), std::greater<>());
      for (size_t i = 0; i < 3 && std::get<0>(strong[i]) > std::max(0.02, 20 * noise); ++i)
        if (const auto e = fitAt(light, std::get<1>(strong[i]), std::get<2>(strong[i]), noise)) {
          own.push_back(*e);
          break;
        }
    }
    const std::lock_guard lock(mutex);
    edges.insert(edges.end(), own.begin(), own.end());
  });
  std::sort(edges.begin(), edges.end(), [](const EdgeFit& a, const EdgeFit& b) {
    return std::tie(a.at.y, a.at.x) < std::tie(b.at.y, b.at.x);
  });
  return edges;
}

namespace {

/// The mean profile of some edges, in steps of a quarter pixel from -8 to 8, from 0 to 1; NaN where nothing
/// fell.
std::vector<double> meanProfile(const std::vector<const EdgeFit*>& edges, const Picture& light) {
  constexpr int steps = 65;
  std::vector<std::vector<double>> at(steps);
  for (const EdgeFit* e : edges) {
    std::vector<Sample> samples = samplesOf(light, e->at, e->across, 1);
    Profile p;
    p.offset = e->offset[1], p.sigma = e->sigma[1], p.low = 0, p.high = e->contrast;
    fit(samples, p, true);
    for (const Sample& s : samples) {
      const double d = s.d - p.offset - p.tilt * s.t;
      if (std::abs(d) <= 8)
        at[size_t(std::lround((d + 8) * 4))].push_back((s.value - p.low) / (p.high - p.low));
    }
  }
  std::vector<double> mean;
  for (auto& values : at) mean.push_back(values.size() < 5 ? std::nan("") : medianInPlace(values));
  return mean;
}

/// (1 + k) Phi(d / s) - k Phi(d / sqrt(s^2 + r^2)), with the sides free: the best s, k, r.
struct Haloed {
  double sigma, halo, reach, rms;
  double plain = 0;  ///< rms without a halo
};
Haloed fitHalo(const std::vector<double>& profile, double sigma) {
  Haloed best{sigma, 0, 1.5, 1e30};
  const auto cost = [&](double s, double k, double r) {
    // Both sides' levels follow by least squares.
    double n = 0, f1 = 0, ff = 0, v1 = 0, fv = 0, vv = 0;
    for (size_t i = 0; i < profile.size(); ++i) {
      if (std::isnan(profile[i])) continue;
      const double d = double(i) / 4 - 8;
      const double f = (1 + k) * normalIntegral(d / s) - k * normalIntegral(d / std::hypot(s, r)),
                   v = profile[i];
      n += 1, f1 += f, ff += f * f, v1 += v, fv += f * v, vv += v * v;
    }
    const double det = n * ff - f1 * f1, b = (n * fv - f1 * v1) / det, a = (v1 - b * f1) / n;
    return std::max(0.0, vv - a * v1 - b * fv) / n;
  };
  double plain = 1e30;
  for (double s = 0.8 * sigma; s < 1.25 * sigma; s *= 1.02) plain = std::min(plain, cost(s, 0, 1.5));
  best.rms = plain;
  for (const double r : {0.8, 1.2, 1.7, 2.4, 3.4}) {
    double s = sigma, k = 0.2, c = cost(s, k, r), ds = 0.15 * sigma, dk = 0.15;
    for (int round = 0; round < 60; ++round) {
      bool better = false;
      for (const auto& [a, b] :
           {std::pair(ds, 0.0), {-ds, 0.0}, {0.0, dk}, {0.0, -dk}, {ds, dk}, {-ds, -dk}}) {
        const double s2 = std::max(0.15, s + a), k2 = std::clamp(k + b, 0.0, 3.0), c2 = cost(s2, k2, r);
        if (c2 < c) s = s2, k = k2, c = c2, better = true;
      }
      if (!better) ds /= 2, dk /= 2;
    }
    if (c < best.rms) best = {s, k, r, c};
  }
  best.rms = std::sqrt(best.rms), best.plain = std::sqrt(plain);
  return best;
}

}  // namespace

std::optional<Softness> softnessOf(const std::vector<EdgeFit>& edges, const Picture& light,
                                   const std::optional<Vec2d>& near, double radius) {
  constexpr size_t least = 6, plenty = 12;
  std::vector<const EdgeFit*> chosen;
  for (const EdgeFit& e : edges)
    if (near && (e.at - *near).length() < radius) chosen.push_back(&e);
  if (chosen.size() < plenty) {
    chosen.clear();
    for (const EdgeFit& e : edges) chosen.push_back(&e);
  }
  if (chosen.size() < least) return {};
  std::sort(chosen.begin(), chosen.end(), [](auto a, auto b) { return a->sigma[1] < b->sigma[1]; });
  const double low = chosen[chosen.size() * 12 / 100]->sigma[1];
  // Those about the sharpest, then about the middle of those: noise spreads them to both sides.
  double middle = 1.03 * low;
  std::vector<const EdgeFit*> agree;
  for (int round = 0; round < 4; ++round) {
    agree.clear();
    std::vector<double> sigmas;
    for (const EdgeFit* e : chosen)
      if (e->sigma[1] > 0.8 * middle && e->sigma[1] < 1.19 * middle)
        agree.push_back(e), sigmas.push_back(e->sigma[1]);
    if (agree.size() < least) return {};
    middle = medianInPlace(sigmas);
  }
  chosen = agree;
  if (chosen.size() < least) return {};
  Softness out;
  out.edges = int(chosen.size());
  double spread = 0;
  for (size_t c = 0; c < 3; ++c) {
    std::vector<double> all;
    for (const EdgeFit* e : chosen) all.push_back(e->sigma[c]);
    out.sigma[c] = medianInPlace(all);
    if (c != 1) continue;
    for (const EdgeFit* e : chosen) spread += std::pow(e->sigma[1] / out.sigma[1] - 1, 2);
  }
  out.margin = std::sqrt(spread / double(chosen.size())) / std::sqrt(double(chosen.size())) * 1.25;
  const std::vector<double> profile = meanProfile(chosen, light);
  const Haloed halo = fitHalo(profile, out.sigma[1]);
  // What noise alone would fit as well is none.
  constexpr double seen = 0.06, better = 0.6;
  if (halo.halo > seen && halo.rms < better * halo.plain) {
    const double share = halo.sigma / out.sigma[1];
    for (double& s : out.sigma) s *= share;
    out.halo = halo.halo, out.haloPx = halo.reach;
  }
  return out;
}

std::optional<Fringes> fringesOf(const std::vector<EdgeFit>& edges, int width, int height) {
  constexpr size_t least = 20;
  const Vec2d middle(width / 2.0, height / 2.0);
  Fringes out{{0, 0}, {0, 0}};
  std::vector<std::array<double, 3>> rows;  // [how far out along the edge's normal, red, blue]
  for (const EdgeFit& e : edges) {
    const double out_ = (e.at - middle).dot(e.across);
    if (std::abs(out_) > 0.08 * middle.length())
      rows.push_back({out_, e.offset[0] - e.offset[1], e.offset[2] - e.offset[1]});
  }
  if (rows.size() < least) return {};
  for (int c = 0; c < 2; ++c) {
    double scale = 0, deviation = 1e9, margin = 0;
    for (int round = 0; round < 12; ++round) {
      double xx = 0, xy = 0;
      for (const auto& r : rows) {
        const double left = std::abs(r[size_t(c) + 1] - scale * r[0]),
                     w = left < 1.5 * deviation ? 1 : 1.5 * deviation / left;
        xx += w * r[0] * r[0], xy += w * r[0] * r[size_t(c) + 1];
      }
      scale = xy / xx;
      std::vector<double> off;
      for (const auto& r : rows) off.push_back(std::abs(r[size_t(c) + 1] - scale * r[0]));
      deviation = std::max(1e-4, 1.4826 * medianInPlace(off));
      margin = deviation / std::sqrt(xx);
    }
    out.scale[c] = 1000 * scale, out.margin[c] = 1000 * margin;
  }
  return out;
}

double softnessAfter(double blur) {
  // A half plane at some angles, each pixel by its cover, blurred and fitted.
  constexpr int size = 41;
  const std::vector<float> w = gaussianWeights(blur);
  std::vector<double> found;
  for (const double turn : {0.12, 0.31, 0.55}) {
    const Vec2d n(std::cos(turn), std::sin(turn));
    std::vector<double> cover(size * size), across(size * size);
    for (int y = 0; y < size; ++y)
      for (int x = 0; x < size; ++x) {
        int in = 0;
        for (int k = 0; k < 64; ++k)
          in += (x + (k % 8 + 0.5) / 8 - size / 2.0) * n.x + (y + (k / 8 + 0.5) / 8 - size / 2.0) * n.y > 0;
        cover[size_t(y * size + x)] = in / 64.0;
      }
    Picture soft = Picture::rgb(size, size);
    const int reach = blur > 0 ? int(w.size()) - 1 : 0;
    const auto taps = [&](const auto& at) {
      double sum = blur > 0 ? w[0] * at(0) : at(0);
      for (int k = 1; k <= reach; ++k) sum += w[size_t(k)] * (at(k) + at(-k));
      return sum;
    };
    const auto in = [](int v) { return size_t(std::clamp(v, 0, size - 1)); };
    for (int y = 0; y < size; ++y)
      for (int x = 0; x < size; ++x)
        across[size_t(y * size + x)] = taps([&](int k) { return cover[size_t(y) * size + in(x + k)]; });
    for (int y = 0; y < size; ++y)
      for (int x = 0; x < size; ++x)
        std::fill_n(soft.at(x, y), 3,
                    float(taps([&](int k) { return across[in(y + k) * size + size_t(x)]; })));
    if (const auto e = fitAt(soft, size / 2, size / 2, 0)) found.push_back(e->sigma[1]);
  }
  return found.empty() ? std::hypot(blur, 0.29) : medianInPlace(found);
}

double blurFor(double wanted, double own) {
  constexpr double pixel = 0.29;  // what a render's own edge measures, where it is no softer than its pixels
  if (wanted <= own) return 0;
  const double hard = own > 1.3 * pixel ? std::sqrt(wanted * wanted - own * own + pixel * pixel) : wanted;
  double low = 0, high = hard;
  for (int round = 0; round < 14; ++round) {
    const double middle = (low + high) / 2;
    (softnessAfter(middle) < hard ? low : high) = middle;
  }
  return (low + high) / 2;
}

}  // namespace dusk
