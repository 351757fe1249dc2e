#include "core/base/background.h"

#include <tbb/task_arena.h>

namespace dusk {

void runInBackground(const std::function<void()>& work) {
  tbb::task_arena arena(tbb::task_arena::automatic, 1, tbb::task_arena::priority::low);
  arena.execute(work);
}

}  // namespace dusk
