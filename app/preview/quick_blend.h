#pragma once
#include <atomic>

#include "app/preview/blended.h"

namespace dusk {

/// Pictures that keep up with a hand that pulls at something: where the blend takes longer than that at full
/// size, it is made at a share of it and brought up. Safe to call from several threads, which wait for each
/// other.
class QuickBlend {
 public:
  /// How long a picture of so many pixels took.
  void took(double seconds, size_t pixels);
  /// How many times smaller, each way, the next one is to be; 1: at full size it keeps up. `first`: of a
  /// pull, which may be at what is dearer than what was pulled at last.
  int step(bool first = false) const { return first ? dearest_ : step_; }
  /// Made so many times smaller, and as large as the input again; nothing when `outdated` says, once it is
  /// its turn, that nobody waits for it.
  std::optional<QImage> image(const Shot& shot, const BlendInput& input, const ColourView& view, int step,
                              const std::function<bool()>& outdated);

 private:
  const BlendInput& smaller(const BlendInput& input, int step);

  std::atomic<int> step_{1}, dearest_{1};
  std::mutex mutex_;
  StackMaker stacks_;
  Evaluator evaluator_;
  int smallerBy_ = 0;
  BlendInput of_, small_;  ///< the newest input, and the same so many times smaller
};

}  // namespace dusk
