#include "core/light/bracket_sets.h"

#include <algorithm>
#include <cmath>
#include <fstream>

#include "core/base/lower.h"
#include "core/base/words.h"
#include "core/light/bracket.h"
#include "core/picture/capture_time.h"
#include "core/picture/read.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

constexpr double sameEv = 0.1;

double evBetween(const Arrival& from, const Arrival& to) { return std::log2(to.exposure / from.exposure); }

bool isOfSet(const BracketSet& set, const Arrival& photo, const BracketRule& rule) {
  const Arrival& last = set.photos.back();
  if (photo.width != last.width || photo.height != last.height) return false;
  if (rule.photos > 0 && int(set.photos.size()) >= rule.photos) return false;
  for (const Arrival& p : set.photos)
    if (std::abs(evBetween(p, photo)) < sameEv) return false;
  // A long exposure is itself part of the time between two shots.
  if (!photo.takenAt || !last.takenAt) return true;
  return std::abs(*photo.takenAt - *last.takenAt) <= rule.pauseSeconds + last.exposure * 8;
}

/// Cameras step evenly: steps that are a whole multiple of the usual one have lost what lay between.
void findGaps(BracketSet& set) {
  std::vector<double> steps;
  for (size_t i = 1; i < set.photos.size(); ++i) steps.push_back(evBetween(set.photos[i - 1], set.photos[i]));
  if (steps.size() < 3) return;
  const double usual = *std::min_element(steps.begin(), steps.end());
  const double first = set.photos.front().exposure;
  for (size_t i = 1; i < set.photos.size(); ++i) {
    const int times = int(std::lround(steps[i - 1] / usual));
    for (int k = 1; k < times; ++k)
      set.missingEv.push_back(std::log2(set.photos[i - 1].exposure / first) + k * usual);
  }
}

bool endsWhole(const fs::path& file) {
  const std::string kind = lower(file.extension().string());
  if (kind != ".jpg" && kind != ".jpeg") return true;
  std::ifstream in(file, std::ios::binary | std::ios::ate);
  const auto size = std::streamoff(in.tellg());
  if (size < 4) return false;
  // The end mark may be followed by what the camera's maker adds.
  const std::streamoff tail = std::min<std::streamoff>(size, 4096);
  std::string end(size_t(tail), '\0');
  in.seekg(size - tail);
  in.read(end.data(), tail);
  return end.rfind("\xff\xd9") != std::string::npos;
}

bool isPhoto(const fs::path& file) {
  const std::string kind = lower(file.extension().string());
  return kind == ".jpg" || kind == ".jpeg" || kind == ".tif" || kind == ".tiff" || kind == ".png";
}

}  // namespace

std::string BracketSet::says() const {
  const auto count = [](size_t n) { return std::to_string(n) + words(" photo", " photos", long(n)); };
  std::string text = wanted > 0 && int(photos.size()) < wanted
                         ? std::to_string(photos.size()) + words(" of ") + count(size_t(wanted))
                         : count(photos.size());
  if (missingEv.empty()) return text;
  text += missingEv.size() == 1 ? words("; the one ") : words("; those ");
  for (size_t i = 0; i < missingEv.size(); ++i) {
    char ev[32];
    std::snprintf(ev, sizeof ev, "%s%.3g",
                  i == 0                      ? ""
                  : i + 1 == missingEv.size() ? words(" and ")
                                              : ", ",
                  missingEv[i]);
    text += ev;
  }
  return withDecimalMark(text) + words(" EV above the shortest ") +
         words("is missing", "are missing", long(missingEv.size()));
}

std::vector<BracketSet> bracketSets(std::vector<Arrival> photos, const BracketRule& rule, double now) {
  std::erase_if(photos, [](const Arrival& p) { return !(p.exposure > 0); });
  std::sort(photos.begin(), photos.end(), [](const Arrival& a, const Arrival& b) {
    if (a.takenAt && b.takenAt && *a.takenAt != *b.takenAt) return *a.takenAt < *b.takenAt;
    return a.file.filename() < b.file.filename();
  });
  std::vector<BracketSet> sets;
  for (Arrival& photo : photos) {
    if (sets.empty() || !isOfSet(sets.back(), photo, rule)) sets.emplace_back();
    sets.back().photos.push_back(std::move(photo));
  }
  size_t fullest = 0;
  double newest = 0;
  for (size_t i = 0; i < sets.size(); ++i) {
    for (const Arrival& p : sets[i].photos) newest = std::max(newest, p.cameAt);
    // How many the last one will have is not known before it has ended.
    if (i + 1 < sets.size()) fullest = std::max(fullest, sets[i].photos.size());
  }
  for (BracketSet& set : sets) {
    std::sort(set.photos.begin(), set.photos.end(),
              [](const Arrival& a, const Arrival& b) { return a.exposure < b.exposure; });
    set.wanted = rule.photos > 0 ? rule.photos : int(fullest);
    findGaps(set);
    const bool full = set.wanted > 0 && int(set.photos.size()) >= set.wanted;
    const bool quiet = now - newest >= rule.lateSeconds;
    if (full || (quiet && set.wanted == 0 && set.photos.size() > 1 && set.missingEv.empty()))
      set.state = BracketSet::State::complete;
    else if (quiet)
      set.state = BracketSet::State::late;
  }
  return sets;
}

Result<std::vector<BracketSet>> BracketWatch::look(const BracketRule& rule, double now) {
  std::error_code ec;
  std::vector<Arrival> whole;
  fs::directory_iterator at(folder_, ec);
  if (ec)
    return Error{folder_.string() + words(" cannot be looked into: it is not there, or not to be read."),
                 ErrorKind::unreadable};
  for (; !ec && at != fs::directory_iterator(); at.increment(ec)) {
    const fs::path file = at->path();
    if (!isPhoto(file)) continue;
    Seen& seen = seen_[file];
    std::error_code gone;
    const auto size = fs::file_size(file, gone);
    if (gone) continue;
    if (size != seen.size || size == 0) {
      seen.size = size, seen.whole = seen.unusable = false;
      continue;
    }
    if (!seen.whole && !seen.unusable && endsWhole(file)) {
      const auto header = readPictureHeader(file);
      seen.unusable = !header, seen.whole = !seen.unusable;
      if (header) {
        const PhotoInfo& info = header->info;
        seen.arrival = {file, header->width, header->height, exposureOf(info), captureTime(file), now};
      }
    }
    if (seen.whole) whole.push_back(seen.arrival);
  }
  std::erase_if(seen_, [](const auto& entry) {
    std::error_code gone;
    return !fs::exists(entry.first, gone);
  });
  return bracketSets(std::move(whole), rule, now);
}

}  // namespace dusk
