#pragma once
#include "core/blend/cut_out.h"
#include "core/blend/stack.h"
#include "core/deliver/outputs.h"

namespace dusk {

/// Blends a picture of which the passes come band by band: a row is finished once all is there that its
/// corrections look at. The rows come out as they would of the whole.
class BandBlend {
 public:
  /// `common`: all but the passes and the plate, which come later.
  BandBlend(const Shot& shot, BlendSources common, std::shared_ptr<const ColourView> view, bool wantsLight,
            bool wantsCodes);
  /// Takes the next rows of passes and plate (empty without one), and gives the rows that are finished now,
  /// which may be none.
  FinishedRows add(std::shared_ptr<const Passes> passes, Picture plate, Picture shownPlate);
  const std::vector<std::string>& notes() const { return notes_; }

 private:
  FinishedRows finish(const BlendSources& sources);
  void append(const Passes& passes, const Picture& plate, const Picture& shownPlate);
  void dropAbove(int row);

  const Shot& shot_;
  BlendSources common_;
  std::shared_ptr<const ColourView> view_;
  bool wantsLight_, wantsCodes_;
  int first_ = 0, end_ = 0, finished_ = 0;  ///< rows that are kept, and those that are done
  Passes kept_;
  Picture plate_, shown_;
  std::vector<std::string> notes_;
};

}  // namespace dusk
