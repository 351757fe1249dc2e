#include "core/blend/grain_neighbours.h"

#include <algorithm>
#include <cmath>

namespace dusk {
namespace {
constexpr int core = grainPatch, reach = GrainLook::reach, side = 2 * reach + 1, lagCount = GrainLook::lags;
}  // namespace

Quadratic::Quadratic(int n) : size(n) {
  std::vector<std::vector<double>> raw(6, std::vector<double>(size_t(n) * size_t(n)));
  for (int y = 0; y < n; ++y)
    for (int x = 0; x < n; ++x) {
      const double u = (x - (n - 1) / 2.0) / n, v = (y - (n - 1) / 2.0) / n;
      const double values[] = {1, u, v, u * u, u * v, v * v};
      for (size_t k = 0; k < 6; ++k) raw[k][size_t(y * n + x)] = values[k];
    }
  // Gram-Schmidt.
  for (auto& b : raw) {
    for (const auto& o : basis) {
      double dot = 0;
      for (size_t i = 0; i < b.size(); ++i) dot += b[i] * o[i];
      for (size_t i = 0; i < b.size(); ++i) b[i] -= dot * o[i];
    }
    double norm = 0;
    for (const double v : b) norm += v * v;
    for (double& v : b) v /= std::sqrt(norm);
    basis.push_back(b);
  }
}

void Quadratic::takeAway(std::vector<double>& values) const {
  for (const auto& b : basis) {
    double dot = 0;
    for (size_t i = 0; i < b.size(); ++i) dot += b[i] * values[i];
    for (size_t i = 0; i < b.size(); ++i) values[i] -= dot * b[i];
  }
}

std::array<double, GrainNeighbours::lagCount> GrainNeighbours::lag() {
  std::array<double, lagCount> out{};
  for (size_t i = 0; i < size_t(lagCount); ++i) {
    std::sort(lags[i].begin(), lags[i].end());
    const size_t from = lags[i].size() / 4, to = lags[i].size() - from;
    for (size_t k = from; k < to; ++k) out[i] += lags[i][k] / double(to - from);
  }
  return out;
}

void GrainNeighbours::add(const std::array<std::vector<double>, 3>& r, double floor) {
  std::array<double, 3> variance{};
  for (size_t c = 0; c < 3; ++c)
    for (const double v : r[c]) variance[c] += v * v / (core * core - 6.0);
  for (size_t c = 0; c < 3; ++c) {
    if (variance[c] <= floor * 1.5) return;
    for (int dy = -reach; dy <= reach; ++dy)
      for (int dx = -reach; dx <= reach; ++dx) {
        double sum = 0;
        int pairs = 0;
        for (int y = std::max(0, -dy); y < std::min(core, core - dy); ++y)
          for (int x = std::max(0, -dx); x < std::min(core, core - dx); ++x, ++pairs)
            sum += r[c][size_t(y * core + x)] * r[c][size_t((y + dy) * core + x + dx)];
        lags[size_t((dy + reach) * side + dx + reach)].push_back(
            (sum / pairs - (dx == 0 && dy == 0 ? floor : 0)) / (variance[c] - floor));
      }
  }
  const auto both = [&](size_t a, size_t b) {
    double sum = 0;
    for (size_t i = 0; i < r[a].size(); ++i) sum += r[a][i] * r[b][i];
    return sum / (core * core - 6) / std::sqrt((variance[a] - floor) * (variance[b] - floor));
  };
  rg += both(0, 1), rb += both(0, 2), gb += both(1, 2), n += 1;
}

namespace {

/// What the surface that is taken away takes of noise with neighbours: from its true correlation (at all
/// lags) to that of what is left, as a matrix; by (I - P) C (I - P) with the surface's projection P.
const std::vector<double>& lagsLeft() {
  static const std::vector<double> matrix = [] {
    const Quadratic surface(core);
    const auto& b = surface.basis;
    const auto at = [&](size_t k, int x, int y) {
      return x < 0 || y < 0 || x >= core || y >= core ? 0.0 : b[k][size_t(y * core + x)];
    };
    // Products of the surfaces with one another, shifted, over all pairs within the square.
    const auto product = [&](size_t k, size_t l, int dx, int dy) {
      double sum = 0;
      for (int y = std::max(0, -dy); y < std::min(core, core - dy); ++y)
        for (int x = std::max(0, -dx); x < std::min(core, core - dx); ++x)
          sum += at(k, x, y) * at(l, x + dx, y + dy);
      return sum;
    };
    constexpr int twice = 4 * reach + 1;
    std::vector<double> shifted(36 * twice * twice);
    const auto of = [&](size_t k, size_t l, int dx, int dy) -> double& {
      return shifted[((k * 6 + l) * twice + size_t(dy + 2 * reach)) * twice + size_t(dx + 2 * reach)];
    };
    for (size_t k = 0; k < 6; ++k)
      for (size_t l = 0; l < 6; ++l)
        for (int dy = -2 * reach; dy <= 2 * reach; ++dy)
          for (int dx = -2 * reach; dx <= 2 * reach; ++dx) of(k, l, dx, dy) = product(k, l, dx, dy);
    std::vector<double> m(size_t(lagCount) * lagCount);
    for (int my = -reach; my <= reach; ++my)
      for (int mx = -reach; mx <= reach; ++mx)
        for (int ly = -reach; ly <= reach; ++ly)
          for (int lx = -reach; lx <= reach; ++lx) {
            double sum = mx == lx && my == ly ? double((core - std::abs(mx)) * (core - std::abs(my))) : 0;
            for (size_t k = 0; k < 6; ++k) {
              sum -= of(k, k, mx - lx, my - ly) + of(k, k, mx + lx, my + ly);
              for (size_t l = 0; l < 6; ++l) sum += of(k, l, lx, ly) * of(k, l, mx, my);
            }
            const double pairs = double((core - std::abs(mx)) * (core - std::abs(my)));
            m[size_t((my + reach) * side + mx + reach) * lagCount +
              size_t((ly + reach) * side + lx + reach)] = sum / pairs;
          }
    return m;
  }();
  return matrix;
}

}  // namespace

std::vector<double> putBack(const std::array<double, GrainNeighbours::lagCount>& left) {
  std::vector<double> truth(left.begin(), left.end());
  const std::vector<double>& m = lagsLeft();
  for (int round = 0; round < 40; ++round) {
    std::vector<double> next = truth;
    for (size_t i = 0; i < size_t(lagCount); ++i) {
      double would = 0;
      for (size_t k = 0; k < size_t(lagCount); ++k) would += m[i * lagCount + k] * truth[k];
      next[i] += left[i] - would;
    }
    truth = next;
  }
  return truth;
}

}  // namespace dusk
