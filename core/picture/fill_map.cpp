#include <cmath>
#include <limits>
#include <opencv2/core.hpp>
#include <opencv2/imgproc/detail/gcgraph.hpp>

#include "core/picture/fill_shifts.h"

namespace dusk::fill {
namespace {

constexpr float impossible = 1e4f;

/// Which colours the hole's rim leads one to expect in it: their mean, and how far they may lie off it. So
/// that a leaf does not come to lie in the sky because its outline happens to cost little.
class Foretold {
 public:
  explicit Foretold(const Sized& p) : mean_(p.hole.size() * 3), spread_(p.hole.size()) {
    std::vector<std::pair<int, int>> rim;
    for (int y = 0; y < p.height; ++y)
      for (int x = 0; x < p.width; ++x)
        if (p.known(x, y) && std::any_of(std::begin(beside), std::end(beside), [&](const auto& d) {
              return p.inside(x + d[0], y + d[1]) && !p.known(x + d[0], y + d[1]);
            }))
          rim.push_back({x, y});
    for (int y = 0; y < p.height; ++y)
      for (int x = 0; x < p.width; ++x) {
        const size_t i = size_t(y) * p.width + x;
        if (p.hole[i]) foretell(p, rim, x, y, i);
      }
  }
  /// Of taking a colour for a pixel.
  float cost(size_t i, const float* rgb) const {
    float off = 0;
    for (size_t c = 0; c < 3; ++c) off += (rgb[c] - mean_[i * 3 + c]) * (rgb[c] - mean_[i * 3 + c]);
    constexpr float weight = 0.02f, spreads = 6;
    return weight * std::max(0.0f, off - spreads * spread_[i]);
  }

 private:
  /// Means over the rim, weighted by distance (Shepard 1968, "A Two-Dimensional Interpolation Function for
  /// Irregularly-Spaced Data").
  void foretell(const Sized& p, const std::vector<std::pair<int, int>>& rim, int x, int y, size_t i) {
    float weights = 0, squares = 0, sum[3]{};
    for (const auto& [u, v] : rim) {
      const float w = 1 / float((u - x) * (u - x) + (v - y) * (v - y));
      const float* rgb = p.at(u, v);
      weights += w;
      for (int c = 0; c < 3; ++c) sum[c] += w * rgb[c], squares += w * rgb[c] * rgb[c];
    }
    spread_[i] = squares / weights;
    for (size_t c = 0; c < 3; ++c) {
      mean_[i * 3 + c] = sum[c] / weights;
      spread_[i] -= mean_[i * 3 + c] * mean_[i * 3 + c];
    }
  }

  std::vector<float> mean_, spread_;  ///< [value], [pixel] summed over R, G, B
};

/// What it costs to take pixels by shifts: where what meets differs, and where things look larger or smaller.
class Seams {
 public:
  Seams(const Sized& picture, const std::vector<Shift>& shifts, const Foretold* foretold = nullptr)
      : p_(picture), shifts_(shifts), foretold_(foretold) {}

  /// Of one pixel, for itself and against what is known beside it.
  float alone(int x, int y, int label) const {
    const Shift& s = shifts_[size_t(label)];
    if (!p_.known(x + s.x, y + s.y)) return impossible;
    float cost = 0;
    for (int v = -2; v <= 2; ++v)
      for (int u = -2; u <= 2; ++u) {
        if (!p_.known(x + u, y + v)) continue;
        const bool next = std::abs(u) + std::abs(v) == 1;
        const float d =
            p_.known(x + u + s.x, y + v + s.y) ? apart(x + u, y + v, x + u + s.x, y + v + s.y) : 0.3f;
        cost += (next ? 2.0f : 0.25f) * d;
      }
    if (!p_.size.empty()) {
      const float other =
          std::abs(p_.size[size_t(y) * p_.width + x] - p_.size[size_t(y + s.y) * p_.width + size_t(x + s.x)]);
      cost += std::isfinite(other) ? 0.02f * std::max(0.0f, other - 0.05f) : 0;
    }
    if (foretold_) cost += foretold_->cost(size_t(y) * p_.width + size_t(x), p_.at(x + s.x, y + s.y));
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
  const Foretold* foretold_;
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

/// [node] the shift that fits best at the nearest spot of the hole's border, of those that lead to something
/// known.
std::vector<int> labelsFromBorder(const Sized& p, const Nodes& nodes,
                                  const std::vector<std::vector<float>>& alone) {
  std::vector<int> nearest(nodes.pixels.size(), -1), queue;
  const auto spread = [&](int x, int y, int from) {
    if (!p.inside(x, y)) return;
    const int node = nodes.at[size_t(y) * p.width + size_t(x)];
    if (node >= 0 && nearest[size_t(node)] < 0) nearest[size_t(node)] = from, queue.push_back(node);
  };
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x)
      for (const auto& [u, v] : beside)
        if (p.known(x + u, y + v)) spread(x, y, nodes.at[size_t(y) * p.width + size_t(x)]);
  for (size_t i = 0; i < queue.size(); ++i)
    for (const auto& [u, v] : beside)
      spread(nodes.pixels[size_t(queue[i])] % p.width + u, nodes.pixels[size_t(queue[i])] / p.width + v,
             nearest[size_t(queue[i])]);
  std::vector<int> labels(nodes.pixels.size(), 0);
  for (size_t i = 0; i < labels.size(); ++i) {
    float least = std::numeric_limits<float>::max();
    for (size_t k = 0; k < alone.size(); ++k)
      if (const float cost = alone[k][i] + alone[k][size_t(std::max(0, nearest[i]))]; cost < least)
        least = cost, labels[i] = int(k);
  }
  return labels;
}

double costOf(const Sized& p, const Nodes& nodes, const Seams& seams,
              const std::vector<std::vector<float>>& alone, const std::vector<int>& labels) {
  double sum = 0;
  for (size_t i = 0; i < labels.size(); ++i) sum += double(alone[size_t(labels[i])][i]);
  for (const auto& [i, j] : nodes.pairs) {
    const int a = nodes.pixels[size_t(i)], b = nodes.pixels[size_t(j)];
    sum += double(seams.between(a % p.width, a / p.width, labels[size_t(i)], b % p.width, b / p.width,
                                labels[size_t(j)]));
  }
  return sum;
}

}  // namespace

std::vector<int> shiftMap(const Sized& p, const std::vector<Shift>& shifts, const Progress& progress) {
  if (shifts.empty()) return {};
  const Nodes nodes(p);
  const Foretold foretold(p);
  const Seams seams(p, shifts, &foretold);
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
  // What is best for each pixel by itself, or what is best at the border next to it: one change at a time
  // does not lead from a bar that ends at both sides to one that runs through.
  std::vector<int> best;
  double least = std::numeric_limits<double>::max();
  for (std::vector<int> start : {labels, labelsFromBorder(p, nodes, alone)}) {
    constexpr int rounds = 3;
    for (int round = 0; round < rounds; ++round) {
      bool any = false;
      for (size_t k = 0; k < shifts.size(); ++k) {
        if (progress.cancelled()) return {};
        any |= expand(p, nodes, seams, alone, int(k), start);
      }
      if (!any) break;
    }
    if (const double cost = costOf(p, nodes, seams, alone, start); cost < least)
      least = cost, best = std::move(start);
  }
  std::vector<int> map(p.hole.size(), -1);
  for (size_t i = 0; i < best.size(); ++i) map[size_t(nodes.pixels[i])] = best[i];
  return map;
}

void refineShifts(const Sized& p, std::vector<Shift>& shifts, const std::vector<int>& map, int by) {
  struct Spot {
    int x, y;
    bool beside;  ///< something known
  };
  std::vector<std::vector<Spot>> borders(shifts.size());
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      const int label = map[size_t(y) * p.width + x];
      if (label < 0) continue;
      bool isBorder = false, known = false;
      for (const auto& [u, v] : beside) {
        if (!p.inside(x + u, y + v)) continue;
        const int other = map[size_t(y + v) * p.width + size_t(x + u)];
        isBorder |= other != label, known |= other < 0;
      }
      if (isBorder) borders[size_t(label)].push_back({x, y, known});
    }
  const Seams seams(p, shifts);
  constexpr size_t enough = 400;
  for (size_t label = 0; label < shifts.size(); ++label) {
    const std::vector<Spot>& spots = borders[label];
    const size_t step = (spots.size() + enough - 1) / enough;
    const Shift start = shifts[label];
    Shift best = start;
    double least = std::numeric_limits<double>::max();
    for (int dy = -by; dy <= by && step > 0; ++dy)
      for (int dx = -by; dx <= by; ++dx) {
        shifts[label] = {start.x + dx, start.y + dy};
        double cost = 0;
        for (size_t i = 0; i < spots.size() && cost < least; i += step) {
          const auto& [x, y, known] = spots[i];
          if (known) cost += seams.alone(x, y, int(label));
          for (const auto& [u, v] : beside) {
            if (!p.inside(x + u, y + v)) continue;
            const int other = map[size_t(y + v) * p.width + size_t(x + u)];
            if (other >= 0) cost += seams.between(x, y, int(label), x + u, y + v, other);
          }
        }
        if (cost < least) least = cost, best = shifts[label];
      }
    shifts[label] = best;
  }
}

void settleBorders(const Sized& p, const std::vector<Shift>& shifts, std::vector<int>& map, int rounds) {
  const Seams seams(p, shifts);
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
