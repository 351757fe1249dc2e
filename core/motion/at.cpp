#include "core/motion/at.h"

#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/light/backdrop.h"
#include "core/motion/track.h"

namespace dusk {
namespace {
using nlohmann::json;

std::string sentence(const Project& project, const MotionTrack& track) {
  return words("What moves \"") + inWords(project, track.at) +
         words("\" does nothing: that is not there any more, or takes no such value.");
}

/// A camera set by hand goes with what it is set by.
void followBackdrop(Shot& shot) {
  const Backdrop& b = shot.backdrop;
  if (b.kind == BackdropKind::photo || !shot.vantage.solved) return;
  const auto taken = shot.surroundings.captureM;
  const bool goesAlong = taken == shot.vantage.camera.position;
  placeByHand(shot, shot.vantage.camera.width, shot.vantage.camera.height);
  if (!goesAlong) shot.surroundings.captureM = taken;
}

/// All that moves put where it is; pieces of the document that come to no sound value are told and left.
Applied movedTo(const Project& project, size_t index, double seconds, bool past) {
  const Shot& shot = project.shots[index];
  Applied result{project, {}};
  PlacedEdit edit(project);
  bool camera = false;
  const std::string backdrop = "/shots/" + shot.id + "/backdrop";
  for (const MotionTrack& track : shot.motion.tracks) {
    if (track.keys.empty() || !axisOf(track, shot).empty()) continue;
    const auto value = valueAt(track, seconds, past);
    // What moves is there without moving, too: a key makes nothing new. Of a group it may tell some values.
    auto there = edit.at(track.at);
    if (there && value && there->is_object() && value->is_object())
      there->update(*value);
    else if (there && value)
      *there = *value;
    if (!value || !there || !edit.put(track.at, *there)) result.lost.push_back(sentence(project, track));
    camera |= isWithin(track.at, backdrop);
  }
  auto done = std::move(edit).done();
  result.project = std::move(done.project);
  if (camera && done.refused.empty()) followBackdrop(result.project.shots[index]);
  for (const MotionTrack& track : shot.motion.tracks)
    for (const std::string& piece : done.refused)
      if (isWithin(track.at, piece)) result.lost.push_back(sentence(project, track));
  return result;
}

}  // namespace

ChoiceAt choiceAt(const Shot& shot, double seconds) {
  ChoiceAt choice{shot.choice, shot.choice, 0};
  for (const MotionTrack& track : shot.motion.tracks) {
    const std::string axis = axisOf(track, shot);
    if (axis.empty() || track.keys.empty()) continue;
    const BetweenKeys between = betweenKeys(track, seconds);
    const json from = jsonFrom(track.keys[between.from].to), to = jsonFrom(track.keys[between.to].to);
    if (!from.is_string() || !to.is_string()) continue;
    choice.from[axis] = from, choice.to[axis] = to;
    // Several at once go together: the one that is furthest tells.
    if (from != to) choice.share = std::max(choice.share, std::clamp(between.share, 0.0, 1.0));
  }
  if (choice.from == choice.to) choice.share = 0;
  return choice;
}

Applied chosenAt(const Project& project, size_t index, double seconds) {
  if (index >= project.shots.size()) return {project, {}};
  const ChoiceAt choice = choiceAt(project.shots[index], seconds);
  Applied from = applied(project, choice.from);
  from.project.shots[index].choice = choice.from;
  if (choice.share == 0) return from;
  const Project to = applied(project, choice.to).project;
  PlacedEdit edit(from.project), end(to);
  for (const VariantChange& change : differences(from.project, to)) {
    const auto a = edit.at(change.at), b = end.at(change.at);
    if (a && b) edit.put(change.at, mixed(*a, *b, choice.share));
  }
  from.project = std::move(edit).done().project;
  return from;
}

Applied at(const Project& project, size_t index, double seconds) {
  Applied shown = chosenAt(project, index, seconds);
  if (index >= project.shots.size() || !moves(project.shots[index])) return shown;
  Applied moved = movedTo(shown.project, index, seconds, true);
  // A curve that goes past its key may leave what a value can be: there it stays at the key.
  if (!moved.lost.empty()) moved = movedTo(shown.project, index, seconds, false);
  moved.lost.insert(moved.lost.begin(), shown.lost.begin(), shown.lost.end());
  return moved;
}

Project asStill(const Project& project, size_t shot) {
  if (shot >= project.shots.size()) return project;
  return at(project, shot, project.shots[shot].motion.stillAtSeconds).project;
}

}  // namespace dusk
