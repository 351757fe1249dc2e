#pragma once
#include <array>
#include <deque>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/project/project.h"

namespace dusk {

/// Undo as a list of earlier values. Steps of one gesture (a drag, a run of nudges) share a `gesture` number
/// and become one step; 0 never joins. Products, surfaces, rigs and shots that are equal in two neighbouring
/// steps are held once; the oldest steps go when all together take more than `limitBytes`.
class History {
 public:
  explicit History(Project start = {}, size_t limitBytes = size_t{64} << 20);

  /// Stays where it is through the next few edits: what reads it while it edits does not lose it.
  const Project& now() const { return *now_; }
  /// Takes `next` as the present; everything undone is forgotten. Does nothing when nothing differs. A
  /// gesture that ends where it began leaves no step.
  void push(Project next, std::string what, int gesture = 0);
  /// Takes back a gesture as if it had not been, where its step is the newest; else does nothing.
  void revert(int gesture);

  bool canUndo() const { return at_ > 0; }
  bool canRedo() const { return at_ + 1 < steps_.size(); }
  void undo();
  void redo();
  /// What undo would take back, and redo bring again; empty when nothing.
  std::string undoText() const { return canUndo() ? steps_[at_].what : ""; }
  std::string redoText() const { return canRedo() ? steps_[at_ + 1].what : ""; }

  bool isSaved() const { return saved_ == now(); }
  void markSaved() { saved_ = now(); }
  void markSaved(const Project& saved) { saved_ = saved; }
  /// Changes every step alike: links that lead elsewhere now. `change` must keep ids.
  void rewrite(const std::function<void(Project&)>& change);

  /// About what all steps take.
  size_t bytes() const;
  size_t size() const { return steps_.size(); }

 private:
  /// A project in pieces that neighbours share.
  struct Pieces {
    std::string name;
    std::vector<std::shared_ptr<const Product>> products;
    std::vector<std::shared_ptr<const Surface>> surfaces;
    std::vector<std::shared_ptr<const Rig>> rigs;
    std::vector<std::shared_ptr<const Shot>> shots;
    std::shared_ptr<const std::pair<std::vector<VariantAxis>, std::vector<ExcludedPair>>> variants;
  };
  struct Step {
    Pieces pieces;
    std::string what;
    int gesture = 0;
    size_t ownBytes = 0;  ///< of what the step before does not hold
  };
  static Pieces taken(const Project& project, const Pieces* like);
  static Project assembled(const Pieces& pieces);
  static size_t bytesBeside(const Pieces& pieces, const Pieces* before);
  void become(Project project);
  void measure(size_t step);
  void forgetOldest();

  size_t limit_;
  std::deque<Step> steps_;
  size_t at_ = 0;
  std::shared_ptr<const Project> now_;
  std::array<std::shared_ptr<const Project>, 8> before_;  ///< the last presents, kept for their readers
  size_t nextBefore_ = 0;
  Project saved_;
};

}  // namespace dusk
