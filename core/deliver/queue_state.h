#pragma once
#include "core/deliver/queue.h"

/// What lies in the queue's folder, as the queue alone knows it.
namespace dusk {

constexpr size_t mostOrderText = size_t{64} << 20;
constexpr const char *orderFile = "order.json", *stateFile = "state.json", *traceFile = "samples.trace",
                     *stopFile = "stop", *stampFile = "stamp.png";

/// Of one program at a time while it lives.
class FileLock {
 public:
  FileLock(const std::filesystem::path& file, bool waits);
  ~FileLock();
  FileLock(const FileLock&) = delete;
  FileLock& operator=(const FileLock&) = delete;
  bool isHeld() const { return held_; }

 private:
  int fd_ = -1;
  bool held_ = false;
};

/// What is kept of a job's state.
struct Queue::Saved {
  std::string name, folder, message;
  JobState state = JobState::waiting;
  double place = 0, fraction = 0, secondsLeft = -1, seconds = 0;
  std::vector<std::string> files;

  static std::optional<Saved> read(const std::filesystem::path& home);
  Outcome write(const std::filesystem::path& home) const;
};

}  // namespace dusk
