#include "core/surface/print_room.h"

#include <limits>

namespace dusk {

std::optional<PrintRoom> roomFor(const Decal& decal, const Model& model, const Part& part, double unitMm) {
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
  // Corners of facets stand apart: what goes nearly round goes round.
  const double round = 2 * pi * double(endless.radius);
  if (decal.lay == DecalLay::wrapped && high.x - low.x > 0.9 * round) low.x = -round / 2, high.x = round / 2;
  return PrintRoom{low, high};
}

void fitOn(Decal& decal, const Model& model, const Part& part, double unitMm, double proportion) {
  const auto room = roomFor(decal, model, part, unitMm);
  if (!room) return;
  const Vec2d size = room->size();
  const double most = std::min(size.x, size.y / std::max(proportion, 1e-6));
  constexpr double over = 1.02;  // a label of its face's own size stays as it was drawn
  if (decal.widthMm <= most * over) return;
  decal.widthMm = most;
  const Vec2d half = Vec2d(most, most * proportion) / 2;
  const auto into = [](double low, double high, double half) {
    return low + half > high - half ? (low + high) / 2 : std::clamp(0.0, low + half, high - half);
  };
  const Vec2f by(float(into(room->low.x, room->high.x, half.x)),
                 float(into(room->low.y, room->high.y, half.y)));
  decal.at = toDouble(pointOf(decal, frameOf(decal, unitMm, float(proportion)), by)) / unitMm;
}

}  // namespace dusk
