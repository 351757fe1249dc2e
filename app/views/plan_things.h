#pragma once
#include <QPolygonF>

#include "app/document/session.h"

namespace dusk {

/// Something that stands on the ground, as the plan shows it.
struct PlanThing {
  enum class Kind { product, piece, standIn };
  Kind kind = Kind::product;
  std::string id, name;
  QPolygonF outline;  ///< from above, metres, X to the right and Y up
  Vec2d at{0, 0};     ///< where it stands
  bool selected = false, on = true;
  std::optional<Vec2d> front{};  ///< the middle of its front, of a product
  double areaM2() const;
};

/// All of a shot's, larger ones first, so that what stands on others is drawn, and met, after them. A model
/// that is not loaded yet stands as a square.
std::vector<PlanThing> planThings(const Session& session);

/// The last of them at a point, or whose middle is within `reach` metres of it; nullptr where none is. What
/// is larger than `mostM2` is a floor one walks on, unless it is selected.
const PlanThing* thingAt(const std::vector<PlanThing>& things, const Vec2d& at, double reach, double mostM2);

/// The convex hull (Andrew 1979, "Another Efficient Algorithm for Convex Hulls in Two Dimensions").
QPolygonF hullOf(std::vector<Vec2d> points);

}  // namespace dusk
