#pragma once
#include "core/motion/at.h"
#include "core/motion/thing.h"

/// Edits of what moves.
namespace dusk {

/// The track of a place; nullptr where that does not move.
MotionTrack* trackAt(Motion& motion, const std::string& place);
const MotionTrack* trackAt(const Motion& motion, const std::string& place);
/// That of a place, made where there is none.
MotionTrack& addTrack(Motion& motion, const std::string& place);

/// Puts a key among the others, in place of one nearer than half a picture. Gives its index.
size_t putKey(MotionTrack& track, const MotionKey& key, int picturesPerSecond);
/// The index of the key nearer than half a picture; -1: none.
int keyNear(const MotionTrack& track, double seconds, int picturesPerSecond);
/// Keys by their indices, moved in time; what they meet makes way. Gives their indices after.
std::vector<size_t> moveKeys(MotionTrack& track, const std::vector<size_t>& keys, double bySeconds,
                             int picturesPerSecond);
/// Takes keys away; a track goes with its last one.
void removeKeys(Motion& motion, const std::string& track, std::vector<size_t> keys);
/// All of it longer or shorter, keys and film.
void stretch(Motion& motion, double factor);
/// The moment of a whole picture nearest to one.
double onPicture(const Motion& motion, double seconds);

/// A shot of `base` was shown as `shown` at a moment (see at()), and was edited there into `wanted`: the
/// document changed so that the same moment shows that. What moves gets a key; all else is changed for all
/// moments, or, with `keys`, begins to move: from how it was at the beginning, to how it is now. Of options,
/// see routed().
struct Recording {
  std::string option{};  ///< edits go into it
  bool keys = false;     ///< edits begin to move
};
Project routedAt(const Project& base, size_t shot, double seconds, const Project& shown,
                 const Project& wanted, const Recording& recording = {});

/// Keys as text, by the places they are of, their times from the first of them on.
std::string keysAsText(const Motion& motion, const std::map<std::string, std::vector<size_t>>& keysOfTracks);
/// Puts such keys from a moment on: each where it came from, or, where all are of one place, in the track
/// `into`. False where the text holds none that could be put anywhere.
bool pasteKeys(Motion& motion, const std::string& text, double seconds, const std::string& into);
/// Keys a thing as it is, at a moment.
void putKeyOf(Shot& shot, const Project& shown, const Thing& thing, double seconds);

}  // namespace dusk
