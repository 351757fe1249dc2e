#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QComboBox;
class QListWidget;

namespace dusk {

/// Things of the photo that stand in front of the product.
class FrontDesk : public Desk {
  Q_OBJECT
 public:
  explicit FrontDesk(Workbench& bench);

 private:
  void addStandInFields();
  void showStandIns(const CutOut* inHand);
  void giveStandIn();
  QListWidget* list_;
  QPushButton* giveStandIn_ = nullptr;
  QComboBox* standIns_ = nullptr;
  QWidget* standInRow_ = nullptr;
};

}  // namespace dusk
