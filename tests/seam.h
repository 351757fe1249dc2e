#pragma once

class QObject;
class QEvent;

/// Where the toolkit hands things from one thread to another. It is not built for the thread sanitizer, which
/// would take all that is handed over for a race; what is marked here it knows to have come after.
namespace dusk::seam {

#ifdef __SANITIZE_THREAD__
void handOver();
void takeOver();
/// An application that takes over what its events bring.
template <typename Application>
class Watched : public Application {
 public:
  using Application::Application;
  bool notify(QObject* receiver, QEvent* event) override {
    takeOver();
    return Application::notify(receiver, event);
  }
};
#else
template <typename Application>
using Watched = Application;
#endif

}  // namespace dusk::seam
