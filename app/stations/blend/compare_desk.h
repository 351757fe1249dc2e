#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QComboBox;
class QListWidget;

namespace dusk {

/// States put aside, and the one that is looked at beside the present.
class CompareDesk : public Desk {
  Q_OBJECT
 public:
  explicit CompareDesk(Workbench& bench);

 private:
  void refresh();
  void follow();
  void addReference();
  void chooseReference();
  const BlendSnapshot* inHand() const;

  Workbench& bench_;
  QListWidget* list_;
  QComboBox *against_, *as_;
  bool hasReference_ = false;
};

}  // namespace dusk
