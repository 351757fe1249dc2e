#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "core/colour/config.h"

class QLabel;

namespace dusk {

/// By what the picture is shown: one of our views, or a display, view and look of an OpenColorIO
/// configuration of one's own; and how the photo fares by it.
class ViewDesk : public Desk {
  Q_OBJECT
 public:
  explicit ViewDesk(Workbench& bench);

 signals:
  /// The configuration is at hand now: a desk made anew shows what it offers.
  void configRead();

 private:
  void ours();
  void read();
  void fields(const std::shared_ptr<const ColourConfig>& config);
  void tellTrip();
  void takeConfig();
  BlendSettings& blend(Project& p) const { return session_.shotIn(p).blend; }
  const BlendSettings& blend(const Project& p) const { return session_.shotIn(p).blend; }

  Workbench& bench_;
  QLabel* trip_;
  BlendSettings told_;
};

}  // namespace dusk
