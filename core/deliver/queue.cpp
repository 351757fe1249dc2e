#include <cstdlib>

#include "core/base/cache_folder.h"
#include "core/base/files.h"
#include "core/base/words.h"
#include "core/deliver/queue_state.h"

namespace dusk {
namespace {

namespace fs = std::filesystem;

Error noSuchJob(const std::string& id) {
  return {words("The queue has no job ") + id + words(". List it to see which there are."),
          ErrorKind::unreadable};
}

}  // namespace

fs::path Queue::usualFolder() {
  if (const char* own = std::getenv("DUSK_QUEUE"); own && *own) return own;
  return dataFolder() / "queue";
}

Result<std::string> Queue::add(const Order& order) {
  const FileLock lock(folder_ / "edit.lock", true);
  if (!lock.isHeld())
    return Error{words("The queue's folder ") + folder_.string() +
                 words(" cannot be written to. Set DUSK_QUEUE to one that can.")};
  double last = 0;
  int number = 0;
  std::error_code code;
  for (const QueuedJob& job : list()) {
    number = std::max(number, std::atoi(job.id.c_str()));
    if (const auto saved = Saved::read(job.home)) last = std::max(last, saved->place);
  }
  char id[16];
  std::snprintf(id, sizeof id, "%05d", number + 1);
  const fs::path home = folder_ / id;
  fs::create_directories(home, code);
  Saved saved;
  saved.name = order.title(), saved.folder = order.folder.string();
  saved.place = last + 1;
  Outcome written = writeFileAtomically(home / orderFile, toText(order));
  if (written) written = saved.write(home);
  if (written) return std::string(id);
  fs::remove_all(home, code);
  return written.error();
}

std::vector<QueuedJob> Queue::list() const {
  std::vector<std::pair<double, QueuedJob>> found;
  std::error_code code;
  const bool worked = isRunning();
  for (const auto& entry : fs::directory_iterator(folder_, code)) {
    // What begins with a dot is no job: other things that are remembered lie there, too.
    if (!entry.is_directory(code) || entry.path().filename().string().starts_with('.')) continue;
    QueuedJob job;
    job.id = entry.path().filename().string(), job.home = entry.path();
    const auto saved = Saved::read(job.home);
    if (!saved) {
      job.name = job.id, job.state = JobState::failed,
      job.message = words("What is known of this job is damaged.");
      found.emplace_back(1e9, std::move(job));
      continue;
    }
    job.name = saved->name, job.folder = saved->folder, job.message = saved->message;
    job.state = saved->state, job.fraction = saved->fraction, job.files = saved->files;
    job.secondsLeft = saved->secondsLeft, job.seconds = saved->seconds;
    // Who worked on it is gone: it goes on when somebody does again.
    if (job.state == JobState::running && !worked) job.state = JobState::waiting, job.secondsLeft = -1;
    if (fs::exists(job.home / stampFile, code)) job.stamp = job.home / stampFile;
    found.emplace_back(saved->place, std::move(job));
  }
  std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) {
    return std::tie(a.first, a.second.id) < std::tie(b.first, b.second.id);
  });
  std::vector<QueuedJob> jobs;
  for (auto& [place, job] : found) jobs.push_back(std::move(job));
  return jobs;
}

Outcome Queue::change(const std::string& id, const std::function<void(Saved&)>& how) {
  auto saved = Saved::read(folder_ / id);
  if (!saved) return noSuchJob(id);
  how(*saved);
  return saved->write(folder_ / id);
}

Outcome Queue::move(const std::string& id, int by) {
  const FileLock lock(folder_ / "edit.lock", true);
  std::vector<QueuedJob> jobs = list();
  const auto at = std::find_if(jobs.begin(), jobs.end(), [&](const QueuedJob& j) { return j.id == id; });
  if (at == jobs.end()) return noSuchJob(id);
  const long from = at - jobs.begin(), to = std::clamp(from + by, 0L, long(jobs.size()) - 1);
  const QueuedJob moved = *at;
  jobs.erase(at);
  jobs.insert(jobs.begin() + to, moved);
  for (size_t i = 0; i < jobs.size(); ++i)
    if (Saved::read(jobs[i].home))
      if (const Outcome changed = change(jobs[i].id, [&](Saved& s) { s.place = double(i) + 1; }); !changed)
        return changed;
  return done();
}

Outcome Queue::pause(const std::string& id) {
  const FileLock lock(folder_ / "edit.lock", true);
  const auto saved = Saved::read(folder_ / id);
  if (!saved) return noSuchJob(id);
  if (saved->state == JobState::done) return done();
  if (saved->state == JobState::running && isRunning())
    return writeFileAtomically(folder_ / id / stopFile, "pause");
  return change(id, [](Saved& s) { s.state = JobState::paused; });
}

Outcome Queue::resume(const std::string& id) {
  const FileLock lock(folder_ / "edit.lock", true);
  std::error_code ignored;
  fs::remove(folder_ / id / stopFile, ignored);
  return change(id, [](Saved& s) {
    if (s.state == JobState::paused || s.state == JobState::failed)
      s.state = JobState::waiting, s.message.clear();
  });
}

Outcome Queue::remove(const std::string& id) {
  const FileLock lock(folder_ / "edit.lock", true);
  std::error_code code;
  // Ids are names of folders here: nothing else is taken away.
  if (id.empty() || id.find('/') != std::string::npos || id.front() == '.' ||
      !fs::is_directory(folder_ / id, code))
    return noSuchJob(id);
  const auto saved = Saved::read(folder_ / id);
  if (saved && saved->state == JobState::running && isRunning())
    return writeFileAtomically(folder_ / id / stopFile, "remove");
  fs::remove_all(folder_ / id, code);
  return code ? Error{words("The job could not be taken away: ") + code.message() + "."} : done();
}

bool Queue::isRunning() const {
  std::error_code code;
  if (!fs::exists(folder_ / "run.lock", code)) return false;
  return !FileLock(folder_ / "run.lock", false).isHeld();
}

}  // namespace dusk
