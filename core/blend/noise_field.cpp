#include "core/blend/grain.h"
#include "core/blend/lanes.h"

namespace dusk {
namespace {

inline uint32_t hashed(uint32_t v) {
  v ^= v >> 16, v *= 0x21f0aaadu, v ^= v >> 15, v *= 0xd35a2d97u, v ^= v >> 15;
  return v;
}
/// Nearly normal, of unit variance: the sum of eight even numbers of 8 bits each.
inline float nearlyNormal(uint32_t a, uint32_t b) {
  const auto sum = [](uint32_t v) { return (v & 255) + (v >> 8 & 255) + (v >> 16 & 255) + (v >> 24); };
  return (float(sum(a) + sum(b)) - 1020.0f) * (1.0f / 209.0147f);
}

DUSK_LANES void drawRow(float* to, int count, uint32_t x0, uint32_t rowSeed) {
  for (int i = 0; i < count; ++i) {
    const uint32_t h = hashed((x0 + uint32_t(i)) * 0x9e3779b9u ^ rowSeed);
    to[i] = nearlyNormal(h, hashed(h + 0x85ebca6bu));
  }
}

class WhiteNoise : public Node {
 public:
  WhiteNoise(const PixelArea& whole, int seed)
      : Node(whole, 3, {}, NodeKey("white noise").with(whole).with(seed)), seed_(seed) {}
  void make(std::span<const Sheet>, Sheet& to) const override {
    for (int c = 0; c < 3; ++c)
      for (int y = to.area.y0; y < to.area.y1; ++y)
        drawRow(to.row(c, y), to.area.width(), uint32_t(to.area.x0),
                hashed(uint32_t(y) * 3 + uint32_t(c) + hashed(uint32_t(seed_))));
  }

 private:
  int seed_;
};

/// White noise filtered, and its channels mixed.
class Filtered : public Node {
 public:
  Filtered(const NodePtr& white, std::vector<float> kernel, const Vec3d& channels)
      : Node(white->whole, 3, {held(white)}, NodeKey("grain").with(kernel).with(channels)),
        kernel_(std::move(kernel)) {
    // Cholesky's factor of the channels' correlation.
    const double rg = std::clamp(channels.x, -0.999, 0.999), rb = std::clamp(channels.y, -0.999, 0.999);
    const double g = std::sqrt(1 - rg * rg), gb = (channels.z - rg * rb) / g;
    mix_[0][0] = 1, mix_[1][0] = float(rg), mix_[1][1] = float(g);
    mix_[2][0] = float(rb), mix_[2][1] = float(gb),
    mix_[2][2] = float(std::sqrt(std::max(0.0, 1 - rb * rb - gb * gb)));
  }
  PixelArea needs(size_t, const PixelArea& a) const override {
    return kernel_.size() == 1 ? a : PixelArea{a.x0 - reach, a.y0 - reach, a.x1 + reach, a.y1 + reach};
  }
  void make(std::span<const Sheet> from, Sheet& to) const override {
    const int n = to.area.width();
    std::vector<float> own(size_t(n) * 3);
    for (int y = to.area.y0; y < to.area.y1; ++y) {
      std::fill(own.begin(), own.end(), 0.0f);
      for (int c = 0; c < 3; ++c) filterRow(from[0], c, y, to.area.x0, n, &own[size_t(c) * size_t(n)]);
      for (int c = 0; c < 3; ++c) {
        float* out = to.row(c, y);
        std::fill(out, out + n, 0.0f);
        for (int k = 0; k <= c; ++k) addScaled(out, &own[size_t(k) * size_t(n)], n, mix_[c][k]);
      }
    }
  }

 private:
  static constexpr int reach = GrainLook::reach, side = 2 * reach + 1;
  void filterRow(const Sheet& in, int c, int y, int x0, int n, float* out) const {
    if (kernel_.size() == 1) return addScaled(out, in.row(c, y) + (x0 - in.area.x0), n, kernel_[0]);
    for (int dy = -reach; dy <= reach; ++dy) {
      const float* row = in.row(c, std::clamp(y + dy, in.area.y0, in.area.y1 - 1));
      for (int dx = -reach; dx <= reach; ++dx) {
        const float w = kernel_[size_t((dy + reach) * side + dx + reach)];
        if (w == 0) continue;
        // At the border some neighbours are missing: what there is begins later or ends earlier.
        const int first = std::max(x0 + dx, in.area.x0), end = std::min(x0 + n + dx, in.area.x1);
        if (end > first) addScaled(out + (first - dx - x0), row + (first - in.area.x0), end - first, w);
      }
    }
  }
  std::vector<float> kernel_;
  float mix_[3][3]{};
};

}  // namespace

double grainPower(const std::vector<double>& correlation, int u, int v, int n) {
  constexpr int reach = GrainLook::reach, side = 2 * reach + 1;
  double power = 0;
  for (int y = -reach; y <= reach; ++y)
    for (int x = -reach; x <= reach; ++x)
      power += correlation[size_t((y + reach) * side + x + reach)] * std::cos(2 * pi * (u * x + v * y) / n);
  return power;
}

std::vector<float> grainKernel(const std::vector<double>& correlation) {
  constexpr int reach = GrainLook::reach, side = 2 * reach + 1, n = 24;
  if (int(correlation.size()) != side * side) return {1};
  // The power at each frequency, of which the filter's is the root. What measuring left below zero is none.
  std::vector<double> root(n * n);
  for (int v = 0; v < n; ++v)
    for (int u = 0; u < n; ++u)
      root[size_t(v * n + u)] = std::sqrt(std::max(grainPower(correlation, u, v, n), 0.0));
  std::vector<float> kernel;
  double energy = 0;
  for (int y = -reach; y <= reach; ++y)
    for (int x = -reach; x <= reach; ++x) {
      double sum = 0;
      for (int v = 0; v < n; ++v)
        for (int u = 0; u < n; ++u) sum += root[size_t(v * n + u)] * std::cos(2 * pi * (u * x + v * y) / n);
      kernel.push_back(float(sum)), energy += sum * sum;
    }
  for (float& k : kernel) k /= float(std::sqrt(std::max(energy, 1e-30)));
  return kernel;
}

double grainLeft(const std::vector<double>& correlation, double scale) {
  if (scale >= 1) return 1;
  constexpr int reach = GrainLook::reach, side = 2 * reach + 1;
  double variance = 0;
  if (int(correlation.size()) != side * side) {
    variance = scale * scale;
  } else {
    const auto share = [&](int d) { return std::max(0.0, 1 - std::abs(d) * scale); };
    for (int y = -reach; y <= reach; ++y)
      for (int x = -reach; x <= reach; ++x)
        variance += scale * scale * correlation[size_t((y + reach) * side + x + reach)] * share(x) * share(y);
  }
  return std::sqrt(std::clamp(variance, 0.0, 1.0));
}

NodePtr noiseField(const PixelArea& whole, const std::vector<double>& correlation, const Vec3d& channels,
                   int seed) {
  return std::make_shared<Filtered>(std::make_shared<WhiteNoise>(whole, seed), grainKernel(correlation),
                                    channels);
}

}  // namespace dusk
