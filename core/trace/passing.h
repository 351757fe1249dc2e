#pragma once
#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <deque>

#include "core/base/progress.h"
#include "core/trace/film.h"
#include "core/trace/integrator.h"

/// How passes go over a film, whoever asks for them.
namespace dusk {

/// What each pass sees.
class Passing {
 public:
  explicit Passing(const Scene& scene) {
    if (scene.during.empty()) moments_.emplace_back(scene);
    for (const auto& moment : scene.during) moments_.emplace_back(*moment);
  }
  const Integrator& at(int pass) const { return moments_[size_t(pass) % moments_.size()]; }

 private:
  std::deque<Integrator> moments_;
};

/// Which pixels a pass goes to.
enum class Where { everywhere, ahead };

/// One pass over a tile, of samples that `sampleOf(x, y, pass)` gives. A tile that was empty so far and turns
/// out not to be is traced again from the first pass: samples can be had again, and tiles that stay empty
/// cost no memory.
template <typename SampleOf>
void traceTile(Film& film, int tile, int pass, Where where, const Progress& progress,
               const SampleOf& sampleOf) {
  const int x0 = tile % film.tilesAcross() * Film::tileSize, y0 = tile / film.tilesAcross() * Film::tileSize;
  const int x1 = std::min(film.width(), x0 + Film::tileSize),
            y1 = std::min(film.height(), y0 + Film::tileSize);
  const bool someAhead = where == Where::everywhere && pass < film.passesAhead;
  const auto isWanted = [&](int x, int y) {
    const size_t i = size_t(y) * size_t(film.width()) + size_t(x);
    if (where == Where::ahead) return film.ahead[i] != 0;
    if (!film.samplingMask.empty() && !film.samplingMask[i]) return false;
    if (!someAhead || !film.ahead[i]) return true;
    if (film.aheadFoundAt[film.ahead[i] - 1] == pass) film.foundIn(tile, pass);
    return false;  // has it
  };
  const auto each = [&](int of, const auto& act) {
    for (int y = y0; y < y1 && !progress.cancelled(); ++y)
      for (int x = x0; x < x1; ++x)
        if (isWanted(x, y) && !act(x, y, sampleOf(x, y, of))) return;
  };
  bool found = false;  // by this pass
  const auto add = [&](int x, int y, const PixelSample& s) {
    film.add(x, y, s);
    if (where == Where::ahead) {
      int& first = film.aheadFoundAt[film.ahead[size_t(y) * size_t(film.width()) + size_t(x)] - 1];
      if (pass < first && Film::influences(s)) first = pass;
    } else if (!found && Film::influences(s)) {
      found = true;
      film.foundIn(tile, pass);
    }
    return true;
  };
  if (film.isKept(tile)) return each(pass, add);
  bool influenced = false;
  each(pass, [&](int, int, const PixelSample& s) { return !(influenced = Film::influences(s)); });
  if (influenced)
    for (int of = 0; of <= pass; ++of) each(of, add);
}

/// `traceOne(tile)` for each tile of the film's window, on all cores; false when it was cancelled.
template <typename TraceOne>
bool eachTileAtOnce(const Film& film, const Progress& progress, const TraceOne& traceOne) {
  std::vector<int> tiles;
  film.eachTile(film.windowed(), [&](int tile) { tiles.push_back(tile); });
  tbb::parallel_for(
      tbb::blocked_range<size_t>(0, tiles.size(), 1),
      [&](const tbb::blocked_range<size_t>& range) {
        for (size_t i = range.begin(); i < range.end() && !progress.cancelled(); ++i) traceOne(tiles[i]);
      },
      tbb::simple_partitioner());
  return !progress.cancelled();
}

/// Before the first pass of a film.
void numberParts(const Scene& scene, Film& film);

/// After a pass: leaves out what does not matter, and what is good enough. `passes` becomes fewer where
/// nothing is left to do. `way`: wayPx() of the scene. False when it was cancelled.
bool endPass(const Scene& scene, Film& film, double way, int& passes, const Progress& progress);

}  // namespace dusk
