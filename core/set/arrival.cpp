#include "core/set/arrival.h"

#include "core/light/backdrop.h"
#include "core/light/hand_camera.h"
#include "core/project/by_id.h"
#include "core/set/furnish.h"
#include "core/vantage/first_spot.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

double largest(const Vec3d& size) { return std::max({size.x, size.y, size.z}); }

/// Before one colour, with nothing else there, the camera goes to what comes.
bool isAwaited(const Shot& shot) { return isEven(shot.backdrop) && !shot.backdrop.locked; }

void goTo(Shot& shot, Placement& placement, const Vec3d& sizeM) {
  lookAtThing(shot.backdrop, sizeM);
  placement.xM = shot.backdrop.aimXM, placement.yM = shot.backdrop.aimYM;
  setCameraByHand(shot);
}

}  // namespace

std::optional<Vec2d> spotBeside(const Project& project, const Shot& shot, const Vec3d& sizeM,
                                const SizeOf& sizeOf) {
  if (!shot.vantage.solved) return {};
  std::vector<TakenSpot> taken;
  for (const Placement& at : shot.placements)
    if (const Product* product = byId(project.products, at.productId))
      if (const auto other = sizeOf(*product))
        taken.push_back({{at.xM, at.yM}, std::hypot(other->x, other->y) / 2});
  return firstSpot(workingCamera(shot.vantage), sizeM, taken);
}

void arrive(Project& project, size_t index, Placement& placement, const Vec3d& sizeM, const SizeOf& sizeOf) {
  suitFirst(project, index, largest(sizeM));
  Shot& shot = project.shots[index];
  if (standOnStage(shot, placement)) return;
  if (isAwaited(shot) && shot.placements.empty()) return goTo(shot, placement, sizeM);
  if (const auto spot = spotBeside(project, shot, sizeM, sizeOf))
    placement.xM = spot->x, placement.yM = spot->y;
}

void arriveAgain(Project& project, size_t index, const std::string& id, const Vec3d& wasM, const Vec3d& sizeM,
                 const SizeOf& sizeOf) {
  if (suitAgain(project, index, largest(wasM), largest(sizeM))) return;
  Shot& shot = project.shots[index];
  Placement* placement = byId(shot.placements, id);
  if (!placement || !placement->levelId.empty()) return;
  if (isAwaited(shot) && shot.placements.size() == 1) {
    Backdrop before = shot.backdrop;
    lookAtThing(before, wasM);
    const HandLook then = lookOf(before), now = lookOf(shot.backdrop);
    if ((then.position - now.position).length() < 1e-6 * before.distanceM) goTo(shot, *placement, sizeM);
    return;
  }
  Shot others = shot;
  std::erase_if(others.placements, [&](const Placement& p) { return p.id == id; });
  const auto before = spotBeside(project, others, wasM, sizeOf),
             now = spotBeside(project, others, sizeM, sizeOf);
  if (before && now && (*before - Vec2d(placement->xM, placement->yM)).length() < 1e-9)
    placement->xM = now->x, placement->yM = now->y;
}

}  // namespace dusk
