#pragma once
#include "core/blend/cut_out.h"
#include "core/blend/stack.h"

namespace dusk {

/// What is made of a crop of the picture.
struct BlendLook {
  PixelArea area;
  bool light = false, codes = false;
  bool layered = false;  ///< the product apart: the picture without it, too, and its cover
  bool staged = false;   ///< the picture after each row of the blend
};

/// Some rows of a finished crop; each picture is empty where its look does not ask for it.
struct FinishedRows {
  PixelArea area;                         ///< where they lie in the picture; may be empty
  Picture light, codes;                   ///< scene-linear, and as display code values
  Picture belowLight, belowCodes, cover;  ///< without the product, and its cover by channel
  std::vector<Picture> stages, stageLight;
};

/// Blends a picture of which the passes come band by band: a row is finished once all is there that its
/// corrections look at. The rows come out as they would of the whole.
class BandBlend {
 public:
  /// `common`: all but the passes and the plate, which come later; its area is all of them that will come.
  BandBlend(const Shot& shot, BlendSources common, std::shared_ptr<const ColourView> view,
            std::vector<BlendLook> looks);
  /// Takes the next rows of passes and plate (empty without one), and gives the rows of each look that are
  /// finished now.
  std::vector<FinishedRows> add(std::shared_ptr<const Passes> passes, Picture plate, Picture shownPlate);
  const std::vector<std::string>& notes() const { return notes_; }
  /// Names of the stages that come.
  const std::vector<std::string>& stageNames() const { return stageNames_; }

 private:
  std::vector<FinishedRows> finish(const BlendSources& sources);
  FinishedRows rowsOf(const BlendLook& look, BlendSources sources, int from, int to);
  void append(const Passes& passes, const Picture& plate, const Picture& shownPlate);
  void dropAbove(int row);

  const Shot& shot_;
  BlendSources common_;
  std::shared_ptr<const ColourView> view_;
  std::vector<BlendLook> looks_;
  int first_, end_, finished_;  ///< rows that are kept, and those that are done
  Passes kept_;
  Picture plate_, shown_;
  std::vector<std::string> notes_, stageNames_;
};

}  // namespace dusk
