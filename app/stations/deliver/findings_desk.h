#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

namespace dusk {

/// What the proofs find off, before it is handed over: with where that is put right, and what the program can
/// mend by itself.
class FindingsDesk : public Desk {
  Q_OBJECT
 public:
  explicit FindingsDesk(Workbench& bench);

 private:
  void show(const std::shared_ptr<const Proofs>& proofs);
  void fill();
  void proveAll();
  QWidget* rowOf(const Finding& finding);
  void mendIt(const Finding& finding);

  Workbench& bench_;
  QLabel* summary_;
  QWidget* rows_;
  QPushButton* all_;
  std::shared_ptr<const Proofs> live_;  ///< measured with the picture; nullptr: none is there yet
  std::vector<Finding> slow_;           ///< when all was asked for
  std::vector<std::string> shown_;
  std::shared_ptr<const Passes> passes_;
};

}  // namespace dusk
