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

/// Pictures for the screen, each made of what the one before left. Safe to call from several threads, which
/// wait for each other.
class Blended {
 public:
  /// Two states of one shot may be looked at in turn: each is made of what it left itself.
  enum class State { present, other };
  struct Image {
    QImage picture;
    QImage plain;  ///< the same, what a share leaves alone turned grey; null without one
  };
  /// The shot's blend, or nothing when `outdated` says, once it is its turn, that nobody waits for it.
  std::optional<Image> image(State state, const Shot& shot, const BlendInput& input, const ColourView& view,
                             const std::optional<ShownShare>& share, std::vector<std::string>& notes,
                             const std::function<bool()>& outdated);
  /// The same as display code values, for measuring.
  Picture codes(const Shot& shot, const BlendInput& input, const ColourView& view);

 private:
  Stack stackOf(const Shot& shot, const BlendInput& input, const std::optional<ShownShare>& share = {});
  std::mutex mutex_;
  Evaluator evaluators_[2];  ///< [state]
  Evaluator shares_;
  std::shared_ptr<AssetStore> assets_;
  std::unique_ptr<CutOutStore> cutOuts_;
};

}  // namespace dusk
