#include "core/deliver/farm_list.h"

#include <map>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/base/words.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// What it comes to, in the queue's terms.
void tell(QueuedJob& to, const FarmState& state, const FarmJob& job) {
  const int done = state.count(PartState::done), lost = state.count(PartState::lost),
            working = state.count(PartState::working), waiting = state.count(PartState::waiting),
            held = state.count(PartState::held);
  double traced = done, left = waiting + held > 0 ? -1 : 0;
  for (int part = 1; part <= int(state.parts.size()); ++part) {
    if (state.parts[size_t(part) - 1] != PartState::working) continue;
    const PartProgress now = progressOf(job, part);
    traced += now.fraction;
    left = left < 0 || now.secondsLeft < 0 ? -1 : std::max(left, now.secondsLeft);
  }
  // Merging takes little; who has traced all of it has not done yet.
  to.fraction = 0.98 * traced / std::max(1, job.parts);
  if (working > 0) to.secondsLeft = left;
  if (state.isMerged) {
    to.state = JobState::done, to.fraction = 1, to.files = state.files;
    return;
  }
  to.state = lost > 0 && working + waiting + held == 0 ? JobState::failed : JobState::running;
  if (working + done + lost == 0) to.state = JobState::waiting;
  if (held > 0) to.state = JobState::paused;
  to.message =
      std::to_string(done) + words(" of ") + std::to_string(job.parts) + words(" part", " parts", job.parts);
  if (working > 0) to.message += ", " + std::to_string(working) + words(" being traced");
  if (held > 0) to.message += ", " + std::to_string(held) + words(" held");
  if (lost > 0) to.message += ", " + std::to_string(lost) + words(" lost");
  if (done == job.parts) to.message = words("all parts are there, and are put together");
}

}  // namespace

Outcome FarmList::add(const FarmJob& job) const {
  std::error_code code;
  fs::create_directories(folder_, code);
  const std::string text = fs::absolute(job.folder).string();
  return writeFileAtomically(folder_ / hashBytes(text.data(), text.size()), text);
}

Result<FarmJob> FarmList::job(const std::string& id) const {
  const auto place = readFile(folder_ / id, size_t{1} << 16);
  if (!place) return place.error();
  return farmJobIn(*place);
}

std::vector<QueuedJob> FarmList::list(Progress& progress) const {
  std::multimap<fs::file_time_type, std::string> ids;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder_, code))
    if (entry.is_regular_file(code))
      ids.emplace(entry.last_write_time(code), entry.path().filename().string());
  std::vector<QueuedJob> jobs;
  std::optional<Error> silent;  // a farm that does not answer once is not asked for each job
  for (const auto& [when, id] : ids) {
    QueuedJob told;
    told.id = id, told.onFarm = true, told.state = JobState::failed;
    const auto job = this->job(id);
    if (!job) {
      const auto place = readFile(folder_ / id, size_t{1} << 16);
      told.name = place ? fs::path(*place).filename().string() : id;
      told.message = words("Its folder is gone, or cannot be read. Take it away.");
      jobs.push_back(std::move(told));
      continue;
    }
    told.name = job->title;
    told.folder = job->out, told.home = job->folder;
    const auto state = silent ? Result<FarmState>(*silent) : farmState(*job, progress);
    const FarmState byFiles = stateByFiles(*job);
    if (state || byFiles.isMerged) {
      tell(told, state ? *state : byFiles, *job);
    } else {
      silent = state.error();
      told.message = silent->message;
    }
    jobs.push_back(std::move(told));
  }
  return jobs;
}

Outcome FarmList::submitLost(const std::string& id, Progress& progress) const {
  auto job = this->job(id);
  if (!job) return job.error();
  const auto state = farmState(*job, progress);
  if (!state) return state.error();
  const auto again = dusk::submitLost(*job, *state, progress);
  return again ? done() : Outcome(again.error());
}

Outcome FarmList::hold(const std::string& id, bool hold, Progress& progress) const {
  const auto job = this->job(id);
  return job ? holdOnFarm(*job, hold, progress) : Outcome(job.error());
}

Outcome FarmList::remove(const std::string& id, Progress& progress) const {
  if (const auto job = this->job(id); job && !stateByFiles(*job).isMerged) endOnFarm(*job, progress);
  std::error_code code;
  if (!fs::remove(folder_ / id, code) && code)
    return Error{words("The job cannot be taken off the list: ") + code.message() + "."};
  return done();
}

}  // namespace dusk
