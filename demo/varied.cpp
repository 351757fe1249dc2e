// Projects that come in several: colours of one product, and sets in place of a photo.
#include "demo/varied.h"

#include "core/assets/asset_store.h"
#include "core/base/json_text.h"
#include "core/motion/drop.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/file.h"
#include "core/set/furnish.h"
#include "core/surface/library.h"
#include "core/variant/edit.h"

namespace dusk::demo {
namespace fs = std::filesystem;

Outcome writeColours(const fs::path& folder) {
  auto project = loadProject(folder / "brackwater.dusk");
  if (!project) return project.error();
  Project& p = *project;
  p.name = "Brackwater, colours";
  const std::string enamel = addAxis(p, "Enamel");
  p.axes[0].options[0].name = "Harbour";
  const struct {
    const char *name, *colour;
  } colours[] = {{"Signal red", "[0.42,0.03,0.02]"},
                 {"Chalk", "[0.62,0.6,0.55]"},
                 {"Slate", "[0.07,0.08,0.09]"},
                 {"Ochre", "[0.5,0.26,0.03]"}};
  for (const auto& colour : colours) {
    VariantOption& option = *optionIn(p, addOption(p, enamel)).second;
    option.name = colour.name;
    option.changes = {{"/surfaces/preset-harbour-enamel/baseColour", colour.colour}};
  }
  const std::string knobs = addAxis(p, "Knobs");
  p.axes[1].options[0].name = "Black";
  VariantOption& brass = *optionIn(p, addOption(p, knobs)).second;
  brass.name = "Brass";
  const std::string product = p.products[0].id;
  for (const char* knob : {"Range knob", "Zero knob"})
    brass.changes.push_back(
        {"/products/" + product + "/surfaceOfPart/Brackwater tide gauge~1Controls~1" + knob,
         "\"preset-tide-brass\""});
  p.shots[0].deliverables = {{DeliverableKind::png, "{project}-{variant}.png"}};
  return saveProject(p, folder / "brackwater-colours.dusk");
}

Outcome writePlinths(const fs::path& folder) {
  auto project = loadProject(folder / "jar.dusk");
  if (!project) return project.error();
  Project& p = *project;
  p.name = "Jar on plinths";
  std::erase_if(p.shots, [](const Shot& s) { return s.backdrop.kind == BackdropKind::photo; });
  if (p.shots.size() != 1) return Error{"jar.dusk has no shot without a photo: run jars first."};
  Shot& shot = p.shots[0];
  shot.id = "plinths", shot.name = "Plinths, late light";
  AssetStore assets(folder);
  const SetRecipe recipe{
      "plinths", 41, {{"palette", 0.35}, {"clutter", 0.6}, {"time", 0.55}, {"pattern", 1}, {"near", 0.28}}};
  auto light = assets.refer(folder / "../../app/light-sets" / setKindNamed(recipe.kind)->lightSet);
  if (!light) return light.error();
  light->path = std::string("../../app/light-sets/") + setKindNamed(recipe.kind)->lightSet;
  if (!furnish(p, 0, recipe, *light)) return Error{"There is no set called " + recipe.kind + "."};
  shot.deliverables = {{DeliverableKind::png, "plinths.png"}};
  return saveProject(p, folder / "plinths.dusk");
}

Outcome writeSettling(const fs::path& folder) {
  auto project = loadProject(folder / "brackwater.dusk");
  if (!project) return project.error();
  Project& p = *project;
  p.name = "Brackwater, settling";
  Shot& shot = p.shots.front();
  p.shots.resize(1);
  AssetStore assets(folder);
  Progress progress;
  const auto model = assets.model(p.products[0], progress);
  if (!model) return model.error();
  // Let go a hand's breadth above the quay, a little askew.
  Placement hung = shot.placements[0];
  hung.liftM = 0.11, hung.leanXDegrees = 9, hung.leanYDegrees = -6;
  const auto drop = dropped(p, 0, hung, [&](const Product&) { return *model; }, {0, 0.25, 0.7, 3});
  if (!drop) return drop.error();
  shot.motion.seconds = 3;
  bake(shot, hung, *drop, 0);
  shot.motion.seconds = 3;
  std::erase_if(shot.motion.tracks[0].keys, [](const MotionKey& key) { return key.seconds > 3; });
  // The tide comes in, and the lid opens.
  Product& product = p.products[0];
  const std::string gauge = "Brackwater tide gauge/";
  const auto turns = [&](const std::string& part, const Vec3d& pivot, const Vec3d& axis, double from,
                         double to, double degrees, Easing easing) {
    product.moves[gauge + part] = {pivot, axis};
    MotionTrack& track = addTrack(shot.motion, placeOfMove(product.id, gauge + part));
    const auto turned = [&](double d) { return jsonText(valueOf(PartMove{pivot, axis, {0, 0, 0}, d})); };
    track.keys = {{from, turned(0), easing}, {to, turned(degrees), easing}};
  };
  // In the gauge's own millimetres (see product.cpp).
  turns("Dial/Pointer", {0, -46, 142}, {0, 1, 0}, 1.1, 2.9, 95, Easing::gentle);
  // The handle stands on the lid.
  for (const char* part : {"Housing/Lid", "Handle"})
    turns(part, {0, 59, 228}, {1, 0, 0}, 1.4, 2.4, -72, Easing::overshoot);
  shot.deliverables = {usualOf(DeliverableKind::mp4, "brackwater-settling"),
                       usualOf(DeliverableKind::png, "brackwater-settled")};
  shot.motion.stillAtSeconds = 2.75;
  return saveProject(p, folder / "brackwater-settling.dusk");
}

}  // namespace dusk::demo
