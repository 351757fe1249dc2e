#include "core/motion/track.h"

#include <algorithm>
#include <cmath>

#include "core/base/json_text.h"
#include "core/motion/easing.h"

namespace dusk {
namespace {
using nlohmann::json;

/// The moment within the keys that a loop means.
double withinKeys(const MotionTrack& track, double seconds) {
  const double first = track.keys.front().seconds, span = track.keys.back().seconds - first;
  if (track.loop == MotionLoop::once || span <= 0) return seconds;
  const double rounds = (seconds - first) / span, whole = std::floor(rounds);
  double share = rounds - whole;
  // The very end is the end, not the beginning over again.
  if (share == 0 && rounds > 0 && track.loop == MotionLoop::again && seconds == track.keys.back().seconds)
    share = 1;
  if (track.loop == MotionLoop::backAndForth && std::fmod(std::abs(whole), 2.0) == 1) share = 1 - share;
  return first + share * span;
}

/// "#rrggbb" between two of them; nothing where one is no such.
std::optional<json> mixedHex(const std::string& from, const std::string& to, double share) {
  const auto isHex = [](const std::string& s) {
    return s.size() == 7 && s[0] == '#' &&
           s.find_first_not_of("0123456789abcdefABCDEF", 1) == std::string::npos;
  };
  if (!isHex(from) || !isHex(to)) return {};
  std::string text = "#";
  for (size_t c = 1; c < 7; c += 2) {
    const double a = std::stoi(from.substr(c, 2), nullptr, 16), b = std::stoi(to.substr(c, 2), nullptr, 16);
    const int value = std::clamp(int(std::lround(a + (b - a) * share)), 0, 255);
    text += "0123456789abcdef"[value / 16], text += "0123456789abcdef"[value % 16];
  }
  return text;
}

void collect(const json& value, std::vector<double>& all) {
  if (value.is_number())
    all.push_back(value.get<double>());
  else if (value.is_structured())
    for (const json& each : value) collect(each, all);
}

}  // namespace

BetweenKeys betweenKeys(const MotionTrack& track, double seconds) {
  const auto& keys = track.keys;
  const double at = withinKeys(track, seconds);
  const auto after = std::upper_bound(keys.begin(), keys.end(), at,
                                      [](double t, const MotionKey& key) { return t < key.seconds; });
  if (after == keys.begin()) return {0, 0, 0};
  const size_t from = size_t(after - keys.begin()) - 1;
  if (after == keys.end() || keys[from].seconds == at) return {from, from, 0};
  const double span = after->seconds - keys[from].seconds;
  return {from, from + 1, eased(keys[from], (at - keys[from].seconds) / span)};
}

json mixed(const json& from, const json& to, double share) {
  if (share == 0 || from == to) return from;
  if (share == 1) return to;
  if (from.is_number() && to.is_number()) {
    const double value = from.get<double>() + (to.get<double>() - from.get<double>()) * share;
    if (from.is_number_integer() && to.is_number_integer() && std::abs(value) < 9e15 &&
        value == std::floor(value))
      return json::number_integer_t(value);
    return value;
  }
  if (from.is_array() && to.is_array() && from.size() == to.size()) {
    json list = json::array();
    for (size_t i = 0; i < from.size(); ++i) list.push_back(mixed(from[i], to[i], share));
    return list;
  }
  if (from.is_object() && to.is_object()) {
    json group = from;
    for (auto& [name, value] : group.items())
      if (const auto there = to.find(name); there != to.end()) value = mixed(value, *there, share);
    return group;
  }
  if (from.is_string() && to.is_string())
    if (auto colour = mixedHex(from.get<std::string>(), to.get<std::string>(), share)) return *colour;
  return from;
}

std::optional<json> valueAt(const MotionTrack& track, double seconds, bool past) {
  if (track.keys.empty()) return {};
  const BetweenKeys between = betweenKeys(track, seconds);
  json from = jsonFrom(track.keys[between.from].to);
  if (from.is_discarded()) return {};
  if (between.from == between.to) return from;
  const json to = jsonFrom(track.keys[between.to].to);
  return to.is_discarded() ? from
                           : mixed(from, to, past ? between.share : std::clamp(between.share, 0.0, 1.0));
}

std::vector<double> numbersIn(const json& value) {
  std::vector<double> all;
  collect(value, all);
  return all;
}

size_t tellingNumber(const MotionTrack& track) {
  std::vector<double> low, high;
  for (const MotionKey& key : track.keys) {
    const auto numbers = numbersIn(jsonFrom(key.to));
    if (low.empty()) low = high = numbers;
    for (size_t i = 0; i < std::min(low.size(), numbers.size()); ++i)
      low[i] = std::min(low[i], numbers[i]), high[i] = std::max(high[i], numbers[i]);
  }
  size_t best = 0;
  for (size_t i = 1; i < low.size(); ++i)
    if (high[i] - low[i] > high[best] - low[best]) best = i;
  return best;
}

std::string axisOf(const MotionTrack& track, const Shot& shot) {
  const std::string before = "/shots/" + shot.id + "/choice/";
  return track.at.starts_with(before) ? track.at.substr(before.size()) : std::string();
}

}  // namespace dusk
