#include <set>
#include <thread>

#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/deliver/film.h"
#include "core/deliver/film_read.h"
#include "core/deliver/output_plan.h"
#include "core/deliver/pace.h"
#include "core/deliver/queue_state.h"
#include "core/deliver/together.h"
#include "core/motion/at.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/proof/prove.h"

namespace dusk {
namespace {

namespace fs = std::filesystem;

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

Result<Order> orderIn(const QueuedJob& job) {
  const auto text = readFile(job.home / orderFile, mostOrderText);
  return text ? orderFrom(*text) : text.error();
}

/// The files of a job that may be worked on beside others; none where it may not: one whose proofs stop the
/// queue, since who comes after it waits for them, and films, whose pictures are kept apart.
std::set<fs::path> filesOf(const Order& order, AssetStore& assets) {
  std::set<fs::path> files;
  if (order.onFindings == OnFindings::stop || wantsFilm(order.shot())) return files;
  const auto native = nativeSize(order.shot(), assets);
  if (!native) return files;
  DeliverOptions options = order.options();
  options.native = native->first;
  const auto [width, height] = order.size.value_or(*native);
  if (const auto plans = planOutputs(order.project, order.shot(), assets, options, width, height))
    for (const OutputPlan& plan : *plans) files.insert(plan.file);
  return files;
}

/// Whether they are variants of one picture.
bool areVariants(const Order& a, const Order& b) {
  return a.size == b.size && a.samples == b.samples && a.noise == b.noise && a.threads == b.threads &&
         differBySurfaces(a.project, b.project, 0);
}

/// What proofs say of a finished job, a sentence each.
std::vector<std::string> remarksOn(const Order& order, AssetStore& assets, const DeliverReport& report,
                                   Progress& progress) {
  if (order.onFindings == OnFindings::ignore || !wantsStill(order.shot())) return {};
  return remarksOf(prove(asStill(order.project, 0), 0, assets, &report.passes, Models::wait, progress));
}

}  // namespace

struct Queue::Taken {
  QueuedJob job;
  Result<Order> order;
};

bool Queue::work(const Taken& taken, AssetStore& assets, GeometryCache& cache, const TraceFilmOf& trace,
                 Progress& progress, Report& report) {
  const QueuedJob& job = taken.job;
  const Result<Order>& order = taken.order;
  const auto begun = std::chrono::steady_clock::now();
  const auto seconds = [&] { return secondsSince(begun); };
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
  const auto delivered = guarded(words("handing over"), [&]() -> Result<int> {
    if (!order) return order.error();
    const Watch watch(job.home, progress, own, [&](const Progress& p) {
      set([&](Saved& s) { s.fraction = p.fraction(), s.secondsLeft = p.secondsLeft(); });
    });
    const ThreadLimit limit(order->threads);
    FilmOptions options{order->options(), job.home / "pictures"};
    options.each.log = job.home / traceFile, options.each.trace = trace;
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
  const auto wish = readFile(job.home / stopFile, mostOrderText);
  std::error_code ignored;
  fs::remove(job.home / stopFile, ignored);
  if (wish && *wish == "remove")
    fs::remove_all(job.home, ignored);
  else
    ends(wish ? JobState::paused : JobState::waiting, "", {});
  return wish.ok();
}

bool Queue::isNext(const std::string& id) const {
  const auto saved = Saved::read(folder_ / id);
  // One that says it is worked on was left by a program that is gone: this one holds the lock.
  return saved && (saved->state == JobState::waiting || saved->state == JobState::running);
}

std::vector<Queue::Taken> Queue::nextInLine(AssetStore& assets) const {
  std::vector<Taken> group;
  std::set<fs::path> files;  // of all of them
  for (const QueuedJob& job : list()) {
    if (!isNext(job.id)) continue;
    Taken taken{job, orderIn(job)};
    const auto own = taken.order ? filesOf(*taken.order, assets) : std::set<fs::path>();
    const bool writesOthers =
        std::any_of(own.begin(), own.end(), [&](const fs::path& file) { return files.count(file) > 0; });
    if (!group.empty() && (own.empty() || writesOthers || !areVariants(*group[0].order, *taken.order))) break;
    group.push_back(std::move(taken));
    files.insert(own.begin(), own.end());
    const Order& first = *group[0].order;
    if (own.empty() || group.size() >= mostTogether(first.project, 0, assets, first.options())) break;
  }
  return group;
}

std::vector<Queue::Taken> Queue::take(AssetStore& assets) {
  for (;;) {
    // Without the lock, since photos take their time to be read; some may have been paused meanwhile.
    std::vector<Taken> group = nextInLine(assets);
    if (group.empty()) return group;
    const FileLock edit(folder_ / "edit.lock", true);
    std::erase_if(group, [&](const Taken& each) { return !isNext(each.job.id); });
    for (const Taken& each : group)
      (void)change(each.job.id, [](Saved& s) { s.state = JobState::running, s.message.clear(); });
    if (!group.empty()) return group;
  }
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
  Outcome unworked = done();
  for (bool goesOn = true; goesOn && unworked && !progress.cancelled();) {
    const std::vector<Taken> group = take(assets);
    if (group.empty()) break;
    std::vector<std::function<void(const TraceFilmOf&)>> deliveries;
    for (const Taken& each : group)
      deliveries.push_back([&](const TraceFilmOf& trace) {
        const auto worked = guarded(words("handing over"), [&]() -> Outcome {
          goesOn &= work(each, assets, cache, trace, progress, report);
          if (told)
            for (const QueuedJob& job : list())
              if (job.id == each.job.id) told(job);
          return done();
        });
        if (!worked && unworked) unworked = worked;
      });
    if (group.size() == 1)
      deliveries[0]({});
    else
      traceTogether(deliveries, 0);
  }
  if (!unworked) return unworked.error();
  return progress.cancelled() ? Result<Report>(cancelledError()) : report;
}

}  // namespace dusk
