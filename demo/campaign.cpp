#include "demo/campaign.h"

#include "core/assets/asset_store.h"
#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/light/align.h"
#include "core/light/backdrop.h"
#include "core/project/file.h"
#include "core/project/hand_over_edit.h"
#include "core/project/json.h"
#include "core/proof/match.h"
#include "core/surface/edit.h"
#include "core/surface/library.h"
#include "core/vantage/solve.h"
#include "demo/more_sets.h"
#include "demo/quay.h"

namespace dusk::demo {
namespace {

/// Files of the quay: all of it, its passes, a square crop, and the gauge alone.
void handOver(Shot& shot) {
  shot.deliverables = {{DeliverableKind::png, "brackwater-quay.png"},
                       {DeliverableKind::exr, "brackwater-quay.exr"}};
  const std::string square = addFrame(shot, {"Square", 900, 900}),
                    tall = addFrame(shot, {"Tall 9:16", 540, 960});
  for (PictureFrame& f : shot.frames) {
    f.aboutProduct = true, f.width = f.id == square ? 0.5 : 0.3;
    f.centre = f.id == square ? Vec2d(0.03, -0.22) : Vec2d(0, -0.25);
  }
  Deliverable crop = usualOf(DeliverableKind::jpeg, "brackwater-{frame}"),
              alone = usualOf(DeliverableKind::png, "brackwater-alone");
  crop.frameId = square;
  alone.alpha = DeliveredAlpha::straight, alone.on = false;
  shot.deliverables.push_back(crop), shot.deliverables.push_back(alone);
}

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
    if (!byId(project.surfaces, preset)) project.surfaces.push_back(*librarySurface(preset));
  }
  project.products.push_back(std::move(product));
  return done();
}

}  // namespace

Outcome writeMoreCampaigns(const std::filesystem::path& demo) {
  namespace fs = std::filesystem;
  const auto begin = [](const char* name) {
    Project p;
    p.name = name;
    Shot shot;
    shot.name = name;
    p.shots.push_back(shot);
    return p;
  };
  // The files beside the projects, by paths that hold wherever the demo lies.
  const auto linked = [](AssetStore& assets, const fs::path& folder,
                         const std::string& path) -> Result<AssetRef> {
    auto ref = assets.refer(folder / path);
    if (ref) ref->path = path;
    return ref;
  };
  const auto dressed = [&](Project& p, AssetStore& assets, const fs::path& folder, const char* id,
                           const char* name) -> Outcome {
    const std::string path = std::string("../brackwater/brackwater-") + id + ".step";
    const auto added = addProduct(p, assets, id, name, folder / path);
    if (added) p.products.back().model.path = path;
    return added;
  };
  const auto photographedSet = [&](const char* id, const char* name, const MadeSet& set) -> Outcome {
    const fs::path folder = demo / id;
    AssetStore assets(folder);
    Project p = begin(name);
    if (const auto added = dressed(p, assets, folder, "gauge", "Brackwater field tide gauge"); !added)
      return added;
    if (const auto added = dressed(p, assets, folder, "mini", "Brackwater mini"); !added) return added;
    Shot& shot = p.shots[0];
    shot.id = id;
    const auto plate = linked(assets, folder, std::string(id) + "-plate.jpg"),
               panorama = linked(assets, folder, std::string(id) + "-panorama.exr");
    if (!plate || !panorama) return plate ? panorama.error() : plate.error();
    shot.plate = *plate, shot.surroundings.panorama = *panorama;
    shot.surroundings.captureM = set.captureM;
    shot.evidence = set.evidence, shot.standIns = set.standIns;
    shot.vantage = solve(shot.evidence, set.camera.width, set.camera.height).vantage;
    if (!shot.vantage.solved) return Error{std::string("The evidence of ") + id + " does not solve."};
    const bool inside = !set.standIns.empty();
    shot.contact.groundCatches = !inside;
    if (inside) {
      shot.placements = {{"gauge-1", "gauge", 0.26, 0.30, 0, 12}, {"mini-1", "mini", 0.66, 0.20, 0, -24}};
      for (Placement& placed : shot.placements) placed.levelId = "bench";
    } else {
      shot.placements = {{"gauge-1", "gauge", 0.22, 0.42, 0, -14}, {"mini-1", "mini", -0.42, 0.30, 0, 20}};
      shot.contact.gloss = 0.8, shot.contact.glossRoughness = 0.2, shot.contact.glossIor = 1.5;
    }
    // How bright the merged light is against the photo is for the alignment to find.
    const auto light = assets.panorama(shot.surroundings.panorama);
    const auto photo = assets.plate(shot);
    if (!light || !photo) return Error{"The set's own files cannot be read."};
    Progress progress;
    const auto found = align(**photo, shot.vantage.camera, **light, captureGuess(shot), progress);
    if (!found) return found.error();
    shot.surroundings.gainEv = std::round(found->best().gainEv * 100) / 100;
    shot.surroundings.turnDegrees = std::round(found->best().turnDegrees * 10) / 10;
    shot.surroundings.mirrored = found->best().mirrored;
    shot.deliverables = {{DeliverableKind::png, std::string(id) + ".png"}};
    const nlohmann::json truth = {{"camera", set.camera}};
    if (auto written = writeFileAtomically(folder / "truth.json", jsonText(truth, 2) + "\n"); !written)
      return written;
    return saveMatched(p, folder / (std::string(id) + ".dusk"));
  };
  if (const auto made = photographedSet("boathouse", "Boathouse bench", boathouse()); !made) return made;
  if (const auto made = photographedSet("slipway", "Wet slipway", slipway()); !made) return made;

  // A packshot: white to the edge, no photo at all.
  const fs::path folder = demo / "table";
  std::error_code ignored;
  fs::create_directories(folder, ignored);
  AssetStore assets(folder);
  Project p = begin("White table");
  if (const auto added = dressed(p, assets, folder, "mini", "Brackwater mini"); !added) return added;
  Shot& shot = p.shots[0];
  shot.id = "table";
  shot.backdrop = {BackdropKind::plain, "#ffffff", "#ffffff", 1600, 1200, 85, 0.34, 1.0, 0.065, 0, 0.4, 0.8};
  shot.vantage.solved = shot.vantage.locked = true;
  shot.vantage.camera = handCamera(shot.backdrop, shot.backdrop.width, shot.backdrop.height);
  const auto tent = linked(assets, folder, "../../app/light-sets/two-soft-boxes.exr");
  if (!tent) return tent.error();
  shot.surroundings.panorama = *tent;
  shot.surroundings.gainEv = 0.6;
  shot.placements = {{"mini-1", "mini", 0, 0, 0, 24}};
  shot.contact.gloss = 0.35, shot.contact.glossRoughness = 0.25, shot.contact.glossIor = 1.5;
  shot.deliverables = {{DeliverableKind::png, "table.png"}, {DeliverableKind::exr, "table.exr"}};
  return saveMatched(p, folder / "table.dusk");
}

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
  shot.standIns = set.standIns;
  Lamp sun;
  sun.id = "sun-1", sun.name = "Sun", sun.on = false;
  sun.kelvin = set.sun.kelvin, sun.powerEv = set.sun.powerEv, sun.azimuthDegrees = set.sun.azimuthDegrees;
  sun.elevationDegrees = set.sun.elevationDegrees, sun.discDegrees = set.sun.discDegrees;
  shot.lamps.push_back(sun);
  handOver(shot);
  project.shots.push_back(std::move(shot));

  const nlohmann::json truth = {{"camera", set.camera}, {"sun", set.sun}};
  if (auto written = writeFileAtomically(folder / "truth.json", jsonText(truth, 2) + "\n"); !written)
    return written;
  if (auto saved = saveMatched(project, folder / "brackwater.dusk"); !saved) return saved;

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
  return saveMatched(project, folder / "brackwater-pair.dusk");
}

namespace {

/// The maker's label: a name, and a scale of five metres in tenths. Millimetres.
std::string labelSvg() {
  std::string svg =
      R"(<svg xmlns="http://www.w3.org/2000/svg" width="64mm" height="16mm" viewBox="0 0 64 16">)"
      R"(<rect x="1" y="1" width="62" height="14" rx="1.8" fill="none" stroke="#16282c" stroke-width="0.35"/>)"
      R"(<text x="32" y="6.6" font-family="Lato, sans-serif" font-weight="700" font-size="4.4" letter-spacing="0.9" text-anchor="middle" fill="#16282c">BRACKWATER</text>)";
  for (int i = 0; i <= 50; ++i) {
    const double x = 7 + i, high = i % 10 == 0 ? 3.4 : i % 5 == 0 ? 2.4 : 1.5;
    svg += "<path d=\"M" + std::to_string(x) + " 9v" + std::to_string(high) +
           R"(" stroke="#5a1f12" stroke-width="0.34"/>)";
  }
  for (int metre = 0; metre <= 5; ++metre)
    svg += "<text x=\"" + std::to_string(7 + 10 * metre) +
           R"(" y="14.4" font-family="Lato, sans-serif" font-size="2" text-anchor="middle" fill="#16282c">)" +
           std::to_string(metre) + "</text>";
  return svg + "</svg>\n";
}

/// The scale on the dial: metres of water round its lower sweep, and what they are. Millimetres.
std::string dialSvg() {
  constexpr double side = 120, radius = 31;
  std::string svg =
      R"(<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="120mm" viewBox="0 0 120 120">)"
      R"(<text x="60" y="82" font-family="Lato, sans-serif" font-size="5" text-anchor="middle" fill="#16282c">metres above chart datum</text>)"
      R"(<text x="60" y="44" font-family="Lato, sans-serif" font-weight="700" font-size="6" letter-spacing="0.8" text-anchor="middle" fill="#5a1f12">TIDE</text>)";
  for (int metre = 0; metre <= 10; ++metre) {
    const double a = radians(-135 + 27.0 * metre), x = side / 2 + radius * std::sin(a),
                 y = side / 2 - radius * std::cos(a);
    svg += "<text x=\"" + std::to_string(x) + "\" y=\"" + std::to_string(y + 2.2) +
           R"(" font-family="Lato, sans-serif" font-size="6.4" text-anchor="middle" fill="#16282c">)" +
           std::to_string(metre) + "</text>";
  }
  return svg + "</svg>\n";
}

}  // namespace

Outcome writeUsed(const std::filesystem::path& folder) {
  auto project = loadProject(folder / "brackwater.dusk");
  if (!project) return project.error();
  project->name = "Brackwater, used";
  if (auto written = writeFileAtomically(folder / "brackwater-label.svg", labelSvg()); !written)
    return written;
  AssetStore assets(folder);
  const auto label = assets.refer(folder / "brackwater-label.svg");
  if (!label) return label.error();
  for (Surface& s : project->surfaces) {
    if (s.name.find("enamel") != std::string::npos) s = withUse(s, {0.75, 0.45, 0.6, 0.3});
    if (s.name.find("brass") != std::string::npos) s = withUse(s, {0, 0.2, 0.9, 0});
    if (s.name.find("rubber") != std::string::npos) s = withUse(s, {0, 0.7, 0, 0});
  }
  Decal decal;
  decal.id = "label", decal.name = "Maker's label", decal.picture = *label;
  decal.parts = {"Brackwater tide gauge/Housing/Maker's plate"};
  decal.at = {0, -56.2, 45}, decal.normal = {0, -1, 0}, decal.widthMm = 50;
  decal.side = DecalSide::outside, decal.roughness = 0.5, decal.clearcoat = 0.2;
  if (auto written = writeFileAtomically(folder / "brackwater-dial.svg", dialSvg()); !written) return written;
  const auto scale = assets.refer(folder / "brackwater-dial.svg");
  if (!scale) return scale.error();
  Decal dial;
  dial.id = "dial", dial.name = "Dial scale", dial.picture = *scale;
  dial.parts = {"Brackwater tide gauge/Dial/Dial face"};
  dial.at = {0, -46, 142}, dial.normal = {0, -1, 0}, dial.widthMm = 120, dial.reachMm = 1;
  dial.side = DecalSide::outside, dial.roughness = 0.6;
  project->products[0].decals = {decal, dial};
  project->shots[0].deliverables = {{DeliverableKind::png, "brackwater-used.png"}};
  return saveMatched(*project, folder / "brackwater-used.dusk");
}

Outcome saveMatched(Project project, const std::filesystem::path& file) {
  AssetStore assets(file.parent_path());
  Progress progress;
  for (Shot& shot : project.shots) {
    const bool hasGrain = !shot.blend.grain.sigma.empty();
    if (shot.backdrop.kind != BackdropKind::photo || shot.plate.empty() || hasGrain) continue;
    const auto photo = measurePhoto(shot, assets, progress);
    if (!photo) return photo.error();
    shot.blend = matched(shot.blend, MatchKind::grain, *photo, {});
  }
  return saveProject(project, file);
}

}  // namespace dusk::demo
