#include "core/deliver/together.h"

#include <condition_variable>
#include <deque>
#include <thread>

#include "core/base/guard.h"
#include "core/base/memory.h"
#include "core/base/words.h"
#include "core/deliver/output_plan.h"
#include "core/deliver/tracing.h"
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

bool looksAlike(const Surface* one, const Surface* other) {
  return one && other ? *one == *other : one == other;
}

/// Marks what looks other in `b` than in `a`.
void markDiffering(const Project& a, const Project& b, const Shot& shot, const Scene& scene,
                   DifferingParts& marks) {
  const auto& instances = scene.geometry->instances();
  marks.resize(instances.size());
  for (size_t i = 0; i < instances.size(); ++i) {
    const auto& parts = instances[i].geometry->model().parts;
    marks[i].resize(parts.size());
    const Placement* placement = byId(shot.placements, scene.placementIds[i]);
    const Product* one = placement ? byId(a.products, placement->productId) : nullptr;
    const Product* other = placement ? byId(b.products, placement->productId) : nullptr;
    for (size_t p = 0; p < parts.size(); ++p)
      marks[i][p] |= !one || !other || one->decals != other->decals ||
                     !looksAlike(surfaceOf(a, *one, parts[p]), surfaceOf(b, *other, parts[p]));
  }
}

/// Lets deliveries, each in a thread of its own, go on one at a time, and brings them together where they
/// trace.
class Meeting {
 public:
  Meeting(size_t index, size_t guests, std::deque<Progress>& progresses)
      : index_(index), present_(guests), progresses_(progresses), asked_(guests) {}

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
  bool trace(size_t who, const Project& project, const Scene& scene, Film& film, int passes,
             const std::function<bool()>& afterPass) {
    Asked own{&project, undressed(project, index_), &scene, &film, passes, &afterPass};
    std::unique_lock lock(mutex_);
    asked_[who] = &own, ++waiting_;
    isTaken_ = false;
    changed_.notify_all();
    changed_.wait(lock, [&] { return own.isDone || (!isTaken_ && waiting_ == present_); });
    if (!own.isDone) {
      isTaken_ = true;
      lock.unlock();
      traceAll();
      lock.lock();
      isTaken_ = false;
      changed_.notify_all();
    }
    changed_.wait(lock, [&] { return !isTaken_; });
    isTaken_ = true;
    if (own.thrown) std::rethrow_exception(own.thrown);
    return own.isTraced;
  }

 private:
  struct Asked {
    const Project* project;
    Project undressed;
    const Scene* scene;
    Film* film;
    int passes;
    const std::function<bool()>* afterPass;
    bool isTraced = false, isDone = false;
    std::exception_ptr thrown{};  ///< what befell who traced it
  };

  /// Whether a film can be traced with the first's, and then what of them looks other.
  std::optional<DifferingParts> together(const Asked& a, const Asked& b) const {
    const Film &one = *a.film, &other = *b.film;
    if (a.passes != b.passes || one.width() != other.width() || one.height() != other.height() ||
        one.passesDone != other.passesDone || one.windowed() != other.windowed() ||
        a.scene->samples != b.scene->samples || a.scene->noiseTarget != b.scene->noiseTarget ||
        *a.afterPass || *b.afterPass || a.undressed != b.undressed)
      return {};
    DifferingParts marks;
    markDiffering(*a.project, *b.project, a.project->shots[index_], *a.scene, marks);
    if (!isSameBut(*a.scene, *b.scene, marks)) return {};
    return marks;
  }

  /// All that is asked for, with who fits the first of those left.
  void traceAll() {
    for (size_t first = 0; first < asked_.size(); ++first) {
      if (!asked_[first]) continue;
      std::vector<size_t> group{first};
      DifferingParts differing;
      for (size_t i = first + 1; i < asked_.size(); ++i) {
        const auto marks = asked_[i] ? together(*asked_[first], *asked_[i]) : std::nullopt;
        if (!marks) continue;
        group.push_back(i);
        differing.resize(marks->size());
        for (size_t k = 0; k < marks->size(); ++k) {
          differing[k].resize((*marks)[k].size());
          for (size_t p = 0; p < differing[k].size(); ++p) differing[k][p] |= (*marks)[k][p];
        }
      }
      bool traced = false;
      std::exception_ptr thrown;
      try {
        traced = traceGroup(group, differing);
      } catch (...) {
        thrown = std::current_exception();
      }
      const std::lock_guard lock(mutex_);
      for (const size_t i : group) {
        asked_[i]->isTraced = traced, asked_[i]->thrown = thrown, asked_[i]->isDone = true;
        asked_[i] = nullptr, --waiting_;
      }
    }
  }
  bool traceGroup(const std::vector<size_t>& group, const DifferingParts& differing) {
    const Asked& lead = *asked_[group[0]];
    if (group.size() == 1)
      return render(*lead.scene, *lead.film, lead.passes, progresses_[group[0]], *lead.afterPass);
    std::vector<const Scene*> scenes;
    std::vector<Film*> films;
    std::vector<Progress*> progresses;
    for (const size_t i : group)
      scenes.push_back(asked_[i]->scene), films.push_back(asked_[i]->film),
          progresses.push_back(&progresses_[i]);
    return renderTogether(scenes, films, differing, lead.passes, progresses);
  }

  size_t index_, present_, waiting_ = 0;
  std::deque<Progress>& progresses_;
  std::vector<Asked*> asked_;
  bool isTaken_ = false;
  std::mutex mutex_;
  std::condition_variable changed_;
};

/// How many films are held at a time, at most.
size_t atATime(const Project& project, size_t index, AssetStore& assets, const DeliverOptions& options) {
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

std::vector<Result<DeliverReport>> deliverInTurn(std::span<const Project> variants, size_t index,
                                                 AssetStore& assets, GeometryCache& cache,
                                                 const DeliverOptions& options, Progress& progress) {
  std::vector<Result<DeliverReport>> reports;
  const Progress::Part all = progress.part();
  const double count = double(variants.size());
  for (size_t i = 0; i < variants.size() && (i == 0 || reports.back()); ++i) {
    progress.reportWithin(all.within(double(i) / count, double(i + 1) / count));
    reports.push_back(deliver(variants[i], index, assets, cache, options, progress));
  }
  progress.reportWithin(all);
  return reports;
}

}  // namespace

std::vector<Result<DeliverReport>> deliverTogether(std::span<const Project> variants, size_t index,
                                                   AssetStore& assets, GeometryCache& cache,
                                                   const DeliverOptions& options, Progress& progress) {
  std::vector<Result<DeliverReport>> reports;
  // A log is one delivery's, and so is the time it may take.
  if (variants.size() == 1 || !options.log.empty() || !options.parts.empty() || options.seconds)
    return deliverInTurn(variants, index, assets, cache, options, progress);
  const Progress::Part all = progress.part();
  while (reports.size() < variants.size()) {
    const size_t begun = reports.size(), left = variants.size() - begun,
                 count = std::min(left, atATime(variants[begun], index, assets, options));
    std::deque<Progress> own(count);
    Meeting meeting(index, count, own);
    std::vector<std::optional<Result<DeliverReport>>> made(count);
    std::atomic<size_t> ended{0};
    std::vector<std::thread> threads;
    for (size_t i = 0; i < count; ++i)
      threads.emplace_back([&, i] {
        meeting.enter();
        DeliverOptions with = options;
        with.trace = [&, i](const Project& project, const Scene& scene, Film& film, int passes, Progress&,
                            const std::function<bool()>& afterPass) {
          return meeting.trace(i, project, scene, film, passes, afterPass);
        };
        made[i] = guarded(words("handing over"),
                          [&] { return deliver(variants[begun + i], index, assets, cache, with, own[i]); });
        meeting.leave();
        ++ended;
      });
    while (ended < count) {
      std::this_thread::sleep_for(std::chrono::milliseconds(20));
      double sum = 0;
      for (Progress& each : own) {
        if (progress.cancelled()) each.cancel();
        sum += each.fraction();
      }
      progress.reportWithin(all);
      progress.report((double(begun) + sum) / double(variants.size()));
    }
    for (std::thread& thread : threads) thread.join();
    bool failed = false;
    for (auto& each : made) failed |= !each->ok(), reports.push_back(std::move(*each));
    if (failed) break;
  }
  return reports;
}

}  // namespace dusk
