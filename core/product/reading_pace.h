#pragma once
#include <array>
#include <chrono>
#include <filesystem>
#include <functional>
#include <string>

namespace dusk {

/// What reading a model goes through, in this order.
enum class ReadPhase { parse, build, facet, keep };
constexpr size_t readPhases = 4;

/// Told while a model is read: the phase, and how far it is in [0, 1].
using ReadReport = std::function<void(ReadPhase, double)>;

/// Seconds each phase takes for a megabyte of a kind of file.
using ReadingPace = std::array<double, readPhases>;

/// What earlier readings of such files took on this machine, kept in `folder`; a cautious guess where there
/// were none. `kind`: the file's ending.
ReadingPace paceOf(const std::filesystem::path& folder, const std::string& kind);
/// Takes a finished reading into account, the latest most. Returns whether it could be kept.
bool learnPace(const std::filesystem::path& folder, const std::string& kind, const ReadingPace& measured);

/// How far one reading is, from what its reader tells and, where that tells nothing, from earlier readings.
class ReadingClock {
 public:
  using Clock = std::chrono::steady_clock;
  using Time = Clock::time_point;
  ReadingClock(const ReadingPace& pace, double megabytes, Time now);

  void tell(ReadPhase phase, double done, Time now);
  /// Time gone over time gone and time still to go, in [0, 1); never less than it was.
  double fraction(Time now);
  double seconds(Time now) const { return since(begun_, now); }
  /// What it took, when it has ended.
  ReadingPace measured(Time now);

 private:
  double since(Time from, Time now) const { return std::chrono::duration<double>(now - from).count(); }

  double megabytes_;
  std::array<double, readPhases> expected_{}, spent_{};  ///< seconds
  size_t phase_ = 0;
  double done_ = 0;  ///< of this phase, as told
  Time begun_, phaseBegun_;
  double most_ = 0;
};

}  // namespace dusk
