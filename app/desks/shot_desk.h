#pragma once
#include "app/desk.h"

namespace dusk {

/// Fields for plain numbers of the shot.
class ShotDesk : public Desk {
 protected:
  using Desk::Desk;
  template <typename Group>
  void shotNumber(const char* label, const Range& range, const char* tip, Group Shot::*group,
                  double Group::*member) {
    number(
        label, range, tip, [=](const Project& p) { return std::optional(p.shots[0].*group.*member); },
        [=](Project& p, double v) { p.shots[0].*group.*member = v; });
  }
};

}  // namespace dusk
