#pragma once
#include <string>
#include <vector>

#include "core/project/project.h"

namespace dusk {

/// Undo as a list of earlier values. Steps of one gesture (a drag, a turned wheel) share a `gesture` number
/// and become one step; 0 never joins.
class History {
 public:
  explicit History(Project start = {}) : steps_{{std::move(start), {}, 0}} {}

  const Project& now() const { return steps_[at_].project; }
  /// Takes `next` as the present; everything undone is forgotten. Does nothing when nothing differs.
  void push(Project next, std::string what, int gesture = 0);

  bool canUndo() const { return at_ > 0; }
  bool canRedo() const { return at_ + 1 < steps_.size(); }
  void undo() { at_ -= canUndo(); }
  void redo() { at_ += canRedo(); }
  /// What undo would take back, and redo bring again; empty when nothing.
  std::string undoText() const { return canUndo() ? steps_[at_].what : ""; }
  std::string redoText() const { return canRedo() ? steps_[at_ + 1].what : ""; }

  bool isSaved() const { return saved_ == now(); }
  void markSaved() { saved_ = now(); }

 private:
  struct Step {
    Project project;
    std::string what;
    int gesture;
  };
  std::vector<Step> steps_;
  size_t at_ = 0;
  Project saved_ = steps_[0].project;
};

}  // namespace dusk
