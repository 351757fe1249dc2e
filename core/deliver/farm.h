#pragma once
#include "core/deliver/order.h"

/// Many machines at one picture, through Slurm: its parts are an array job, and what merges them a job that
/// waits for all of them. The commands are those of the PATH (sbatch, squeue); the folder must be one that
/// all machines see.
namespace dusk {

/// A picture that was given to the farm.
struct FarmJob {
  std::string name;              ///< the farm's
  std::string title;             ///< a person's (see Order::title)
  std::filesystem::path folder;  ///< holds the gathered project, the parts and what they said
  std::filesystem::path out;     ///< where the files go
  std::string array, merge;      ///< the farm's own numbers
  int parts = 1;
};

enum class PartState { waiting, working, done, lost, held };
/// How far a part is by what its machine wrote last; seconds below 0: not known.
struct PartProgress {
  double fraction = 0, secondsLeft = -1;
};
struct FarmState {
  std::vector<PartState> parts;
  bool isMerged = false;
  std::vector<std::string> files;  ///< once merged
  int count(PartState state) const { return int(std::count(parts.begin(), parts.end(), state)); }
};

/// Gathers what the shot needs beside where its files go, and submits it. `program`: the headless program, as
/// the machines find it. Error: the disk, the farm does not answer or refuses.
Result<FarmJob> submitToFarm(const Order& order, int parts, const std::filesystem::path& program,
                             Progress& progress);
/// Error: no such job, the farm does not answer.
Result<FarmState> farmState(const FarmJob& job, Progress& progress);
/// What the files it left tell alone, without asking the farm: parts that are not there count as lost.
FarmState stateByFiles(const FarmJob& job);
/// What a part, counted from 1, says of itself; nothing where it wrote nothing yet.
PartProgress progressOf(const FarmJob& job, int part);
/// Ends what is not done of it; says nothing of a farm that does not answer.
void endOnFarm(const FarmJob& job, Progress& progress);
/// Parts that no machine has begun wait until they are let go on again; what is being traced is traced to its
/// end. Error: the farm does not answer, or refuses.
Outcome holdOnFarm(const FarmJob& job, bool hold, Progress& progress);
/// Submits lost parts again, and the merge with them. Gives their number. Error: as submitToFarm().
Result<int> submitLost(FarmJob& job, const FarmState& state, Progress& progress);
/// The job whose folder that is. Error: none.
Result<FarmJob> farmJobIn(const std::filesystem::path& folder);

}  // namespace dusk
