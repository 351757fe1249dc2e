#pragma once
#include "core/deliver/farm.h"
#include "core/deliver/queue.h"

namespace dusk {

/// What a person gave to the farm, remembered in the queue's folder: the window and the headless program show
/// the same. The farm itself may forget its jobs; the files they left do not.
class FarmList {
 public:
  explicit FarmList(const std::filesystem::path& queueFolder) : folder_(queueFolder / ".farm") {}

  /// Error: the disk.
  Outcome add(const FarmJob& job) const;
  /// As they stand, in the order they were given away. Where the farm does not answer they are as their files
  /// tell, and the message says so.
  std::vector<QueuedJob> list(Progress& progress) const;
  /// Gives its lost parts away again. Error: as dusk::submitLost().
  Outcome submitLost(const std::string& id, Progress& progress) const;
  /// See holdOnFarm(). Error: as that.
  Outcome hold(const std::string& id, bool hold, Progress& progress) const;
  /// Forgets it, and ends what the farm has not done of it; its files stay. Error: the disk.
  Outcome remove(const std::string& id, Progress& progress) const;

 private:
  Result<FarmJob> job(const std::string& id) const;

  std::filesystem::path folder_;
};

}  // namespace dusk
