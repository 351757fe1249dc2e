#include "core/trace/compile.h"

#include "core/base/words.h"
#include "core/light/backdrop.h"
#include "core/project/lamp_kinds.h"
#include "core/surface/memory_texture.h"
#include "core/trace/detail.h"
#include "core/trace/geometry_probe.h"
#include "core/trace/mirrored_side.h"
#include "core/vantage/straighten.h"

namespace dusk {

const Surface* surfaceOf(const Project& project, const Product& product, const Part& part) {
  const auto given = product.surfaceOfPart.find(part.path);
  return given == product.surfaceOfPart.end() ? nullptr : byId(project.surfaces, given->second);
}

FindTexture textureFinder(const Project& project, AssetStore& assets, Progress& progress,
                          std::vector<std::string>& notes) {
  return [&](const AssetRef& ref, bool colour, int page, int ofModel) -> std::shared_ptr<const Texture> {
    if (ofModel >= 0) {
      for (const Product& product : project.products)
        if (product.model == ref)
          if (auto model = assets.loadedModel(product))
            return memoryTexture(std::move(model), ofModel, colour);
      return nullptr;
    }
    auto texture = assets.texture(ref, colour, page, progress);
    if (texture) return *texture;
    if (std::find(notes.begin(), notes.end(), texture.error().message) == notes.end() &&
        texture.error().kind != ErrorKind::cancelled)
      notes.push_back(texture.error().message);
    return nullptr;
  };
}

std::vector<std::shared_ptr<const Material>> Dresser::materialsOf(const Product& product,
                                                                  const std::shared_ptr<const Model>& model,
                                                                  GeometryCache& cache, double standsM) {
  std::vector<std::shared_ptr<const Material>> all;
  std::shared_ptr<const ModelShapes> shapes;
  for (size_t i = 0; i < model->parts.size(); ++i) {
    const Part& part = model->parts[i];
    const Surface* given = surfaceOf(project_, product, part);
    const Surface ofFile = given ? Surface{} : surfaceFromFile(model->materialOf(part), product.model);
    const Surface& surface = given ? *given : ofFile;
    std::vector<Decal> decals;
    for (const Decal& decal : product.decals)
      if (decal.parts.empty() ||
          std::any_of(decal.parts.begin(), decal.parts.end(),
                      [&](const std::string& branch) { return isUnder(part.path, branch); }))
        decals.push_back(decal);
    if (decals.empty() && isEven(surface)) {
      all.push_back(std::make_shared<PlainMaterial>(parametersOf(surface)));
      continue;
    }
    auto& layer = layers_[given ? given->id : product.id + "/" + std::to_string(part.material)];
    if (!layer) layer = layerOf(surface, find_);
    if (!shapes) shapes = cache.shapes(model);
    all.push_back(std::make_shared<MadeSurface>(
        layer, decals, model->meshOf(part), factsOf(part, shapes->parts[i], product, shapes->whole, standsM),
        product.metresPerUnit * 1000, find_));
  }
  return all;
}

PlacedGeometry::Instance placedInstance(const Product& product, const Shot& shot, const Placement& placement,
                                        const std::shared_ptr<const Model>& model, GeometryCache& cache,
                                        PartsOf parts) {
  PlacedGeometry::Instance instance;
  std::set<unsigned> apart;
  if (!product.moves.empty())
    for (unsigned i = 0; i < model->parts.size(); ++i)
      if (const Similarity by = movedWithin(product, model->parts[i]); !(by == Similarity{}))
        apart.insert(i), instance.moved.emplace(i, by);
  const double plane = planeHeightM(shot, placement);
  std::set<std::string> leftOut = product.hiddenParts;
  if (parts != PartsOf::both && hasCatchers(product))
    for (const Part& part : model->parts)
      if (roleOf(product, part.path).catcher == (parts == PartsOf::picture)) leftOut.insert(part.path);
  instance.geometry = cache.get(model, leftOut, apart);
  instance.worldFromModel = worldFromModel(product, placement, *model, plane);
  if (placement.cutAtGround) instance.cutBelowM = plane;
  return instance;
}

namespace {

/// A placement whose model is at hand.
struct Standing {
  const Product& product;
  const Placement& placement;
  std::shared_ptr<const Model> model;
};

std::shared_ptr<const PlacedGeometry> catchersAmong(const std::vector<Standing>& all, const Shot& shot,
                                                    GeometryCache& cache) {
  std::vector<PlacedInstance> instances;
  for (const Standing& s : all)
    if (hasCatchers(s.product))
      instances.push_back(placedInstance(s.product, shot, s.placement, s.model, cache, PartsOf::place));
  return cache.catchers(std::move(instances));
}

Aperture apertureOf(const Focus& focus, const Camera& camera) {
  Aperture a;
  if (!focus.on || camera.width <= 0) return a;
  const double focalM = camera.focalPx * focus.sensorWidthMm / camera.width / 1000;
  a.radiusM = float(focalM / focus.fNumber / 2), a.distanceM = float(focus.distanceM);
  a.blades = focus.blades, a.turn = float(radians(focus.bladeTurnDegrees));
  return a;
}

/// The triangles of all parts that give off light, where they stand.
std::vector<EmittingTriangle> emittersOf(const Scene& scene) {
  std::vector<EmittingTriangle> all;
  const auto& instances = scene.geometry->instances();
  for (unsigned i = 0; i < instances.size(); ++i) {
    const Model& model = instances[i].geometry->model();
    for (unsigned p = 0; p < model.parts.size(); ++p) {
      const Rgb radiance = scene.materials[i][p]->emission();
      if (maxComponent(radiance) <= 0 || !instances[i].geometry->shows(p)) continue;
      const Similarity world = scene.geometry->worldFromMesh(i, p);
      const Mesh& mesh = model.meshOf(model.parts[p]);
      const auto corner = [&](size_t k) {
        return toFloat(world.point(toDouble(mesh.positions[mesh.indices[k]])));
      };
      for (size_t t = 0; t + 2 < mesh.indices.size(); t += 3)
        all.push_back({corner(t), corner(t + 1), corner(t + 2), radiance});
    }
  }
  return all;
}

/// Which lights each part does without, as bits of their groups; empty where none does.
std::vector<std::vector<uint32_t>> lightMasksOf(const Shot& shot, const Scene& scene) {
  std::vector<std::vector<uint32_t>> masks;
  const auto& groups = scene.lights->groups();
  for (const Lamp& lamp : shot.lamps) {
    const auto group = std::find(groups.begin(), groups.end(), lamp.id);
    if (!lamp.on || lamp.leavesOut.empty() || group == groups.end()) continue;
    const uint32_t bit = 1u << (group - groups.begin());
    masks.resize(scene.materials.size());
    for (size_t i = 0; i < masks.size(); ++i) {
      const auto& parts = scene.geometry->instances()[i].geometry->model().parts;
      masks[i].resize(parts.size());
      const bool whole = lamp.leavesOut.contains(scene.placementIds[i]);
      for (size_t p = 0; p < parts.size(); ++p)
        if (whole || lamp.leavesOut.contains(scene.placementIds[i] + "/" + parts[p].path)) masks[i][p] |= bit;
    }
  }
  return masks;
}

/// The shot with nothing in it but what says what its photo mirrors.
Shot mirroringOf(const Shot& shot) {
  Shot of;
  of.vantage = shot.vantage, of.surroundings = shot.surroundings, of.contact = shot.contact;
  of.standIns = shot.standIns, of.levels = shot.levels, of.blend.cutOuts = shot.blend.cutOuts;
  of.lamps = shot.lamps;
  for (Lamp& lamp : of.lamps) lamp.targetM = targetOf(shot, lamp);
  for (const Placement& placement : shot.placements) {
    of.placements.emplace_back();
    of.placements.back().levelId = placement.levelId;
  }
  return of;
}

/// Parts that glow have no say in it: what the photo mirrors does not change as they are moved about.
std::shared_ptr<const MirroredSide> mirroredIn(Scene scene, const Shot& shot, AssetStore& assets) {
  if (scene.lights->isGlow(scene.lights->glowGroup())) scene.lights = lightsOf(shot, assets);
  return findMirroredSide(scene);
}

/// What each part does beside looking like itself; empty where all do everything. A part's own word counts
/// before that of the group it is in.
std::vector<std::vector<PartRole>> rolesOf(const std::vector<Standing>& standing) {
  std::vector<std::vector<PartRole>> roles;
  if (std::all_of(standing.begin(), standing.end(),
                  [](const Standing& s) { return s.product.roles.empty(); }))
    return roles;
  for (const Standing& s : standing) {
    roles.emplace_back();
    for (const Part& part : s.model->parts) roles.back().push_back(roleOf(s.product, part.path));
  }
  return roles;
}

}  // namespace

std::shared_ptr<const Lights> lightsOf(const Shot& shot, AssetStore& assets,
                                       std::vector<EmittingTriangle> emitters,
                                       std::vector<std::string>* notes) {
  AssetStore::Dome dome;
  if (!shot.surroundings.panorama.empty()) {
    auto loaded = assets.dome(shot.surroundings);
    if (loaded)
      dome = std::move(*loaded);
    else if (notes)
      notes->push_back(loaded.error().message);
    if (notes && dome.noSun)
      notes->push_back(
          words("The panorama has no sun that could be taken apart: it is overcast, or was clipped."));
  }
  LampPictures pictures;
  std::vector<Lamp> lamps = shot.lamps;
  for (Lamp& lamp : lamps) {
    lamp.targetM = targetOf(shot, lamp);
    if (!lamp.on || !infoOf(lamp.kind).hasPicture) continue;
    if (lamp.picture.empty() && !hasPlate(shot)) continue;
    const auto shown = lamp.picture.empty() ? assets.plate(shot) : assets.plate(lamp.picture, shot.blend);
    if (shown)
      pictures[lamp.id] = *shown;
    else if (notes)
      notes->push_back(shown.error().message);
  }
  const bool lit =
      dome.panorama || std::any_of(shot.lamps.begin(), shot.lamps.end(), [](const Lamp& l) { return l.on; });
  return std::make_shared<Lights>(dome.panorama, shot.surroundings, lamps, Rgb(lit ? 0 : evenSkyRadiance),
                                  std::move(emitters), dome.sun, pictures, dome.mirrored);
}

Place placeOf(const Project& project, const Shot& shot, const AssetStore& assets) {
  std::vector<Standing> standing;
  for (const Placement& placement : shot.placements)
    if (const Product* product = byId(project.products, placement.productId);
        product && hasCatchers(*product))
      if (auto model = assets.loadedModel(*product))
        standing.push_back({*product, placement, std::move(model)});
  Place place = placeOf(shot);
  if (standing.empty()) return place;
  GeometryCache cache;
  place.take(catchersAmong(standing, shot, cache));
  return place;
}

Result<Compiled> compile(const Project& project, size_t index, AssetStore& assets, GeometryCache& cache,
                         Progress& progress, Models models) {
  if (index >= project.shots.size()) return Error{words("The project has no such shot.")};
  const Shot& shot = project.shots[index];
  Compiled out;
  Scene& scene = out.scene;
  scene.camera = scene.plateCamera = workingCamera(shot.vantage);
  const RenderSettings& r = shot.render;
  scene.bounces = r.bounces, scene.diffuseBounces = r.diffuseBounces, scene.mirrorBounces = r.mirrorBounces;
  scene.glassSides = r.glassSides, scene.caustics = r.caustics, scene.clampIndirect = float(r.clampIndirect);
  scene.seed = uint32_t(r.seed), scene.samples = r.samples, scene.noiseTarget = float(r.noiseTarget);
  scene.denoise = float(r.denoise);
  if (r.extraPasses.contains("occlusion")) scene.occlusionM = float(r.occlusionM);
  scene.place = placeOf(shot, assets, &out.notes);
  scene.aperture = apertureOf(shot.focus, scene.camera);

  if (hasPlate(shot)) {
    if (const auto plate = assets.plate(shot, &progress))
      scene.plate = *plate, scene.plateGoesOn = isEven(shot.backdrop);
    else
      out.notes.push_back(plate.error().message);
  }
  std::vector<PlacedGeometry::Instance> instances;
  std::vector<Standing> standing;  // as the instances
  Dresser dresser(project, textureFinder(project, assets, progress, out.notes));
  for (const Placement& placement : shot.placements) {
    const Product* product = byId(project.products, placement.productId);
    if (!product) continue;
    if (models == Models::loaded && !assets.loadedModel(*product)) continue;
    auto model = assets.model(*product, progress);
    if (model && models == Models::fine)
      model = assets.finer(*product, wantedChordM(project, *product, assets), progress);
    if (!model) {
      if (model.error().kind == ErrorKind::cancelled) return model.error();
      out.notes.push_back(model.error().message);
      continue;
    }
    scene.placementIds.push_back(placement.id);
    instances.push_back(placedInstance(*product, shot, placement, *model, cache));
    scene.materials.push_back(dresser.materialsOf(*product, *model, cache, planeHeightM(shot, placement)));
    for (const auto& material : scene.materials.back())
      scene.unevenGlow |= material->emitsUnevenly(), scene.gaps |= material->hasGaps();
    standing.push_back({*product, placement, *model});
    for (const Part& part : (*model)->parts) {
      const Surface* surface = surfaceOf(project, *product, part);
      const std::string& own = (*model)->materialOf(part).name;
      scene.labels.push_back({product->name + "/" + part.path,
                              surface       ? surface->name
                              : own.empty() ? words("as in the file")
                                            : own,
                              product->name + " (" + placement.id + ")", part.path});
    }
  }
  scene.geometry = std::make_shared<PlacedGeometry>(cache.device(), std::move(instances));
  scene.probe = std::make_shared<GeometryProbe>(scene.geometry);
  scene.place.take(catchersAmong(standing, shot, cache));
  scene.reach = reachOf(shot, *scene.geometry, scene.place, scene.plateCamera);
  scene.lights = lightsOf(shot, assets, emittersOf(scene), &out.notes);
  scene.lightMasks = lightMasksOf(shot, scene);
  scene.roles = rolesOf(standing);
  if (scene.plate && scene.place.isGlossy()) {
    const auto find = [&] { return mirroredIn(scene, shot, assets); };
    // What is missing now may be there next time.
    scene.mirrored = out.notes.empty()
                         ? cache.mirroredSide(scene.plate, mirroringOf(shot), scene.place.catchers(), find)
                         : find();
  }
  return out;
}

void takePlate(Scene& scene, std::shared_ptr<const Picture> plate, const Shot& shot, AssetStore& assets) {
  scene.plate = std::move(plate), scene.plateCamera = scene.camera;
  if (scene.mirrored) scene.mirrored = mirroredIn(scene, shot, assets);
}

namespace {

/// Whether all but what stands and shines where is the same.
bool onlyMoved(const Project& a, const Project& b, const Shot& s, const Shot& t) {
  const auto still = [](const Product& p) {
    Product q = p;
    for (auto& [path, move] : q.moves) move = {};
    return q;
  };
  const auto alike = [&](const Product& p, const Product& q) { return still(p) == still(q); };
  const auto sameKind = [](const Placement& p, const Placement& q) {
    return p.id == q.id && p.productId == q.productId && p.levelId == q.levelId;
  };
  return a.surfaces == b.surfaces &&
         std::equal(a.products.begin(), a.products.end(), b.products.begin(), b.products.end(), alike) &&
         std::equal(s.placements.begin(), s.placements.end(), t.placements.begin(), t.placements.end(),
                    sameKind) &&
         s.backdrop.kind == t.backdrop.kind && s.backdrop.colour == t.backdrop.colour &&
         s.backdrop.upper == t.backdrop.upper && t.backdrop.kind != BackdropKind::panorama &&
         s.levels == t.levels;
}

}  // namespace

Result<Scene> compileMoved(const Project& project, const Scene& scene, const Project& moved, size_t index,
                           AssetStore& assets, GeometryCache& cache, Progress& progress) {
  const Shot &was = project.shots[index], &is = moved.shots[index];
  const auto anew = [&]() -> Result<Scene> {
    auto compiled = compile(moved, index, assets, cache, progress);
    if (!compiled) return compiled.error();
    return std::move(compiled->scene);
  };
  if (!onlyMoved(project, moved, was, is)) return anew();
  Scene next = scene;
  next.during.clear();
  next.camera = next.plateCamera = workingCamera(is.vantage);
  next.aperture = apertureOf(is.focus, next.camera);
  next.place = placeOf(is, assets, nullptr);
  std::vector<PlacedGeometry::Instance> instances;
  std::vector<Standing> standing;
  size_t at = 0;
  for (const Placement& placement : is.placements) {
    const Product* product = byId(moved.products, placement.productId);
    if (!product || at >= scene.placementIds.size() || scene.placementIds[at] != placement.id) continue;
    const auto model = assets.loadedModel(*product);
    if (!model || model.get() != &scene.geometry->instances()[at].geometry->model()) return anew();
    instances.push_back(placedInstance(*product, is, placement, model, cache));
    standing.push_back({*product, placement, model});
    ++at;
  }
  if (at != scene.placementIds.size()) return anew();
  next.geometry = std::make_shared<PlacedGeometry>(cache.device(), std::move(instances));
  next.probe = std::make_shared<GeometryProbe>(next.geometry);
  next.place.take(catchersAmong(standing, is, cache));
  next.reach = reachOf(is, *next.geometry, next.place, next.plateCamera);
  auto emitters = emittersOf(next);
  const auto aims = [](const Lamp& l) { return !l.aimedAt.empty(); };
  if (!emitters.empty() || was.lamps != is.lamps || was.surroundings != is.surroundings ||
      std::any_of(is.lamps.begin(), is.lamps.end(), aims))
    next.lights = lightsOf(is, assets, std::move(emitters));
  if (next.mirrored &&
      (next.place.catchers() != scene.place.catchers() || !(mirroringOf(was) == mirroringOf(is))))
    next.mirrored = mirroredIn(next, is, assets);
  return next;
}

}  // namespace dusk
