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
  const auto self = id_t(::gettid());
  // Where that cannot be, all goes on as it did.
  if (::getpriority(PRIO_PROCESS, self) < backgroundNiceness)
    (void)::setpriority(PRIO_PROCESS, self, backgroundNiceness);
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
