#include "core/trace/compile.h"

#include "core/project/lamp_kinds.h"
#include "core/trace/detail.h"
#include "core/trace/textured.h"
#include "core/vantage/straighten.h"

namespace dusk {

BsdfParameters parametersOf(const Surface& s) {
  BsdfParameters p;
  p.base = toFloat(s.baseColour), p.emission = toFloat(s.emission);
  p.metalness = float(s.metalness), p.roughness = float(s.roughness), p.ior = float(s.ior);
  p.transmission = float(s.transmission);
  p.clearcoat = float(s.clearcoat), p.clearcoatRoughness = float(s.clearcoatRoughness);
  p.anisotropy = float(s.anisotropy), p.anisotropyTurn = float(radians(s.anisotropyTurnDegrees));
  p.sheen = float(s.sheen), p.sheenRoughness = float(s.sheenRoughness),
  p.sheenColour = toFloat(s.sheenColour);
  p.thinWalled = s.thinWalled;
  // Beer and Lambert: so much per metre that the colour is left after the depth.
  if (s.absorptionDepthM > 0)
    for (int c = 0; c < 3; ++c)
      p.absorption[c] = float(-std::log(std::clamp(s.absorptionColour[c], 1e-4, 1.0)) / s.absorptionDepthM);
  return p;
}

Surface surfaceFromFile(const FileMaterial& m) {
  Surface s;
  s.name = "as in the file";
  s.baseColour = toDouble(m.colour), s.emission = toDouble(m.emission);
  s.metalness = m.metalness, s.roughness = m.roughness, s.ior = m.ior, s.transmission = m.transmission;
  s.clearcoat = m.clearcoat, s.clearcoatRoughness = m.clearcoatRoughness;
  return s;
}

const Surface* surfaceOf(const Project& project, const Product& product, const Part& part) {
  const auto given = product.surfaceOfPart.find(part.path);
  return given == product.surfaceOfPart.end() ? nullptr : byId(project.surfaces, given->second);
}

PlacedGeometry::Instance placedInstance(const Product& product, const Shot& shot, const Placement& placement,
                                        const std::shared_ptr<const Model>& model, GeometryCache& cache) {
  PlacedGeometry::Instance instance;
  std::set<unsigned> apart;
  if (!product.moves.empty())
    for (unsigned i = 0; i < model->parts.size(); ++i)
      if (const Similarity by = movedWithin(product, model->parts[i]); !(by == Similarity{}))
        apart.insert(i), instance.moved.emplace(i, by);
  const double plane = planeHeightM(shot, placement);
  instance.geometry = cache.get(model, product.hiddenParts, apart);
  instance.worldFromModel = worldFromModel(product, placement, *model, plane);
  if (placement.cutAtGround) instance.cutBelowM = plane;
  return instance;
}

namespace {

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

std::shared_ptr<const Material> materialOf(const Project& project, const Product& product,
                                           const std::shared_ptr<const Model>& model, const Part& part) {
  if (const Surface* surface = surfaceOf(project, product, part))
    return std::make_shared<PlainMaterial>(parametersOf(*surface));
  const FileMaterial& own = model->materialOf(part);
  if (own.colourTexture >= 0 || own.metalRoughTexture >= 0 || own.normalTexture >= 0)
    return std::make_shared<TexturedMaterial>(model, part.material);
  return std::make_shared<PlainMaterial>(parametersOf(surfaceFromFile(own)));
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
      notes->push_back("The panorama has no sun that could be taken apart: it is overcast, or was clipped.");
  }
  LampPictures pictures;
  std::vector<Lamp> lamps = shot.lamps;
  for (Lamp& lamp : lamps) {
    lamp.targetM = targetOf(shot, lamp);
    if (!lamp.on || !infoOf(lamp.kind).hasPicture) continue;
    if (lamp.picture.empty() && !hasPlate(shot)) continue;
    const auto shown =
        lamp.picture.empty() ? assets.plate(shot) : assets.plate(lamp.picture, shot.blend.view);
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

Result<Compiled> compile(const Project& project, size_t index, AssetStore& assets, GeometryCache& cache,
                         Progress& progress, Models models) {
  if (index >= project.shots.size()) return Error{"The project has no such shot."};
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
  scene.place = placeOf(shot);
  scene.aperture = apertureOf(shot.focus, scene.camera);

  if (hasPlate(shot)) {
    if (const auto plate = assets.plate(shot))
      scene.plate = *plate;
    else
      out.notes.push_back(plate.error().message);
  }
  std::vector<PlacedGeometry::Instance> instances;
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
    auto& materials = scene.materials.emplace_back();
    for (const Part& part : (*model)->parts) {
      materials.push_back(materialOf(project, *product, *model, part));
      const Surface* surface = surfaceOf(project, *product, part);
      const std::string& own = (*model)->materialOf(part).name;
      scene.labels.push_back({product->name + "/" + part.path,
                              surface       ? surface->name
                              : own.empty() ? "as in the file"
                                            : own,
                              product->name + " (" + placement.id + ")"});
    }
  }
  scene.geometry = std::make_shared<PlacedGeometry>(cache.device(), std::move(instances));
  scene.reach = reachOf(shot, *scene.geometry, scene.place, scene.plateCamera);
  scene.lights = lightsOf(shot, assets, emittersOf(scene), &out.notes);
  scene.lightMasks = lightMasksOf(shot, scene);
  return out;
}

}  // namespace dusk
