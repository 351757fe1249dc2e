#include "core/motion/edit.h"

#include <algorithm>
#include <cmath>

#include "core/base/json_text.h"
#include "core/motion/track.h"
#include "core/project/json.h"

namespace dusk {
namespace {
using nlohmann::json;

bool earlier(const MotionKey& a, const MotionKey& b) { return a.seconds < b.seconds; }

}  // namespace

const MotionTrack* trackAt(const Motion& motion, const std::string& place) {
  for (const MotionTrack& track : motion.tracks)
    if (track.at == place) return &track;
  return nullptr;
}
MotionTrack* trackAt(Motion& motion, const std::string& place) {
  return const_cast<MotionTrack*>(trackAt(std::as_const(motion), place));
}

MotionTrack& addTrack(Motion& motion, const std::string& place) {
  if (MotionTrack* there = trackAt(motion, place)) return *there;
  motion.tracks.push_back({freshId(motion.tracks, "track"), place});
  return motion.tracks.back();
}

int keyNear(const MotionTrack& track, double seconds, int picturesPerSecond) {
  int best = -1;
  for (size_t i = 0; i < track.keys.size(); ++i) {
    const double off = std::abs(track.keys[i].seconds - seconds);
    if (off * picturesPerSecond < 0.5 &&
        (best < 0 || off < std::abs(track.keys[size_t(best)].seconds - seconds)))
      best = int(i);
  }
  return best;
}

size_t putKey(MotionTrack& track, const MotionKey& key, int picturesPerSecond) {
  auto& keys = track.keys;
  if (const int there = keyNear(track, key.seconds, picturesPerSecond); there >= 0) {
    keys[size_t(there)] = key;
    std::stable_sort(keys.begin(), keys.end(), earlier);
  } else {
    keys.insert(std::upper_bound(keys.begin(), keys.end(), key, earlier), key);
  }
  return size_t(std::find(keys.begin(), keys.end(), key) - keys.begin());
}

std::vector<size_t> moveKeys(MotionTrack& track, const std::vector<size_t>& which, double bySeconds,
                             int picturesPerSecond) {
  std::vector<MotionKey> moved, others;
  for (size_t i = 0; i < track.keys.size(); ++i)
    if (std::find(which.begin(), which.end(), i) != which.end()) {
      moved.push_back(track.keys[i]);
      moved.back().seconds += bySeconds;
    } else {
      others.push_back(track.keys[i]);
    }
  std::erase_if(others, [&](const MotionKey& key) {
    return std::any_of(moved.begin(), moved.end(), [&](const MotionKey& m) {
      return std::abs(m.seconds - key.seconds) * picturesPerSecond < 0.5;
    });
  });
  track.keys = std::move(others);
  track.keys.insert(track.keys.end(), moved.begin(), moved.end());
  std::stable_sort(track.keys.begin(), track.keys.end(), earlier);
  std::vector<size_t> now;
  for (const MotionKey& m : moved)
    now.push_back(size_t(std::find(track.keys.begin(), track.keys.end(), m) - track.keys.begin()));
  return now;
}

void removeKeys(Motion& motion, const std::string& id, std::vector<size_t> keys) {
  MotionTrack* track = byId(motion.tracks, id);
  if (!track) return;
  std::sort(keys.begin(), keys.end(), std::greater<>());
  for (const size_t i : keys)
    if (i < track->keys.size()) track->keys.erase(track->keys.begin() + std::ptrdiff_t(i));
  std::erase_if(motion.tracks, [](const MotionTrack& t) { return t.keys.empty(); });
}

void stretch(Motion& motion, double factor) {
  motion.seconds *= factor, motion.stillAtSeconds *= factor;
  for (MotionTrack& track : motion.tracks)
    for (MotionKey& key : track.keys) key.seconds *= factor;
}

double onPicture(const Motion& motion, double seconds) {
  return std::round(seconds * motion.picturesPerSecond) / motion.picturesPerSecond;
}

namespace {

void put(Motion& motion, MotionTrack& track, double at, const json& value) {
  MotionKey key = track.keys.empty() ? MotionKey{} : track.keys[betweenKeys(track, at).from];
  key.seconds = at, key.to = jsonText(value);
  putKey(track, key, motion.picturesPerSecond);
}

/// Whether a track tells what is at a place, or in it.
bool tells(const MotionTrack& track, const std::string& place) {
  if (isWithin(track.at, place)) return true;
  if (!isWithin(place, track.at)) return false;
  const Thing thing = thingOf(track);
  return thing.values.empty() ||
         std::any_of(thing.values.begin(), thing.values.end(),
                     [&](const std::string& v) { return isWithin(place, track.at + "/" + v); });
}

/// Where a part lies that was not moved yet; nothing for other things: those were not there.
std::optional<json> unmoved(const Thing& thing) {
  const json rest = valueOf(PartMove{});
  const bool isPart =
      !thing.values.empty() && std::all_of(thing.values.begin(), thing.values.end(),
                                           [&](const std::string& v) { return rest.contains(v); });
  return isPart ? std::optional(rest) : std::nullopt;
}

/// One edit of a shot at a moment, on its way into the document.
class Keying {
 public:
  Keying(const Project& chosen, size_t index, double seconds, const Project& shown, const Project& wanted)
      : was_(chosen),
        next_(wanted),
        is_(wanted),
        before_(shown),
        shown_(shown),
        wanted_(wanted),
        seconds_(seconds),
        shotId_(shown.shots[index].id),
        motion_(byId(wanted.shots, shotId_)->motion),
        edits_(differences(shown, wanted)) {}

  /// What moved shows where it is then; in the document it lies where it lay.
  void keyWhatMoves() {
    for (MotionTrack& track : motion_.tracks) {
      if (!axisOf(track, *byId(wanted_.shots, shotId_)).empty()) continue;  // see keyChoice()
      const Thing thing = thingOf(track);
      const auto now = valueOf(thing, is_);
      const MotionTrack* before = byId(byId(shown_.shots, shotId_)->motion.tracks, track.id);
      const bool isAsBefore = before && before->keys == track.keys;  // else the edit was of its keys
      const bool edited =
          isAsBefore && std::any_of(edits_.begin(), edits_.end(),
                                    [&](const VariantChange& e) { return tells(track, e.at); });
      if (edited && now)
        put(motion_, track, seconds_, *now);
      else if (!now && valueOf(thing, before_))
        track.keys.clear();  // it was taken away
      if (now) layBack(thing);
    }
    std::erase_if(motion_.tracks, [](const MotionTrack& t) { return t.keys.empty(); });
  }

  /// What begins to move.
  void keyTheRest() {
    for (const VariantChange& e : edits_) {
      const Thing thing = thingOf(e.at);
      const auto isTold = [&](const MotionTrack& t) { return tells(t, e.at); };
      if (std::any_of(motion_.tracks.begin(), motion_.tracks.end(), isTold) || e.gone ||
          !canMove(wanted_, *byId(wanted_.shots, shotId_), thing))
        continue;
      if (!thing.values.empty() && e.at != thing.place && !tells({{}, thing.place}, e.at)) continue;
      const auto now = valueOf(thing, is_);
      auto from = valueOf(thing, before_);
      if (!from) from = unmoved(thing);
      if (!from || !now) continue;
      MotionTrack& track = addTrack(motion_, thing.place);
      if (seconds_ > 0) put(motion_, track, 0, *from);
      put(motion_, track, seconds_, *now);
      layBack(thing);
    }
  }

  Project done() && {
    Project result = std::move(next_).done().project;
    byId(result.shots, shotId_)->motion = std::move(motion_);
    return result;
  }

 private:
  void layBack(const Thing& thing) {
    const auto lay = was_.at(thing.place);
    if (thing.values.empty()) {
      next_.putAsIn(was_, thing.place);
    } else {
      auto there = next_.at(thing.place);
      if (!there) return;
      const auto as = lay ? lay : unmoved(thing);
      if (!as) return;  // it is new, and lies where it was put
      for (const std::string& v : thing.values)
        if (as->contains(v)) (*there)[v] = as->at(v);
      next_.put(thing.place, *there);
    }
    if (isWithin(thing.place, "/shots/" + shotId_ + "/backdrop"))
      next_.putAsIn(was_, "/shots/" + shotId_ + "/vantage");
  }

  PlacedEdit was_, next_, is_, before_;
  const Project &shown_, &wanted_;
  double seconds_;
  std::string shotId_;
  Motion motion_;
  std::vector<VariantChange> edits_;
};

/// Options of axes that move are keys, not the shot's own choice.
void keyChoice(Shot& shot, const Shot& shown, const Shot& base, double seconds, bool record) {
  for (const auto& [axis, option] : VariantChoice(shot.choice)) {
    const std::string place = "/shots/" + shot.id + "/choice/" + axis;
    const auto was = shown.choice.find(axis);
    const bool edited = was == shown.choice.end() || was->second != option;
    MotionTrack* track = trackAt(shot.motion, place);
    if (!track && edited && record && was != shown.choice.end()) {
      track = &addTrack(shot.motion, place);
      if (seconds > 0) put(shot.motion, *track, 0, json(was->second));
    }
    if (!track) continue;
    if (edited) put(shot.motion, *track, seconds, json(option));
    const auto kept = base.choice.find(axis);
    if (kept == base.choice.end())
      shot.choice.erase(axis);
    else
      shot.choice[axis] = kept->second;
  }
}

}  // namespace

void putKeyOf(Shot& shot, const Project& shown, const Thing& thing, double seconds) {
  if (const auto value = valueOf(thing, shown))
    put(shot.motion, addTrack(shot.motion, thing.place), seconds, *value);
}

std::string keysAsText(const Motion& motion, const std::map<std::string, std::vector<size_t>>& keysOfTracks) {
  std::vector<MotionTrack> copied;
  double first = 1e300;
  for (const auto& [id, keys] : keysOfTracks)
    if (const MotionTrack* track = byId(motion.tracks, id)) {
      copied.push_back({track->id, track->at, track->loop});
      for (const size_t i : keys)
        if (i < track->keys.size()) {
          copied.back().keys.push_back(track->keys[i]);
          first = std::min(first, track->keys[i].seconds);
        }
    }
  for (MotionTrack& track : copied)
    for (MotionKey& key : track.keys) key.seconds -= first;
  return jsonText(json{{"gentleDuskKeys", copied}}, 1);
}

bool pasteKeys(Motion& motion, const std::string& text, double seconds, const std::string& into) {
  const json read = jsonFrom(text);
  std::vector<MotionTrack> copied;
  try {
    if (read.is_object()) copied = read.value("gentleDuskKeys", copied);
  } catch (const json::exception&) {  // something else that somebody copied
    return false;
  }
  bool any = false;
  for (const MotionTrack& from : copied) {
    MotionTrack* to = byId(motion.tracks, into);
    if (copied.size() > 1 || !to || to->at == from.at) to = trackAt(motion, from.at);
    if (!to) continue;
    for (MotionKey key : from.keys) {
      key.seconds += seconds;
      putKey(*to, key, motion.picturesPerSecond), any = true;
    }
  }
  return any;
}

Project routedAt(const Project& base, size_t index, double seconds, const Project& shown,
                 const Project& wanted, const Recording& recording) {
  const Shot* shot = index < shown.shots.size() ? &shown.shots[index] : nullptr;
  const bool stays = !shot || !byId(wanted.shots, shot->id) || !byId(base.shots, shot->id);
  if (stays || (!moves(*shot) && !recording.keys))
    return routed(base, shot ? shot->choice : VariantChoice{}, shown, wanted, recording.option);
  const Project chosen = chosenAt(base, index, seconds).project;
  Keying keying(chosen, index, seconds, shown, wanted);
  keying.keyWhatMoves();
  if (recording.keys) keying.keyTheRest();
  Project result = routed(base, shot->choice, chosen, std::move(keying).done(), recording.option);
  keyChoice(*byId(result.shots, shot->id), *shot, *byId(base.shots, shot->id), seconds, recording.keys);
  return result;
}

}  // namespace dusk
