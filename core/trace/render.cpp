#include "core/trace/render.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include "core/trace/adaptive.h"

namespace dusk {
namespace {

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
        if (film.samplingMask.empty() || film.samplingMask[size_t(y) * size_t(film.width()) + size_t(x)])
          if (!act(x, y, integrator.sample(x, y, uint32_t(of)))) return;
  };
  const auto add = [&](int x, int y, const PixelSample& s) {
    film.add(x, y, s);
    return true;
  };
  if (film.isKept(tile)) return each(pass, add);
  bool influenced = false;
  each(pass, [&](int, int, const PixelSample& s) { return !(influenced = Film::influences(s)); });
  if (influenced)
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
    // What is far from mattering is known early; by the last thin pass some ten thousand samples tell.
    for (const auto& [after, share] : {std::pair(2, 0.1), {4, 0.35}, {thinPasses, 1.0}})
      if (film.passesDone == after && !film.maskIsGiven) leaveOutUntouched(film, share * leastInfluence);
    if (scene.noiseTarget > 0 && isTimeToJudge(film.passesDone)) {
      retirePixels(film, scene, progress);
      if (progress.cancelled()) return false;  // judged in part only
      if (std::find(film.samplingMask.begin(), film.samplingMask.end(), 1) == film.samplingMask.end())
        passes = film.passesDone;
    }
    progress.report(double(film.passesDone) / passes);
    if (afterPass && !afterPass()) return true;
  }
  return true;
}

}  // namespace dusk
