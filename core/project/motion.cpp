#include "core/project/motion.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace dusk {

int picturesOf(const Motion& motion) {
  return std::max(1, int(std::lround(motion.seconds * motion.picturesPerSecond)));
}

namespace {

bool within(double value, double low, double high) { return value >= low && value <= high; }  // not a NaN

std::string unsoundIn(const MotionTrack& track) {
  if (!track.at.starts_with('/')) return "moves '" + track.at + "', which is no place in the document";
  if (track.keys.size() > 100'000) return "moves something by more than 100,000 keys";
  for (const MotionKey& key : track.keys) {
    if (!within(key.seconds, -86'400, 86'400)) return "has a key that is more than a day from its beginning";
    if (!within(key.handles[0], 0, 1) || !within(key.handles[2], 0, 1) || !within(key.handles[1], -10, 10) ||
        !within(key.handles[3], -10, 10))
      return "has a key whose handles are out of range";
  }
  return {};
}

}  // namespace

std::string unsoundIn(const Motion& m) {
  if (!within(m.seconds, 0, 86'400)) return "has a film that is not between 0 seconds and a day long";
  if (!within(m.picturesPerSecond, 1, 240)) return "has a film of other than 1 to 240 pictures a second";
  if (!within(m.shutterDegrees, 0, 360)) return "has a shutter that is open for other than 0 to 360 degrees";
  if (!within(m.stillAtSeconds, -86'400, 86'400)) return "shows a moment more than a day from its beginning";
  std::set<std::string> ids;
  for (const MotionTrack& track : m.tracks) {
    if (!ids.insert(track.id).second) return "has two motions of one id";
    if (std::string wrong = unsoundIn(track); !wrong.empty()) return wrong;
  }
  return {};
}

}  // namespace dusk
