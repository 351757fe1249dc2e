#include "core/deliver/queue.h"

#include <cstdio>
#include <thread>

#include "batch/answer.h"
#include "batch/render.h"
#include "batch/variants.h"
#include "core/deliver/names.h"
#include "core/project/file.h"

namespace dusk::batch {
namespace {

namespace fs = std::filesystem;

Queue queueOf(const Request& request) {
  return Queue(request.folder.empty() ? Queue::usualFolder() : fs::path(request.folder));
}

constexpr const char* stateNames[] = {"waiting", "working", "paused", "done", "failed"};

json describe(const QueuedJob& job) {
  return {{"job", job.id},
          {"name", job.name},
          {"state", stateNames[size_t(job.state)]},
          {"done", job.fraction},
          {"secondsLeft", job.secondsLeft},
          {"seconds", job.seconds},
          {"folder", job.folder.string()},
          {"files", job.files},
          {"message", job.message}};
}

Result<std::vector<std::string>> addShots(Queue& queue, const Request& request, const fs::path& file) {
  const auto project = loadProject(file);
  if (!project) return project.error();
  const auto shot = shotIndex(*project, request.shot);
  if (!shot) return shot.error();
  const fs::path folder = fs::absolute(file).parent_path();
  const AssetStore assets(folder);
  const fs::path out = request.out.empty() ? folder / "delivered" : fs::absolute(request.out);
  std::vector<std::string> ids;
  for (size_t i = 0; i < project->shots.size(); ++i) {
    if (!request.allShots && i != *shot) continue;
    const auto variants = chosen(*project, i, request.variant);
    if (!variants) return variants.error();
    for (const Project& variant : *variants) {
      const Shot& each = variant.shots[i];
      auto order = orderFor(request, variant, each, assets,
                            request.allShots && project->shots.size() > 1 ? out / each.id : out);
      if (!order) return order.error();
      order->date = today();
      order->onFindings = request.onFindings == "ignore" ? OnFindings::ignore
                          : request.onFindings == "stop" ? OnFindings::stop
                                                         : OnFindings::warn;
      const auto id = queue.add(*order);
      if (!id) return id.error();
      ids.push_back(*id);
    }
  }
  return ids;
}

int workOn(Queue& queue, const Request& request, Progress& progress) {
  json jobs = json::array();
  const auto report = queue.run(progress, [&](const QueuedJob& job) {
    std::fprintf(stderr, "%s %s: %s%s%s\n", job.id.c_str(), job.name.c_str(), stateNames[size_t(job.state)],
                 job.message.empty() ? "" : ". ", job.message.c_str());
    jobs.push_back(describe(job));
  });
  if (!report) return fail(report.error());
  print({{"done", report->done}, {"failed", report->failed}, {"stopped", report->stopped}, {"jobs", jobs}},
        request.json);
  return report->failed > 0 ? 1 : 0;
}

int each(const Request& request, Outcome (Queue::*act)(const std::string&)) {
  Queue queue = queueOf(request);
  std::vector<std::string> ids{request.job};
  if (request.job.empty()) {
    ids.clear();
    for (const QueuedJob& job : queue.list()) ids.push_back(job.id);
  }
  for (const std::string& id : ids)
    if (const Outcome acted = (queue.*act)(id); !acted) return fail(acted.error());
  print({{"jobs", ids}}, request.json);
  return 0;
}

}  // namespace

int queueAdd(const Request& request, Progress&) {
  Queue queue = queueOf(request);
  const auto ids = addShots(queue, request, request.file);
  if (!ids) return fail(ids.error());
  print({{"jobs", *ids}}, request.json);
  return 0;
}

int queueRun(const Request& request, Progress& progress) {
  Queue queue = queueOf(request);
  return workOn(queue, request, progress);
}

int queueList(const Request& request, Progress&) {
  json jobs = json::array();
  for (const QueuedJob& job : queueOf(request).list()) {
    jobs.push_back(describe(job));
    if (!request.json)
      std::printf("%s  %-8s %3.0f %%  %s%s%s\n", job.id.c_str(), stateNames[size_t(job.state)],
                  100 * job.fraction, job.name.c_str(), job.message.empty() ? "" : ": ", job.message.c_str());
  }
  if (request.json) print({{"jobs", jobs}}, true);
  return 0;
}

int queuePause(const Request& request, Progress&) { return each(request, &Queue::pause); }
int queueResume(const Request& request, Progress&) { return each(request, &Queue::resume); }
int queueRemove(const Request& request, Progress&) { return each(request, &Queue::remove); }

int queueMove(const Request& request, Progress& progress) {
  Queue queue = queueOf(request);
  if (const Outcome moved = queue.move(request.job, request.by); !moved) return fail(moved.error());
  return queueList(request, progress);
}

int queueWatch(const Request& request, Progress& progress) {
  std::error_code code;
  if (!fs::is_directory(request.file, code))
    return fail({request.file + " is no folder.", ErrorKind::unreadable});
  Queue queue(request.folder.empty() ? fs::path(request.file) / ".queue" : fs::path(request.folder));
  std::map<fs::path, fs::file_time_type> taken;
  int worst = 0;
  while (!progress.cancelled()) {
    for (const auto& entry : fs::directory_iterator(request.file, code)) {
      const fs::path file = entry.path();
      const auto written = fs::last_write_time(file, code);
      // One that is still being copied changes again soon.
      const bool isCalm =
          request.once || fs::file_time_type::clock::now() - written > std::chrono::seconds(2);
      if (file.extension() != ".dusk" || !isCalm || (taken.count(file) && taken[file] == written)) continue;
      taken[file] = written;
      Request own = request;
      own.allShots = true, own.out = (file.parent_path() / (file.stem().string() + "-delivered")).string();
      const auto ids = addShots(queue, own, file);
      if (ids)
        std::fprintf(stderr, "%s: %zu jobs\n", file.filename().c_str(), ids->size());
      else
        worst = fail(ids.error());
    }
    worst = std::max(worst, workOn(queue, request, progress));
    if (request.once) break;
    for (int i = 0; i < 20 && !progress.cancelled(); ++i)
      std::this_thread::sleep_for(std::chrono::milliseconds(50));
  }
  return worst;
}

}  // namespace dusk::batch
