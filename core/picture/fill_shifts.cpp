#include "core/picture/fill_shifts.h"

#include <tbb/parallel_for.h>

#include <cmath>
#include <tuple>

namespace dusk::fill {
namespace {

constexpr int reach = 3;  ///< of a patch, pixels

/// A number that looks like chance (Steele, Lea, Flood 2014, "Fast Splittable Pseudorandom Number
/// Generators").
uint64_t mixed(uint64_t x) {
  x += 0x9e3779b97f4a7c15ull;
  x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9ull;
  x = (x ^ (x >> 27)) * 0x94d049bb133111ebull;
  return x ^ (x >> 31);
}

/// A spot at the hole's rim, with how much it tells.
struct Rim {
  int x = 0, y = 0;
  float weight = 0;
};

/// Contrast of what is known round a spot.
float contrast(const Sized& p, int x, int y) {
  float sum = 0, squares = 0, n = 0;
  for (int v = y - reach; v <= y + reach; ++v)
    for (int u = x - reach; u <= x + reach; ++u) {
      if (!p.known(u, v)) continue;
      const float g = p.at(u, v)[1];
      sum += g, squares += g * g, ++n;
    }
  return n > 0 ? std::sqrt(std::max(0.0f, squares / n - sum * sum / (n * n))) : 0;
}

/// Known pixels next to the hole.
std::vector<Rim> rimOf(const Sized& p) {
  std::vector<Rim> rim;
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      if (!p.known(x, y)) continue;
      bool beside = false;
      for (int v = y - 1; v <= y + 1; ++v)
        for (int u = x - 1; u <= x + 1; ++u) beside |= p.inside(u, v) && !p.known(u, v);
      // Lines and corners say more than a plain wall.
      if (beside) rim.push_back({x, y, 0.01f + contrast(p, x, y)});
    }
  return rim;
}

/// How well a spot of the rim looks like what lies a shift away, 0 to 1; a difference in brightness alone
/// counts little. 0 where too little is known there.
float likeness(const Sized& p, const Rim& at, int dx, int dy) {
  float squares = 0, sum[3]{}, n = 0;
  const int x0 = at.x - reach, y0 = at.y - reach, x1 = at.x + reach, y1 = at.y + reach;
  const bool inside =
      p.inside(x0, y0) && p.inside(x1, y1) && p.inside(x0 + dx, y0 + dy) && p.inside(x1 + dx, y1 + dy);
  const std::ptrdiff_t off = std::ptrdiff_t(dy) * p.width + dx;
  for (int v = y0; v <= y1; ++v)
    // One half of a chessboard tells as much.
    for (int u = x0 + (v & 1); u <= x1; u += 2) {
      if (!inside && !p.inside(u, v)) continue;
      const std::ptrdiff_t i = std::ptrdiff_t(v) * p.width + u;
      if (p.hole[size_t(i)]) continue;
      if ((!inside && !p.inside(u + dx, v + dy)) || p.hole[size_t(i + off)]) return 0;
      const float *c = &p.rgb[size_t(i) * 3], *d = &p.rgb[size_t(i + off) * 3];
      for (int k = 0; k < 3; ++k) {
        const float e = c[k] - d[k];
        squares += e * e, sum[k] += e;
      }
      ++n;
    }
  if (n == 0) return 0;
  float cost = squares / n - 0.8f * (sum[0] * sum[0] + sum[1] * sum[1] + sum[2] * sum[2]) / (n * n);
  if (!p.size.empty()) {
    const float apart = std::abs(p.size[size_t(at.y) * p.width + size_t(at.x)] -
                                 p.size[size_t(at.y + dy) * p.width + size_t(at.x + dx)]);
    if (std::isfinite(apart)) cost += 0.01f * std::max(0.0f, apart - 0.05f);
  }
  constexpr float tolerance = 0.003f;
  return std::exp(-cost / tolerance);
}

/// One shift after the other, each that tells most of what the ones before left untold. That only shrinks, so
/// one that is on top with what it tells now is the best (Minoux 1978, "Accelerated Greedy Algorithms for
/// Maximizing Submodular Set Functions"). `alike`: [shift][rim] in 255ths.
std::vector<Shift> chosen(std::vector<uint8_t>& alike, std::vector<Rim>& rim, const Sized& p, size_t most) {
  const int across = 2 * p.width - 1, down = 2 * p.height - 1;
  const auto scoreOf = [&](size_t shift) {
    const uint8_t* from = &alike[shift * rim.size()];
    float sum = 0;
    for (size_t i = 0; i < rim.size(); ++i) sum += rim[i].weight * float(from[i]);
    return sum;
  };
  // What each tells, of what any could still tell: one that was not looked at again tells no more.
  struct Ranked {
    float share;
    size_t shift, asOf;
    bool operator<(const Ranked& o) const {
      return std::tie(share, o.shift) < std::tie(o.share, shift);  // the first of equals is on top
    }
  };
  std::vector<Ranked> ranked(size_t(across) * down);
  tbb::parallel_for(size_t{0}, ranked.size(), [&](size_t s) { ranked[s] = {scoreOf(s), s, 0}; });
  std::make_heap(ranked.begin(), ranked.end());
  std::vector<Shift> shifts;
  float left = 1;  // at most, of what any tells
  while (shifts.size() < most) {
    std::pop_heap(ranked.begin(), ranked.end());
    Ranked& best = ranked.back();
    if (best.share * left <= 1e-4f) break;
    uint8_t* from = &alike[best.shift * rim.size()];
    if (best.asOf == shifts.size()) {
      shifts.push_back(
          {int(best.shift % size_t(across)) - p.width + 1, int(best.shift / size_t(across)) - p.height + 1});
      float slowest = 0;
      for (size_t i = 0; i < rim.size(); ++i) {
        const float stays = 1 - 0.4f / 255 * float(from[i]);
        rim[i].weight *= stays, slowest = std::max(slowest, stays);
      }
      left *= slowest;
      best.share = 0;  // not the same again
      std::fill_n(from, rim.size(), uint8_t{0});
    } else {
      best.share = scoreOf(best.shift) / left, best.asOf = shifts.size();
    }
    std::push_heap(ranked.begin(), ranked.end());
  }
  return shifts;
}

}  // namespace

std::vector<Shift> likelyShifts(const Sized& p, size_t most, int seed) {
  std::vector<Rim> rim = rimOf(p);
  constexpr size_t enough = 160;
  if (rim.size() > enough) {
    const size_t step = (rim.size() + enough - 1) / enough;
    for (size_t i = 0; i * step < rim.size(); ++i) rim[i] = rim[i * step];
    rim.resize((rim.size() + step - 1) / step);
  }
  // Another seed does without half of all ways.
  const auto isOpen = [&](int dx, int dy) {
    const auto block = [](int v) { return uint64_t(uint32_t(v + 4096) / 8); };
    return seed == 1 || mixed(uint64_t(seed) << 32 | block(dx) << 16 | block(dy)) % 2 == 0;
  };
  const int across = 2 * p.width - 1, down = 2 * p.height - 1;
  std::vector<uint8_t> alike(size_t(across) * down * rim.size());  // [shift][rim] in 255ths
  tbb::parallel_for(0, down, [&](int row) {
    for (int column = 0; column < across; ++column) {
      const int dx = column - p.width + 1, dy = row - p.height + 1;
      if (dx * dx + dy * dy < 4 * reach * reach || !isOpen(dx, dy)) continue;
      uint8_t* to = &alike[(size_t(row) * across + column) * rim.size()];
      for (size_t i = 0; i < rim.size(); ++i)
        if (p.known(rim[i].x + dx, rim[i].y + dy)) to[i] = uint8_t(255 * likeness(p, rim[i], dx, dy) + 0.5f);
    }
  });
  return chosen(alike, rim, p, most);
}

}  // namespace dusk::fill
