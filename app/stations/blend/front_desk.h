#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QListWidget;

namespace dusk {

/// Things of the photo that stand in front of the product.
class FrontDesk : public Desk {
  Q_OBJECT
 public:
  explicit FrontDesk(Workbench& bench);

 private:
  void giveStandIn();
  QListWidget* list_;
};

}  // namespace dusk
