#include "core/trace/render.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

namespace dusk {
namespace {

constexpr int blockSize = 8;

struct Blocks {
  int across, down;
  explicit Blocks(const Film& film)
      : across((film.width() + blockSize - 1) / blockSize),
        down((film.height() + blockSize - 1) / blockSize) {}
  size_t count() const { return size_t(across) * size_t(down); }
  size_t at(int bx, int by) const { return size_t(by) * size_t(across) + size_t(bx); }
  /// The blocks up to `reach` away, by their index.
  template <typename Act>
  void near(int bx, int by, int reach, const Act& act) const {
    for (int y = std::max(0, by - reach); y <= std::min(down - 1, by + reach); ++y)
      for (int x = std::max(0, bx - reach); x <= std::min(across - 1, bx + reach); ++x) act(at(x, y));
  }
  template <typename Act>
  static void eachPixel(const Film& film, int bx, int by, const Act& act) {
    for (int y = by * blockSize; y < std::min(film.height(), (by + 1) * blockSize); ++y)
      for (int x = bx * blockSize; x < std::min(film.width(), (bx + 1) * blockSize); ++x) act(x, y);
  }
};

/// Where the product matters: blocks in which it shows, with a margin, or changes the ground's light by more
/// than `leastInfluence`, over five blocks each way: some ten thousand samples tell so little a change.
std::vector<unsigned char> worthGoingOn(const Film& film) {
  const Blocks blocks(film);
  const int margin = std::max(1, film.width() / 80 / blockSize);
  struct Change {
    bool shows = false;
    double change = 0, light = 0, mirrored = 0;
  };
  std::vector<Change> changes(blocks.count());
  tbb::parallel_for(0, blocks.down, [&](int by) {
    for (int bx = 0; bx < blocks.across; ++bx) {
      Change& c = changes[blocks.at(bx, by)];
      Blocks::eachPixel(film, bx, by, [&](int x, int y) {
        const Film::Pixel* p = film.pixel(x, y);
        if (!p) return;
        c.shows |= p->alpha > 0;
        c.change += p->with - p->without, c.light += p->without;
        c.mirrored += std::abs(p->sum[Film::mirrorNoise]) / std::max(1.0f, p->count);
      });
    }
  });
  std::vector<unsigned char> matters(blocks.count());
  tbb::parallel_for(0, blocks.down, [&](int by) {
    for (int bx = 0; bx < blocks.across; ++bx) {
      Change around;
      blocks.near(bx, by, margin, [&](size_t at) { around.shows |= changes[at].shows; });
      blocks.near(bx, by, 2, [&](size_t at) {
        const Change& c = changes[at];
        around.change += c.change, around.light += c.light, around.mirrored += c.mirrored;
      });
      // A sharp shadow is found by its own block.
      const Change& own = changes[blocks.at(bx, by)];
      matters[blocks.at(bx, by)] = around.shows || std::abs(around.change) > leastInfluence * around.light ||
                                   std::abs(own.change) > 10 * leastInfluence * own.light ||
                                   around.mirrored > leastInfluence * blockSize * blockSize * 25;
    }
  });
  std::vector<unsigned char> pixels(size_t(film.width()) * size_t(film.height()));
  for (int y = 0; y < film.height(); ++y)
    for (int x = 0; x < film.width(); ++x)
      pixels[size_t(y) * size_t(film.width()) + size_t(x)] = matters[blocks.at(x / blockSize, y / blockSize)];
  return pixels;
}

/// Takes blocks that are good enough out of `film.active`: those whose error, with that of the blocks around,
/// is below the target. Looking at neighbours keeps a lucky block from ending early.
void retireBlocks(Film& film, float target) {
  const Blocks blocks(film);
  std::vector<float> squares(blocks.count());
  tbb::parallel_for(0, blocks.down, [&](int by) {
    for (int bx = 0; bx < blocks.across; ++bx) {
      float sum = 0, worst = 0;
      int count = 0;
      Blocks::eachPixel(film, bx, by, [&](int x, int y) {
        const float e = film.error(x, y);
        sum += e * e, worst = std::max(worst, e * e), ++count;
      });
      squares[blocks.at(bx, by)] = 0.75f * sum / float(std::max(1, count)) + 0.25f * worst;
    }
  });
  tbb::parallel_for(0, blocks.down, [&](int by) {
    for (int bx = 0; bx < blocks.across; ++bx) {
      float most = 0;
      blocks.near(bx, by, 1, [&](size_t at) { most = std::max(most, squares[at]); });
      if (most < target * target)
        Blocks::eachPixel(film, bx, by, [&](int x, int y) {
          film.active[size_t(y) * size_t(film.width()) + size_t(x)] = 0;
        });
    }
  });
}

/// One pass over a tile. One that was empty so far and turns out not to be is traced again from the first
/// pass: samples can be had again, and tiles that stay empty cost no memory.
void traceTile(const Integrator& integrator, Film& film, int tile, int pass, const Progress& progress) {
  const int x0 = tile % film.tilesAcross() * Film::tileSize, y0 = tile / film.tilesAcross() * Film::tileSize;
  const int x1 = std::min(film.width(), x0 + Film::tileSize),
            y1 = std::min(film.height(), y0 + Film::tileSize);
  if (!film.window.touches(x0, y0, Film::tileSize)) return;
  const auto each = [&](int of, const auto& act) {
    for (int y = y0; y < y1 && !progress.cancelled(); ++y)
      for (int x = x0; x < x1; ++x)
        if (of < thinPasses || film.active.empty() ||
            film.active[size_t(y) * size_t(film.width()) + size_t(x)])
          if (!act(x, y, integrator.sample(x, y, uint32_t(of)))) return;
  };
  const auto add = [&](int x, int y, const PixelSample& s) {
    film.add(x, y, s);
    return true;
  };
  if (film.isKept(tile)) return each(pass, add);
  bool touched = false;
  each(pass, [&](int, int, const PixelSample& s) { return !(touched = Film::touches(s)); });
  if (touched)
    for (int of = 0; of <= pass; ++of) each(of, add);
}

}  // namespace

bool render(const Scene& scene, Film& film, int passes, Progress& progress,
            const std::function<bool()>& afterPass) {
  const Integrator integrator(scene);
  if (scene.geometry->empty()) {  // nothing placed changes nothing: every ratio stays exactly one
    film.passesDone = passes;
    progress.report(1);
    if (afterPass) afterPass();
    return true;
  }
  film.firstPart.assign(1, 0);
  for (const auto& instance : scene.geometry->instances())
    film.firstPart.push_back(film.firstPart.back() + uint32_t(instance.geometry->model().parts.size()));
  const int tiles = film.tilesAcross() * film.tilesDown();
  while (film.passesDone < passes) {
    const int pass = film.passesDone;
    tbb::parallel_for(
        tbb::blocked_range<int>(0, tiles, 1),
        [&](const tbb::blocked_range<int>& range) {
          for (int tile = range.begin(); tile < range.end() && !progress.cancelled(); ++tile)
            traceTile(integrator, film, tile, pass, progress);
        },
        tbb::simple_partitioner());
    if (progress.cancelled()) return false;
    ++film.passesDone;
    if (film.passesDone == thinPasses) {
      film.active = worthGoingOn(film);
      film.forgetInactive();
    }
    if (scene.noiseTarget > 0 && film.passesDone >= 16 && film.passesDone % 8 == 0) {
      retireBlocks(film, scene.noiseTarget);
      if (std::find(film.active.begin(), film.active.end(), 1) == film.active.end()) passes = film.passesDone;
    }
    progress.report(double(film.passesDone) / passes);
    if (afterPass && !afterPass()) return true;
  }
  return true;
}

}  // namespace dusk
