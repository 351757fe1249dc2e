#include <cmath>
#include <limits>
#include <opencv2/core.hpp>
#include <opencv2/imgproc/detail/gcgraph.hpp>

#include "core/picture/fill_shifts.h"

namespace dusk::fill {
namespace {

constexpr float impossible = 1e4f;

/// What it costs to take pixels by shifts: where what meets differs, and where things look larger or smaller.
class Seams {
 public:
  Seams(const Sized& picture, const std::vector<Shift>& shifts) : p_(picture), shifts_(shifts) {}

  /// Of one pixel, for itself and against what is known beside it.
  float alone(int x, int y, int label) const {
    const Shift& s = shifts_[size_t(label)];
    if (!p_.known(x + s.x, y + s.y)) return impossible;
    float cost = 0;
    for (int v = -2; v <= 2; ++v)
      for (int u = -2; u <= 2; ++u) {
        if (!p_.known(x + u, y + v)) continue;
        const bool beside = std::abs(u) + std::abs(v) == 1;
        const float d =
            p_.known(x + u + s.x, y + v + s.y) ? apart(x + u, y + v, x + u + s.x, y + v + s.y) : 0.3f;
        cost += (beside ? 2.0f : 0.25f) * d;
      }
    if (!p_.size.empty()) {
      const float other =
          std::abs(p_.size[size_t(y) * p_.width + x] - p_.size[size_t(y + s.y) * p_.width + size_t(x + s.x)]);
      cost += std::isfinite(other) ? 0.02f * std::max(0.0f, other - 0.05f) : 0;
    }
    return cost;
  }
  /// Of two neighbours.
  float between(int x, int y, int a, int u, int v, int b) const {
    if (a == b) return 0;
    const Shift &s = shifts_[size_t(a)], &t = shifts_[size_t(b)];
    const auto one = [&](int i, int j) {
      return p_.known(i + s.x, j + s.y) && p_.known(i + t.x, j + t.y)
                 ? apart(i + s.x, j + s.y, i + t.x, j + t.y)
                 : 0.3f;
    };
    // A border costs a little wherever it is: pieces are large.
    return one(x, y) + one(u, v) + 0.0008f;
  }

 private:
  float apart(int x, int y, int u, int v) const {
    const float *a = p_.at(x, y), *b = p_.at(u, v);
    float sum = 0;
    for (int c = 0; c < 3; ++c) sum += (a[c] - b[c]) * (a[c] - b[c]);
    return sum;
  }

  const Sized& p_;
  const std::vector<Shift>& shifts_;
};

/// The pixels of a hole, each with those right of it and below.
struct Nodes {
  explicit Nodes(const Sized& p) : at(p.hole.size(), -1) {
    for (int i = 0; i < int(p.hole.size()); ++i)
      if (p.hole[size_t(i)]) at[size_t(i)] = int(pixels.size()), pixels.push_back(i);
    for (size_t i = 0; i < pixels.size(); ++i) {
      const int x = pixels[i] % p.width, y = pixels[i] / p.width;
      if (x + 1 < p.width && at[size_t(pixels[i] + 1)] >= 0)
        pairs.push_back({int(i), at[size_t(pixels[i] + 1)]});
      if (y + 1 < p.height && at[size_t(pixels[i] + p.width)] >= 0)
        pairs.push_back({int(i), at[size_t(pixels[i] + p.width)]});
    }
  }
  std::vector<int> at, pixels;
  std::vector<std::pair<int, int>> pairs;
};

/// Lets every pixel change to one label, or stay, so that all together cost the least. Whether any did.
bool expand(const Sized& p, const Nodes& nodes, const Seams& seams,
            const std::vector<std::vector<float>>& alone, int label, std::vector<int>& labels) {
  cv::detail::GCGraph<double> graph;
  graph.create(unsigned(nodes.pixels.size()), unsigned(nodes.pairs.size() * 2));
  // A pixel on the sink's side changes.
  std::vector<double> changes(nodes.pixels.size()), stays(nodes.pixels.size());
  for (size_t i = 0; i < nodes.pixels.size(); ++i)
    graph.addVtx(), changes[i] = alone[size_t(label)][i], stays[i] = alone[size_t(labels[i])][i];
  for (const auto& [i, j] : nodes.pairs) {
    const int a = nodes.pixels[size_t(i)], b = nodes.pixels[size_t(j)];
    const auto cost = [&](int first, int second) {
      return double(seams.between(a % p.width, a / p.width, first, b % p.width, b / p.width, second));
    };
    const double keep = cost(labels[size_t(i)], labels[size_t(j)]), second = cost(labels[size_t(i)], label),
                 first = cost(label, labels[size_t(j)]);
    // E(0,0) = keep, E(0,1) = second, E(1,0) = first, E(1,1) = 0, by Kolmogorov, Zabih 2004, "What Energy
    // Functions Can Be Minimized via Graph Cuts?"; where it is not of their kind, a little is let go.
    const double held = std::min(keep, first + second);
    stays[size_t(i)] += held, changes[size_t(i)] += first;
    changes[size_t(j)] -= first;
    graph.addEdges(i, j, first + second - held, 0);
  }
  for (size_t i = 0; i < nodes.pixels.size(); ++i) graph.addTermWeights(int(i), changes[i], stays[i]);
  graph.maxFlow();
  bool any = false;
  for (size_t i = 0; i < nodes.pixels.size(); ++i)
    if (!graph.inSourceSegment(int(i)) && labels[i] != label) labels[i] = label, any = true;
  return any;
}

}  // namespace

std::vector<int> shiftMap(const Sized& p, const std::vector<Shift>& shifts, const Progress& progress) {
  if (shifts.empty()) return {};
  const Nodes nodes(p);
  const Seams seams(p, shifts);
  std::vector<std::vector<float>> alone(shifts.size());  // [shift][node]
  std::vector<int> labels(nodes.pixels.size(), 0);
  for (size_t k = 0; k < shifts.size(); ++k) {
    alone[k].resize(nodes.pixels.size());
    for (size_t i = 0; i < nodes.pixels.size(); ++i) {
      alone[k][i] = seams.alone(nodes.pixels[i] % p.width, nodes.pixels[i] / p.width, int(k));
      if (alone[k][i] < alone[size_t(labels[i])][i]) labels[i] = int(k);
    }
  }
  for (size_t i = 0; i < labels.size(); ++i)
    if (alone[size_t(labels[i])][i] >= impossible) return {};
  constexpr int rounds = 3;
  for (int round = 0; round < rounds; ++round) {
    bool any = false;
    for (size_t k = 0; k < shifts.size(); ++k) {
      if (progress.cancelled()) return {};
      any |= expand(p, nodes, seams, alone, int(k), labels);
    }
    if (!any) break;
  }
  std::vector<int> map(p.hole.size(), -1);
  for (size_t i = 0; i < labels.size(); ++i) map[size_t(nodes.pixels[i])] = labels[i];
  return map;
}

void settleBorders(const Sized& p, const std::vector<Shift>& shifts, std::vector<int>& map, int rounds) {
  const Seams seams(p, shifts);
  constexpr int beside[4][2] = {{-1, 0}, {1, 0}, {0, -1}, {0, 1}};
  for (int round = 0; round < rounds; ++round)
    for (int y = 0; y < p.height; ++y)
      for (int x = 0; x < p.width; ++x) {
        int& here = map[size_t(y) * p.width + x];
        if (here < 0) continue;
        const auto cost = [&](int label) {
          float sum = seams.alone(x, y, label);
          for (const auto& [u, v] : beside)
            if (p.inside(x + u, y + v))
              if (const int other = map[size_t(y + v) * p.width + size_t(x + u)]; other >= 0)
                sum += seams.between(x, y, label, x + u, y + v, other);
          return sum;
        };
        int best = here;
        float least = -1;
        for (const auto& [u, v] : beside) {
          if (!p.inside(x + u, y + v)) continue;
          const int other = map[size_t(y + v) * p.width + size_t(x + u)];
          if (other < 0 || other == here) continue;
          if (least < 0) least = cost(here);
          if (const float c = cost(other); c < least) least = c, best = other;
        }
        here = best;
      }
}

}  // namespace dusk::fill
