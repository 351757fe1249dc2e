#include "core/trace/compile.h"

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

std::shared_ptr<const Material> materialOf(const Project& project, const Product& product,
                                           const std::shared_ptr<const Model>& model, const Part& part) {
  if (const Surface* surface = surfaceOf(project, product, part))
    return std::make_shared<PlainMaterial>(parametersOf(*surface));
  const FileMaterial& own = model->materialOf(part);
  if (own.colourTexture >= 0 || own.metalRoughTexture >= 0 || own.normalTexture >= 0)
    return std::make_shared<TexturedMaterial>(model, part.material);
  return std::make_shared<PlainMaterial>(parametersOf(surfaceFromFile(own)));
}

}  // namespace

Result<Compiled> compile(const Project& project, size_t index, AssetStore& assets, GeometryCache& cache,
                         Progress& progress, bool fine) {
  if (index >= project.shots.size()) return Error{"The project has no such shot."};
  const Shot& shot = project.shots[index];
  Compiled out;
  Scene& scene = out.scene;
  scene.camera = workingCamera(shot.vantage);
  scene.bounces = shot.render.bounces;
  scene.seed = uint32_t(shot.render.seed);
  scene.groundCatches = shot.contact.groundCatches;

  if (!shot.plate.empty()) {
    if (const auto plate = assets.plate(shot))
      scene.plate = *plate;
    else
      out.notes.push_back(plate.error().message);
  }
  std::shared_ptr<const Panorama> panorama;
  if (!shot.surroundings.panorama.empty()) {
    if (const auto loaded = assets.panorama(shot.surroundings.panorama))
      panorama = *loaded;
    else
      out.notes.push_back(loaded.error().message);
  }
  const bool lit =
      panorama || std::any_of(shot.lamps.begin(), shot.lamps.end(), [](const Lamp& l) { return l.on; });
  scene.lights =
      std::make_shared<Lights>(panorama, shot.surroundings, shot.lamps, Rgb(lit ? 0 : evenSkyRadiance));

  std::vector<PlacedGeometry::Instance> instances;
  for (const Placement& placement : shot.placements) {
    const Product* product = byId(project.products, placement.productId);
    if (!product) continue;
    auto model = assets.model(*product, progress);
    if (model && fine) model = assets.finer(*product, wantedChordM(project, *product, assets), progress);
    if (!model) {
      if (model.error().kind == ErrorKind::cancelled) return model.error();
      out.notes.push_back(model.error().message);
      continue;
    }
    scene.placementIds.push_back(placement.id);
    instances.push_back(placedInstance(*product, shot, placement, *model, cache));
    auto& materials = scene.materials.emplace_back();
    for (const Part& part : (*model)->parts) materials.push_back(materialOf(project, *product, *model, part));
  }
  if (!shot.placements.empty()) scene.catcherM = float(planeHeightM(shot, shot.placements.front()));
  scene.geometry = std::make_shared<PlacedGeometry>(cache.device(), std::move(instances));
  return out;
}

}  // namespace dusk
