#include "core/deliver/queue_state.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/project/json.h"

namespace dusk {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;
constexpr const char* stateWords[] = {"waiting", "running", "paused", "done", "failed"};

}  // namespace

FileLock::FileLock(const fs::path& file, bool waits) {
  std::error_code ignored;
  fs::create_directories(file.parent_path(), ignored);
  fd_ = ::open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
  held_ = fd_ >= 0 && ::flock(fd_, waits ? LOCK_EX : LOCK_EX | LOCK_NB) == 0;
}
FileLock::~FileLock() {
  if (fd_ >= 0) ::close(fd_);
}

std::optional<Queue::Saved> Queue::Saved::read(const fs::path& home) {
  const auto text = readFile(home / stateFile, mostOrderText);
  if (!text) return {};
  try {
    const json j = parsedJson(*text);
    Saved s;
    s.name = j.value("name", ""), s.folder = j.value("folder", ""), s.message = j.value("message", "");
    for (size_t i = 0; i < std::size(stateWords); ++i)
      if (j.value("state", "") == stateWords[i]) s.state = JobState(i);
    s.place = j.value("place", 0.0), s.fraction = j.value("fraction", 0.0);
    s.secondsLeft = j.value("secondsLeft", -1.0), s.seconds = j.value("seconds", 0.0);
    s.files = j.value("files", std::vector<std::string>());
    return s;
  } catch (const json::exception&) {
    return {};
  }
}
Outcome Queue::Saved::write(const fs::path& home) const {
  const json j = {{"name", name},       {"folder", folder},     {"message", message},
                  {"place", place},     {"fraction", fraction}, {"secondsLeft", secondsLeft},
                  {"seconds", seconds}, {"files", files},       {"state", stateWords[size_t(state)]}};
  return writeFileAtomically(home / stateFile, jsonText(j, 1));
}

}  // namespace dusk
