#pragma once
#include <set>

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
  void forget();
  std::vector<Finding> known() const;
  void fill();
  void proveAll();
  void prove();
  QWidget* rowOf(const Finding& finding);
  void mendAll();
  void mendNext();
  void mend(const std::vector<Finding>& findings, int gesture);

  Workbench& bench_;
  QLabel* summary_;
  QWidget* rows_;
  QPushButton *all_, *mendAll_;
  std::shared_ptr<const Proofs> live_;  ///< measured with the picture; nullptr: none is there yet
  std::vector<Finding> slow_;           ///< when all was asked for
  bool isStale_ = false;                ///< those are of the project before it was changed
  bool provesAgain_ = false;            ///< once the picture is there
  /// While one after the other is mended: what was tried already, by name and subject; and its undo step.
  std::optional<std::set<std::string>> tried_;
  int gesture_ = 0;
  std::vector<std::string> shown_;
  std::shared_ptr<const Passes> passes_;
};

}  // namespace dusk
