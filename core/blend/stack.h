#pragma once
#include "core/assets/asset_store.h"
#include "core/blend/mask.h"
#include "core/trace/scene.h"

namespace dusk {

class CutOutStore;

/// What a picture is blended from. `plate` and `shownPlate` (its display code values) have the passes' size,
/// or are nullptr.
struct BlendSources {
  std::shared_ptr<const Passes> passes;
  std::shared_ptr<const Picture> plate, shownPlate;
  int width = 0, height = 0;     ///< of the whole picture; 0: as the passes
  PixelArea area{};              ///< the piece of it that the passes show; empty: all
  int plateWidth = 0;            ///< of the photo; 0: as the picture
  AssetStore* assets = nullptr;  ///< of layers' pictures and colour tables; nullptr: those are left out
  CutOutStore* cutOuts = nullptr;
  PixelArea crop{};  ///< what is delivered of the picture, by which layers are anchored; empty: all
  bool withoutProduct = false;          ///< the place alone, through all that is done to the whole picture
  std::vector<std::string> partOfId{};  ///< [id - 1], of the passes' covers
  std::optional<Vec3d> product{};       ///< the spot of the first placed product
  // What is wanted besides the picture (see Stack::taken):
  const std::vector<Mask>* masks = nullptr;  ///< of the shot
  std::string cutOut{};                      ///< by its id; empty: none
};
/// What masks ask of a scene, put into `sources`.
void tellOfScene(BlendSources& sources, const Scene& scene, const Shot& shot);

/// The finished picture as a graph.
struct Stack {
  NodePtr light;  ///< scene-linear, 3 channels
  NodePtr plate;  ///< as it came in; nullptr without one
  std::shared_ptr<const Picture> shownPlate;
  NodePtr cover;  ///< of the product, by channel, as far as it is seen; nullptr without it
  NodePtr taken;  ///< by the masks or the cut-out asked for, 1 channel; nullptr where it is everything
  struct Stage {
    std::string name;
    NodePtr light;  ///< the picture up to here
  };
  std::vector<Stage> stages;       ///< one for each row or layer that did something, the plate first
  std::vector<std::string> notes;  ///< what had to be left out, and why
};

/// The rows of the blend, from the plate to the view, as one graph. A row that asks for nothing costs
/// nothing, and where nothing changes the plate its values come out to the last bit.
Stack buildStack(const Shot& shot, const BlendSources& sources);

/// Whether the blend needs more of the passes than beauty, alpha, ratio, reflection and depth (see
/// Film::resolve).
bool needsAllPasses(const BlendSettings& blend);

/// The picture, scene-linear: an area of it, or all there is.
Picture lightOf(const Stack& stack, const PixelArea& area, Evaluator& evaluator);
inline Picture lightOf(const Stack& stack, Evaluator& evaluator) {
  return lightOf(stack, stack.light->whole, evaluator);
}
/// Display code values 0..1. Pixels that nothing changed take the plate's own, which makes the identity rule
/// hold bit for bit.
Picture codesOf(const Stack& stack, const PixelArea& area, const ColourView& view, Evaluator& evaluator);
inline Picture codesOf(const Stack& stack, const ColourView& view, Evaluator& evaluator) {
  return codesOf(stack, stack.light->whole, view, evaluator);
}
/// The same in 8 bits, R, G, B: `take(y, x, count, codes)` is called from several threads for pieces of rows.
using TakeCodes = std::function<void(int y, int x, int count, const uint8_t* rgb)>;
void codes8Of(const Stack& stack, const ColourView& view, Evaluator& evaluator, const TakeCodes& take);

}  // namespace dusk
