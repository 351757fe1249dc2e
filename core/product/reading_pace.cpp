#include "core/product/reading_pace.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/json_text.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

fs::path paceFile(const fs::path& folder) { return folder / "reading-pace.json"; }

nlohmann::json pacesIn(const fs::path& folder) {
  const auto text = readFile(paceFile(folder), 1 << 20);
  auto paces = text ? jsonFrom(*text) : nlohmann::json::object();
  return paces.is_object() ? paces : nlohmann::json::object();
}

/// Of two cores of some years ago; CAD files are built and faceted, meshes are nearly all parsing.
ReadingPace guessed(const std::string& kind) {
  const bool cad = kind == ".step" || kind == ".stp" || kind == ".iges" || kind == ".igs";
  return cad ? ReadingPace{0.25, 0.5, 0.35, 0.05} : ReadingPace{0.08, 0, 0.03, 0.02};
}

}  // namespace

ReadingPace paceOf(const fs::path& folder, const std::string& kind) {
  ReadingPace pace = guessed(kind);
  const auto paces = pacesIn(folder);
  const auto kept = paces.find(kind);
  if (kept == paces.end() || !kept->is_array() || kept->size() != readPhases) return pace;
  for (size_t i = 0; i < readPhases; ++i)
    if ((*kept)[i].is_number()) pace[i] = std::clamp((*kept)[i].get<double>(), 0.0, 1000.0);
  return pace;
}

bool learnPace(const fs::path& folder, const std::string& kind, const ReadingPace& measured) {
  auto paces = pacesIn(folder);
  const ReadingPace before = paceOf(folder, kind);
  auto& kept = paces[kind];
  const double share = kept.is_array() ? 0.5 : 1;  // the first takes the guess's place
  kept = nlohmann::json::array();
  for (size_t i = 0; i < readPhases; ++i) kept.push_back((1 - share) * before[i] + share * measured[i]);
  return writeFileAtomically(paceFile(folder), jsonText(paces)).ok();
}

ReadingClock::ReadingClock(const ReadingPace& pace, double megabytes, Time now)
    : megabytes_(std::max(megabytes, 1e-6)), begun_(now), phaseBegun_(now) {
  // A start of the program, and what does not grow with the file.
  for (size_t i = 0; i < readPhases; ++i) expected_[i] = pace[i] * megabytes_ + 0.02;
}

void ReadingClock::tell(ReadPhase phase, double done, Time now) {
  const auto index = std::min(size_t(phase), readPhases - 1);
  if (index < phase_) return;
  if (index > phase_) {
    spent_[phase_] = since(phaseBegun_, now);
    phase_ = index, phaseBegun_ = now, done_ = 0;
  }
  done_ = std::max(done_, std::clamp(done, 0.0, 1.0));
}

double ReadingClock::fraction(Time now) {
  double was = 0, thought = 0;
  for (size_t i = 0; i < phase_; ++i) was += spent_[i], thought += expected_[i];
  // A file that was slower than thought so far goes on being so.
  const double slower = thought > 0.05 ? std::clamp(was / thought, 0.2, 20.0) : 1;
  const double inPhase = since(phaseBegun_, now), whole = expected_[phase_] * slower;
  // What is left by the pace; past it, always a little more.
  double left = std::max(whole - inPhase, 0.1 * inPhase);
  // What the phase tells counts the more, the farther it is.
  if (done_ > 0.02) left = std::lerp(left, inPhase * (1 - done_) / done_, std::min(1.0, 3 * done_));
  for (size_t i = phase_ + 1; i < readPhases; ++i) left += expected_[i] * slower;
  const double spent = since(begun_, now);
  most_ = std::max(most_, std::min(0.99, spent / (spent + left)));
  return most_;
}

ReadingPace ReadingClock::measured(Time now) {
  spent_[phase_] = since(phaseBegun_, now);
  ReadingPace pace{};
  for (size_t i = 0; i < readPhases; ++i) pace[i] = std::max(0.0, spent_[i] - 0.02) / megabytes_;
  return pace;
}

}  // namespace dusk
