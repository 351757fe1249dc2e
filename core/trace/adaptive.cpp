#include "core/trace/adaptive.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <atomic>

#include "core/trace/denoise.h"
#include "core/trace/slabs.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr int calmBlock = 8;

/// The places up to `reach` away in a grid of so many, by their index.
template <typename Act>
void near(int across, int down, int x, int y, int reach, const Act& act) {
  for (int v = std::max(0, y - reach); v <= std::min(down - 1, y + reach); ++v)
    for (int u = std::max(0, x - reach); u <= std::min(across - 1, x + reach); ++u)
      act(size_t(v) * size_t(across) + size_t(u));
}

struct Blocks {
  int across, down;
  explicit Blocks(const Film& film)
      : across((film.width() + calmBlock - 1) / calmBlock),
        down((film.height() + calmBlock - 1) / calmBlock) {}
  size_t count() const { return size_t(across) * size_t(down); }
  size_t at(int bx, int by) const { return size_t(by) * size_t(across) + size_t(bx); }
  template <typename Act>
  static void eachPixel(const Film& film, int bx, int by, const Act& act) {
    for (int y = by * calmBlock; y < std::min(film.height(), (by + 1) * calmBlock); ++y)
      for (int x = bx * calmBlock; x < std::min(film.width(), (bx + 1) * calmBlock); ++x) act(x, y);
  }
};

}  // namespace

double wayPx(const Scene& scene) {
  if (scene.during.empty()) return 0;
  const auto seen = [](const Scene& at) {
    std::vector<std::optional<Vec2d>> corners;
    for (const Box& box : at.geometry->worldBoxes())
      for (int c = 0; c < 8; ++c)
        corners.push_back(
            projected(at.camera, {c & 1 ? box.high.x : box.low.x, c & 2 ? box.high.y : box.low.y,
                                  c & 4 ? box.high.z : box.low.z}));
    return corners;
  };
  std::vector<std::vector<std::optional<Vec2d>>> all;
  for (const auto& moment : scene.during) all.push_back(seen(*moment));
  double most = 0;
  for (size_t i = 0; i < all[0].size(); ++i) {
    Vec2d low(1e9, 1e9), high(-1e9, -1e9);
    for (const auto& corners : all)
      if (i < corners.size() && corners[i])
        low = {std::min(low.x, corners[i]->x), std::min(low.y, corners[i]->y)},
        high = {std::max(high.x, corners[i]->x), std::max(high.y, corners[i]->y)};
    if (high.x >= low.x) most = std::max(most, (high - low).length());
  }
  return most;
}

void leaveOutUntouched(Film& film, double least, double gapPx) {
  const Blocks blocks(film);
  const int margin =
      std::max(1, film.width() / 80 / calmBlock) + std::min(blocks.across, int(std::ceil(gapPx / calmBlock)));
  struct Change {
    bool shows = false;
    double change = 0, light = 0, mirrored = 0;
  };
  std::vector<Change> changes(blocks.count());
  tbb::parallel_for(0, blocks.down, [&](int by) {
    for (int bx = 0; bx < blocks.across; ++bx) {
      Change& c = changes[blocks.at(bx, by)];
      Blocks::eachPixel(film, bx, by, [&](int x, int y) {
        const Film::Influence i = film.influence(x, y);
        c.shows |= i.shows;
        c.change += i.with - i.without, c.light += i.without;
        c.mirrored += i.mirrored / std::max(1.0f, i.count);
      });
    }
  });
  std::vector<unsigned char> matters(blocks.count());
  const Film::Window w = film.windowed();
  std::atomic<bool> showsAll{true};
  tbb::parallel_for(0, blocks.down, [&](int by) {
    for (int bx = 0; bx < blocks.across; ++bx) {
      Change around;
      near(blocks.across, blocks.down, bx, by, margin, [&](size_t at) { around.shows |= changes[at].shows; });
      const bool isTraced = (bx + 1) * calmBlock > w.x0 && bx * calmBlock < w.x1 &&
                            (by + 1) * calmBlock > w.y0 && by * calmBlock < w.y1;
      if (isTraced && !around.shows) showsAll = false;
      near(blocks.across, blocks.down, bx, by, 2, [&](size_t at) {
        const Change& c = changes[at];
        around.change += c.change, around.light += c.light, around.mirrored += c.mirrored;
      });
      // A sharp shadow is found by its own block.
      const Change& own = changes[blocks.at(bx, by)];
      matters[blocks.at(bx, by)] = around.shows || std::abs(around.change) > least * around.light ||
                                   std::abs(own.change) > 10 * least * own.light ||
                                   around.mirrored > least * calmBlock * calmBlock * 25;
    }
  });
  film.maskIsGiven = showsAll;
  film.samplingMask.resize(size_t(film.width()) * size_t(film.height()), 1);
  for (int y = 0; y < film.height(); ++y)
    for (int x = 0; x < film.width(); ++x)
      film.samplingMask[size_t(y) * size_t(film.width()) + size_t(x)] &=
          matters[blocks.at(x / calmBlock, y / calmBlock)];
  film.forgetInactive();
}

namespace {

/// Of one slab: what lies around it might not be there yet, or on another machine.
void retireIn(Film& film, const Film::Window& slab, const Scene& scene) {
  constexpr int meanOver = 2, around = 1;
  const int w = slab.x1 - slab.x0, h = slab.y1 - slab.y0;
  const auto maskAt = [&](int x, int y) -> unsigned char& {
    return film.samplingMask[size_t(slab.y0 + y) * size_t(film.width()) + size_t(slab.x0 + x)];
  };
  std::vector<float> squares;
  if (scene.denoise > 0) {
    squares = expectedErrors(film, scene.denoise, slab);
  } else {
    squares.resize(size_t(w) * size_t(h));
    for (int y = 0; y < h; ++y)
      for (int x = 0; x < w; ++x) {
        const float e = film.error(slab.x0 + x, slab.y0 + y);
        squares[size_t(y) * size_t(w) + size_t(x)] = e * e;
      }
  }
  std::vector<unsigned char> bad(squares.size());
  const float most = scene.noiseTarget * scene.noiseTarget;
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      if (!maskAt(x, y)) continue;
      float sum = 0;
      int count = 0;
      near(w, h, x, y, meanOver, [&](size_t i) { sum += squares[i], ++count; });
      bad[size_t(y) * size_t(w) + size_t(x)] = sum > most * float(count);
    }
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      unsigned char& stays = maskAt(x, y);
      if (!stays) continue;
      stays = 0;
      near(w, h, x, y, around, [&](size_t i) { stays |= bad[i]; });
    }
}

}  // namespace

void retirePixels(Film& film, const Scene& scene, const Progress& progress) {
  const std::vector<Film::Window> slabs = slabsOf(film.windowed());
  tbb::parallel_for(
      tbb::blocked_range<size_t>(0, slabs.size(), 1),
      [&](const tbb::blocked_range<size_t>& range) {
        for (size_t i = range.begin(); i < range.end() && !progress.cancelled(); ++i)
          if (activeIn(film, slabs[i]) > 0) retireIn(film, slabs[i], scene);
      },
      tbb::simple_partitioner());
}

bool isTimeToJudge(int passes) {
  int step = 8;
  while (passes >= step * 4) step *= 2;
  return passes >= firstJudging && passes % step == 0;
}

}  // namespace dusk
