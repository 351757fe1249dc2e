#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "core/proof/match.h"

class QPushButton;

namespace dusk {

/// The photo's own character beside the product's: one line each with both values, the gap as a bar, and a
/// mark that takes it over or leaves it.
class MatchDesk : public Desk {
  Q_OBJECT
 public:
  explicit MatchDesk(Workbench& bench);

 private:
  class Line;
  struct Measured {
    PhotoCharacter photo;
    RenderCharacter render;
  };
  void measureAndMatch();
  bool isMeasured() const;
  void refresh();
  void match(MatchKind kind, bool on);
  void matchAll();

  Workbench& bench_;
  std::shared_ptr<const Measured> measured_;
  std::string of_;  ///< the shot and photo it was measured on
  std::shared_ptr<const Passes> passes_;
  std::vector<Line*> lines_;
  QLabel* told_;
  QPushButton* all_;
};

}  // namespace dusk
