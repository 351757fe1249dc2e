#include "core/surface/print_room.h"

#include <limits>

namespace dusk {

std::optional<Vec2d> roomFor(const Decal& decal, const Model& model, const Part& part, double unitMm) {
  DecalFrame endless = frameOf(decal, unitMm, 1);
  endless.size = Vec2f(std::numeric_limits<float>::max());
  const Mesh& mesh = model.meshOf(part);
  Vec2d low(std::numeric_limits<double>::max()), high = -low;
  for (size_t t = 0; t + 2 < mesh.indices.size(); t += 3) {
    Vec3f corner[3];
    for (size_t k = 0; k < 3; ++k)
      corner[k] = toFloat(part.place.point(toDouble(mesh.positions[mesh.indices[t + k]])) * unitMm);
    const Vec3f across = (corner[1] - corner[0]).cross(corner[2] - corner[0]);
    if (across.length() <= 0) continue;
    for (const Vec3f& c : corner)
      if (const auto on = onDecal(decal, endless, c, across.normalized())) {
        low = {std::min(low.x, double(on->x)), std::min(low.y, double(on->y))};
        high = {std::max(high.x, double(on->x)), std::max(high.y, double(on->y))};
      }
  }
  if (high.x <= low.x || high.y <= low.y) return {};
  Vec2d room = high - low;
  // Corners of facets stand apart: what goes nearly round goes round.
  const double round = 2 * pi * double(endless.radius);
  if (decal.lay == DecalLay::wrapped && room.x > 0.9 * round) room.x = round;
  return room;
}

}  // namespace dusk
