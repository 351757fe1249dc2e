#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QListWidget;

namespace dusk {

/// Cameras of a picture without a photo that were put aside under names, and the lock against accidents.
class CameraDesk : public Desk {
  Q_OBJECT
 public:
  explicit CameraDesk(Workbench& bench);

 private:
  std::string inHand() const;
  void keep();
  void use(const std::string& id);
  void forget(const std::string& id);
  void fill();
  bool isByHand() const;

  QListWidget* list_;
  std::vector<KeptCamera> filled_;  ///< what the list shows, and the camera in hand at its end
};

}  // namespace dusk
