#include "core/trace/denoise.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include "core/trace/denoise_weights.h"

namespace dusk {
namespace {

constexpr int blockSize = denoiserBlock, quickRadius = 5;
static_assert(Block::margin == denoiserReach);

/// What is filtered with one set of weights: values to be averaged, in planes.
struct Signal {
  std::vector<Plane> in, out;
  Plane guide, variance, reliability, sum;
  Plane effective;  ///< how many samples make up the value: one, where a single one outshines all others
  bool present = false;
  void make(const Block& b, size_t planes) {
    in.assign(planes, b.plane()), out.assign(planes, b.plane());
    guide = b.plane(), variance = b.plane(), reliability = b.plane(), sum = b.plane();
    effective = b.plane();
  }
};

/// What a glossy ground mirrors is its own: its edges are nowhere in the shadows.
enum { diffuse, specular, transmission, ground, mirror, signalCount };

/// What the filter is run for: the picture, every pass, or only to tell how far off it will be.
enum class Purpose { picture, everything, judging };

/// One block of the picture on its way through.
class Work {
 public:
  Work(const Film& film, const Block& block, Purpose purpose)
      : film_(film),
        b_(block),
        all_(purpose == Purpose::everything),
        judging_(purpose == Purpose::judging),
        groups_(all_ ? int(film.groups().size()) : 1) {
    features_.make(b_);
    for (int s = 0; s < signalCount; ++s) signals_[s].make(b_, size_t(groups_) * planesOf(s));
  }

  /// Planes of one group: direct and indirect light apart where all is wanted; the guide alone to judge.
  size_t planesOf(int signal) const {
    return judging_ ? 1 : signal == ground ? 6 : signal == mirror ? 3 : all_ ? 6 : 3;
  }

  /// Takes what lies within a part of the picture.
  void gather(const Film::Window& within) {
    for (int y = 0; y < b_.height; ++y)
      for (int x = 0; x < b_.width; ++x) {
        const int px = b_.x0 + x, py = b_.y0 + y;
        if (px < within.x0 || py < within.y0 || px >= within.x1 || py >= within.y1) continue;
        const Film::Pixel* p = film_.pixel(px, py);
        if (p && p->count > 0) gatherPixel(*p, film_.light(px, py), size_t(y) * size_t(b_.width) + size_t(x));
      }
    for (int s = 0; s < signalCount; ++s)
      if (signals_[s].present) {
        // What is mirrored is a difference, in which little may be right.
        if (s != mirror) calm(signals_[s], s == ground && !judging_ ? 3 : signals_[s].in.size(), s == ground);
        smooth(b_, signals_[s].variance);
      }
  }

  void filter(Care care = Care::thorough) {
    const int radius = care == Care::quick ? quickRadius : searchRadius;
    if (!std::any_of(std::begin(signals_), std::end(signals_), [](const Signal& s) { return s.present; }))
      return;
    const Area product = areaOf(b_, features_.cover),
               place = areaOf(b_, signals_[ground].reliability);  // of the mirror, too
    Plane alike = b_.plane(), weight = b_.plane(), scratch = b_.plane();
    for (int dy = 0; dy <= radius; ++dy)
      for (int dx = -radius; dx <= radius; ++dx) {
        if (dy == 0 && dx < 0) continue;
        const bool self = dx == 0 && dy == 0;
        if (!self && signals_[diffuse].present + signals_[specular].present + signals_[transmission].present)
          featureWeights(b_, product, features_, dx, dy, alike);
        for (int s = 0; s < signalCount; ++s) {
          Signal& signal = signals_[s];
          if (!signal.present) continue;
          const Area& area = s >= ground ? place : product;
          if (self)
            std::fill(weight.begin(), weight.end(), 1.0f);
          else
            signalWeights(b_, area, signal.guide, signal.variance, dx, dy, scratch, weight);
          if (!self && s < ground) multiply(b_, area, weight, alike);
          if (!self && (s == transmission || s == mirror) && !features_.behindVariance.empty())
            multiplyByBehind(b_, area, features_, dx, dy, weight);
          gatherWeights(b_, area, weight, signal.reliability, dx, dy, signal.sum);
          for (size_t k = 0; k < signal.in.size(); ++k)
            average(b_, area, weight, signal.reliability, signal.in[k], dx, dy, signal.out[k]);
        }
      }
  }

  /// `top`: the first row of `out`.
  void scatter(Passes& out, int top, float strength) const {
    for (int y = 0; y < b_.height; ++y)
      for (int x = 0; x < b_.width; ++x) {
        const int px = b_.x0 + x, py = b_.y0 + y;
        if (px < b_.inX0 || py < b_.inY0 || px >= b_.inX1 || py >= b_.inY1) continue;
        if (const Film::Pixel* p = film_.pixel(px, py); p && p->count > 0)
          scatterPixel(*p, film_.light(px, py), size_t(y) * size_t(b_.width) + size_t(x),
                       size_t(py - top) * size_t(film_.width()) + size_t(px), strength, out);
      }
  }

  /// Adds to `out`, which holds a part of the picture, what is expected of each pixel, as expectedErrors
  /// says.
  void judge(float strength, const Film::Window& part, std::vector<float>& out) const {
    for (int y = b_.inY0; y < b_.inY1; ++y)
      for (int x = b_.inX0; x < b_.inX1; ++x) {
        const Film::Pixel* p = film_.pixel(x, y);
        if (!p || p->count < 2) continue;
        const size_t i = size_t(y - b_.y0) * size_t(b_.width) + size_t(x - b_.x0);
        const float shown = Film::shown(*p), bare = 1 - p->alpha / p->count;
        float sum = 0;
        for (int s = 0; s < ground && p->alpha > 0; ++s) {
          const float colour = luminance(colourOf(*p, s)), over = 1 / colour,
                      noise = Film::variance(*p, Film::NoiseOf(s)) * over * over;
          sum += expectedError(s, i, p->sum[s] / p->count * over, noise, strength) * colour * colour;
        }
        sum /= shown * shown;
        if (p->without > 0)
          sum += bare * bare *
                 (expectedError(ground, i, p->with / p->without, Film::ratioVariance(*p), strength) +
                  expectedError(mirror, i, p->sum[Film::mirrorNoise] / p->count,
                                Film::variance(*p, Film::mirrorNoise), strength));
        out[size_t(y - part.y0) * size_t(part.x1 - part.x0) + size_t(x - part.x0)] = sum;
      }
  }

 private:
  /// Brings single samples that outshine their pixel and all around it towards what is around: as many
  /// samples as make up a value, so much is it believed. After Zirr, Hanika & Dachsbacher 2018, "Re-weighting
  /// Firefly Samples for Improved Finite-Sample Monte Carlo Estimates", from a pixel's sums alone. A ground
  /// (`planes` of a group: the light with the product) is calmed only where it is brighter than without.
  void calm(Signal& s, size_t planes, bool isGround) {
    constexpr int reach = 2;
    constexpr float believed = 6;
    const Plane guide = s.guide;
    const size_t perGroup = isGround && !judging_ ? 6 : s.in.size();
    for (int y = reach; y + reach < b_.height; ++y)
      for (int x = reach; x + reach < b_.width; ++x) {
        const size_t i = size_t(y) * size_t(b_.width) + size_t(x);
        if (guide[i] <= (isGround ? 1.0f : 0.0f) || s.effective[i] >= believed) continue;
        float sum = 0, weights = 0;
        for (int dy = -reach; dy <= reach; ++dy)
          for (int dx = -reach; dx <= reach; ++dx) {
            const size_t k = size_t(y + dy) * size_t(b_.width) + size_t(x + dx);
            if (k != i) sum += guide[k] * s.reliability[k], weights += s.reliability[k];
          }
        const float around = weights > 0 ? std::max(sum / weights, isGround ? 1.0f : 0.0f) : 0.0f;
        if (weights <= 0 || guide[i] <= around) continue;
        const float belief = std::max(0.0f, (s.effective[i] - 1) / (believed - 1));
        const float by = (around + (guide[i] - around) * belief) / guide[i];
        s.guide[i] *= by, s.variance[i] *= by * by;
        for (size_t k = 0; k < s.in.size(); ++k)
          if (k % perGroup < planes) s.in[k][i] *= by;
      }
  }

  static Rgb colourOf(const Film::Pixel& p, int signal) {
    const float cover = p.alpha / p.count;
    const Rgb floor(0.01f * cover);
    const Rgb c = signal == diffuse    ? p.diffuse / p.count
                  : signal == specular ? p.specular / p.count
                  : p.passed > 0       ? p.behind * (cover / p.passed)
                                       : Rgb(cover);
    return {std::max(c.x, floor.x), std::max(c.y, floor.y), std::max(c.z, floor.z)};
  }
  Rgb partOf(const GroupLight* light, int group, int component) const {
    if (all_) return light[group].part[component];
    Rgb sum(0);
    for (size_t g = 0; g < film_.groups().size(); ++g) sum += light[g].part[component];
    return sum;
  }

  void gatherPixel(const Film::Pixel& p, const GroupLight* light, size_t i) {
    const float n = p.count, cover = p.alpha / n;
    features_.gatherBehind(p, i);
    if (p.alpha > 0) {
      features_.gather(p, i);
      for (int s = 0; s < ground; ++s) {
        Signal& signal = signals_[s];
        const Rgb colour = colourOf(p, s);
        const float over = 1 / luminance(colour);
        signal.guide[i] = p.sum[s] / n * over;
        signal.variance[i] = Film::variance(p, Film::NoiseOf(s)) * over * over;
        signal.effective[i] = p.squares[s] > 0 ? p.sum[s] * p.sum[s] / p.squares[s] : 0;
        signal.reliability[i] = cover;
        if (p.squares[s] > 0) signal.present = true;
        if (judging_) {
          signal.in[0][i] = signal.guide[i];
          continue;
        }
        for (int g = 0; g < groups_; ++g) {
          const Rgb direct = partOf(light, g, 2 * s) / n, indirect = partOf(light, g, 2 * s + 1) / n;
          for (int c = 0; c < 3; ++c) {
            float* const first = &signal.in[size_t(g) * planesOf(s) + size_t(c)][i];
            if (!all_) {
              *first = (direct[c] + indirect[c]) / colour[c];
            } else {
              *first = direct[c] / colour[c];
              signal.in[size_t(g) * planesOf(s) + 3 + size_t(c)][i] = indirect[c] / colour[c];
            }
          }
        }
      }
    }
    if (p.without <= 0) return;
    Signal &lit = signals_[ground], &mirrored = signals_[mirror];
    lit.guide[i] = p.with / p.without;
    lit.variance[i] = Film::ratioVariance(p);
    lit.effective[i] = p.withSquared > 0 ? p.with * p.with / p.withSquared : 0;
    mirrored.guide[i] = p.sum[Film::mirrorNoise] / n;
    mirrored.variance[i] = Film::variance(p, Film::mirrorNoise);
    lit.reliability[i] = mirrored.reliability[i] = 1;
    if (p.with != p.without) lit.present = true;
    if (p.squares[Film::mirrorNoise] > 0) mirrored.present = true;
    if (judging_) {
      lit.in[0][i] = lit.guide[i], mirrored.in[0][i] = mirrored.guide[i];
      return;
    }
    for (int g = 0; g < groups_; ++g) {
      Rgb with(0), without(0), of(0);
      for (size_t k = all_ ? size_t(g) : 0; k < (all_ ? size_t(g) + 1 : film_.groups().size()); ++k)
        with += light[k].with, without += light[k].without, of += light[k].mirror;
      for (int c = 0; c < 3; ++c) {
        lit.in[size_t(g) * 6 + size_t(c)][i] = with[c] / n;
        lit.in[size_t(g) * 6 + 3 + size_t(c)][i] = without[c] / n;
        mirrored.in[size_t(g) * 3 + size_t(c)][i] = of[c] / n;
      }
    }
  }

  /// Stein's estimate of the squared error of a value that was mixed by `strength` with its filtered one,
  /// with the variance `noise` before: right on average, without the truth.
  float expectedError(int signal, size_t i, float value, float noise, float strength) const {
    const Signal& s = signals_[signal];
    if (!s.present || s.sum[i] <= 0) return noise;
    const float moved = strength * (s.out[0][i] / s.sum[i] - value),
                own = 1 - strength + strength * s.reliability[i] / s.sum[i];
    return std::max(noise * own, moved * moved + noise * (2 * own - 1));
  }

  Rgb filtered(int signal, size_t plane, size_t i) const {
    const Signal& s = signals_[signal];
    if (s.sum[i] <= 0) return Rgb(0);
    return Rgb(s.out[plane][i], s.out[plane + 1][i], s.out[plane + 2][i]) / s.sum[i];
  }

  void scatterPixel(const Film::Pixel& p, const GroupLight* light, size_t i, size_t to, float strength,
                    Passes& out) const {
    const float n = p.count;
    if (p.alpha > 0) {
      Rgb beauty(0);
      for (int g = 0; g < groups_; ++g) {
        for (int s = 0; s < ground; ++s) {
          const Rgb colour = colourOf(p, s);
          for (int k = 0; k < (all_ ? 2 : 1); ++k) {
            Rgb noisy = partOf(light, g, 2 * s + k) / n;
            if (!all_) noisy += partOf(light, g, 2 * s + 1) / n;
            const Rgb clean = signals_[s].present
                                  ? filtered(s, size_t(g) * planesOf(s) + size_t(k) * 3, i) * colour
                                  : Rgb(0);
            const Rgb value = mixed(noisy, clean, strength);
            beauty += value;
            if (all_) put(out.groups[size_t(g)].part[size_t(2 * s + k)], to, value);
          }
        }
        beauty += partOf(light, g, emission) / n;
      }
      put(out.beauty, to, beauty);
    }
    if (p.without <= 0) return;
    if (signals_[ground].present) scatterLight(light, n, i, to, strength, out);
    if (signals_[mirror].present && !out.reflection.empty()) scatterMirror(light, n, i, to, strength, out);
  }

  static Rgb mixed(const Rgb& noisy, const Rgb& clean, float strength) {
    return noisy * (1 - strength) + clean * strength;
  }
  static void put(Picture& picture, size_t to, const Rgb& v) {
    std::copy_n(&v.x, 3, &picture.pixels[to * 3]);
  }

  void scatterLight(const GroupLight* light, float n, size_t i, size_t to, float strength,
                    Passes& out) const {
    Rgb with(0), without(0);
    for (int g = 0; g < groups_; ++g) {
      const Rgb w = filtered(ground, size_t(g) * 6, i), o = filtered(ground, size_t(g) * 6 + 3, i);
      with += w, without += o;
      if (!all_) continue;
      put(out.groups[size_t(g)].with, to, mixed(light[g].with / n, w, strength));
      put(out.groups[size_t(g)].without, to, mixed(light[g].without / n, o, strength));
    }
    Rgb ratio(1);
    for (int c = 0; c < 3; ++c)
      if (without[c] > 0) ratio[c] = with[c] == without[c] ? 1.0f : std::max(0.0f, with[c] / without[c]);
    const Rgb noisy(out.ratio.pixels[to * 3], out.ratio.pixels[to * 3 + 1], out.ratio.pixels[to * 3 + 2]);
    if (ratio != noisy) put(out.ratio, to, mixed(noisy, ratio, strength));
  }

  void scatterMirror(const GroupLight* light, float n, size_t i, size_t to, float strength,
                     Passes& out) const {
    Rgb sum(0);
    for (int g = 0; g < groups_; ++g) {
      const Rgb clean = filtered(mirror, size_t(g) * 3, i);
      sum += clean;
      if (all_ && !out.groups[size_t(g)].mirror.empty())
        put(out.groups[size_t(g)].mirror, to, mixed(light[g].mirror / n, clean, strength));
    }
    const float* r = &out.reflection.pixels[to * 3];
    put(out.reflection, to, mixed({r[0], r[1], r[2]}, sum, strength));
  }

  const Film& film_;
  Block b_;
  bool all_, judging_;
  int groups_;
  FeaturePlanes features_;
  Signal signals_[signalCount];
};

void eachBlock(const Film& film, const Rows& rows, const Progress& progress,
               const std::function<void(const Block&)>& act) {
  const int across = (film.width() + blockSize - 1) / blockSize,
            down = (rows.count() + blockSize - 1) / blockSize;
  tbb::parallel_for(
      tbb::blocked_range<int>(0, across * down, 1),
      [&](const tbb::blocked_range<int>& range) {
        for (int k = range.begin(); k < range.end() && !progress.cancelled(); ++k) {
          const int x = k % across * blockSize, y = rows.first + k / across * blockSize;
          act(Block(x, y, std::min(x + blockSize, film.width()), std::min(y + blockSize, rows.end)));
        }
      },
      tbb::simple_partitioner());
}

}  // namespace

Passes denoised(const Film& film, double strength, const Progress& progress, bool all, const Rows& rows,
                Care care) {
  Passes out = film.resolve(all, rows);
  if (strength <= 0) return out;
  eachBlock(film, rows, progress, [&](const Block& block) {
    for (int y = block.inY0; y < block.inY1; y += Film::tileSize)
      for (int x = block.inX0; x < block.inX1; x += Film::tileSize)
        if (film.isKept(film.tileOf(x, y))) {
          Work work(film, block, all ? Purpose::everything : Purpose::picture);
          work.gather({0, 0, film.width(), film.height()});
          work.filter(care);
          return work.scatter(out, rows.first, float(std::min(strength, 1.0)));
        }
  });
  return out;
}

std::vector<float> expectedErrors(const Film& film, double strength, const Film::Window& part) {
  const int width = part.x1 - part.x0;
  std::vector<float> out(size_t(width) * size_t(part.y1 - part.y0));
  for (int top = part.y0; top < part.y1; top += blockSize)
    for (int left = part.x0; left < part.x1; left += blockSize) {
      const int right = std::min(left + blockSize, part.x1), bottom = std::min(top + blockSize, part.y1);
      // Only what lies about samplingMask pixels.
      int x0 = right, y0 = bottom, x1 = 0, y1 = 0;
      for (int y = top; y < bottom; ++y)
        for (int x = left; x < right; ++x)
          if (film.samplingMask.empty() || film.samplingMask[size_t(y) * size_t(film.width()) + size_t(x)])
            x0 = std::min(x0, x), y0 = std::min(y0, y), x1 = std::max(x1, x + 1), y1 = std::max(y1, y + 1);
      if (x1 <= x0) continue;
      Work work(film, Block(x0, y0, x1, y1), Purpose::judging);
      work.gather(part);
      work.filter();
      work.judge(float(std::min(strength, 1.0)), part, out);
    }
  return out;
}

}  // namespace dusk
