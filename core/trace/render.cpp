#include "core/trace/render.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <deque>

#include "core/trace/adaptive.h"
#include "core/trace/slabs.h"

namespace dusk {
namespace {

/// After how many passes what does not matter is left out, and below which share of the least influence.
constexpr std::array<std::pair<int, double>, 3> thinning{{{2, 0.1}, {4, 0.35}, {thinPasses, 1.0}}};

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

/// One pass over a tile. One that was empty so far and turns out not to be is traced again from the first
/// pass: samples can be had again, and tiles that stay empty cost no memory.
void traceTile(const Passing& passing, Film& film, int tile, int pass, Where where,
               const Progress& progress) {
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
    const Integrator& integrator = passing.at(of);
    for (int y = y0; y < y1 && !progress.cancelled(); ++y)
      for (int x = x0; x < x1; ++x)
        if (isWanted(x, y) && !act(x, y, integrator.sample(x, y, uint32_t(of)))) return;
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

/// A pass over all tiles; false when it was cancelled.
bool tracePass(const Passing& passing, Film& film, int pass, Where where, const Progress& progress) {
  std::vector<int> tiles;
  film.eachTile(film.windowed(), [&](int tile) { tiles.push_back(tile); });
  tbb::parallel_for(
      tbb::blocked_range<size_t>(0, tiles.size(), 1),
      [&](const tbb::blocked_range<size_t>& range) {
        for (size_t i = range.begin(); i < range.end() && !progress.cancelled(); ++i)
          traceTile(passing, film, tiles[i], pass, where, progress);
      },
      tbb::simple_partitioner());
  return !progress.cancelled();
}

void numberParts(const Scene& scene, Film& film) {
  film.firstPart.assign(1, 0);
  for (const auto& instance : scene.geometry->instances())
    film.firstPart.push_back(film.firstPart.back() + uint32_t(instance.geometry->model().parts.size()));
}

}  // namespace

bool render(const Scene& scene, Film& film, int passes, Progress& progress,
            const std::function<bool()>& afterPass) {
  const Passing passing(scene);
  if (scene.geometry->empty()) {  // nothing placed changes nothing: every ratio stays exactly one
    film.passesDone = passes;
    progress.report(1);
    if (afterPass) afterPass();
    return true;
  }
  numberParts(scene, film);
  const double way = wayPx(scene);
  while (film.passesDone < passes) {
    if (!tracePass(passing, film, film.passesDone, Where::everywhere, progress)) return false;
    ++film.passesDone;
    // What is far from mattering is known early; by the last thin pass some ten thousand samples tell.
    for (const auto& [after, share] : thinning)
      if (film.passesDone == after && !film.maskIsGiven)
        leaveOutUntouched(film, share * leastInfluence, way / after);
    if (scene.noiseTarget > 0 && isTimeToJudge(film.passesDone)) {
      retirePixels(film, scene, progress);
      if (progress.cancelled()) return false;  // judged in part only
      if (activeIn(film, film.windowed()) == 0) passes = film.passesDone;
    }
    progress.report(double(film.passesDone) / passes);
    if (afterPass && !afterPass()) return true;
  }
  return true;
}

bool renderAhead(const Scene& scene, Film& film, const std::vector<unsigned char>& mask, int passes,
                 Progress& progress, const std::function<bool()>& afterPass) {
  const Passing passing(scene);
  numberParts(scene, film);
  // Where the noise is judged, all must have as many.
  if (scene.noiseTarget > 0) passes = std::min(passes, firstJudging - 1);
  const int w = film.width();
  uint32_t count = 0;
  film.ahead.assign(mask.size(), 0), film.passesAhead = 0;
  for (size_t i = 0; i < mask.size(); ++i)
    if (mask[i]) film.ahead[i] = ++count;
  film.aheadFoundAt.assign(count, Film::never);
  const auto each = [&](const auto& act) {
    for (size_t i = 0; i < film.ahead.size(); ++i)
      if (film.ahead[i]) act(int(i % size_t(w)), int(i / size_t(w)), film.ahead[i]);
  };
  while (film.passesAhead < passes) {
    if (!tracePass(passing, film, film.passesAhead, Where::ahead, progress)) return false;
    const int done = ++film.passesAhead;
    if (std::any_of(thinning.begin(), thinning.end(), [&](const auto& t) { return t.first == done; })) {
      auto& then = film.aheadInfluence[done];
      then.resize(count);
      each([&](int x, int y, uint32_t number) { then[number - 1] = film.sumsOf(x, y); });
    }
    if (afterPass && !afterPass()) break;
  }
  // Where nothing was found, nothing was kept: those pixels are as all others.
  each([&](int x, int y, uint32_t) {
    if (!film.isKept(film.tileOf(x, y))) film.ahead[size_t(y) * size_t(w) + size_t(x)] = 0;
  });
  return true;
}

}  // namespace dusk
