#include "core/assets/asset_store.h"
#include "core/base/files.h"
#include "core/project/file.h"
#include "core/surface/edit.h"
#include "core/surface/library.h"
#include "demo/campaign.h"
#include "demo/jar.h"

namespace dusk::demo {
namespace {
namespace fs = std::filesystem;

const char* surfaceFor(const std::string& part) {
  if (part == "Glass") return "preset-jar-glass";
  if (part == "Sea water") return "preset-harbour-water";
  if (part == "Seal") return "preset-boot-rubber";
  if (part == "Cap disc") return "preset-tide-brass";
  if (part == "Sediment") return "preset-wet-sand";
  return "preset-moulded-black";
}

/// The jar of `folder`, dressed and printed; its surfaces come with it.
Result<Product> jarFor(Project& project, AssetStore& assets, const fs::path& folder) {
  const auto model = assets.refer(folder / "brackwater-jar.step"),
             label = assets.refer(folder / "jar-label.svg");
  if (!model || !label) return model ? label.error() : model.error();
  Product jar{"jar", "Brackwater sampling jar", *model};
  Progress progress;
  const auto loaded = assets.model(jar, progress);
  if (!loaded) return loaded.error();
  for (const Part& part : (*loaded)->parts) {
    const Surface* surface = librarySurface(surfaceFor(part.name));
    if (!surface) return Error{std::string("The library has no ") + surfaceFor(part.name) + "."};
    jar.surfaceOfPart[part.path] = surface->id;
    if (!byId(project.surfaces, surface->id)) project.surfaces.push_back(*surface);
  }
  Decal print;
  print.id = "label", print.name = "Wrap label", print.picture = *label;
  for (const Part& part : (*loaded)->parts)
    if (part.name == "Glass") print.parts = {part.path};
  print.lay = DecalLay::wrapped, print.side = DecalSide::outside;
  print.widthMm = 150, print.at = {0, -jarMeasures.outer, jarMeasures.floor + 39 - 2};
  print.roughness = 0.45;
  jar.decals = {print};
  return jar;
}

}  // namespace

Outcome writeJarCampaign(const fs::path& demo) {
  const fs::path folder = demo / "jar";
  if (auto written = writeFileAtomically(folder / "jar-label.svg", jarLabelSvg()); !written) return written;
  AssetStore assets(folder);
  Project project;
  project.name = "Brackwater sampling jar";
  const auto jar = jarFor(project, assets, folder);
  if (!jar) return jar.error();
  project.products.push_back(*jar);

  const auto bench = loadProject(demo / "boathouse/boathouse.dusk"),
             table = loadProject(demo / "table/table.dusk");
  if (!bench || !table) return bench ? table.error() : bench.error();
  const auto moved = [&](const AssetRef& ref, const char* from) {
    AssetRef to = ref;
    if (!ref.empty()) to.path = fs::path("..") / from / ref.path;
    to.path = fs::path(to.path).lexically_normal().string();
    return to;
  };
  Shot shot = bench->shots[0];
  shot.id = "bench", shot.name = "Boathouse bench";
  shot.plate = moved(shot.plate, "boathouse");
  shot.surroundings.panorama = moved(shot.surroundings.panorama, "boathouse");
  shot.placements = {{"jar-1", "jar", 0.36, 0.24, 0, 14}};
  shot.placements[0].levelId = "bench";
  shot.deliverables = {{DeliverableKind::png, "jar-bench.png"}};
  project.shots.push_back(shot);
  Shot white = table->shots[0];
  white.id = "white", white.name = "White table";
  white.surroundings.panorama = moved(white.surroundings.panorama, "table");
  white.placements = {{"jar-1", "jar", 0, 0, 0, 8}};
  white.deliverables = {{DeliverableKind::png, "jar-white.png"}};
  project.shots.push_back(white);
  if (auto saved = saveMatched(project, folder / "jar.dusk"); !saved) return saved;

  project.name += ", used";
  for (Surface& s : project.surfaces) {
    if (s.id == "preset-jar-glass") s = withUse(s, {0, 0.3, 0.7, 0.5});
    if (s.id == "preset-moulded-black") s = withUse(s, {0, 0.55, 0.5, 0});
    if (s.id == "preset-tide-brass") s = withUse(s, {0, 0.3, 0.9, 0});
  }
  for (Shot& s : project.shots)
    for (Deliverable& d : s.deliverables) d.fileName = "used-" + d.fileName;
  return saveMatched(project, folder / "jar-used.dusk");
}

}  // namespace dusk::demo
