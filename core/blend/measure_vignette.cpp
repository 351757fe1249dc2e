#include "core/blend/measure_vignette.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>
#include <vector>

#include "core/base/jackknife.h"
#include "core/base/median.h"

namespace dusk {
namespace {

constexpr int cellsAcross = 420, blockCells = 12, sectors = 12;
constexpr double darkest = 0.004, brightest = 0.93;
/// A change of logarithm from cell to cell that is no slope.
constexpr double edge = 0.04;
/// How much a region, and a block within it, slopes by itself; how much the fall bends.
constexpr double usualSlope = 0.15, blockSlope = 0.03, usualBend = 0.25;

/// Logarithm of light by cells of several pixels; NaN where it is clipped, black, or holds an edge.
struct Cells {
  int width = 0, height = 0;
  std::vector<float> log;
  float at(int x, int y) const { return log[size_t(y) * size_t(width) + size_t(x)]; }
};

Cells cellsOf(const Picture& light) {
  const int size = std::max(1, light.width / cellsAcross);
  Cells out{light.width / size, light.height / size, {}};
  out.log.resize(size_t(out.width) * size_t(out.height));
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x) {
      double sum = 0;
      bool usable = true;
      for (int v = 0; v < size; ++v)
        for (int u = 0; u < size; ++u) {
          const float* p = light.at(x * size + u, y * size + v);
          for (int c = 0; c < 3; ++c) usable = usable && p[c] < brightest, sum += p[c];
        }
      sum /= 3.0 * size * size;
      out.log[size_t(y) * size_t(out.width) + size_t(x)] =
          usable && sum > darkest ? float(std::log(sum)) : NAN;
    }
  return out;
}

/// How light changes within a block, in logarithms over the way from the middle to the corner.
struct Slope {
  double r, angle;  ///< of the block's middle
  double outward, across;
  double variance;  ///< of either, by the cells' scatter about their plane
  int region = 0;   ///< blocks without an edge between them are of one
};

/// The slope of one block: a plane through its cells, robustly. Nothing where too little of it is even. A
/// plane sees slopes that are less than a step between two codes.
std::optional<Slope> slopeOf(const Cells& cells, int x0, int y0) {
  const Vec2d middle(cells.width / 2.0, cells.height / 2.0);
  const double corner = middle.length();
  const Vec2d at = Vec2d(x0 + blockCells / 2.0, y0 + blockCells / 2.0) - middle;
  const double r = at.length() / corner;
  if (r < 0.12) return {};  // nothing is lost there, and it is not known which way is outward
  std::vector<Eigen::Vector3d> places;
  std::vector<double> logs;
  for (int y = y0; y < y0 + blockCells; ++y)
    for (int x = x0; x < x0 + blockCells; ++x) {
      const double dx = (cells.at(x + 2, y) - cells.at(x - 2, y)) / 4,
                   dy = (cells.at(x, y + 2) - cells.at(x, y - 2)) / 4;
      if (!(std::abs(dx) < edge && std::abs(dy) < edge && std::isfinite(cells.at(x, y)))) continue;
      places.push_back({1, (x + 0.5 - middle.x - at.x) / corner, (y + 0.5 - middle.y - at.y) / corner});
      logs.push_back(cells.at(x, y));
    }
  if (places.size() < size_t(blockCells * blockCells) * 3 / 5) return {};
  Eigen::Vector3d plane(median(logs), 0, 0);
  double spread = 0.1;
  Eigen::Matrix3d h;
  for (int pass = 0; pass < 6; ++pass) {
    h.setZero();
    Eigen::Vector3d g = Eigen::Vector3d::Zero();
    std::vector<double> off;
    for (size_t i = 0; i < logs.size(); ++i) {
      const double error = logs[i] - places[i].dot(plane), w = 1 / (1 + error * error / (spread * spread));
      h += w * places[i] * places[i].transpose(), g += w * logs[i] * places[i];
      off.push_back(std::abs(error));
    }
    plane = h.ldlt().solve(g);
    spread = std::max(0.012, 2 * 1.4826 * median(off));
  }
  if (spread > 0.15) return {};  // textured, or of two things
  const Vec2d to = at.normalized();
  // `spread` is two deviations; four neighbouring cells tell about as much as one.
  const double variance = spread * spread * h.inverse()(1, 1);
  return Slope{r, std::atan2(at.y, at.x), plane[1] * to.x + plane[2] * to.y,
               plane[2] * to.x - plane[1] * to.y, variance};
}

/// Whether light goes on from a block into the next one, to the right or below.
bool goesOn(const Cells& cells, int x, int y, bool right) {
  int even = 0;
  for (int k = 0; k < blockCells; ++k) {
    const double d = right ? cells.at(x + blockCells + 1, y + k) - cells.at(x + blockCells - 2, y + k)
                           : cells.at(x + k, y + blockCells + 1) - cells.at(x + k, y + blockCells - 2);
    even += std::abs(d) < 3 * edge;
  }
  return even > 0.8 * blockCells;
}

/// All blocks that tell, with the regions they are of.
std::vector<Slope> slopesOf(const Cells& cells) {
  const int across = (cells.width - 4) / blockCells, down = (cells.height - 4) / blockCells;
  std::vector<Slope> all;
  std::vector<int> of(size_t(across * down), -1), first;
  const auto root = [&](int i) {
    while (first[size_t(i)] != i) i = first[size_t(i)] = first[size_t(first[size_t(i)])];
    return i;
  };
  for (int by = 0; by < down; ++by)
    for (int bx = 0; bx < across; ++bx) {
      const int x = 2 + bx * blockCells, y = 2 + by * blockCells;
      const auto slope = slopeOf(cells, x, y);
      if (!slope) continue;
      const int here = int(all.size());
      of[size_t(by * across + bx)] = here;
      all.push_back(*slope), first.push_back(here);
      const int left = bx > 0 ? of[size_t(by * across + bx - 1)] : -1,
                above = by > 0 ? of[size_t((by - 1) * across + bx)] : -1;
      if (left >= 0 && goesOn(cells, x - blockCells, y, true)) first[size_t(root(here))] = root(left);
      if (above >= 0 && goesOn(cells, x, y - blockCells, false)) first[size_t(root(here))] = root(above);
    }
  for (size_t i = 0; i < all.size(); ++i) all[i].region = root(int(i));
  return all;
}

/// The logarithm of what is lost, as a r² + b r⁴ + c r⁶.
struct Fall {
  double a = 0, b = 0, c = 0;
  double at(double r2) const { return std::exp(r2 * (a + r2 * (b + r2 * c))); }
  double loss() const { return 1 - at(1); }
};

/// By slopes outward and across, without those of one sector (-1: all). Each region may slope by itself, as a
/// wall does that is lit from a side: that shows across as well, and is the same all over it, which a fall is
/// not. All regions together may slope the same way.
Fall fitted(const std::vector<Slope>& slopes, int without) {
  using Unknowns = Eigen::Matrix<double, 5, 1>;
  using Square = Eigen::Matrix<double, 5, 5>;
  struct Region {
    Eigen::Matrix2d own = Eigen::Matrix2d::Identity() / (usualSlope * usualSlope);
    Eigen::Matrix<double, 5, 2> shared = Eigen::Matrix<double, 5, 2>::Zero();
    Eigen::Vector2d right = Eigen::Vector2d::Zero(), slope = Eigen::Vector2d::Zero();
  };
  Unknowns x = Unknowns::Zero();
  std::map<int, Region> regions;
  double spread = 0.3;
  for (int pass = 0; pass < 16; ++pass) {
    Square h = Square::Zero();
    Unknowns g = Unknowns::Zero();
    std::map<int, Region> next;
    std::vector<double> off;
    for (const Slope& s : slopes) {
      if (int((s.angle + pi) / (2 * pi) * sectors) % sectors == without) continue;
      const double r2 = s.r * s.r, ca = std::cos(s.angle), sa = std::sin(s.angle);
      Region& to = next[s.region];
      const Eigen::Vector2d before =
          regions.count(s.region) ? regions[s.region].slope : Eigen::Vector2d::Zero();
      for (const bool outward : {true, false}) {
        Unknowns row;
        row << 2 * s.r, 4 * s.r * r2, 6 * s.r * r2 * r2, ca, sa;
        if (!outward) row << 0, 0, 0, -sa, ca;
        const Eigen::Vector2d turned = row.tail<2>();
        const double value = outward ? s.outward : s.across, error = value - row.dot(x) - turned.dot(before),
                     sigma2 = s.variance + blockSlope * blockSlope,
                     ratio = error * error / (sigma2 + spread * spread);
        // First as if nothing could be far off for good, so that the fall itself is not taken for that.
        const double weight = (pass < 8 ? 1 / std::sqrt(1 + ratio) : 1 / (1 + ratio)) / sigma2;
        h += weight * row * row.transpose(), g += weight * value * row;
        to.own += weight * turned * turned.transpose(), to.shared += weight * row * turned.transpose();
        to.right += weight * value * turned;
        if (outward) off.push_back(std::abs(error));
      }
    }
    if (off.size() < 20) return {};
    // The shapes look alike: the higher powers are held unless they are plainly there.
    for (const int k : {1, 2}) h(k, k) += 1 / (usualBend * usualBend);
    for (const auto& [id, r] : next) {
      const Eigen::Matrix<double, 5, 2> gone = r.shared * r.own.inverse();
      h -= gone * r.shared.transpose(), g -= gone * r.right;
    }
    x = h.ldlt().solve(g);
    for (auto& [id, r] : next) r.slope = r.own.inverse() * (r.right - r.shared.transpose() * x);
    regions = std::move(next);
    spread = std::max(0.03, 1.4826 * median(off));
  }
  return {x[0], x[1], x[2]};
}

/// Light never grows outward by more than what cannot be seen.
bool falls(const Fall& fall) {
  for (double r = 0.1; r < 1.05; r += 0.1)
    if (fall.at(r * r) > 1.01) return false;
  return true;
}

}  // namespace

std::optional<VignetteFound> measureVignette(const Picture& light) {
  const Cells cells = cellsOf(light);
  if (cells.width < 6 * blockCells || cells.height < 4 * blockCells) return {};
  const std::vector<Slope> slopes = slopesOf(cells);
  const auto outer = std::count_if(slopes.begin(), slopes.end(), [](const Slope& s) { return s.r > 0.6; });
  if (slopes.size() < 40 || outer < 16) return {};
  const Fall all = fitted(slopes, -1);
  VignetteFound found;
  found.loss = all.loss();
  found.margin = jackknifeSigma(sectors, [&](int without) { return fitted(slopes, without).loss(); });
  // The exponential's own series, as far as the look goes; the last takes what is missing at the corner.
  if (found.loss > 2 * found.margin && found.loss < 0.9 && falls(all)) {
    found.look.x = all.a, found.look.y = all.b + all.a * all.a / 2;
    found.look.z = -found.loss - found.look.x - found.look.y;
  } else {
    found.loss = 0;
  }
  return found;
}

}  // namespace dusk
