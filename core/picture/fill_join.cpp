#include "core/picture/fill_join.h"

#include <tbb/parallel_for.h>

namespace dusk::fill {
namespace {

/// Sums of differences to the neighbours that are asked for: sum (u_i - u_j) = r_i in the hole, u = 0
/// outside.
struct Field {
  int width = 0, height = 0;
  Holes hole;
  std::vector<float> u, r;  ///< [value]

  float around(int x, int y, int c, float& n) const {
    float sum = 0;
    n = 0;
    for (const auto& [dx, dy] : beside) {
      const int a = x + dx, b = y + dy;
      if (a < 0 || b < 0 || a >= width || b >= height) continue;
      const size_t j = size_t(b) * width + a;
      sum += hole[j] ? u[j * 3 + size_t(c)] : 0, ++n;
    }
    return sum;
  }
  /// Gauss and Seidel's way, first one half of a chessboard, then the other.
  void smooth(int rounds) {
    for (int k = 0; k < 2 * rounds; ++k)
      tbb::parallel_for(0, height, [&](int y) {
        for (int x = (y + k) % 2; x < width; x += 2) {
          const size_t i = size_t(y) * width + x;
          if (!hole[i]) continue;
          for (int c = 0; c < 3; ++c) {
            float n = 0;
            const float sum = around(x, y, c, n);
            u[i * 3 + size_t(c)] = (sum + r[i * 3 + size_t(c)]) / n;
          }
        }
      });
  }
};

/// What is left to be done, at half the size.
Field halved(const Field& f) {
  Field out{(f.width + 1) / 2, (f.height + 1) / 2, {}, {}, {}};
  const size_t n = size_t(out.width) * out.height;
  out.hole.assign(n, 0), out.u.assign(n * 3, 0), out.r.assign(n * 3, 0);
  std::vector<unsigned char> count(n, 0);
  for (int y = 0; y < f.height; ++y)
    for (int x = 0; x < f.width; ++x) {
      const size_t i = size_t(y) * f.width + x, to = size_t(y / 2) * out.width + size_t(x / 2);
      if (!f.hole[i]) continue;
      ++count[to];
      for (int c = 0; c < 3; ++c) {
        float n4 = 0;
        const float sum = f.around(x, y, c, n4);
        out.r[to * 3 + size_t(c)] += f.r[i * 3 + size_t(c)] - (n4 * f.u[i * 3 + size_t(c)] - sum);
      }
    }
  for (size_t i = 0; i < n; ++i) out.hole[i] = count[i] >= 3;
  return out;
}

/// One round of many sizes: Brandt 1977, "Multi-Level Adaptive Solutions to Boundary-Value Problems".
void descend(Field& f) {
  f.smooth(3);
  if (f.width <= 4 || f.height <= 4) return f.smooth(20);
  Field half = halved(f);
  descend(half);
  const auto value = [&](int x, int y, size_t c) {
    if (x < 0 || y < 0 || x >= half.width || y >= half.height) return 0.0f;
    const size_t i = size_t(y) * half.width + x;
    return half.hole[i] ? half.u[i * 3 + c] : 0.0f;
  };
  for (int y = 0; y < f.height; ++y)
    for (int x = 0; x < f.width; ++x) {
      const size_t i = size_t(y) * f.width + x;
      if (!f.hole[i]) continue;
      const int a = x / 2, b = y / 2, u = a + (x % 2 ? 1 : -1), v = b + (y % 2 ? 1 : -1);
      for (size_t c = 0; c < 3; ++c)
        f.u[i * 3 + c] +=
            (9 * value(a, b, c) + 3 * value(u, b, c) + 3 * value(a, v, c) + value(u, v, c)) / 16;
    }
  f.smooth(3);
}

}  // namespace

void joinPieces(Sized& p, const std::vector<Shift>& shifts, const std::vector<int>& map) {
  // Pieces are of known pixels, which stay: they can be read while the hole is written.
  const auto from = [&](int x, int y, int label, int c) {
    const Shift& s = shifts[size_t(label)];
    return p.at(x + s.x, y + s.y)[c];
  };
  int x0 = p.width, y0 = p.height, x1 = 0, y1 = 0;
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      const int label = map[size_t(y) * p.width + x];
      if (label < 0) continue;
      x0 = std::min(x0, x - 1), x1 = std::max(x1, x + 2), y0 = std::min(y0, y - 1), y1 = std::max(y1, y + 2);
      for (int c = 0; c < 3; ++c) p.rgb[(size_t(y) * p.width + x) * 3 + size_t(c)] = from(x, y, label, c);
    }
  x0 = std::max(0, x0), y0 = std::max(0, y0), x1 = std::min(p.width, x1), y1 = std::min(p.height, y1);
  if (x1 <= x0 || y1 <= y0) return;
  Field field{x1 - x0, y1 - y0, {}, {}, {}};
  const size_t n = size_t(field.width) * field.height;
  field.hole.assign(n, 0), field.u.assign(n * 3, 0), field.r.assign(n * 3, 0);
  tbb::parallel_for(y0, y1, [&](int y) {
    for (int x = x0; x < x1; ++x) {
      const int here = map[size_t(y) * p.width + x];
      const size_t i = size_t(y - y0) * field.width + size_t(x - x0);
      field.hole[i] = here >= 0;
      if (here < 0) continue;
      for (const auto& [dx, dy] : beside) {
        const int u = x + dx, v = y + dy;
        if (!p.inside(u, v)) continue;
        const int there = map[size_t(v) * p.width + u];
        if (there == here) continue;
        for (int c = 0; c < 3; ++c) {
          float slope = 0, count = 0;
          for (const int label : {here, there}) {
            if (label < 0) continue;
            const Shift& s = shifts[size_t(label)];
            if (!p.known(x + s.x, y + s.y) || !p.known(u + s.x, v + s.y)) continue;
            slope += from(x, y, label, c) - from(u, v, label, c), ++count;
          }
          field.r[i * 3 + size_t(c)] += (count > 0 ? slope / count : 0) - (p.at(x, y)[c] - p.at(u, v)[c]);
        }
      }
    }
  });
  constexpr int rounds = 10;
  for (int k = 0; k < rounds; ++k) descend(field);
  for (size_t i = 0; i < n; ++i)
    for (size_t c = 0; c < 3 && field.hole[i]; ++c)
      p.rgb[((size_t(y0) + i / size_t(field.width)) * p.width + size_t(x0) + i % size_t(field.width)) * 3 +
            c] += field.u[i * 3 + c];
}

}  // namespace dusk::fill
