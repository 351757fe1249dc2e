#include "demo/campaign.h"

#include "core/base/files.h"
#include "core/project/file.h"
#include "core/project/json.h"
#include "core/surface/presets.h"
#include "core/trace/asset_store.h"
#include "core/vantage/solve.h"
#include "demo/quay.h"

namespace dusk::demo {
namespace {

const char* presetFor(const std::string& part) {
  const auto is = [&](const char* word) { return part.find(word) != std::string::npos; };
  if (is("Window")) return "preset-window-glass";
  if (is("Dial face")) return "preset-chalk-paint";
  if (is("Pointer hub") || is("Bezel") || is("Pivot bolt") || is("plate") || is("mount") || is("tip"))
    return "preset-tide-brass";
  if (is("Pointer") || is("High-water")) return "preset-signal-enamel";
  if (is("Foot") || is("grip") || is("gasket")) return "preset-boot-rubber";
  if (is("marks")) return "preset-moulded-black";
  if (is("shaft")) return "preset-bright-steel";
  if (is("knob") || is("cap") || is("gland")) return "preset-moulded-black";
  if (is("screw") || is("pin") || is("Latch")) return "preset-bright-steel";
  if (is("pipe") || is("Carry") || is("bracket") || is("arm")) return "preset-bare-aluminium";
  return "preset-harbour-enamel";
}

/// The product with each part in the surface its name asks for.
Outcome addProduct(Project& project, AssetStore& assets, const std::string& id, const std::string& name,
                   const std::filesystem::path& file) {
  const auto model = assets.refer(file);
  if (!model) return model.error();
  Product product{id, name, *model};
  Progress progress;
  const auto loaded = assets.model(product, progress);
  if (!loaded) return loaded.error();
  for (const Part& part : (*loaded)->parts) {
    const std::string preset = presetFor(part.name);
    product.surfaceOfPart[part.path] = preset;
    if (!byId(project.surfaces, preset)) project.surfaces.push_back(*byId(surfacePresets(), preset));
  }
  project.products.push_back(std::move(product));
  return done();
}

}  // namespace

Outcome writeCampaign(const std::filesystem::path& folder) {
  AssetStore assets(folder);
  const auto plate = assets.refer(folder / "quay-plate.jpg");
  const auto panorama = assets.refer(folder / "quay-panorama.exr");
  for (const auto* ref : {&plate, &panorama})
    if (!*ref) return ref->error();
  const Quay set = quay();

  Project project;
  project.name = "Brackwater";
  if (const auto added = addProduct(project, assets, "gauge", "Brackwater field tide gauge",
                                    folder / "brackwater-gauge.step");
      !added)
    return added;

  Shot shot;
  shot.id = "quay", shot.name = "Quay, early evening";
  shot.plate = *plate;
  shot.evidence.strokes = set.edges;
  shot.evidence.footprint = set.slab;
  shot.evidence.solveK1 = true;
  shot.vantage = solve(shot.evidence, set.camera.width, set.camera.height).vantage;
  if (!shot.vantage.solved) return Error{"The demo's own evidence does not solve: look at quay()."};
  shot.placements.push_back({"gauge-1", "gauge", 0.17, 0.02, 0, -16});
  shot.surroundings.panorama = *panorama;
  shot.surroundings.gainEv = -panoramaEv;
  shot.gnomon = set.post;
  Lamp sun;
  sun.id = "sun-1", sun.name = "Sun", sun.on = false;
  sun.kelvin = set.sun.kelvin, sun.powerEv = set.sun.powerEv, sun.azimuthDegrees = set.sun.azimuthDegrees;
  sun.elevationDegrees = set.sun.elevationDegrees, sun.discDegrees = set.sun.discDegrees;
  shot.lamps.push_back(sun);
  shot.deliverables = {{DeliverableKind::png, "brackwater-quay.png"},
                       {DeliverableKind::exr, "brackwater-quay.exr"}};
  project.shots.push_back(std::move(shot));

  const nlohmann::json truth = {{"camera", set.camera}, {"sun", set.sun}};
  if (auto written = writeFileAtomically(folder / "truth.json", truth.dump(2) + "\n"); !written)
    return written;
  if (auto saved = saveProject(project, folder / "brackwater.dusk"); !saved) return saved;

  // The same place with both products of the works.
  project.name = "Brackwater pair";
  if (const auto added =
          addProduct(project, assets, "mini", "Brackwater mini", folder / "brackwater-mini.step");
      !added)
    return added;
  Shot& pair = project.shots[0];
  pair.placements[0].xM = 0.06;
  pair.placements.push_back({"mini-1", "mini", 0.36, -0.03, 0, 14});
  pair.deliverables = {{DeliverableKind::png, "brackwater-pair.png"}};
  return saveProject(project, folder / "brackwater-pair.dusk");
}

}  // namespace dusk::demo
