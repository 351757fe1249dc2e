#pragma once
#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace dusk {

/// A photo that a camera put into a watched folder.
struct Arrival {
  std::filesystem::path file;
  int width = 0, height = 0;
  double exposure = 0;            ///< seconds x ISO/100 / f-number²; 0: it does not say
  std::optional<double> takenAt;  ///< as `captureTime`
  double cameAt = 0;              ///< when it was seen first, seconds
};

struct BracketRule {
  int photos = 0;            ///< in a set; 0: as many as the fullest set so far, once that has ended
  double lateSeconds = 20;   ///< after so long without a newcomer no other is waited for
  double pauseSeconds = 15;  ///< between two shots of one set at most, beyond the exposure itself
};

/// Photos of one view at different exposures, from the shortest to the longest.
struct BracketSet {
  enum class State { coming, complete, late };
  std::vector<Arrival> photos;
  int wanted = 0;  ///< as known so far; 0: not known
  State state = State::coming;
  /// Where even steps leave a gap: exposures that are missing, against the shortest, in EV.
  std::vector<double> missingEv;
  /// "7 of 9 photos; those 4 and 6 EV above the shortest are missing"
  std::string says() const;
};

/// Sorts what came, in whatever order, into sets: by the time they were taken, else by name. A set ends where
/// the size changes, an exposure comes again or the camera paused; photos without an exposure belong to none.
std::vector<BracketSet> bracketSets(std::vector<Arrival> photos, const BracketRule& rule, double now);

/// Looks into a folder again and again. A photo counts once it is whole: as long as it was a look before, and
/// readable to its end.
class BracketWatch {
 public:
  explicit BracketWatch(std::filesystem::path folder) : folder_(std::move(folder)) {}
  /// `now` in seconds, growing. Error: the folder is not there or cannot be read.
  Result<std::vector<BracketSet>> look(const BracketRule& rule, double now);
  const std::filesystem::path& folder() const { return folder_; }

 private:
  struct Seen {
    std::uintmax_t size = 0;
    bool whole = false, unusable = false;
    Arrival arrival;
  };
  std::filesystem::path folder_;
  std::map<std::filesystem::path, Seen> seen_;
};

}  // namespace dusk
