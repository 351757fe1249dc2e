#include "core/trace/render.h"

#include "core/trace/adaptive.h"
#include "core/trace/passing.h"
#include "core/trace/slabs.h"

namespace dusk {
namespace {

/// After how many passes what does not matter is left out, and below which share of the least influence.
constexpr std::array<std::pair<int, double>, 3> thinning{{{2, 0.1}, {4, 0.35}, {thinPasses, 1.0}}};

/// A pass over all tiles; false when it was cancelled.
bool tracePass(const Passing& passing, Film& film, int pass, Where where, const Progress& progress) {
  return eachTileAtOnce(film, progress, [&](int tile) {
    traceTile(film, tile, pass, where, progress,
              [&](int x, int y, int of) { return passing.at(of).sample(x, y, uint32_t(of)); });
  });
}

}  // namespace

void numberParts(const Scene& scene, Film& film) {
  film.firstPart.assign(1, 0);
  for (const auto& instance : scene.geometry->instances())
    film.firstPart.push_back(film.firstPart.back() + uint32_t(instance.geometry->model().parts.size()));
}

bool endPass(const Scene& scene, Film& film, double way, int& passes, const Progress& progress) {
  // What is far from mattering is known early; by the last thin pass some ten thousand samples tell.
  for (const auto& [after, share] : thinning)
    if (film.passesDone == after && !film.maskIsGiven)
      leaveOutUntouched(film, share * leastInfluence, way / after);
  if (scene.noiseTarget > 0 && isTimeToJudge(film.passesDone)) {
    retirePixels(film, scene, progress);
    if (progress.cancelled()) return false;  // judged in part only
    if (activeIn(film, film.windowed()) == 0) passes = film.passesDone;
  }
  return true;
}

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
  // Later passes are of fewer pixels.
  double active = double(activeIn(film, film.windowed())), traced = active * film.passesDone;
  while (film.passesDone < passes) {
    if (!tracePass(passing, film, film.passesDone, Where::everywhere, progress)) return false;
    ++film.passesDone;
    traced += active;
    if (!endPass(scene, film, way, passes, progress)) return false;
    active = double(activeIn(film, film.windowed()));
    const double left = active * (passes - film.passesDone);
    progress.report(left > 0 ? traced / (traced + left) : 1);
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
