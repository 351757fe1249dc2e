#include "core/light/clues.h"

namespace dusk {
namespace {

Clues cluesOf(std::vector<Landmark> landmarks, const Vec3d& eye, double usualM,
              const std::optional<LevelDirections>& photo, const std::optional<LevelDirections>& panorama) {
  Clues clues{{}, Sightings(std::move(landmarks), eye, usualM)};
  if (!photo || !panorama) return clues;
  clues.levels =
      LevelDirections{photo->degrees - panorama->degrees, std::hypot(photo->sigma, panorama->sigma),
                      std::min(photo->strength, panorama->strength)};
  return clues;
}

}  // namespace

std::array<Clues, 2> cluesOf(const Picture& plate, const Camera& camera, const std::vector<Cut>& cuts,
                             double usualM) {
  const Cut photo = cutOf(plate, camera);
  const auto mine = levelDirections(segmentsOf({photo})), theirs = levelDirections(segmentsOf(cuts));
  auto mirrored = theirs;
  if (mirrored) mirrored->degrees = -mirrored->degrees;
  auto [plain, other] = landmarks(photo, cuts);
  return {cluesOf(std::move(plain), camera.position, usualM, mine, theirs),
          cluesOf(std::move(other), camera.position, usualM, mine, mirrored)};
}

double climbPeak(Alignment::Peak& p, std::array<double, 4> steps, double smallest, bool turns, bool placeToo,
                 const Progress* progress, const std::function<double(const Alignment::Peak&)>& value) {
  constexpr double lowest = 0.03, highest = 3.5;  // a panorama's height, metres
  double best = value(p);
  const auto tryOut = [&](size_t axis, double by) {
    Alignment::Peak next = p;
    (axis == 0 ? next.turnDegrees : next.captureM[int(axis) - 1]) += by;
    if (next.captureM.z < lowest || next.captureM.z > highest) return false;
    const double reached = value(next);
    if (reached <= best + 1e-7 * std::abs(best)) return false;
    p = next, best = reached;
    return true;
  };
  // Ever so little may be won all the way to infinity: a climb has an end.
  for (int round = 0; round < 120 && steps[0] > smallest && !(progress && progress->cancelled()); ++round) {
    bool moved = false;
    for (size_t axis = turns ? 0 : 1; axis < (placeToo ? 4u : 1u); ++axis)
      if (tryOut(axis, steps[axis]) || tryOut(axis, -steps[axis])) moved = true;
    if (!moved)
      for (double& s : steps) s /= 2;
  }
  return best;
}

namespace {

double closely(const Sightings& sightings, const Alignment::Peak& at) {
  return sightings.closely(radians(at.turnDegrees), at.captureM);
}

}  // namespace

void climbSightings(const Sightings& sightings, Alignment::Peak& p, bool turns, bool placeToo, double scale) {
  for (const double sigma : {6 * bearingSigma, 2.5 * bearingSigma, bearingSigma})
    climbPeak(p, {3, 0.35 * scale, 0.35 * scale, 0.25 * scale}, 0.05, turns, placeToo, nullptr,
              [&](const Alignment::Peak& at) {
                return sightings.likelihood(radians(at.turnDegrees), at.captureM, sigma);
              });
  climbPeak(p, {0.4, 0.05 * scale, 0.05 * scale, 0.05 * scale}, 0.01, turns, placeToo, nullptr,
            [&](const Alignment::Peak& at) { return closely(sightings, at); });
}

double turnSigma(const Alignment::Peak& best, const Clues& clues, bool placeToo) {
  double sigma = 2;  // the light alone: its peaks are that wide
  const double here = closely(clues.sightings, best);
  // By how much landmarks are less likely at a turn beside it, the place being free to follow.
  const auto fall = [&](double by, double scale) {
    Alignment::Peak beside = best;
    beside.turnDegrees += by;
    climbSightings(clues.sightings, beside, false, placeToo, scale);
    return here - closely(clues.sightings, beside);
  };
  if (here > 8) {
    constexpr double aside = 0.7;
    const double mean = (fall(-aside, 0.1) + fall(aside, 0.1)) / 2;
    // The camera's own error turns all of them alike.
    sigma = std::clamp(aside / std::sqrt(2 * std::max(mean, 0.01)), 0.3, 5.0);
    // Many landmarks of one thing say the same many times over: where another turn and a step aside explain
    // nearly as much, it may be that.
    for (const double by : {-6.0, -3.0, 3.0, 6.0})
      if (fall(by, 0.3) < std::max(15.0, 0.08 * here)) sigma = std::max(sigma, std::abs(by));
  }
  if (const auto off = clues.offLevels(best.turnDegrees); off && *off < 2)
    sigma = 1 / std::hypot(1 / sigma, 1 / std::max(0.25, clues.levels->sigma));
  return sigma;
}

}  // namespace dusk
