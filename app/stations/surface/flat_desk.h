#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

namespace dusk {

/// A surface taken off a level place of the photo, at true size: the frame is dragged over it in the picture,
/// its picture is written where the person says, and then it can be worn, or laid down as a slab.
class FlatDesk : public Desk {
  Q_OBJECT
 public:
  explicit FlatDesk(Workbench& bench);

 private:
  /// What was taken: a surface that wears its picture.
  struct Taken {
    Surface surface;
    Vec2d sizeMm;
    bool isLit = false;
  };
  static Result<Taken> taken(const Shot& shot, AssetStore& assets, double heightM, const Vec2d& corner,
                             const Vec2d& opposite, const std::filesystem::path& file);
  double heightM() const;
  void take(const Vec2d& corner, const Vec2d& opposite);
  void keep(const Taken& taken);
  void lay(const std::string& surface, const Vec2d& sizeMm);

  Workbench& bench_;
  QComboBox* level_;
};

}  // namespace dusk
