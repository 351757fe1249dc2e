#pragma once
#include <QFutureWatcher>
#include <QtConcurrent>

#include "core/base/background.h"

namespace dusk {

/// What runs on another thread: a future of it, and what is to be done with what comes of it.
template <class T>
class Aside {
 public:
  explicit Aside(QFuture<T> future) : future_(std::move(future)) {}
  operator QFuture<T>() const { return future_; }
  /// On the context's thread, unless that is gone by then. (The toolkit's own continuations may be called
  /// after what they belong to was freed: a watcher that is the context's child is not.)
  template <class Then>
  void then(QObject* context, Then act) const {
    auto* watcher = new QFutureWatcher<T>(context);
    QObject::connect(watcher, &QFutureWatcherBase::finished, context, [watcher, act = std::move(act)] {
      watcher->deleteLater();
      if constexpr (std::is_void_v<T>) {
        if (!watcher->isCanceled()) act();
      } else {
        if (watcher->future().resultCount() > 0) act(watcher->result());
      }
    });
    watcher->setFuture(future_);
  }

 private:
  QFuture<T> future_;
};

/// Runs `work` on a thread that gives way to the window.
template <class Work>
auto runAside(QThreadPool* pool, Work work) {
  return Aside(QtConcurrent::run(pool, [work = std::move(work)] {
    giveWay();
    return work();
  }));
}
template <class Work>
auto runAside(Work work) {
  return runAside(QThreadPool::globalInstance(), std::move(work));
}

}  // namespace dusk
