#include "core/light/align.h"

#include <tbb/parallel_for.h>

#include "core/base/words.h"
#include "core/light/agreement.h"
#include "core/light/clues.h"
#include "core/light/lean.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// The best turns of one place, at least ten degrees apart.
void addPeaks(const Agreement& agreement, const Vec3d& capture, size_t step, int count,
              std::vector<Alignment::Peak>& to, std::vector<float>* curves) {
  const auto sights = agreement.sights(capture, step);
  for (const bool mirrored : {false, true}) {
    std::vector<float> curve(static_cast<size_t>(count));
    for (int i = 0; i < count; ++i)
      curve[size_t(i)] = float(curves ? agreement.score(sights, double(i) / count - 0.5, mirrored)
                                      : agreement.roughScore(sights, double(i) / count - 0.5, mirrored));
    for (int i = 0; i < count; ++i) {
      const float here = curve[size_t(i)];
      if (here > curve[size_t((i + 1) % count)] && here >= curve[size_t((i + count - 1) % count)])
        to.push_back({(double(i) / count - 0.5) * 360, mirrored, double(here), 0, {1, 1, 1}, capture});
    }
    if (curves) curves[mirrored] = std::move(curve);
  }
}

/// Best first by `value`; of those that turn alike, the best alone.
template <typename T, typename PeakOf, typename Value>
std::vector<T> distinctBy(std::vector<T> all, size_t most, const PeakOf& peakOf, const Value& value) {
  std::sort(all.begin(), all.end(), [&](const T& a, const T& b) { return value(a) > value(b); });
  std::vector<T> kept;
  for (const T& one : all) {
    const Alignment::Peak& p = peakOf(one);
    const bool fresh = std::none_of(kept.begin(), kept.end(), [&](const T& other) {
      const Alignment::Peak& k = peakOf(other);
      return k.mirrored == p.mirrored && std::abs(wrapDegrees(k.turnDegrees - p.turnDegrees)) < 10;
    });
    if (fresh && kept.size() < most) kept.push_back(one);
  }
  return kept;
}

std::vector<Alignment::Peak> distinct(std::vector<Alignment::Peak> peaks, size_t most) {
  return distinctBy(
      std::move(peaks), most, [](const Alignment::Peak& p) -> const Alignment::Peak& { return p; },
      [](const Alignment::Peak& p) { return p.score; });
}

/// Climbs by the light in turn and, where that is not known, in place.
void climb(const Agreement& agreement, Alignment::Peak& p, bool placeToo, double scale, size_t step,
           const Progress& progress, bool turns = true) {
  p.score = climbPeak(
      p, {1.5, 0.2 * scale, 0.2 * scale, 0.15 * scale}, 0.02, turns, placeToo, &progress,
      [&](const Alignment::Peak& at) { return at.captureM.z < 0.1 ? -1 : agreement.score(at, step); });
  p.turnDegrees = wrapDegrees(p.turnDegrees);
}

/// A way the panorama may stand, with all that speaks for it.
struct Stance {
  Alignment::Peak peak;
  double sightings = 0;  ///< log likelihood ratio by the landmarks
  double total = 0;      ///< with the light, and what level edges say
};

std::vector<Stance> distinct(std::vector<Stance> stances, size_t most) {
  return distinctBy(
      std::move(stances), most, [](const Stance& s) -> const Alignment::Peak& { return s.peak; },
      [](const Stance& s) { return s.total; });
}

class Search {
 public:
  Search(const Agreement& agreement, const std::array<Clues, 2>& clues, const CaptureGuess& capture,
         Progress& progress)
      : agreement_(agreement),
        clues_(clues),
        capture_(capture),
        progress_(progress),
        places_(placesAbout(2, {0.2, 0.5, 1.0, 1.7})) {}

  /// All ways that are worth a closer look, best first.
  std::vector<Stance> run() const {
    std::vector<Alignment::Peak> starts = byLight();
    progress_.report(0.65);
    for (const Alignment::Peak& p : bySightings()) starts.push_back(p);
    std::vector<Stance> stances(starts.size());
    tbb::parallel_for(size_t{0}, starts.size(), [&](size_t i) {
      if (!progress_.cancelled()) stances[i] = seen(starts[i]);
    });
    progress_.report(0.8);
    stances = distinct(std::move(stances), 5);
    tbb::parallel_for(size_t{0}, stances.size(), [&](size_t i) {
      if (progress_.cancelled()) return;
      stances[i] = settled(stances[i]);
      stances[i].peak.turnDegrees = wrapDegrees(stances[i].peak.turnDegrees);
    });
    return distinct(std::move(stances), 6);
  }

  Stance weighed(const Alignment::Peak& p, size_t step) const {
    const Clues& clues = clues_[p.mirrored];
    Stance s{p, clues.sightings.closely(radians(p.turnDegrees), p.captureM), 0};
    s.peak.score = agreement_.score(p, step);
    // A correlation that is better by a twentieth outweighs five nats; chance does that now and then.
    s.total = s.sightings + 100 * s.peak.score - farOff(p.captureM);
    if (const auto off = clues.offLevels(p.turnDegrees)) {
      const double sigma = std::max(0.6, 2 * clues.levels->sigma),
                   clear = std::max(0.0, clues.levels->strength - 0.2);
      s.total -= std::min(200 * clear, 0.5 * *off * *off / (sigma * sigma));
    }
    return s;
  }

 private:
  /// Nats against a place that is farther off than it should be.
  double farOff(const Vec3d& place) const {
    if (capture_.knownM) return 0;
    const double off = std::hypot(place.x - capture_.aroundM.x, place.y - capture_.aroundM.y) /
                       std::max(0.3, capture_.reachM);
    return 10 * std::pow(std::max(0.0, off - 1), 2) + 10 * std::max(0.0, place.z - 2.2);
  }
  bool placeToo() const { return !capture_.knownM.has_value(); }

  /// The best by the light alone: a rough look at every turn from every place, then the best more closely.
  std::vector<Alignment::Peak> byLight() const {
    std::vector<std::vector<Alignment::Peak>> rough(places_.size());
    tbb::parallel_for(size_t{0}, places_.size(), [&](size_t i) {
      if (!progress_.cancelled())
        addPeaks(agreement_, places_[i], capture_.knownM ? 3 : 16, 120, rough[i], nullptr);
    });
    std::vector<Alignment::Peak> all;
    for (const auto& some : rough) all.insert(all.end(), some.begin(), some.end());
    all = distinct(std::move(all), 14);
    tbb::parallel_for(size_t{0}, all.size(), [&](size_t i) {
      climb(agreement_, all[i], placeToo(), std::max(0.2, capture_.reachM), 5, progress_);
    });
    return distinct(std::move(all), 10);
  }

  /// The best by the landmarks alone, of turns all round, or of those that bring level edges onto such.
  std::vector<Alignment::Peak> bySightings() const {
    std::vector<Alignment::Peak> tries;
    for (const bool mirrored : {false, true}) {
      const Clues& clues = clues_[mirrored];
      if (clues.sightings.size() < 6) continue;
      for (double turn = -180; turn < 180; turn += 4) tries.push_back({turn, mirrored, 0, 0, {1, 1, 1}, {}});
    }
    tbb::parallel_for(size_t{0}, tries.size(),
                      [&](size_t i) { findPlace(tries[i], places_, 6 * bearingSigma); });
    std::vector<Alignment::Peak> best = distinct(std::move(tries), 8);
    // Where the turn is known but for its quarter, the place can be looked for closely.
    std::vector<Alignment::Peak> level;
    for (const bool mirrored : {false, true})
      if (const Clues& clues = clues_[mirrored]; clues.levels && clues.sightings.size() >= 6)
        for (int k = 0; k < 4; ++k)
          level.push_back({wrapDegrees(clues.levels->degrees + 90 * k), mirrored, 0, 0, {1, 1, 1}, {}});
    const std::vector<Vec3d> close = placesAbout(4, {0.1, 0.25, 0.5, 0.9, 1.4, 2.0});
    tbb::parallel_for(size_t{0}, level.size(),
                      [&](size_t i) { findPlace(level[i], close, 3 * bearingSigma); });
    best.insert(best.end(), level.begin(), level.end());
    return best;
  }

  /// Gives a turn the place from which landmarks are seen best, and how well that is as its score.
  void findPlace(Alignment::Peak& p, const std::vector<Vec3d>& places, double sigma) const {
    const Sightings& sightings = clues_[p.mirrored].sightings;
    p.score = -1e300;
    for (const Vec3d& place : places)
      if (const double value = sightings.likelihood(radians(p.turnDegrees), place, sigma); value > p.score)
        p.score = value, p.captureM = place;
  }

  /// A grid of `each` steps each way, over several heights.
  std::vector<Vec3d> placesAbout(int each, std::initializer_list<double> heights) const {
    if (capture_.knownM) return {*capture_.knownM};
    std::vector<Vec3d> places;
    for (const double height : heights)
      for (int i = -each; i <= each; ++i)
        for (int k = -each; k <= each; ++k)
          places.push_back(capture_.aroundM + Vec3d(i, k, 0) * (capture_.reachM / each) +
                           Vec3d(0, 0, height));
    return places;
  }

  /// The better of a start, and of what landmarks make of it, with level edges on level edges or not.
  Stance seen(const Alignment::Peak& start) const {
    constexpr size_t step = 5;
    const Clues& clues = clues_[start.mirrored];
    Stance best = weighed(start, step);
    const auto consider = [&](const Alignment::Peak& p) {
      if (const Stance s = weighed(p, step); s.total > best.total) best = s;
    };
    if (clues.levels && *clues.offLevels(start.turnDegrees) < 20) {
      Alignment::Peak level = start;
      level.turnDegrees = clues.onLevels(level.turnDegrees);
      climb(agreement_, level, placeToo(), std::max(0.2, 0.5 * capture_.reachM), step, progress_, false);
      consider(level);
    }
    if (clues.sightings.size() < 6) return best;
    Alignment::Peak climbed = start;
    climbSightings(clues.sightings, climbed, true, placeToo(), std::max(0.3, capture_.reachM));
    consider(climbed);
    if (clues.levels && *clues.offLevels(climbed.turnDegrees) < 8) {
      climbed.turnDegrees = clues.onLevels(climbed.turnDegrees);
      climbSightings(clues.sightings, climbed, false, placeToo(), 0.3);
      consider(climbed);
    }
    return best;
  }

  /// The same, climbed by the light as well; the last degree is that of level edges, where they are clear:
  /// what is off in the camera's focal length and place turns landmarks, but not what runs along the place's
  /// own directions.
  Stance settled(const Stance& start) const {
    constexpr size_t step = 3;
    const Clues& clues = clues_[start.peak.mirrored];
    Stance best = weighed(start.peak, step);
    Alignment::Peak climbed = best.peak;
    climb(agreement_, climbed, placeToo(), 0.15 * capture_.reachM, step, progress_);
    if (const Stance s = weighed(climbed, step); s.total > best.total) best = s;
    if (!clues.levels || clues.levels->strength < 0.25) return best;
    const double off = *clues.offLevels(best.peak.turnDegrees);
    if (off > 15) return best;
    Alignment::Peak level = best.peak;
    level.turnDegrees = clues.onLevels(level.turnDegrees);
    // A step aside makes up for a few degrees of turn: the place is looked for anew.
    if (off > 1.3 && best.sightings > 15)
      climbSightings(clues.sightings, level, false, placeToo(), off > 3 ? capture_.reachM : 0.2);
    else if (off > 1.3)
      climb(agreement_, level, placeToo(), 0.2 * capture_.reachM, step, progress_, false);
    // Where both are built alike all over, nothing else is as sure of the last degrees.
    const Stance s = weighed(level, step);
    const bool surely = off < 3 && (clues.levels->strength > 0.5 || s.total > 0.75 * best.total);
    if (surely || s.total > best.total) best = s;
    return best;
  }

  const Agreement& agreement_;
  const std::array<Clues, 2>& clues_;
  const CaptureGuess& capture_;
  Progress& progress_;
  std::vector<Vec3d> places_;
};

}  // namespace

bool isWhiteOfOnePlace(const Vec3d& white) {
  constexpr double apart = 2.2;
  for (int c = 0; c < 3; ++c)
    if (!(white[c] < apart && white[c] > 1 / apart)) return false;
  return true;
}

CaptureGuess captureGuess(const Shot& shot) {
  CaptureGuess guess;
  if (!shot.surroundings.captureFound) guess.knownM = shot.surroundings.captureM;
  if (!shot.placements.empty()) guess.aroundM = {shot.placements[0].xM, shot.placements[0].yM, 0};
  const Surroundings& s = shot.surroundings;
  guess.tiltDegrees = s.tiltDegrees, guess.rollDegrees = s.rollDegrees, guess.mirrored = s.mirrored;
  guess.reachM = std::clamp(0.7 * (shot.vantage.camera.position - guess.aroundM).length(), 0.3, 5.0);
  return guess;
}

namespace {

/// How a panorama leans, by its uprights or as it is told; none where that is within what they tell by.
Lean leanIn(const std::optional<Lean>& told, const CaptureGuess& capture) {
  constexpr double least = 0.6, surely = 2.5;
  if (told) return told->degrees() < std::max(least, surely * told->sigmaDegrees) ? Lean{} : *told;
  const Lean as{capture.tiltDegrees, capture.rollDegrees, 0};
  return capture.mirrored ? as.mirrored() : as;
}

}  // namespace

Result<Alignment> align(const Picture& plate, const Camera& solved, const Panorama& leaning,
                        const CaptureGuess& capture, Progress& progress) {
  if (solved.width <= 0 || solved.focalPx <= 0 || plate.empty())
    return Error{
        words("The vantage must be solved first: the panorama is compared with the photo through it.")};
  const Camera camera = resized(solved, plate.width, plate.height);
  std::vector<Cut> cuts = cutsOf(leaning);
  const std::optional<Lean> told = leanOf(cuts);
  const Lean lean = leanIn(told, capture);
  std::shared_ptr<const Panorama> upright;
  if (lean.degrees() > 0) {
    upright = straightened(leaning, lean);
    cuts = cutsOf(*upright);
  }
  const Panorama& panorama = upright ? *upright : leaning;
  progress.report(0.1);
  const Agreement agreement(spotsOf(plate, camera), panorama);
  const std::array<Clues, 2> clues =
      cluesOf(plate, camera, cuts, std::max(0.1, (camera.position - capture.aroundM).length()));
  progress.report(0.4);
  if (progress.cancelled()) return cancelledError();
  const Search search(agreement, clues, capture, progress);
  const std::vector<Stance> stances = search.run();
  if (progress.cancelled()) return cancelledError();
  Alignment found;
  found.leanIsTold = told.has_value();
  for (const Stance& s : stances) found.peaks.push_back(s.peak);
  if (found.peaks.empty())
    return Error{words("The photo is too even to compare with the panorama: turn it by hand.")};
  const Stance& best = stances.front();
  std::vector<Alignment::Peak> unused;
  std::vector<float> curves[2];
  addPeaks(agreement, found.best().captureM, 3, 360, unused, curves);
  found.curve = std::move(curves[0]), found.mirror = std::move(curves[1]);
  // Below this nothing tells it from chance, and within this a rival may be the true one (by the study of
  // made-up places: what is wrong comes to less).
  constexpr double least = 70, margin = 20;
  // By that study 5 of 240 panoramas of the place come to less, and 27 of 60 of other places; more of those
  // are called ambiguous alone.
  constexpr double nothing = 38, unlike = 0.45;
  found.isElsewhere = best.total < nothing && best.peak.score < unlike;
  found.turnSigma = turnSigma(best.peak, clues[best.peak.mirrored], !capture.knownM);
  // Landmarks that hold the turn do so within half a degree, the light alone within two. Where a turn and a
  // step aside explain them alike, none of the two is known.
  constexpr double loose = 2.5;
  found.ambiguous = (best.total < least && best.peak.score < 0.6) || found.turnSigma > loose ||
                    (stances.size() > 1 && best.total - stances[1].total < margin);
  const LightMatch match(plate, camera, panorama);
  for (Alignment::Peak& p : found.peaks) {
    const Sightings& sightings = clues[p.mirrored].sightings;
    std::vector<Landmark> same;
    for (const size_t i : sightings.fitting(radians(p.turnDegrees), p.captureM))
      same.push_back(sightings.at(i));
    match.apply(p, agreement.spots(), same);
    const Lean own = p.mirrored ? lean.mirrored() : lean;
    p.tiltDegrees = own.tiltDegrees, p.rollDegrees = own.rollDegrees;
  }
  return found;
}

}  // namespace dusk
