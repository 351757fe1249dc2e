#pragma once
#include <QElapsedTimer>

#include "app/document/session.h"

namespace dusk {

/// A run of small steps (a key pressed again and again, a wheel turned) is one undo step: the gesture of
/// those of a kind that come within a moment of each other.
class StepRun {
 public:
  int gesture(int kind = 0) {
    if (!id_ || kind != kind_ || !clock_.isValid() || clock_.elapsed() > 1200) id_ = Session::newGesture();
    kind_ = kind;
    clock_.restart();
    return id_;
  }
  /// What comes next is another run.
  void end() { id_ = 0; }

 private:
  int id_ = 0, kind_ = 0;
  QElapsedTimer clock_;
};

}  // namespace dusk
