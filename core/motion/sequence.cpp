#include "core/motion/sequence.h"

#include <algorithm>
#include <map>

#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/motion/edit.h"
#include "core/variant/places.h"

namespace dusk {
namespace {
namespace fs = std::filesystem;

/// A name taken apart at its last number.
struct Numbered {
  std::string before, digits, after;
  int number() const { return std::stoi(digits); }
};
std::optional<Numbered> numbered(const std::string& name) {
  constexpr const char* all = "0123456789";
  const size_t dot = name.rfind('.');
  const size_t last = name.find_last_of(all, dot == std::string::npos ? dot : dot - 1);
  if (last == std::string::npos) return {};
  const size_t other = name.find_last_not_of(all, last);
  const size_t first = other == std::string::npos ? 0 : other + 1;
  if (last - first >= 9) return {};  // a date, or what no camera counts to
  return Numbered{name.substr(0, first), name.substr(first, last - first + 1), name.substr(last + 1)};
}

}  // namespace

Result<PictureSequence> sequenceOf(const fs::path& file) {
  const auto own = numbered(file.filename().string());
  if (!own)
    return Error{file.filename().string() + words(" has no number in its name, so it is none of a sequence."),
                 ErrorKind::unreadable};
  std::map<int, fs::path> found;
  std::error_code code;
  const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    const auto other = numbered(entry.path().filename().string());
    if (!other || other->before != own->before || other->after != own->after) continue;
    const bool sameDigits = other->digits.size() == own->digits.size();
    const bool plain = other->digits[0] != '0' && own->digits[0] != '0';
    if (sameDigits || plain) found[other->number()] = entry.path();
  }
  if (found.size() < 2)
    return Error{
        file.filename().string() + words(" is alone: there is no other of its name with another number."),
        ErrorKind::unreadable};
  PictureSequence sequence;
  sequence.first = found.begin()->first;
  const int last = found.rbegin()->first;
  for (const auto& [number, path] : found) sequence.files.push_back(path);
  constexpr size_t most = 1000;  // to be named
  for (int n = sequence.first; n < last && sequence.missing.size() < most; ++n)
    if (!found.contains(n)) sequence.missing.push_back(n);
  return sequence;
}

namespace {

std::string placeOfPlate(const Shot& shot) { return "/shots/" + shot.id + "/plate"; }

}  // namespace

bool holdPlate(Shot& shot) {
  const auto track = std::find_if(shot.motion.tracks.begin(), shot.motion.tracks.end(),
                                  [&](const MotionTrack& t) { return t.at == placeOfPlate(shot); });
  if (track == shot.motion.tracks.end() || track->keys.empty()) return false;
  const nlohmann::json first = jsonFrom(track->keys.front().to);
  if (!first.is_object()) return false;
  shot.plate.path = first.value("path", ""), shot.plate.hash = first.value("hash", "");
  shot.motion.tracks.erase(track);
  return true;
}

bool onlyPlateMoves(const Shot& shot) {
  const std::string blend = "/shots/" + shot.id + "/blend";
  // Light is what the view makes of the photo.
  const auto isFinish = [&](const std::string& at) {
    return at != blend && isWithin(at, blend) && !isWithin(at, blend + "/view") &&
           !isWithin(at, blend + "/config");
  };
  bool plateMoves = false;
  for (const MotionTrack& track : shot.motion.tracks) {
    if (track.keys.empty()) continue;
    const bool isPlate = track.at == placeOfPlate(shot);
    plateMoves |= isPlate;
    if (!isPlate && !isFinish(track.at)) return false;
  }
  return plateMoves;
}

void movePlate(Shot& shot, const PictureSequence& sequence, const std::vector<AssetRef>& photos) {
  MotionTrack& track = addTrack(shot.motion, placeOfPlate(shot));
  track.keys.clear(), track.loop = MotionLoop::once;
  const double between = 1.0 / shot.motion.picturesPerSecond;
  for (size_t i = 0; i < photos.size() && i < sequence.files.size(); ++i) {
    const auto number = numbered(sequence.files[i].filename().string());
    const double seconds = (number ? number->number() - sequence.first : int(i)) * between;
    const nlohmann::json link = {{"path", photos[i].path}, {"hash", photos[i].hash}};
    track.keys.push_back({seconds, jsonText(link), Easing::hold});
  }
  if (!track.keys.empty()) shot.motion.seconds = track.keys.back().seconds + between;
}

}  // namespace dusk
