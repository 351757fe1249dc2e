#pragma once
#include <nlohmann/json.hpp>
#include <optional>

#include "core/project/project.h"

/// What a track's keys come to.
namespace dusk {

/// Between two keys of a track.
struct BetweenKeys {
  size_t from = 0, to = 0;  ///< the same at a key, and before the first and after the last
  double share = 0;         ///< of the way, eased: may be below 0 or above 1 for a while
};
/// Requires keys.
BetweenKeys betweenKeys(const MotionTrack& track, double seconds);

/// The value at a moment: numbers, and those in lists and groups alike, pass through all between; colours as
/// "#rrggbb" do; of anything else the earlier. Nothing of a track without keys, or whose key holds no JSON.
/// Not `past`: a curve that would go past a key stays at it.
std::optional<nlohmann::json> valueAt(const MotionTrack& track, double seconds, bool past = true);
nlohmann::json mixed(const nlohmann::json& from, const nlohmann::json& to, double share);

/// The numbers of a value in the order it has them; of what is none, nothing.
std::vector<double> numbersIn(const nlohmann::json& value);
/// Which of its numbers changes most over the keys: what a line through time is drawn of.
size_t tellingNumber(const MotionTrack& track);

/// The axis whose choice in that shot a track changes; empty: of another place.
std::string axisOf(const MotionTrack& track, const Shot& shot);

}  // namespace dusk
