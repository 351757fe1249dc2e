#include "core/trace/ggx.h"

#include <vector>

namespace dusk::ggx {
namespace {

constexpr int cosines = 48, alphas = 48;

/// Rows over alpha in [0, 1] by square root, columns over cosine in (0, 1].
struct Table {
  std::vector<Albedo> cells = std::vector<Albedo>(cosines * alphas);
  std::vector<Albedo> means = std::vector<Albedo>(alphas);

  Table() {
    for (int a = 0; a < alphas; ++a) {
      const float r = float(a) / (alphas - 1), alpha = std::max(1e-3f, r * r);
      for (int c = 0; c < cosines; ++c) cells[a * cosines + c] = integrate((c + 0.5f) / cosines, alpha);
      Albedo mean{0, 0};
      for (int c = 0; c < cosines; ++c) {
        const float w = 2 * ((c + 0.5f) / cosines) / cosines;
        mean.scale += w * cells[a * cosines + c].scale, mean.bias += w * cells[a * cosines + c].bias;
      }
      means[a] = mean;
    }
  }

  static Albedo integrate(float cosine, float alpha) {
    const Vec3f wo(std::sqrt(1 - cosine * cosine), 0, cosine);
    constexpr int n = 24;
    Albedo sum{0, 0};
    for (int i = 0; i < n; ++i)
      for (int j = 0; j < n; ++j) {
        const Vec3f h = sampleVisible(wo, alpha, alpha, {(i + 0.5f) / n, (j + 0.5f) / n});
        const Vec3f wi = h * (2 * wo.dot(h)) - wo;
        if (wi.z <= 0) continue;
        const float weight = g2(wo, wi, alpha, alpha) / g1(wo, alpha, alpha), m = 1 - wi.dot(h), m2 = m * m,
                    f = m2 * m2 * m;
        sum.scale += weight * (1 - f), sum.bias += weight * f;
      }
    return {sum.scale / (n * n), sum.bias / (n * n)};
  }
};

const Table& table() {
  static const Table t;
  return t;
}

Albedo between(const Albedo& a, const Albedo& b, float t) {
  return {a.scale + (b.scale - a.scale) * t, a.bias + (b.bias - a.bias) * t};
}

struct Place {
  int low, high;
  float t;
};
Place place(float x, int count) {
  const float clamped = std::clamp(x, 0.0f, float(count - 1));
  const int low = std::min(int(clamped), count - 1);
  return {low, std::min(low + 1, count - 1), clamped - low};
}

}  // namespace

Albedo albedo(float cosine, float alpha) {
  const Place a = place(std::sqrt(alpha) * (alphas - 1), alphas), c = place(cosine * cosines - 0.5f, cosines);
  const auto row = [&](int i) {
    const Albedo* cells = &table().cells[i * cosines];
    return between(cells[c.low], cells[c.high], c.t);
  };
  return between(row(a.low), row(a.high), a.t);
}

Albedo meanAlbedo(float alpha) {
  const Place a = place(std::sqrt(alpha) * (alphas - 1), alphas);
  return between(table().means[a.low], table().means[a.high], a.t);
}

}  // namespace dusk::ggx
