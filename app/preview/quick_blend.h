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
  /// Tells one input from another; keeps nothing of it alive.
  struct Of {
    std::weak_ptr<const Passes> passes;
    std::weak_ptr<const Picture> plate;
    PixelArea area;
    int wholeWidth = 0;
    explicit Of(const BlendInput& input = {});
    bool is(const BlendInput& input) const;
  };
  struct Fine {
    QImage picture;
    Shot shot;
    Of of;
  };
  BlendInput smaller(const BlendInput& input, int step);
  /// The fine picture's small one; null where that is of something else than the input.
  QImage before(const BlendInput& input, const ColourView& view, int step);

  std::atomic<int> step_{1}, dearest_{1};
  std::mutex fineMutex_;
  std::shared_ptr<const Fine> fine_;
  std::mutex mutex_;  ///< of all below
  StackMaker stacks_;
  Evaluator evaluator_;
  int smallerBy_ = 0;
  Of of_;  ///< the newest input; its passes and plate so many times smaller:
  std::shared_ptr<const Passes> passes_;
  std::shared_ptr<const Picture> plate_;
  std::shared_ptr<const Fine> beforeOf_;
  QImage before_;
};

}  // namespace dusk
