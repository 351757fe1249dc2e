// How large a set is, and where its camera stands.
#include <algorithm>
#include <cmath>

#include "core/light/hand_camera.h"
#include "core/project/by_id.h"
#include "core/set/furnisher.h"

namespace dusk {
namespace {

constexpr double madeForM = 0.3, nearest = 0.1, farthest = 3;
constexpr double sizeSpan = 20;  // the slider "size" goes from a twentieth to twenty times
// The slider goes evenly from 0.3 to 1.7, but for its ends, where it goes on by shares to those.
constexpr double end = 0.1, evenFrom = 0.3, evenBy = 1.4, below = evenFrom + evenBy * end,
                 above = evenFrom + evenBy * (1 - end);

/// How far the camera is, of how far it is by itself.
double timesOf(double near) {
  if (near < end) return below * std::pow(nearest / below, 1 - near / end);
  if (near > 1 - end) return above * std::pow(farthest / above, (near - (1 - end)) / end);
  return evenFrom + evenBy * near;
}

/// So many times as far from the stage, which stays where it is in the picture.
void moveAway(Backdrop& b, const Vec3d& stage, double times) {
  b.distanceM *= times;
  b.cameraHeightM = stage.z + (b.cameraHeightM - stage.z) * times;
  b.aimHeightM = stage.z + (b.aimHeightM - stage.z) * times;
  b.aimXM = stage.x + (b.aimXM - stage.x) * times, b.aimYM = stage.y + (b.aimYM - stage.y) * times;
}

/// The slider "size" for a product that is so large.
double sizeFor(double sizeM) {
  return std::clamp(0.5 + 0.5 * std::log(std::max(sizeM, 1e-9) / madeForM) / std::log(sizeSpan), 0.0, 1.0);
}

}  // namespace

double nearFor(double sizeM) {
  const double times = std::clamp(sizeM / madeForM, nearest, farthest);
  if (times < below) return end * (1 - std::log(times / below) / std::log(nearest / below));
  if (times > above) return 1 - end + end * std::log(times / above) / std::log(farthest / above);
  return (times - evenFrom) / evenBy;
}

namespace {

bool comeNear(Shot& shot, double sizeM) {
  const StandIn* stage = byId(shot.standIns, setStage);
  if (!stage) return false;
  Backdrop& b = shot.backdrop;
  const double near = nearFor(sizeM), was = sliderOf(shot.set, "near").value_or(0.5);
  shot.set.sliders["near"] = near;
  moveAway(b, {stage->positionM.x, stage->positionM.y, stage->sizeM.z}, timesOf(near) / timesOf(was));
  shot.vantage.camera = handCamera(b, b.width, b.height);
  return true;
}

/// Whether all that a set brought is as it was made.
bool isUntouched(const Project& project, size_t index) {
  Project made = project, now = project;
  furnish(made, index, project.shots[index].set);
  // What is of the library or the person lies before what is made anew.
  const auto byTheirIds = [](auto& all) {
    std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.id < b.id; });
  };
  for (Project* p : {&made, &now})
    byTheirIds(p->surfaces), byTheirIds(p->products), byTheirIds(p->shots[index].placements);
  return made == now;
}

}  // namespace

void suit(SetRecipe& recipe, double sizeM) {
  const bool hasSize = sliderOf(recipe, "size").has_value();
  recipe.sliders.erase(hasSize ? "near" : "size");
  recipe.sliders[hasSize ? "size" : "near"] = hasSize ? sizeFor(sizeM) : nearFor(sizeM);
}

bool suitFirst(Project& project, size_t index, double sizeM) {
  Shot& shot = project.shots[index];
  if (shot.set.kind.empty() || shot.backdrop.locked || ownOnStage(shot) > 0) return false;
  if (sliderOf(shot.set, "size") && !shot.set.sliders.contains("size") && isUntouched(project, index)) {
    SetRecipe recipe = shot.set;
    recipe.sliders["size"] = sizeFor(sizeM);
    return furnish(project, index, recipe);
  }
  return !shot.set.sliders.contains("near") && comeNear(shot, sizeM);
}

bool suitAgain(Project& project, size_t index, double wasM, double sizeM) {
  Shot& shot = project.shots[index];
  if (shot.set.kind.empty() || shot.backdrop.locked || ownOnStage(shot) != 1) return false;
  SetRecipe recipe = shot.set;
  const auto stands = [&](const char* slider, double at) {
    const auto found = recipe.sliders.find(slider);
    return found != recipe.sliders.end() && std::abs(found->second - at) < 1e-9;
  };
  if (stands("size", sizeFor(wasM)) && isUntouched(project, index)) {
    recipe.sliders["size"] = sizeFor(sizeM);
    return furnish(project, index, recipe);
  }
  return stands("near", nearFor(wasM)) && comeNear(shot, sizeM);
}

double timesAsLarge(const SetRecipe& recipe) {
  return std::pow(sizeSpan, 2 * sliderOf(recipe, "size").value_or(0.5) - 1);
}

void enlarge(Project& project, Shot& shot, double times) {
  for (Placement& p : shot.placements) {
    if (!isOfSet(p.id) && p.levelId != setStage) continue;
    p.xM *= times, p.yM *= times;
    if (!isOfSet(p.id)) continue;
    p.liftM *= times;
    if (Product* piece = byId(project.products, p.productId)) piece->metresPerUnit *= times;
  }
  for (Lamp& lamp : shot.lamps)
    if (isOfSet(lamp.id)) {
      lamp.positionM *= times, lamp.targetM *= times;
      lamp.widthM *= times, lamp.heightM *= times, lamp.radiusM *= times;
    }
  if (StandIn* stage = byId(shot.standIns, setStage)) stage->positionM *= times, stage->sizeM *= times;
  if (!shot.backdrop.locked) moveAway(shot.backdrop, Vec3d(0), times);
}

void Furnisher::camera(double focalMm35, double heightM, double distanceM, double aimM) {
  Backdrop& b = shot_.backdrop;
  if (b.locked) return;
  b.focalMm35 = focalMm35, b.distanceM = distanceM, b.cameraHeightM = heightM, b.aimHeightM = aimM;
  b.aimXM = b.aimYM = 0;
  moveAway(b, stage_, timesOf(slider("near")));
  b.azimuthDegrees = by(-8, 8, 900);
}

}  // namespace dusk
