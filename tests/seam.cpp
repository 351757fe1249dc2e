// Compiled for the thread sanitizer alone: stands before the toolkit's own functions by which threads hand
// things over, marks that, and calls them.
#include "tests/seam.h"

#include <dlfcn.h>

#include <QFutureInterface>
#include <QRunnable>
#include <QThreadPool>

extern "C" void __tsan_acquire(void*);
extern "C" void __tsan_release(void*);

namespace dusk::seam {
namespace {

char all;  // one for everything: who takes over comes after all that was handed over until then

template <typename Function>
Function* next(const char* symbol) {
  return reinterpret_cast<Function*>(dlsym(RTLD_NEXT, symbol));
}

/// Runs another that was handed over.
class Handed : public QRunnable {
 public:
  explicit Handed(QRunnable* of) : of_(of) {}
  void run() override {
    takeOver();
    const bool isMine = of_->autoDelete();
    of_->run();
    if (isMine) delete of_;
    handOver();
  }

 private:
  QRunnable* of_;
};

}  // namespace

void handOver() { __tsan_release(&all); }
void takeOver() { __tsan_acquire(&all); }

}  // namespace dusk::seam

using dusk::seam::handOver, dusk::seam::next, dusk::seam::takeOver;

void QThreadPool::start(QRunnable* runnable, int priority) {
  static auto* const own = next<void(QThreadPool*, QRunnable*, int)>("_ZN11QThreadPool5startEP9QRunnablei");
  auto* handed = new dusk::seam::Handed(runnable);
  handOver();
  own(this, handed, priority);
}

void QThreadPool::start(std::function<void()> work, int priority) {
  start(QRunnable::create(std::move(work)), priority);
}

bool QThreadPool::waitForDone(int milliseconds) {
  static auto* const own = next<bool(QThreadPool*, int)>("_ZN11QThreadPool11waitForDoneEi");
  const bool done = own(this, milliseconds);
  takeOver();
  return done;
}

void QFutureInterfaceBase::reportFinished() {
  static auto* const own = next<void(QFutureInterfaceBase*)>("_ZN20QFutureInterfaceBase14reportFinishedEv");
  handOver();
  own(this);
}

void QFutureInterfaceBase::waitForFinished() {
  static auto* const own = next<void(QFutureInterfaceBase*)>("_ZN20QFutureInterfaceBase15waitForFinishedEv");
  own(this);
  takeOver();
}

bool QMetaObject::invokeMethodImpl(QObject* object, QtPrivate::QSlotObjectBase* slot, Qt::ConnectionType type,
                                   void* result) {
  static auto* const own = next<bool(QObject*, QtPrivate::QSlotObjectBase*, Qt::ConnectionType, void*)>(
      "_ZN11QMetaObject16invokeMethodImplEP7QObjectPN9QtPrivate15QSlotObjectBaseEN2Qt14ConnectionTypeEPv");
  handOver();
  return own(object, slot, type, result);
}

void QMetaObject::activate(QObject* sender, const QMetaObject* of, int signal, void** arguments) {
  static auto* const own =
      next<void(QObject*, const QMetaObject*, int, void**)>("_ZN11QMetaObject8activateEP7QObjectPKS_iPPv");
  handOver();
  own(sender, of, signal, arguments);
}
