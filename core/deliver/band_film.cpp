#include <numeric>

#include "core/base/words.h"
#include "core/deliver/bands.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"
#include "core/trace/slabs.h"

namespace dusk {
namespace {

/// Rows around a band that its denoising reaches to, as whole tiles.
constexpr int around = (denoiserReach + Film::tileSize - 1) / Film::tileSize * Film::tileSize;
static_assert(denoiserBlock % Film::tileSize == 0);

/// What is at most lost when the machine ends.
constexpr std::chrono::seconds keepEvery{20};

}  // namespace

bool BandFilm::trace(const Scene& scene, const FilmExposure& how, Progress& progress,
                     const std::function<bool()>& afterPass) {
  if (!how.trace) return render(scene, film_, how.passes, progress, afterPass);
  const Film::Window piece = film_.windowed();
  const TraceStep step{exposedTo_, how.layer, piece.y0, piece.x0};
  return how.trace({scene, film_, how.passes, progress, afterPass, step});
}

std::vector<int> sharedOut(const std::vector<size_t>& weights, int parts) {
  std::vector<size_t> order(weights.size()), load(size_t(std::max(1, parts)));
  std::iota(order.begin(), order.end(), size_t{0});
  // The heaviest first, each to who has least (Graham 1969, "Bounds on Multiprocessing Timing Anomalies").
  std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return weights[a] > weights[b]; });
  std::vector<int> owner(weights.size(), 1);
  for (const size_t i : order) {
    const auto least = std::min_element(load.begin(), load.end());
    *least += weights[i];
    owner[i] = int(least - load.begin()) + 1;
  }
  return owner;
}

Outcome BandFilm::expose(const Scene& scene, const Rows& band, const FilmExposure& how, Progress& progress) {
  const int from = exposedTo_, to = std::min(film_.height(), band.end + around);
  film_.forgetAbove(band.first - around);
  film_.passesDone = 0;
  const size_t w = size_t(film_.width());
  const auto row = [w](auto& mask, int y) { return mask.begin() + long(size_t(y) * w); };
  film_.maskIsGiven = true;
  film_.samplingMask.resize(plan_.mask.size());
  std::fill(row(film_.samplingMask, film_.window.y0), row(film_.samplingMask, from), 0);
  std::copy(row(plan_.mask, from), row(plan_.mask, to), row(film_.samplingMask, from));
  film_.window = {0, from, film_.width(), to};
  exposedTo_ = to;
  if (from >= to) return done();
  if (how.log) return exposePieces(scene, how, progress);
  return trace(scene, how, progress, how.afterPass) ? done() : cancelledError();
}

Outcome BandFilm::exposePieces(const Scene& scene, const FilmExposure& how, Progress& progress) {
  const Film::Window whole = film_.windowed(), shown = film_.window;
  if (scene.geometry->empty()) {
    film_.passesDone = how.passes;
    return done();
  }
  const std::vector<Film::Window> pieces = slabsOf(whole);
  const Progress::Part all = progress.part();
  const auto share = [&](double from, double to) { progress.reportWithin(all.within(from, to)); };
  std::vector<size_t> weights;
  for (const Film::Window& piece : pieces) weights.push_back(activeIn(film_, piece));
  const int own = how.log->head().part;
  const std::vector<int> owner = sharedOut(weights, how.log->head().parts);
  size_t sum = 0, done_ = 0;
  for (size_t i = 0; i < pieces.size(); ++i)
    if (!how.onlyOwn || owner[i] == own) sum += weights[i];
  int most = 0;
  for (size_t i = 0; i < pieces.size(); ++i) {
    if (weights[i] == 0 || (how.onlyOwn && owner[i] != own)) continue;
    share(double(done_) / double(sum), double(done_ + weights[i]) / double(sum));
    film_.passesDone = 0;
    if (const Outcome traced = tracePiece(scene, pieces[i], how, progress); !traced) return traced;
    most = std::max(most, film_.passesDone), done_ += weights[i];
    if (how.onlyOwn) film_.eachTile(pieces[i], [&](int tile) { film_.forgetTile(tile); });
  }
  share(0, 1);
  film_.passesDone = most, film_.window = shown;
  return done();
}

Outcome BandFilm::tracePiece(const Scene& scene, const Film::Window& piece, const FilmExposure& how,
                             Progress& progress) {
  TraceLog& log = *how.log;
  if (log.passesOf(how.layer, piece) > 0) {
    if (const Outcome loaded = log.load(how.layer, piece, film_); !loaded) return loaded;
    film_.passesDone = log.passesOf(how.layer, piece);
    if (log.isComplete(how.layer, piece)) return done();
  }
  if (!log.isWritable())
    return Error{words(
        "A piece of the trace is missing: one of its parts was not traced to its end. Trace it again, and "
        "name its file.")};
  film_.window = piece;
  auto kept = std::chrono::steady_clock::now();
  Outcome saved = done();
  const bool traced = trace(scene, how, progress, [&] {
    const auto now = std::chrono::steady_clock::now();
    if (now - kept < keepEvery) return true;
    kept = now;
    saved = log.save(how.layer, piece, film_, film_.passesDone, false);
    return saved.ok();
  });
  if (!saved) return saved;
  if (!traced || progress.cancelled()) return cancelledError();
  return log.save(how.layer, piece, film_, film_.passesDone, true);
}

}  // namespace dusk
