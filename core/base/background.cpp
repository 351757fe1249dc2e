#include "core/base/background.h"

#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <sys/resource.h>
#include <unistd.h>

#include <memory>
#include <mutex>

namespace dusk {

void runInBackground(const std::function<void()>& work) {
  tbb::task_arena arena(tbb::task_arena::automatic, 1, tbb::task_arena::priority::low);
  arena.execute(work);
}

void eachInBackground(int count, const std::function<void(int)>& each) {
  runInBackground([&] { tbb::parallel_for(0, count, each); });
}

void giveWay() {
  constexpr int niceness = 10;
  thread_local const bool given = ::setpriority(PRIO_PROCESS, id_t(::gettid()), niceness) == 0;
  (void)given;
}

void limitThreads(int threads) {
  using Limit = tbb::global_control;
  static std::mutex mutex;
  static std::unique_ptr<Limit> limit;
  const std::lock_guard lock(mutex);
  limit.reset();
  if (threads > 0) limit = std::make_unique<Limit>(Limit::max_allowed_parallelism, size_t(threads));
}

}  // namespace dusk
