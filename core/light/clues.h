#pragma once
#include <functional>

#include "core/light/align.h"
#include "core/light/level_lines.h"
#include "core/light/sightings.h"

namespace dusk {

/// What besides the light itself tells how a panorama stands, taken to be mirrored or not.
struct Clues {
  /// The turn that brings level edges onto the photo's, up to a quarter; strength: of the one that has fewer.
  std::optional<LevelDirections> levels;
  Sightings sightings;

  /// How far off the level edges a turn is, degrees; nothing where they tell nothing.
  std::optional<double> offLevels(double turnDegrees) const {
    if (!levels) return {};
    return std::abs(std::remainder(turnDegrees - levels->degrees, 90.0));
  }
  /// The turn nearest to one that brings level edges onto level edges.
  double onLevels(double turnDegrees) const {
    return turnDegrees - std::remainder(turnDegrees - levels->degrees, 90.0);
  }
};

/// Of a panorama as it is, and as it is mirrored. `plate`: scene-linear. `cuts`: of the panorama. `usualM`:
/// how far off things are.
std::array<Clues, 2> cluesOf(const Picture& plate, const Camera& camera, const std::vector<Cut>& cuts,
                             double usualM);

/// Climbs from a peak by single steps in turn (degrees) and place (metres), halved where none leads up, until
/// that of the turn is below `smallest` (Hooke & Jeeves 1961, "Direct Search"); in some of the two only,
/// where asked. The value that is reached.
double climbPeak(Alignment::Peak& p, std::array<double, 4> steps, double smallest, bool turns, bool placeToo,
                 const Progress* progress, const std::function<double(const Alignment::Peak&)>& value);

/// Brings landmarks onto each other, from loosely to closely; in turn and place, or in place alone.
void climbSightings(const Sightings& sightings, Alignment::Peak& p, bool turns, bool placeToo, double scale);

/// One sigma of a turn that was found by `clues`, degrees: by how much landmarks fall off beside it, the
/// place being free to follow, and how exactly level edges tell.
double turnSigma(const Alignment::Peak& best, const Clues& clues, bool placeToo);

}  // namespace dusk
