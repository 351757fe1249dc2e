#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

namespace dusk {

/// Whether a feed of that kind has a size of its own; a picture's is its mapping's.
bool hasSize(const Feed& feed);

/// The fields of the feed in hand; only those that its kind, its value and its mapping have.
class FeedEditor : public Desk {
  Q_OBJECT
 public:
  explicit FeedEditor(Workbench& bench);

 private:
  void field(const QString& label, const Range& range, const QString& tip, double Feed::*member,
             bool (*has)(const Feed&));
  void end(const QString& label, const QString& tip, Vec3d Feed::*member);
  void ends();
  void mapping();
  void ruler();
  /// Thrown on from where the camera stands now.
  void fromCamera(Mapping& mapping) const;
  const Feed* now(const Project& p) const;
  Feed* now(Project& p) const;
  bool isColour() const;
  Workbench& bench_;
  double drawnMm_ = 0;  ///< the length that was drawn along the feed in hand, in its millimetres
};

}  // namespace dusk
