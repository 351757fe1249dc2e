#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QListWidget;

namespace dusk {

/// Spots of the photo that must go.
class CleanDesk : public Desk {
  Q_OBJECT
 public:
  explicit CleanDesk(Workbench& bench);

 protected:
  void hideEvent(QHideEvent*) override;

 private:
  const CleanUp* inHand() const;

  Workbench& bench_;
  QListWidget* list_;
};

}  // namespace dusk
