#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QListWidget;

namespace dusk {

/// The frames of the shot: crops that are delivered, with their sizes.
class FramesDesk : public Desk {
  Q_OBJECT
 public:
  explicit FramesDesk(Workbench& bench);

 private:
  void fillList();
  void addSize();
  /// What the frame makes of the photo's pixels.
  void tellOfSize();
  const PictureFrame* inHand(const Project& p) const;
  PictureFrame* inHand(Project& p) const;

  QListWidget* list_;
};

}  // namespace dusk
