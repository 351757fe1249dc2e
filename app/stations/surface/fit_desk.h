#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "core/trace/fit.h"

namespace dusk {

/// A surface fitted to what the photo shows of the real thing: the frame is dragged over it in the picture,
/// the answer comes with its margins, and three small pictures say how near it came.
class FitDesk : public Desk {
  Q_OBJECT
 public:
  explicit FitDesk(Workbench& bench);

 private:
  struct Answer {
    SurfaceFit fit;
    FitPatch patch;
    std::string part, placement;
  };
  static Result<Answer> fitted(const Project& project, size_t shot, AssetStore& assets, GeometryCache& cache,
                               const Vec2d& corner, const Vec2d& opposite, Progress& progress);
  void fit(const Vec2d& corner, const Vec2d& opposite);
  void show(const Answer& answer);

  Workbench& bench_;
  QLabel* words_;
  QWidget* pictures_;   ///< photo, fit and what is left, side by side
  QLabel* patches_[3];  ///< those, in that order
};

}  // namespace dusk
