#include <algorithm>

#include "core/blend/lanes.h"
#include "core/blend/operation.h"

namespace dusk {
namespace {

constexpr int steps = 4096;

/// Code values along the curve, evenly from 0 to 1: through the points by a cubic that does not swing over
/// (Fritsch & Carlson 1980, "Monotone Piecewise Cubic Interpolation"), straight on beyond the first and last.
std::vector<float> tableOf(std::vector<Vec2d> p) {
  std::sort(p.begin(), p.end(), [](const Vec2d& a, const Vec2d& b) { return a.x < b.x; });
  p.erase(std::unique(p.begin(), p.end(), [](const Vec2d& a, const Vec2d& b) { return b.x - a.x < 1e-6; }),
          p.end());
  const size_t n = p.size();
  std::vector<double> slope(n, 1);
  const auto rise = [&](size_t i) { return (p[i + 1].y - p[i].y) / (p[i + 1].x - p[i].x); };
  for (size_t i = 0; n > 1 && i < n; ++i) {
    if (i == 0 || i + 1 == n) {
      slope[i] = rise(i ? i - 1 : 0);
      continue;
    }
    const double before = rise(i - 1), after = rise(i);
    slope[i] = before * after <= 0 ? 0 : 2 * before * after / (before + after);
  }
  std::vector<float> table;
  size_t k = 0;
  for (int i = 0; i <= steps; ++i) {
    const double x = double(i) / steps;
    while (k + 2 < n && x > p[k + 1].x) ++k;
    if (x <= p[0].x || n == 1) {
      table.push_back(float(p[0].y + (x - p[0].x) * slope[0]));
    } else if (x >= p[n - 1].x) {
      table.push_back(float(p[n - 1].y + (x - p[n - 1].x) * slope[n - 1]));
    } else {
      const double h = p[k + 1].x - p[k].x, t = (x - p[k].x) / h, t2 = t * t, t3 = t2 * t;
      table.push_back(float((2 * t3 - 3 * t2 + 1) * p[k].y + (t3 - 2 * t2 + t) * h * slope[k] +
                            (3 * t2 - 2 * t3) * p[k + 1].y + (t3 - t2) * h * slope[k + 1]));
    }
  }
  return table;
}

constexpr int chunk = 256;

DUSK_LANES void intoTable(const float* v, int count, int* index, float* share, float* beyond, float first,
                          float last) {
  for (int i = 0; i < count; ++i) {
    const float code = quickEncoded(v[i]);
    const float at = lower(higher(code, 0.0f), 1.0f) * steps, whole = lower(at, float(steps - 1));
    index[i] = int(whole), share[i] = at - float(int(whole));
    beyond[i] = higher(code - 1, 0.0f) * last + lower(code, 0.0f) * first;
  }
}
DUSK_LANES void outOfTable(float* v, int count, const float* low, const float* high, const float* share,
                           const float* beyond) {
  for (int i = 0; i < count; ++i) v[i] = quickDecoded(low[i] + (high[i] - low[i]) * share[i] + beyond[i]);
}

void curved(float* v, int count, const float* table, float firstSlope, float lastSlope) {
  int index[chunk];
  float share[chunk], beyond[chunk], low[chunk], high[chunk];
  for (int from = 0; from < count; from += chunk) {
    const int n = std::min(chunk, count - from);
    intoTable(v + from, n, index, share, beyond, firstSlope, lastSlope);
    for (int i = 0; i < n; ++i) low[i] = table[index[i]], high[i] = table[index[i] + 1];
    outOfTable(v + from, n, low, high, share, beyond);
  }
}

class Curve : public PointOperation {
 public:
  explicit Curve(std::vector<float> table) : table_(std::move(table)) {}
  void apply(float* r, float* g, float* b, int count, int, int) const override {
    const float first = (table_[1] - table_[0]) * steps, last = (table_[steps] - table_[steps - 1]) * steps;
    for (float* v : {r, g, b}) curved(v, count, table_.data(), first, last);
  }

 private:
  std::vector<float> table_;
};

}  // namespace

Operation curveOperation(const Correction& c) {
  const bool straight =
      std::all_of(c.curve.begin(), c.curve.end(), [](const Vec2d& p) { return p.x == p.y; });
  if (straight) return {};
  return {std::make_shared<Curve>(tableOf(c.curve)), {}};
}

}  // namespace dusk
