#include "core/deliver/queue.h"

#include "core/base/words.h"
#include "core/deliver/film.h"
#include "core/deliver/film_read.h"
#include "core/deliver/output_plan.h"
#include "core/motion/at.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <cstdlib>
#include <nlohmann/json.hpp>
#include <thread>

#include "core/base/cache_folder.h"
#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/base/json_text.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/json.h"
#include "core/proof/prove.h"

namespace dusk {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;
constexpr const char* stateWords[] = {"waiting", "running", "paused", "done", "failed"};
constexpr size_t mostText = size_t{64} << 20;
constexpr const char *orderFile = "order.json", *stateFile = "state.json", *traceFile = "samples.trace",
                     *stopFile = "stop", *stampFile = "stamp.png";

/// Held while it lives; of one program at a time.
class FileLock {
 public:
  FileLock(const fs::path& file, bool waits) {
    std::error_code ignored;
    fs::create_directories(file.parent_path(), ignored);
    fd_ = ::open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
    held_ = fd_ >= 0 && ::flock(fd_, waits ? LOCK_EX : LOCK_EX | LOCK_NB) == 0;
  }
  ~FileLock() {
    if (fd_ >= 0) ::close(fd_);
  }
  FileLock(const FileLock&) = delete;
  FileLock& operator=(const FileLock&) = delete;
  bool isHeld() const { return held_; }

 private:
  int fd_ = -1;
  bool held_ = false;
};

Error noSuchJob(const std::string& id) {
  return {words("The queue has no job ") + id + words(". List it to see which there are."),
          ErrorKind::unreadable};
}

}  // namespace

/// What is kept of a job's state.
struct Queue::Saved {
  std::string name, folder, message;
  JobState state = JobState::waiting;
  double place = 0, fraction = 0, secondsLeft = -1, seconds = 0;
  std::vector<std::string> files;

  static std::optional<Saved> read(const fs::path& home) {
    const auto text = readFile(home / stateFile, mostText);
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
  Outcome write(const fs::path& home) const {
    const json j = {{"name", name},       {"folder", folder},     {"message", message},
                    {"place", place},     {"fraction", fraction}, {"secondsLeft", secondsLeft},
                    {"seconds", seconds}, {"files", files},       {"state", stateWords[size_t(state)]}};
    return writeFileAtomically(home / stateFile, jsonText(j, 1));
  }
};

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
  saved.name = order.project.name + ", " + order.shot().name, saved.folder = order.folder.string();
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

namespace {

/// Tells how far a job is, and ends it when that is wished for, while it lives.
class Watch {
 public:
  Watch(const fs::path& home, Progress& all, Progress& own, std::function<void(const Progress&)> tell)
      : thread_([&home, &all, &own, tell = std::move(tell)](const std::stop_token& stop) {
          constexpr auto look = std::chrono::milliseconds(25);
          for (int i = 1; !stop.stop_requested(); ++i, std::this_thread::sleep_for(look)) {
            std::error_code code;
            if (all.cancelled() || (i % 8 == 0 && fs::exists(home / stopFile, code))) own.cancel();
            if (i % 40 == 0) tell(own);
          }
        }) {}

 private:
  std::jthread thread_;
};

void writeStamp(const fs::path& home, const std::vector<fs::path>& files) {
  for (const fs::path& file : files) {
    if (file.extension() == ".exr" || file.extension() == ".ora") continue;
    constexpr double longest = 160;
    const auto shrunk = [](const auto& p) {
      const double by = std::min(1.0, longest / std::max(p.width, p.height));
      return resized(p, std::max(1, int(p.width * by)), std::max(1, int(p.height * by)));
    };
    if (file.extension() == ".mp4" || file.extension() == ".webm") {
      if (const auto last = readFilmPicture(file, 1'000'000))
        (void)writePng8(home / stampFile, shrunk(*last));
      return;
    }
    const auto photo = readPhoto(file);
    if (!photo) continue;
    (void)writePng8(home / stampFile, shrunk(photo->picture));
    return;
  }
}

/// What proofs say of a finished job, a sentence each.
std::vector<std::string> remarksOn(const Order& order, AssetStore& assets, const DeliverReport& report,
                                   Progress& progress) {
  std::vector<std::string> remarks;
  if (order.onFindings == OnFindings::ignore || !wantsStill(order.shot())) return remarks;
  for (const Finding& f : prove(asStill(order.project, 0), 0, assets, &report.passes, Models::wait, progress))
    if (!f.ok()) remarks.push_back(f.what + ": " + f.remedy);
  return remarks;
}

}  // namespace

bool Queue::work(const QueuedJob& job, AssetStore& assets, GeometryCache& cache, Progress& progress,
                 Report& report) {
  const auto begun = std::chrono::steady_clock::now();
  const auto seconds = [&] {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
  };
  const auto set = [&](const std::function<void(Saved&)>& how) {
    const FileLock lock(folder_ / "edit.lock", true);
    (void)change(job.id, how);
  };
  const auto ends = [&](JobState state, const std::string& message, const std::vector<std::string>& files) {
    set([&](Saved& s) {
      s.state = state, s.message = message, s.files = files, s.secondsLeft = -1, s.seconds += seconds();
      if (state == JobState::done) s.fraction = 1;
    });
  };
  Progress own;
  std::vector<std::string> files, remarks;
  const auto delivered = guarded("this job", [&]() -> Result<int> {
    const auto text = readFile(job.home / orderFile, mostText);
    if (!text) return text.error();
    const auto order = orderFrom(*text);
    if (!order) return order.error();
    const Watch watch(job.home, progress, own, [&](const Progress& p) {
      set([&](Saved& s) { s.fraction = p.fraction(), s.secondsLeft = p.secondsLeft(); });
    });
    const ThreadLimit limit(order->threads);
    FilmOptions options{order->options(), job.home / "pictures"};
    options.each.log = job.home / traceFile;
    const auto made = handOver(order->project, 0, assets, cache, options, own);
    if (!made) return made.error();
    writeStamp(job.home, made->files);
    for (const fs::path& file : made->files) files.push_back(file.string());
    own.reportWithin(1, 1);  // all is handed over: it does not go back
    remarks = remarksOn(*order, assets, *made, own);
    if (order->onFindings == OnFindings::stop && !remarks.empty()) report.stopped = true;
    return 0;
  });
  if (delivered) {
    std::string said;
    for (const std::string& remark : remarks) said += (said.empty() ? "" : " ") + remark;
    ends(report.stopped ? JobState::failed : JobState::done, said, files);
    ++(report.stopped ? report.failed : report.done);
    return !report.stopped;
  }
  if (delivered.error().kind != ErrorKind::cancelled) {
    ends(JobState::failed, delivered.error().message, {});
    ++report.failed;
    return true;
  }
  const auto wish = readFile(job.home / stopFile, mostText);
  std::error_code ignored;
  fs::remove(job.home / stopFile, ignored);
  if (wish && *wish == "remove")
    fs::remove_all(job.home, ignored);
  else
    ends(wish ? JobState::paused : JobState::waiting, "", {});
  return wish.ok();
}

Result<Queue::Report> Queue::run(Progress& progress, const std::function<void(const QueuedJob&)>& told) {
  std::optional<FileLock> lock;
  // Who only looks whether somebody works holds it for a moment, too.
  for (int i = 0; i < 20 && !(lock && lock->isHeld()); ++i) {
    if (i > 0) std::this_thread::sleep_for(std::chrono::milliseconds(15));
    lock.emplace(folder_ / "run.lock", false);
  }
  if (!lock->isHeld())
    return Error{words("Another program is working on this queue already, or its folder ") +
                 folder_.string() + words(" cannot be written to.")};
  Report report;
  // Jobs of one campaign share what is loaded.
  AssetStore assets;
  GeometryCache cache;
  while (!progress.cancelled()) {
    std::optional<QueuedJob> next;
    {
      const FileLock edit(folder_ / "edit.lock", true);
      for (const QueuedJob& job : list()) {
        const auto saved = Saved::read(job.home);
        // One that says it is worked on was left by a program that is gone: this one holds the lock.
        if (!saved || (saved->state != JobState::waiting && saved->state != JobState::running)) continue;
        next = job;
        (void)change(job.id, [](Saved& s) { s.state = JobState::running, s.message.clear(); });
        break;
      }
    }
    if (!next) break;
    const bool goesOn = work(*next, assets, cache, progress, report);
    if (told)
      for (const QueuedJob& job : list())
        if (job.id == next->id) told(job);
    if (!goesOn) break;
  }
  return progress.cancelled() ? Result<Report>(cancelledError()) : report;
}

}  // namespace dusk
