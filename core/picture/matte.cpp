#include "core/picture/matte.h"

#include <tbb/parallel_for.h>

#include <cmath>

namespace dusk {
namespace {

/// The matting Laplacian of a picture, applied without being written down.
class Laplacian {
 public:
  explicit Laplacian(const Picture& light) : light_(light), w_(light.width), h_(light.height) {
    mean_.resize(size_t(w_) * size_t(h_)), inverse_.resize(mean_.size());
    tbb::parallel_for(1, std::max(1, h_ - 1), [&](int y) {
      for (int x = 1; x + 1 < w_; ++x) prepare(x, y);
    });
  }

  /// What a window would not explain of alpha, summed for each of its pixels.
  void apply(const std::vector<double>& alpha, std::vector<double>& out) const {
    std::vector<Vec3d> slope(alpha.size(), Vec3d(0));
    std::vector<double> base(alpha.size(), 0);
    tbb::parallel_for(1, std::max(1, h_ - 1), [&](int y) {
      for (int x = 1; x + 1 < w_; ++x) {
        const size_t i = at(x, y);
        Vec3d sum(0);
        double all = 0;
        each(x, y, [&](size_t k) { sum += (colour(k) - mean_[i]) * alpha[k], all += alpha[k]; });
        slope[i] = times(inverse_[i], sum / 9.0), base[i] = all / 9 - slope[i].dot(mean_[i]);
      }
    });
    tbb::parallel_for(0, h_, [&](int y) {
      for (int x = 0; x < w_; ++x) {
        const size_t k = at(x, y);
        double sum = 0;
        for (int v = std::max(1, y - 1); v <= std::min(h_ - 2, y + 1); ++v)
          for (int u = std::max(1, x - 1); u <= std::min(w_ - 2, x + 1); ++u)
            sum += alpha[k] - slope[at(u, v)].dot(colour(k)) - base[at(u, v)];
        out[k] = sum;
      }
    });
  }

  std::vector<double> diagonal() const {
    std::vector<double> d(mean_.size(), 0);
    for (int y = 1; y + 1 < h_; ++y)
      for (int x = 1; x + 1 < w_; ++x) {
        const size_t i = at(x, y);
        each(x, y, [&](size_t k) {
          const Vec3d off = colour(k) - mean_[i];
          d[k] += 1 - (1 + off.dot(times(inverse_[i], off))) / 9;
        });
      }
    return d;
  }

 private:
  using Symmetric = std::array<double, 6>;  // xx xy xz yy yz zz
  size_t at(int x, int y) const { return size_t(y) * size_t(w_) + size_t(x); }
  Vec3d colour(size_t k) const {
    const float* p = &light_.pixels[k * 3];
    return {p[0], p[1], p[2]};
  }
  template <typename Act>
  void each(int x, int y, const Act& act) const {
    for (int v = y - 1; v <= y + 1; ++v)
      for (int u = x - 1; u <= x + 1; ++u) act(at(u, v));
  }
  static Vec3d times(const Symmetric& m, const Vec3d& v) {
    return {m[0] * v.x + m[1] * v.y + m[2] * v.z, m[1] * v.x + m[3] * v.y + m[4] * v.z,
            m[2] * v.x + m[4] * v.y + m[5] * v.z};
  }
  void prepare(int x, int y) {
    Vec3d mean(0);
    each(x, y, [&](size_t k) { mean += colour(k) / 9.0; });
    Symmetric c{};
    each(x, y, [&](size_t k) {
      const Vec3d o = colour(k) - mean;
      c[0] += o.x * o.x, c[1] += o.x * o.y, c[2] += o.x * o.z, c[3] += o.y * o.y, c[4] += o.y * o.z,
          c[5] += o.z * o.z;
    });
    for (double& v : c) v /= 9;
    // Relative to the light there, so that dark places count as bright ones do.
    const double least = 1e-5 * (mean.length2() + 1e-4) / 9;
    c[0] += least, c[3] += least, c[5] += least;
    const double a = c[3] * c[5] - c[4] * c[4], b = c[2] * c[4] - c[1] * c[5], d = c[1] * c[4] - c[2] * c[3];
    const double det = c[0] * a + c[1] * b + c[2] * d;
    const size_t i = at(x, y);
    mean_[i] = mean;
    inverse_[i] = {a / det,
                   b / det,
                   d / det,
                   (c[0] * c[5] - c[2] * c[2]) / det,
                   (c[1] * c[2] - c[0] * c[4]) / det,
                   (c[0] * c[3] - c[1] * c[1]) / det};
  }

  const Picture& light_;
  int w_, h_;
  std::vector<Vec3d> mean_;
  std::vector<Symmetric> inverse_;
};

/// Conjugate gradients from what `alpha` holds.
void solve(const Picture& light, const std::vector<MatteKnown>& known, std::vector<double>& alpha) {
  constexpr double held = 100;
  constexpr int most = 400;
  const Laplacian laplacian(light);
  const size_t n = alpha.size();
  std::vector<double> diagonal = laplacian.diagonal(), r(n), z(n), p(n), q(n);
  const auto apply = [&](const std::vector<double>& v, std::vector<double>& out) {
    laplacian.apply(v, out);
    for (size_t i = 0; i < n; ++i)
      if (known[i] != MatteKnown::nothing) out[i] += held * v[i];
  };
  apply(alpha, r);
  double rz = 0, first = 0;
  for (size_t i = 0; i < n; ++i) {
    diagonal[i] += known[i] != MatteKnown::nothing ? held : 1e-9;
    r[i] = (known[i] == MatteKnown::in ? held : 0) - r[i];
    p[i] = z[i] = r[i] / diagonal[i], rz += r[i] * z[i];
  }
  first = rz;
  for (int round = 0; round < most && rz > 1e-10 * std::max(first, 1.0); ++round) {
    apply(p, q);
    double pq = 0, next = 0;
    for (size_t i = 0; i < n; ++i) pq += p[i] * q[i];
    const double step = rz / std::max(pq, 1e-300);
    for (size_t i = 0; i < n; ++i) {
      alpha[i] += step * p[i], r[i] -= step * q[i];
      z[i] = r[i] / diagonal[i], next += r[i] * z[i];
    }
    for (size_t i = 0; i < n; ++i) p[i] = z[i] + next / rz * p[i];
    rz = next;
  }
}

}  // namespace

std::vector<float> closedFormMatte(const Picture& light, const std::vector<MatteKnown>& known) {
  const int w = light.width, h = light.height;
  std::vector<double> alpha(known.size(), 0.5);
  if (w > 64 && h > 64) {
    // A pixel of the smaller picture is known where all it stands for is known alike.
    const int hw = w / 2, hh = h / 2;
    std::vector<MatteKnown> smaller(size_t(hw) * size_t(hh), MatteKnown::nothing);
    for (int y = 0; y < hh; ++y)
      for (int x = 0; x < hw; ++x) {
        const size_t k = size_t(2 * y) * size_t(w) + size_t(2 * x), d = size_t(w);
        if (known[k] == known[k + 1] && known[k] == known[k + d] && known[k] == known[k + d + 1])
          smaller[size_t(y) * size_t(hw) + size_t(x)] = known[k];
      }
    const std::vector<float> rough = closedFormMatte(resized(light, hw, hh), smaller);
    for (int y = 0; y < h; ++y)
      for (int x = 0; x < w; ++x)
        alpha[size_t(y) * size_t(w) + size_t(x)] =
            rough[size_t(std::min(y / 2, hh - 1)) * size_t(hw) + size_t(std::min(x / 2, hw - 1))];
  }
  for (size_t i = 0; i < known.size(); ++i)
    if (known[i] != MatteKnown::nothing) alpha[i] = known[i] == MatteKnown::in;
  solve(light, known, alpha);
  std::vector<float> out;
  for (const double a : alpha) out.push_back(float(std::clamp(a, 0.0, 1.0)));
  return out;
}

Picture foregroundOf(const Picture& light, const std::vector<float>& alpha) {
  Picture mask(light.width, light.height, {"A"});
  mask.pixels = alpha;
  Picture front = Picture::rgb(1, 1), back = Picture::rgb(1, 1);
  std::copy_n(resized(light, 1, 1).pixels.data(), 3, front.pixels.data()), back = front;
  const int levels = int(std::ceil(std::log2(double(std::max(light.width, light.height)))));
  for (int level = 1; level <= levels; ++level) {
    const double share = double(level) / levels;
    const int w = std::max(1, int(std::lround(std::pow(light.width, share)))),
              h = std::max(1, int(std::lround(std::pow(light.height, share))));
    const Picture small = resized(light, w, h), cover = resized(mask, w, h);
    const auto nearest = [&](const Picture& from) {
      Picture to = Picture::rgb(w, h);
      for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x)
          std::copy_n(from.at(std::min(x * from.width / w, from.width - 1),
                              std::min(y * from.height / h, from.height - 1)),
                      3, to.at(x, y));
      return to;
    };
    front = nearest(front), back = nearest(back);
    const int rounds = w <= 32 && h <= 32 ? 10 : 2;
    for (int round = 0; round < rounds; ++round)
      for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
          const double a = cover.at(x, y)[0], b = 1 - a;
          // Neighbours count little, and more where alpha changes.
          double a00 = a * a, a01 = a * b, a11 = b * b;
          Vec3d rf = Vec3d(small.rgbAt(x, y)) * a, rb = Vec3d(small.rgbAt(x, y)) * b;
          for (const auto& [dx, dy] : {std::pair(-1, 0), {1, 0}, {0, -1}, {0, 1}}) {
            const int u = std::clamp(x + dx, 0, w - 1), v = std::clamp(y + dy, 0, h - 1);
            const double weight = 5e-3 + std::abs(a - cover.at(u, v)[0]) * 0.1;
            a00 += weight, a11 += weight;
            rf += Vec3d(front.rgbAt(u, v)) * weight, rb += Vec3d(back.rgbAt(u, v)) * weight;
          }
          const double det = a00 * a11 - a01 * a01;
          for (int c = 0; c < 3; ++c) {
            front.at(x, y)[c] = float(std::max(0.0, (a11 * rf[c] - a01 * rb[c]) / det));
            back.at(x, y)[c] = float(std::max(0.0, (a00 * rb[c] - a01 * rf[c]) / det));
          }
        }
  }
  return front;
}

}  // namespace dusk
