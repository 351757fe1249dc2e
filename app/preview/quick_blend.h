#pragma once
#include <atomic>

#include "app/preview/blended.h"

namespace dusk {

/// Pictures that keep up with a hand that pulls at something: where the blend takes longer than that at full
/// size, only what changes is made, at a share of the size, and put on the last fine picture. Safe to call
/// from several threads, which wait for each other.
class QuickBlend {
 public:
  /// The newest fine picture, what it was made of, and how long it took.
  void fine(const QImage& picture, double seconds, const Shot& shot, const BlendInput& input);
  /// How many times smaller, each way, the next one is to be; 1: at full size it keeps up. `first`: of a
  /// pull, which may be at what is dearer than what was pulled at last.
  int step(bool first = false) const { return first ? dearest_ : step_; }
  /// Made so many times smaller, and as large as the input; nothing when `outdated` says, once it is its
  /// turn, that nobody waits for it.
  std::optional<QImage> image(const Shot& shot, const BlendInput& input, const ColourView& view, int step,
                              const std::function<bool()>& outdated);

 private:
  /// What was made last, and of what.
  struct Fine {
    QImage picture;
    Shot shot;
    BlendInput input;
  };
  const BlendInput& smaller(const BlendInput& input, int step);
  /// The fine picture's small one; null where that is of something else than the input.
  const QImage& before(const BlendInput& input, const ColourView& view, int step);

  std::atomic<int> step_{1}, dearest_{1};
  std::mutex fineMutex_;
  std::shared_ptr<const Fine> fine_;
  std::mutex mutex_;  ///< of all below
  StackMaker stacks_;
  Evaluator evaluator_;
  int smallerBy_ = 0;
  BlendInput of_, small_;  ///< the newest input, and the same so many times smaller
  std::shared_ptr<const Fine> beforeOf_;
  QImage before_;
};

}  // namespace dusk
