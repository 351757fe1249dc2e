#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "core/set/furnish.h"

namespace dusk {

/// Gives the shot in hand a set to begin with, for who has no photo; goes to Plate, where it is changed.
void beginSet(Session& session);

/// Pictures without a photo: whole sets, changed by a die and sliders, and single pieces.
class SetDesk : public Desk {
  Q_OBJECT
 public:
  explicit SetDesk(Workbench& bench);

 private:
  void buildSet();
  void buildPieces();
  void remake(Project& p, const std::function<void(SetRecipe&)>& change) const;
  void addOne(const QString& kind, const Vec3d& at);
  std::optional<double> productSize() const;
  void showSet();
  Workbench& bench_;
  QToolButton* fold_ = nullptr;  ///< of the set
  bool hadSet_ = false;          ///< when the desk was last brought up to date
};

}  // namespace dusk
