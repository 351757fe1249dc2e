#include "core/blend/resample.h"

namespace dusk {
namespace {

/// Pixel p shows what lies at middle + (p - middle) * per[channel].
class Resampled : public Node {
 public:
  Resampled(const NodePtr& of, const PixelArea& whole, const Vec2d& middle, std::vector<double> per,
            bool cubic, NodeKey key)
      : Node(whole, of->channels, {held(of)}, std::move(key)),
        middle_(middle),
        per_(std::move(per)),
        cubic_(cubic) {}
  PixelArea needs(size_t, const PixelArea& a) const override {
    PixelArea n{1 << 30, 1 << 30, -(1 << 30), -(1 << 30)};
    for (const double p : per_)
      for (const int x : {a.x0, a.x1})
        for (const int y : {a.y0, a.y1}) {
          const double sx = placeOf(x, middle_.x, p), sy = placeOf(y, middle_.y, p);
          n.x0 = std::min(n.x0, int(std::floor(sx)) - 2), n.x1 = std::max(n.x1, int(std::ceil(sx)) + 3);
          n.y0 = std::min(n.y0, int(std::floor(sy)) - 2), n.y1 = std::max(n.y1, int(std::ceil(sy)) + 3);
        }
    // All beyond the border still needs the border itself.
    const PixelArea& have = inputs[0]->whole;
    n.x0 = std::min(n.x0, have.x1 - 1), n.y0 = std::min(n.y0, have.y1 - 1);
    n.x1 = std::max(n.x1, have.x0 + 1), n.y1 = std::max(n.y1, have.y0 + 1);
    return n;
  }
  void make(std::span<const Sheet> from, Sheet& to) const override {
    const Sheet& in = from[0];
    const PixelArea& have = in.area;
    for (int c = 0; c < channels; ++c) {
      const double per = per_[size_t(c) % per_.size()];
      for (int y = to.area.y0; y < to.area.y1; ++y) {
        float* out = to.row(c, y);
        const Taps down = tapsAt(placeOf(y + 0.5, middle_.y, per) - 0.5);
        const float* rows[4];
        for (int k = 0; k < 4; ++k) rows[k] = in.row(c, std::clamp(down.first + k, have.y0, have.y1 - 1));
        for (int x = to.area.x0; x < to.area.x1; ++x) {
          const Taps across = tapsAt(placeOf(x + 0.5, middle_.x, per) - 0.5);
          float sum = 0;
          for (int k = 0; k < 4; ++k) {
            const int u = std::clamp(across.first + k, have.x0, have.x1 - 1) - have.x0;
            sum += across.weight[k] * (rows[0][u] * down.weight[0] + rows[1][u] * down.weight[1] +
                                       rows[2][u] * down.weight[2] + rows[3][u] * down.weight[3]);
          }
          out[x - to.area.x0] = sum;
        }
      }
    }
  }

 private:
  struct Taps {
    int first;
    float weight[4];
  };
  /// Keys 1981, "Cubic Convolution Interpolation for Digital Image Processing", which keeps edges as they
  /// are; or a straight line.
  Taps tapsAt(double at) const {
    const int whole = int(std::floor(at));
    const float t = float(at - whole), t2 = t * t, t3 = t2 * t;
    if (!cubic_) return {whole - 1, {0, 1 - t, t, 0}};
    return {whole - 1,
            {(-t3 + 2 * t2 - t) / 2, (3 * t3 - 5 * t2 + 2) / 2, (-3 * t3 + 4 * t2 + t) / 2, (t3 - t2) / 2}};
  }
  static double placeOf(double p, double middle, double per) {
    return per == 1 ? p : middle + (p - middle) * per;
  }
  Vec2d middle_;
  std::vector<double> per_;
  bool cubic_;
};

}  // namespace

NodePtr scaledApart(const NodePtr& of, const Vec2d& middle, const std::vector<double>& factors) {
  std::vector<double> per;
  for (const double f : factors) per.push_back(1 / f);
  return std::make_shared<Resampled>(of, of->whole, middle, per, true,
                                     NodeKey("scaled").with(middle).with(per));
}

NodePtr stretched(const NodePtr& of, const PixelArea& whole, double scale) {
  return std::make_shared<Resampled>(of, whole, Vec2d(0), std::vector<double>{1 / scale}, false,
                                     NodeKey("stretched").with(whole).with(scale));
}

}  // namespace dusk
