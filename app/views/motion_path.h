#pragma once
#include <optional>

#include "app/views/tool.h"

namespace dusk {

/// The way of the product in hand on the photo's ground: a dot for each picture, so that how far apart they
/// are tells the speed, and a sun for each key, which can be dragged along the ground.
class MotionPath : public Tool {
 public:
  using Tool::Tool;
  void paint(QPainter& painter) override;
  bool press(const Vec2d& at, Qt::KeyboardModifiers) override;
  void drag(const Vec2d& at, Qt::KeyboardModifiers) override;
  Qt::CursorShape cursor(const Vec2d& at) override;
  /// Where a key of its way is seen, in pixels of the plate; nothing where it is not, or nothing moves.
  std::optional<Vec2d> sunAt(size_t key) const;
  /// How fast it moves at the moment in hand, m/s.
  double speed() const;

 private:
  const MotionTrack* track() const;
  std::optional<Vec3d> placeAt(double seconds) const;
  std::optional<Vec2d> seenAt(double seconds) const;
  std::optional<size_t> sunUnder(const Vec2d& at) const;

  size_t pulled_ = 0;
};

}  // namespace dusk
