#include "core/product/stand.h"

#include <algorithm>

namespace dusk {

StandSnap snappedToLines(const StandLines& lines, const Product& product, const Placement& placement,
                         const Model& model, double reachM) {
  StandSnap result{placement.xM, placement.yM, {}};
  const Vec3d size = trueSize(product, model.box());
  const double turn = wrapDegrees(placement.turnDegrees), quarter = std::round(turn / 90);
  const bool aligned =
      std::abs(turn - quarter * 90) < 0.3 && placement.leanXDegrees == 0 && placement.leanYDegrees == 0;
  const bool crossed = int(std::abs(quarter)) % 2 == 1;
  for (int along = 0; along < 2; ++along) {
    double& where = along == 0 ? result.yM : result.xM;
    const double half = (along == 0) != crossed ? size.y / 2 : size.x / 2;
    double best = reachM, by = 0, line = 0;
    for (const double level : along == 0 ? lines.alongA : lines.alongB)
      for (const double side : {0.0, half, -half}) {
        if (side != 0 && !aligned) continue;
        const double gap = level - (where + side);
        if (std::abs(gap) < best) best = std::abs(gap), by = gap, line = level;
      }
    if (best >= reachM) continue;
    where += by;
    result.lines.push_back(along == 0 ? StandLine{{result.xM, line}, {1, 0}}
                                      : StandLine{{line, result.yM}, {0, 1}});
  }
  return result;
}

bool isOnTop(const StandIn& s, const Vec2d& spot) {
  if (!s.on || !s.hasTop()) return false;
  const Vec2d off = spot - Vec2d(s.positionM.x, s.positionM.y);
  if (s.kind == StandInKind::cylinder) return off.length() <= s.sizeM.x / 2;
  const double a = radians(s.turnDegrees), c = std::cos(a), n = std::sin(a);
  return std::abs(c * off.x + n * off.y) <= s.sizeM.x / 2 &&
         std::abs(-n * off.x + c * off.y) <= s.sizeM.y / 2;
}

const StandIn* topUnder(const Shot& shot, const Vec2d& spot, double belowM) {
  const StandIn* best = nullptr;
  for (const StandIn& s : shot.standIns)
    if (isOnTop(s, spot) && s.topM() <= belowM && (!best || s.topM() > best->topM())) best = &s;
  return best;
}

double snappedTurn(double degrees, double reach) {
  const double run = std::round(degrees / 90) * 90;
  return std::abs(degrees - run) <= reach ? run : degrees;
}

}  // namespace dusk
