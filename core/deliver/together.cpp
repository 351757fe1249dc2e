#include "core/deliver/together.h"

#include <condition_variable>
#include <deque>
#include <thread>

#include "core/base/guard.h"
#include "core/base/memory.h"
#include "core/base/words.h"
#include "core/deliver/output_plan.h"
#include "core/deliver/tracing.h"
#include "core/trace/dressed_anew.h"
#include "core/trace/render.h"
#include "core/trace/render_together.h"

namespace dusk {
namespace {

/// What the samples of a shot depend on but for surfaces.
Project undressed(const Project& project, size_t index) {
  Project bare = onlyTraced(project, project.shots[index]);
  bare.shots[0].id.clear(), bare.shots[0].choice.clear();
  bare.axes.clear(), bare.surfaces.clear();
  for (Product& product : bare.products) product.surfaceOfPart.clear(), product.decals.clear();
  return bare;
}

/// Lets deliveries, each in a thread of its own, go on one at a time, and brings them together where they
/// trace.
class Meeting {
 public:
  Meeting(size_t index, size_t guests) : index_(index), present_(guests), asked_(guests) {}

  /// Waits for its turn.
  void enter() {
    std::unique_lock lock(mutex_);
    changed_.wait(lock, [&] { return !isTaken_; });
    isTaken_ = true;
  }
  void leave() {
    const std::lock_guard lock(mutex_);
    isTaken_ = false, --present_;
    changed_.notify_all();
  }
  /// By who has the turn.
  bool trace(size_t who, const Project& project, const TraceCall& call) {
    Asked own{&project, undressed(project, index_), &call};
    std::unique_lock lock(mutex_);
    asked_[who] = &own, ++waiting_;
    isTaken_ = false;
    changed_.notify_all();
    for (;;) {
      changed_.wait(lock, [&] { return !isTaken_ && (own.isDone || waiting_ == present_); });
      isTaken_ = true;
      if (own.isDone) break;
      lock.unlock();
      traceNext();
      lock.lock();
      isTaken_ = false;
      changed_.notify_all();
    }
    if (own.thrown) std::rethrow_exception(own.thrown);
    return own.isTraced;
  }

 private:
  struct Asked {
    const Project* project;
    Project undressed;
    const TraceCall* call;
    bool isTraced = false, isDone = false;
    std::exception_ptr thrown{};  ///< what befell who traced it
  };

  /// Whether a film can be traced with the first's, and then what of them looks other.
  std::optional<DifferingParts> together(const Asked& a, const Asked& b) const {
    const Film &one = a.call->film, &other = b.call->film;
    const Scene &scene = a.call->scene, &another = b.call->scene;
    if (a.call->passes != b.call->passes || one.width() != other.width() || one.height() != other.height() ||
        one.windowed() != other.windowed() || scene.samples != another.samples ||
        scene.noiseTarget != another.noiseTarget || a.undressed != b.undressed)
      return {};
    DifferingParts marks;
    markDiffering(*a.project, *b.project, a.project->shots[index_], scene, marks);
    if (!isSameBut(scene, another, marks)) return {};
    return marks;
  }

  /// What comes first of all that is asked for: who is ahead waits for those that are behind.
  void traceNext() {
    std::vector<size_t> left;
    TraceStep least;
    least.fill(std::numeric_limits<int>::max());
    for (const Asked* each : asked_)
      if (each) least = std::min(least, each->call->step);
    for (size_t i = 0; i < asked_.size(); ++i)
      if (asked_[i] && asked_[i]->call->step == least) left.push_back(i);
    while (!left.empty()) traceFirst(left);
  }
  /// The first of `left` with who fits it, and takes them out.
  void traceFirst(std::vector<size_t>& left) {
    std::vector<size_t> group{left[0]}, others;
    DifferingParts differing;
    for (const size_t i : std::span(left).subspan(1)) {
      const auto marks = together(*asked_[left[0]], *asked_[i]);
      (marks ? group : others).push_back(i);
      if (!marks) continue;
      differing.resize(marks->size());
      for (size_t k = 0; k < marks->size(); ++k) {
        differing[k].resize((*marks)[k].size());
        for (size_t p = 0; p < differing[k].size(); ++p) differing[k][p] |= (*marks)[k][p];
      }
    }
    std::exception_ptr thrown;
    try {
      traceGroup(group, differing);
    } catch (...) {
      thrown = std::current_exception();
    }
    const std::lock_guard lock(mutex_);
    for (const size_t i : group) {
      asked_[i]->thrown = thrown, asked_[i]->isDone = true;
      asked_[i] = nullptr, --waiting_;
    }
    left = std::move(others);
  }
  void traceGroup(const std::vector<size_t>& group, const DifferingParts& differing) {
    if (group.size() == 1) {
      const TraceCall& c = *asked_[group[0]]->call;
      asked_[group[0]]->isTraced = render(c.scene, c.film, c.passes, c.progress, c.afterPass);
      return;
    }
    std::vector<FilmOfMany> films;
    for (const size_t i : group) {
      const TraceCall& c = *asked_[i]->call;
      films.push_back({&c.scene, &c.film, &c.progress, c.afterPass});
    }
    renderTogether(films, differing, asked_[group[0]]->call->passes);
    for (size_t i = 0; i < group.size(); ++i) asked_[group[i]]->isTraced = films[i].isTraced;
  }

  size_t index_, present_, waiting_ = 0;
  std::vector<Asked*> asked_;
  bool isTaken_ = false;
  std::mutex mutex_;
  std::condition_variable changed_;
};

}  // namespace

size_t mostTogether(const Project& project, size_t index, AssetStore& assets, const DeliverOptions& options) {
  constexpr size_t most = 8;
  const Shot& shot = project.shots[index];
  std::optional<std::pair<int, int>> size = options.size;
  if (!size)
    if (const auto native = nativeSize(shot, assets)) size = *native;
  if (!size) return 1;
  const auto [width, height] = *size;
  const size_t each = std::max<size_t>(1, deliveryBytes(shot, width, height));
  return std::clamp<size_t>(freeMemory() / 2 / each, 1, most);
}

bool differBySurfaces(const Project& a, const Project& b, size_t index) {
  return undressed(a, index) == undressed(b, index);
}

void traceTogether(std::span<const std::function<void(const TraceFilmOf&)>> deliveries, size_t index) {
  Meeting meeting(index, deliveries.size());
  std::vector<std::jthread> threads;
  for (size_t i = 0; i < deliveries.size(); ++i)
    threads.emplace_back([&, i] {
      meeting.enter();
      deliveries[i](
          [&, i](const Project& project, const TraceCall& call) { return meeting.trace(i, project, call); });
      meeting.leave();
    });
}

namespace {

std::vector<Result<DeliverReport>> deliverInTurn(std::span<const Project> variants, size_t index,
                                                 AssetStore& assets, GeometryCache& cache,
                                                 const DeliverOptions& options, Progress& progress,
                                                 const std::function<void(DeliverReport&)>& finish) {
  std::vector<Result<DeliverReport>> reports;
  const Progress::Part all = progress.part();
  const double count = double(variants.size());
  for (size_t i = 0; i < variants.size() && (i == 0 || reports.back()); ++i) {
    progress.reportWithin(all.within(double(i) / count, double(i + 1) / count));
    reports.push_back(deliver(variants[i], index, assets, cache, options, progress));
    if (reports.back() && finish) finish(*reports.back());
  }
  progress.reportWithin(all);
  return reports;
}

}  // namespace

std::vector<Result<DeliverReport>> deliverTogether(std::span<const Project> variants, size_t index,
                                                   AssetStore& assets, GeometryCache& cache,
                                                   const DeliverOptions& options, Progress& progress,
                                                   const std::function<void(DeliverReport&)>& finish) {
  std::vector<Result<DeliverReport>> reports;
  // A log is one delivery's, and so is the time it may take.
  if (variants.size() == 1 || !options.log.empty() || !options.parts.empty() || options.seconds)
    return deliverInTurn(variants, index, assets, cache, options, progress, finish);
  const Progress::Part all = progress.part();
  while (reports.size() < variants.size()) {
    const size_t begun = reports.size(), left = variants.size() - begun,
                 count = std::min(left, mostTogether(variants[begun], index, assets, options));
    std::deque<Progress> own(count);
    std::vector<std::optional<Result<DeliverReport>>> made(count);
    std::vector<std::function<void(const TraceFilmOf&)>> deliveries;
    for (size_t i = 0; i < count; ++i)
      deliveries.push_back([&, i](const TraceFilmOf& trace) {
        DeliverOptions with = options;
        with.trace = trace;
        made[i] = guarded(words("handing over"),
                          [&] { return deliver(variants[begun + i], index, assets, cache, with, own[i]); });
      });
    const auto tell = [&] {
      double sum = 0;
      for (Progress& each : own) {
        if (progress.cancelled()) each.cancel();
        sum += each.fraction();
      }
      progress.reportWithin(all);
      progress.report((double(begun) + sum) / double(variants.size()));
    };
    {
      const std::jthread watch([&](const std::stop_token& stop) {
        for (; !stop.stop_requested(); std::this_thread::sleep_for(std::chrono::milliseconds(20))) tell();
      });
      traceTogether(deliveries, index);
    }
    tell();
    bool failed = false;
    for (auto& each : made) {
      failed |= !each->ok(), reports.push_back(std::move(*each));
      if (reports.back() && finish) finish(*reports.back());
    }
    if (failed) break;
  }
  return reports;
}

}  // namespace dusk
