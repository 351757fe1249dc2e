#pragma once
#include <functional>

#include "core/deliver/order.h"

namespace dusk {

enum class JobState { waiting, running, paused, done, failed };

/// A job of the queue, as it stands.
struct QueuedJob {
  std::string id;                      ///< of its folder
  std::string name;                    ///< "Brackwater, Quay, early evening"
  std::filesystem::path folder, home;  ///< where its files go, and where it lies itself
  JobState state = JobState::waiting;
  double fraction = 0, secondsLeft = -1, seconds = 0;
  std::string message;  ///< why it failed, or what is to be told of it
  std::vector<std::string> files;
  std::filesystem::path stamp;  ///< a small picture of what came out; may be absent
  bool onFarm = false;          ///< other machines work on it (see FarmList)
};

/// Work that outlives the program, in a folder: each job in one of its own, with its order, its state and
/// what was traced of it. Several programs may add and change jobs; one at a time works on them. After a
/// power cut a job goes on from what was traced.
class Queue {
 public:
  explicit Queue(std::filesystem::path folder) : folder_(std::move(folder)) {}
  /// The person's own: $DUSK_QUEUE, or gentle-dusk/queue among the user's data (XDG base directories).
  static std::filesystem::path usualFolder();

  /// At the end of the line. Error: the disk. Gives the id.
  Result<std::string> add(const Order& order);
  /// In the order they are worked on; damaged ones as failed.
  std::vector<QueuedJob> list() const;
  /// Where jobs stand in the line. Error: no such job, the disk.
  Outcome move(const std::string& id, int by);
  /// A job waits until it is resumed; one that is worked on stops, and keeps what was traced.
  Outcome pause(const std::string& id);
  /// A paused or failed job is worked on again.
  Outcome resume(const std::string& id);
  /// Takes it away, with what was traced of it; its files stay. One that is worked on ends first.
  Outcome remove(const std::string& id);
  /// Whether some program is working on it.
  bool isRunning() const;

  struct Report {
    int done = 0, failed = 0;
    bool stopped = false;  ///< by a job whose proofs were off
  };
  /// Works on it, one job after the other, variants of one picture side by side, until none waits. Error:
  /// another program does already, the disk, cancelled.
  Result<Report> run(Progress& progress, const std::function<void(const QueuedJob&)>& told = {});

 private:
  struct Saved;
  Outcome change(const std::string& id, const std::function<void(Saved&)>& how);
  struct Taken;
  bool isNext(const std::string& id) const;
  /// The job that is next in line, with those after it that are variants of its picture: what is traced of
  /// them is shared (see traceTogether()).
  std::vector<Taken> nextInLine(AssetStore& assets) const;
  /// The same, worked on from now on.
  std::vector<Taken> take(AssetStore& assets);
  /// Whether the queue goes on after it. `trace`: in place of render(); may be empty.
  bool work(const Taken& taken, AssetStore& assets, GeometryCache& cache, const TraceFilmOf& trace,
            Progress& progress, Report& report);

  std::filesystem::path folder_;
};

}  // namespace dusk
