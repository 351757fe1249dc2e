#pragma once
#include <QImage>

#include <mutex>

#include "app/preview/shown_share.h"
#include "core/blend/cut_out.h"
#include "core/blend/stack.h"

namespace dusk {

/// What a picture for the screen is blended from.
struct BlendInput {
  std::shared_ptr<const Passes> passes;
  std::shared_ptr<const Picture> plate, shownPlate;
  std::shared_ptr<const Scene> scene;
  std::shared_ptr<AssetStore> assets;
  int wholeWidth = 0, wholeHeight = 0;
  PixelArea area;
};

/// Makes stacks of inputs, and keeps the cut-outs they were made with. For one thread at a time.
class StackMaker {
 public:
  Stack stackOf(const Shot& shot, const BlendInput& input, const std::optional<ShownShare>& share = {});

 private:
  std::weak_ptr<AssetStore> assets_;  ///< what the cut-outs are of: not kept alive by them
  std::unique_ptr<CutOutStore> cutOuts_;
};

/// The picture of a stack, as it is shown.
QImage shownImage(Stack stack, const ColourView& view, Evaluator& evaluator);

/// Pictures for the screen, each made of what the one before left. Safe to call from several threads, which
/// wait for each other.
class Blended {
 public:
  /// Two states of one shot may be looked at in turn: each is made of what it left itself.
  enum class State { present, other };
  struct Image {
    QImage picture;
    QImage plain;        ///< the same, what a share leaves alone turned grey; null without one
    double seconds = 0;  ///< it took, waiting left out
  };
  /// The shot's blend, or nothing when `outdated` says, once it is its turn, that nobody waits for it.
  std::optional<Image> image(State state, const Shot& shot, const BlendInput& input, const ColourView& view,
                             const std::optional<ShownShare>& share, std::vector<std::string>& notes,
                             const std::function<bool()>& outdated);
  /// The same as display code values, for measuring.
  Picture codes(const Shot& shot, const BlendInput& input, const ColourView& view);

 private:
  std::mutex mutex_;
  StackMaker stacks_;
  Evaluator evaluators_[2];  ///< [state]
  Evaluator shares_;
};

}  // namespace dusk
