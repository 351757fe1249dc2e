#include "core/picture/fill.h"

#include <cmath>

#include "core/base/words.h"
#include "core/picture/fill_join.h"
#include "core/picture/fill_shifts.h"

namespace dusk {
namespace {

using fill::Holes;
using fill::Sized;

constexpr size_t mostShifts = 72;
constexpr std::ptrdiff_t coarsePixels = 3000;  ///< of the hole, where its pieces are found

/// Half the size; what is partly hole is hole.
Sized halved(const Sized& of) {
  Sized out{of.width / 2, of.height / 2, {}, {}, {}};
  const size_t n = size_t(out.width) * out.height;
  out.rgb.resize(n * 3), out.hole.resize(n), out.size.resize(of.size.empty() ? 0 : n);
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x) {
      const size_t to = size_t(y) * out.width + x, a = size_t(2 * y) * of.width + size_t(2 * x),
                   b = a + size_t(of.width);
      for (size_t c = 0; c < 3; ++c)
        out.rgb[to * 3 + c] = 0.25f * (of.rgb[a * 3 + c] + of.rgb[(a + 1) * 3 + c] + of.rgb[b * 3 + c] +
                                       of.rgb[(b + 1) * 3 + c]);
      out.hole[to] = of.hole[a] | of.hole[a + 1] | of.hole[b] | of.hole[b + 1];
      // A metre is half as many pixels everywhere: what counts is the ratio.
      if (!of.size.empty()) out.size[to] = of.size[a];
    }
  return out;
}

/// The picture at its size and at halves of it, until the hole is small.
std::vector<Sized> sizesOf(Sized whole) {
  std::vector<Sized> all{std::move(whole)};
  const auto open = [&] {
    return std::count_if(all.back().hole.begin(), all.back().hole.end(), [](auto h) { return h; });
  };
  while (open() > coarsePixels && std::min(all.back().width, all.back().height) > 64)
    all.push_back(halved(all.back()));
  return all;
}

/// Shifts in all directions, so that every pixel of the hole has one that leads out of it.
void addWaysOut(const Sized& p, std::vector<Shift>& shifts) {
  int x0 = p.width, y0 = p.height, x1 = 0, y1 = 0;
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x)
      if (p.hole[size_t(y) * p.width + x])
        x0 = std::min(x0, x), x1 = std::max(x1, x + 1), y0 = std::min(y0, y), y1 = std::max(y1, y + 1);
  const int w = x1 - x0, h = y1 - y0;
  if (w <= 0) return;
  for (const Shift& s :
       {Shift{w, 0}, {-w, 0}, {0, h}, {0, -h}, {w, h}, {-w, h}, {w, -h}, {-w, -h}, {w / 2, h}, {-w / 2, h}})
    shifts.push_back(s);
}

/// The map at twice the size, where each pixel's own leads to something known; a neighbour's where not.
std::vector<int> enlarged(const Sized& small, const std::vector<int>& map, const Sized& large,
                          const std::vector<Shift>& shifts) {
  std::vector<int> out(large.hole.size(), -1);
  for (int y = 0; y < large.height; ++y)
    for (int x = 0; x < large.width; ++x) {
      if (!large.hole[size_t(y) * large.width + x]) continue;
      const int u = std::min(x / 2, small.width - 1), v = std::min(y / 2, small.height - 1);
      int& to = out[size_t(y) * large.width + x];
      for (int far = 0; far <= 3 && to < 0; ++far)
        for (int b = -far; b <= far && to < 0; ++b)
          for (int a = -far; a <= far && to < 0; ++a) {
            if (!small.inside(u + a, v + b)) continue;
            const int label = map[size_t(v + b) * small.width + size_t(u + a)];
            if (label >= 0 && large.known(x + shifts[size_t(label)].x, y + shifts[size_t(label)].y))
              to = label;
          }
      for (size_t k = 0; k < shifts.size() && to < 0; ++k)
        if (large.known(x + shifts[k].x, y + shifts[k].y)) to = int(k);
    }
  return out;
}

/// Whether every pixel of the hole is taken from somewhere.
bool isWhole(const Sized& p, const std::vector<int>& map) {
  for (size_t i = 0; i < map.size(); ++i)
    if (p.hole[i] && map[i] < 0) return false;
  return true;
}

Error nothingToTake() {
  return {words("There is nothing round the spot to fill it with: loop less of the photo."),
          ErrorKind::failed};
}

}  // namespace

Result<Picture> filled(Picture codes, const Holes& hole, const FillHow& how, Progress& progress) {
  if (std::none_of(hole.begin(), hole.end(), [](auto h) { return h != 0; })) return codes;
  std::vector<Sized> sizes = sizesOf({codes.width, codes.height, std::move(codes.pixels), hole, how.size});
  const Sized& coarse = sizes.back();
  std::vector<Shift> shifts;
  if (how.from) {
    const int by = 1 << (sizes.size() - 1);
    shifts = {{int(std::lround(double(how.from->x) / by)), int(std::lround(double(how.from->y) / by))}};
  } else {
    shifts = fill::likelyShifts(coarse, mostShifts, how.seed);
  }
  progress.report(0.3);
  std::vector<int> map = fill::shiftMap(coarse, shifts, progress);
  if (map.empty() && !progress.cancelled()) {
    if (how.from)
      for (const Shift& s : fill::likelyShifts(coarse, mostShifts, how.seed)) shifts.push_back(s);
    addWaysOut(coarse, shifts);
    map = fill::shiftMap(coarse, shifts, progress);
  }
  if (progress.cancelled()) return cancelledError();
  if (map.empty()) return nothingToTake();
  progress.report(0.7);
  for (size_t k = sizes.size() - 1; k-- > 0;) {
    if (progress.cancelled()) return cancelledError();
    const Sized &half = sizes[k + 1], &here = sizes[k];
    const std::vector<int> small = std::move(map);
    for (Shift& s : shifts) s = {s.x * 2, s.y * 2};
    if (how.from) shifts[0] = {how.from->x / (1 << k), how.from->y / (1 << k)};
    map = enlarged(half, small, here, shifts);
    if (!isWhole(here, map)) return nothingToTake();
    if (!how.from) {
      std::vector<Shift> finer = shifts;
      fill::refineShifts(here, finer, map, 2);
      // Where little is known, what lies a pixel further is not.
      if (auto moved = enlarged(half, small, here, finer); isWhole(here, moved))
        shifts = std::move(finer), map = std::move(moved);
    }
    fill::settleBorders(sizes[k], shifts, map, 4);
  }
  progress.report(0.9);
  fill::joinPieces(sizes[0], shifts, map);
  codes.pixels = std::move(sizes[0].rgb);
  progress.report(1);
  return codes;
}

}  // namespace dusk
