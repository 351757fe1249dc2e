#include "core/trace/render.h"

#include <tbb/blocked_range2d.h>
#include <tbb/parallel_for.h>

namespace dusk {
namespace {

/// Where the product matters, widened by a margin, so that what eight samples missed is still caught.
std::vector<unsigned char> worthGoingOn(const Film& film) {
  const int w = film.width(), h = film.height(), margin = std::max(2, w / 80);
  std::vector<unsigned char> rows(size_t(w) * h), result(size_t(w) * h);
  // Widening is separable: along the rows, then along the columns.
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      if (film.touched(x, y))
        for (int k = std::max(0, x - margin); k <= std::min(w - 1, x + margin); ++k)
          rows[size_t(y) * w + k] = 1;
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      if (rows[size_t(y) * w + x])
        for (int k = std::max(0, y - margin); k <= std::min(h - 1, y + margin); ++k)
          result[size_t(k) * w + x] = 1;
  return result;
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
  while (film.passesDone < passes) {
    const auto index = uint32_t(film.passesDone);
    tbb::parallel_for(tbb::blocked_range2d<int>(0, film.height(), 16, 0, film.width(), 16),
                      [&](const tbb::blocked_range2d<int>& tile) {
                        for (int y = tile.rows().begin(); y < tile.rows().end() && !progress.cancelled(); ++y)
                          for (int x = tile.cols().begin(); x < tile.cols().end(); ++x)
                            if (film.active.empty() || film.active[size_t(y) * film.width() + x])
                              film.add(x, y, integrator.sample(x, y, index));
                      });
    if (progress.cancelled()) return false;
    ++film.passesDone;
    if (film.passesDone == thinPasses) film.active = worthGoingOn(film);
    progress.report(double(film.passesDone) / passes);
    if (afterPass && !afterPass()) return true;
  }
  return true;
}

}  // namespace dusk
