#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QCheckBox;
class QComboBox;
class QListWidget;

namespace dusk {

/// Things of the photo that stand in front of the product.
class FrontDesk : public Desk {
  Q_OBJECT
 public:
  explicit FrontDesk(Workbench& bench);

 protected:
  void hideEvent(QHideEvent*) override;

 private:
  void addStandInFields();
  void showStandIns(const CutOut* inHand);
  void giveStandIn();
  void followShare(const CutOut* inHand);
  bool showsCutOut() const;

  Workbench& bench_;
  QListWidget* list_;
  QCheckBox* shows_ = nullptr;
  QPushButton* giveStandIn_ = nullptr;
  QComboBox* standIns_ = nullptr;
  QWidget* standInRow_ = nullptr;
};

}  // namespace dusk
