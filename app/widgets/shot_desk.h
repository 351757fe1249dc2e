#pragma once
#include "app/widgets/desk.h"

namespace dusk {

/// Fields for plain numbers of the shot.
class ShotDesk : public Desk {
 protected:
  using Desk::Desk;
  template <typename Group>
  void shotNumber(const char* label, const Range& range, const char* tip, Group Shot::*group,
                  double Group::*member) {
    Range known = range;
    known.usual = Group{}.*member;
    number(
        label, known, tip,
        [=, this](const Project& p) { return std::optional(session_.shotIn(p).*group.*member); },
        [=, this](Project& p, double v) { session_.shotIn(p).*group.*member = v; });
  }
};

}  // namespace dusk
