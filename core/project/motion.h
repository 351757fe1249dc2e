#pragma once
#include <array>
#include <string>
#include <vector>

namespace dusk {

/// How a value gets from one key to the next. `hold` stays, and cuts; `own` follows the key's handles.
enum class Easing { even, gentle, firm, overshoot, bounce, hold, own };

/// What a track does before its first key and after its last: stays, begins again, or goes back and forth.
enum class MotionLoop { once, again, backAndForth };

/// A value at a moment.
struct MotionKey {
  double seconds = 0;
  std::string to;  ///< JSON
  Easing easing = Easing::gentle;
  /// Of `own`, as shares of the way to the next key: when and how far the first and the second handle are.
  std::array<double, 4> handles{0.4, 0, 0.6, 1};
  bool operator==(const MotionKey&) const = default;
};

/// One thing that moves: a place in the document (as a VariantChange has it) and its keys, in order of time.
/// Numbers, and lists and groups of them, pass through all between; anything else cuts. A shot's choice of an
/// axis is mixed.
struct MotionTrack {
  std::string id, at;
  MotionLoop loop = MotionLoop::once;
  std::vector<MotionKey> keys{};
  bool operator==(const MotionTrack&) const = default;
};

/// What moves in a shot.
struct Motion {
  double seconds = 3;           ///< of the whole film
  int picturesPerSecond = 24;   ///< constant
  double shutterDegrees = 180;  ///< 360: open from one picture to the next; 0: nothing is blurred by moving
  double stillAtSeconds = 0;    ///< the moment that single pictures show
  bool loops = false;           ///< its end goes over into its beginning: GIF and WebP play on
  std::vector<MotionTrack> tracks{};
  bool operator==(const Motion&) const = default;
};

/// Pictures of the whole film; at least one.
int picturesOf(const Motion& motion);
/// The moment in the middle of a picture's exposure, counted from 0.
inline double momentOf(const Motion& motion, int picture) {
  return double(picture) / motion.picturesPerSecond;
}

}  // namespace dusk
