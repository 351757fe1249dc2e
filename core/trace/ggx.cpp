#include "core/trace/ggx.h"

#include <vector>

namespace dusk::ggx {
namespace {

constexpr int cosines = 48, alphas = 48;

/// Directional albedo with a reflectance of 1, and of each term of its rise.
struct Cell {
  float whole = 0;
  RiseTerms terms{};

  void add(float weight, const Cell& other) {
    whole += weight * other.whole;
    for (size_t i = 0; i < riseTerms; ++i) terms[i] += weight * other.terms[i];
  }
  Albedo of(const RiseTerms& rise) const {
    float bias = 0;
    for (size_t i = 0; i < riseTerms; ++i) bias += rise[i] * terms[i];
    return {whole - bias, bias};
  }
};

/// Rows over alpha in [0, 1] by square root, columns over cosine in (0, 1].
struct Table {
  std::vector<Cell> cells = std::vector<Cell>(cosines * alphas);
  std::vector<Cell> means = std::vector<Cell>(alphas);

  Table() {
    for (int a = 0; a < alphas; ++a) {
      const float r = float(a) / (alphas - 1), alpha = std::max(1e-3f, r * r);
      for (int c = 0; c < cosines; ++c) {
        const float cosine = (c + 0.5f) / cosines;
        cells[a * cosines + c] = integrate(cosine, alpha);
        means[a].add(2 * cosine / cosines, cells[a * cosines + c]);
      }
    }
  }

  static Cell integrate(float cosine, float alpha) {
    const Vec3f wo(std::sqrt(1 - cosine * cosine), 0, cosine);
    constexpr int n = 24;
    Cell sum;
    for (int i = 0; i < n; ++i)
      for (int j = 0; j < n; ++j) {
        const Vec3f h = sampleVisible(wo, alpha, alpha, {(i + 0.5f) / n, (j + 0.5f) / n});
        const Vec3f wi = h * (2 * wo.dot(h)) - wo;
        if (wi.z <= 0) continue;
        const float weight = g2(wo, wi, alpha, alpha) / g1(wo, alpha, alpha);
        sum.add(weight / (n * n), {1, riseTermsAt(std::min(1.0f, wi.dot(h)))});
      }
    return sum;
  }
};

const Table& table() {
  static const Table t;
  return t;
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

Albedo albedo(float cosine, float alpha, const RiseTerms& rise) {
  const Place a = place(std::sqrt(alpha) * (alphas - 1), alphas), c = place(cosine * cosines - 0.5f, cosines);
  Cell sum;
  for (const auto& [row, weight] : {std::pair(a.low, 1 - a.t), std::pair(a.high, a.t)}) {
    const Cell* cells = &table().cells[row * cosines];
    sum.add(weight * (1 - c.t), cells[c.low]), sum.add(weight * c.t, cells[c.high]);
  }
  return sum.of(rise);
}

Albedo meanAlbedo(float alpha, const RiseTerms& rise) {
  const Place a = place(std::sqrt(alpha) * (alphas - 1), alphas);
  Cell sum;
  sum.add(1 - a.t, table().means[a.low]), sum.add(a.t, table().means[a.high]);
  return sum.of(rise);
}

}  // namespace dusk::ggx
