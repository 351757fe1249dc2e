#include "core/project/history.h"

namespace dusk {

void History::push(Project next, std::string what, int gesture) {
  if (next == now()) return;
  const bool joins = gesture != 0 && at_ > 0 && steps_[at_].gesture == gesture;
  steps_.resize(at_ + 1);
  if (joins) {
    steps_[at_].project = std::move(next);
    // A drag that ends where it began is no step.
    if (steps_[at_].project == steps_[at_ - 1].project) {
      steps_.pop_back();
      --at_;
    }
    return;
  }
  steps_.push_back({std::move(next), std::move(what), gesture});
  ++at_;
}

}  // namespace dusk
