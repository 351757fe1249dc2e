#include "core/blend/blur.h"

#include "core/blend/combine.h"
#include "core/blend/lanes.h"

namespace dusk {
namespace {

int clampRow(int y, const PixelArea& area) { return std::clamp(y, area.y0, area.y1 - 1); }

/// A row from x0 to x1: the sheet's own where it reaches so far, else written into `row`, with the border's
/// pixel where there are none.
const float* padded(const Sheet& from, int channel, int y, int x0, int x1, std::vector<float>& row) {
  const float* source = from.row(channel, clampRow(y, from.area));
  if (x0 >= from.area.x0 && x1 <= from.area.x1) return source + (x0 - from.area.x0);
  row.resize(size_t(x1 - x0));
  const int in0 = std::max(x0, from.area.x0), in1 = std::min(x1, from.area.x1);
  std::copy(source + (in0 - from.area.x0), source + (in1 - from.area.x0), row.begin() + (in0 - x0));
  std::fill(row.begin(), row.begin() + (in0 - x0), source[0]);
  std::fill(row.begin() + (in1 - x0), row.end(), source[from.area.width() - 1]);
  return row.data();
}

DUSK_LANES void scale(float* to, const float* from, int count, float w) {
  for (int i = 0; i < count; ++i) to[i] = from[i] * w;
}
DUSK_LANES void addPair(float* to, const float* a, const float* b, int count, float w) {
  for (int i = 0; i < count; ++i) to[i] += (a[i] + b[i]) * w;
}

/// By weights for each channel, across and along in one go.
class SmallBlur : public Node {
 public:
  SmallBlur(const NodePtr& of, const std::vector<double>& sigmas)
      : Node(of->whole, of->channels, {held(of)}, NodeKey("blur").with(sigmas)) {
    for (const double s : sigmas) weights_.push_back(gaussianWeights(s));
    for (const auto& w : weights_) reach_ = std::max(reach_, int(w.size()) - 1);
  }
  PixelArea needs(size_t, const PixelArea& a) const override {
    return {a.x0 - reach_, a.y0 - reach_, a.x1 + reach_, a.y1 + reach_};
  }
  void make(std::span<const Sheet> from, Sheet& to) const override {
    std::vector<float> wide(size_t(to.area.width() + 2 * reach_)), row, other;
    for (int c = 0; c < channels; ++c) {
      const std::vector<float>& w = weights_[size_t(c) % weights_.size()];
      const int reach = int(w.size()) - 1, x0 = to.area.x0 - reach, x1 = to.area.x1 + reach, n = x1 - x0;
      for (int y = to.area.y0; y < to.area.y1; ++y) {
        scale(wide.data(), padded(from[0], c, y, x0, x1, row), n, w[0]);
        for (int k = 1; k <= reach; ++k) {
          const float* above = padded(from[0], c, y - k, x0, x1, row);
          addPair(wide.data(), above, padded(from[0], c, y + k, x0, x1, other), n, w[size_t(k)]);
        }
        float* out = to.row(c, y);
        scale(out, wide.data() + reach, to.area.width(), w[0]);
        for (int k = 1; k <= reach; ++k)
          addPair(out, wide.data() + reach - k, wide.data() + reach + k, to.area.width(), w[size_t(k)]);
      }
    }
  }

 private:
  std::vector<std::vector<float>> weights_;
  int reach_ = 0;
};

PixelArea halfOf(const PixelArea& a) {
  const auto up = [](int v) { return (v + 1) >> 1; };
  return {a.x0 >> 1, a.y0 >> 1, up(a.x1), up(a.y1)};
}

DUSK_LANES void fiveRows(float* to, const float* const* rows, int count) {
  const float *a = rows[0], *b = rows[1], *c = rows[2], *d = rows[3], *e = rows[4];
  for (int i = 0; i < count; ++i)
    to[i] = (a[i] + e[i]) * (1.0f / 16) + (b[i] + d[i]) * (4.0f / 16) + c[i] * (6.0f / 16);
}
DUSK_LANES void everyOther(float* to, const float* from, int count) {
  for (int i = 0; i < count; ++i) {
    const float* p = from + 2 * i;
    to[i] = (p[0] + p[4]) * (1.0f / 16) + (p[1] + p[3]) * (4.0f / 16) + p[2] * (6.0f / 16);
  }
}

/// Half the size: pixel x lies on pixel 2x.
class Reduce : public Node {
 public:
  explicit Reduce(const NodePtr& of) : Node(halfOf(of->whole), of->channels, {held(of)}, NodeKey("reduce")) {}
  bool isHeld() const override { return true; }
  PixelArea needs(size_t, const PixelArea& a) const override {
    return {2 * a.x0 - 2, 2 * a.y0 - 2, 2 * a.x1 + 2, 2 * a.y1 + 2};
  }
  void make(std::span<const Sheet> from, Sheet& to) const override {
    const int x0 = 2 * to.area.x0 - 2, x1 = 2 * to.area.x1 + 1, n = x1 - x0;
    std::vector<float> rows[5], wide(static_cast<size_t>(n));
    const float* at[5];
    for (int c = 0; c < channels; ++c)
      for (int y = to.area.y0; y < to.area.y1; ++y) {
        for (int k = 0; k < 5; ++k) at[k] = padded(from[0], c, 2 * y - 2 + k, x0, x1, rows[k]);
        fiveRows(wide.data(), at, n);
        everyOther(to.row(c, y), wide.data(), to.area.width());
      }
  }
};

DUSK_LANES void oneSixOne(float* to, const float* a, const float* b, const float* c, int count) {
  for (int i = 0; i < count; ++i) to[i] = (a[i] + c[i]) * (1.0f / 8) + b[i] * (6.0f / 8);
}
DUSK_LANES void half(float* to, const float* a, const float* b, int count) {
  for (int i = 0; i < count; ++i) to[i] = (a[i] + b[i]) * 0.5f;
}
/// Pixels between: `from` begins one before the pixel on which the even `first` lies.
DUSK_LANES void spread(float* to, const float* from, int pairs) {
  for (int i = 0; i < pairs; ++i) {
    const float even = (from[i] + from[i + 2]) * (1.0f / 8) + from[i + 1] * (6.0f / 8);
    const float odd = (from[i + 1] + from[i + 2]) * 0.5f;
    to[2 * i] = even, to[2 * i + 1] = odd;
  }
}

/// Back to twice the size.
class Expand : public Node {
 public:
  Expand(const NodePtr& of, const PixelArea& whole)
      : Node(whole, of->channels, {held(of)}, NodeKey("expand").with(whole)) {}
  PixelArea needs(size_t, const PixelArea& a) const override {
    const PixelArea h = halfOf(a);
    return {h.x0 - 1, h.y0 - 1, h.x1 + 2, h.y1 + 2};
  }
  void make(std::span<const Sheet> from, Sheet& to) const override {
    const int first = to.area.x0 >> 1, pairs = ((to.area.x1 + 1) >> 1) - first, n = pairs + 2;
    std::vector<float> a, b, c, wide(size_t(n), 0), out(size_t(pairs) * 2);
    for (int k = 0; k < channels; ++k)
      for (int y = to.area.y0; y < to.area.y1; ++y) {
        const int h = y >> 1, x0 = first - 1, x1 = x0 + n;
        const float *own = padded(from[0], k, h, x0, x1, b), *below = padded(from[0], k, h + 1, x0, x1, c);
        if (y & 1)
          half(wide.data(), own, below, n);
        else
          oneSixOne(wide.data(), padded(from[0], k, h - 1, x0, x1, a), own, below, n);
        spread(out.data(), wide.data(), pairs);
        std::copy_n(out.data() + (to.area.x0 - 2 * first), to.area.width(), to.row(k, y));
      }
  }
};

/// Variance that halving so often and coming back has.
double pyramidVariance(int levels) { return 2 * (std::pow(4, levels) - 1) / 3; }

}  // namespace

std::vector<float> gaussianWeights(double sigma) {
  const double t = sigma * sigma;
  const int reach = std::max(1, int(std::ceil(3.3 * sigma + 0.5)));
  std::vector<double> w{1};
  double sum = 0;
  for (int n = 0; n <= reach; ++n) {
    // Of small ones exp(-t) times the modified Bessel function of order n; wider ones sampled have that
    // variance, too, and the shape.
    const double value = sigma > 0.8 ? std::exp(-n * n / (2 * t))
                         : t > 0     ? std::exp(-t) * std::cyl_bessel_i(double(n), t)
                                     : n == 0;
    if (n == 0)
      w[0] = value;
    else
      w.push_back(value);
    sum += n ? 2 * value : value;
  }
  std::vector<float> out;
  for (const double v : w) out.push_back(float(v / sum));
  return out;
}

double whiteNoiseLeft(double sigma) {
  if (sigma > 3) return 1 / (4 * pi * sigma * sigma);
  const std::vector<float> w = gaussianWeights(sigma);
  double sum = double(w[0]) * w[0];
  for (size_t i = 1; i < w.size(); ++i) sum += 2.0 * w[i] * w[i];
  return sum * sum;
}

NodePtr blurredApart(const NodePtr& of, const std::vector<double>& sigmas) {
  return std::make_shared<SmallBlur>(of, sigmas);
}

NodePtr blurred(const NodePtr& of, double sigma) {
  if (sigma <= 0.02) return of;
  const double variance = sigma * sigma, least = 1.2;
  int levels = 0;
  while (variance - pyramidVariance(levels + 1) >= least * std::pow(4, levels + 1)) ++levels;
  NodePtr small = of;
  std::vector<PixelArea> sizes;
  for (int i = 0; i < levels; ++i) sizes.push_back(small->whole), small = std::make_shared<Reduce>(small);
  small = blurredApart(small, {std::sqrt((variance - pyramidVariance(levels)) / std::pow(4, levels))});
  for (int i = levels; i-- > 0;) small = std::make_shared<Expand>(small, sizes[size_t(i)]);
  return small;
}

namespace {
DUSK_LANES void sharpened(float* out, const float* in, const float* soft, int count, float amount) {
  for (int i = 0; i < count; ++i) out[i] = in[i] + amount * (in[i] - soft[i]);
}
}  // namespace

NodePtr unsharp(const NodePtr& of, double sigma, float amount) {
  return combined({of, blurred(of, sigma)}, of->channels, NodeKey("unsharp").with(amount),
                  [amount](const auto& in, float* const* out, int count, int, int) {
                    for (size_t c = 0; c < in[0].size(); ++c)
                      sharpened(out[c], in[0][c], in[1][c], count, amount);
                  });
}

NodePtr blurredSum(const NodePtr& of, const std::vector<double>& sigmas, const std::vector<float>& weights) {
  // Where all are wide, their sum is made on the smaller picture.
  constexpr double wide = 4;
  if (*std::min_element(sigmas.begin(), sigmas.end()) > wide) {
    std::vector<double> smaller;
    for (const double s : sigmas) smaller.push_back(std::sqrt((s * s - pyramidVariance(1)) / 4));
    return std::make_shared<Expand>(blurredSum(std::make_shared<Reduce>(of), smaller, weights), of->whole);
  }
  std::vector<NodePtr> inputs;
  for (const double s : sigmas) inputs.push_back(blurred(of, s));
  return combined(inputs, of->channels, NodeKey("sum").with(weights),
                  [weights](const auto& in, float* const* out, int count, int, int) {
                    for (size_t c = 0; c < in[0].size(); ++c) {
                      scale(out[c], in[0][c], count, weights[0]);
                      for (size_t i = 1; i < in.size(); ++i) addScaled(out[c], in[i][c], count, weights[i]);
                    }
                  });
}

}  // namespace dusk
