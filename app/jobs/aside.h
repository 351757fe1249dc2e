#pragma once
#include <QtConcurrent>

#include "core/base/background.h"

namespace dusk {

/// Runs `work` on a thread that gives way to the window; what comes of it is the future's.
template <class Work>
auto runAside(QThreadPool* pool, Work work) {
  return QtConcurrent::run(pool, [work = std::move(work)] {
    giveWay();
    return work();
  });
}
template <class Work>
auto runAside(Work work) {
  return runAside(QThreadPool::globalInstance(), std::move(work));
}

}  // namespace dusk
