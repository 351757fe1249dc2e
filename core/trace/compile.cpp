#include "core/trace/compile.h"

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

Surface surfaceFromFile(const Part& part) {
  Surface s;
  s.name = "as in the file";
  s.baseColour = toDouble(part.colour);
  s.roughness = 0.45;
  return s;
}

Result<Compiled> compile(const Project& project, size_t index, AssetStore& assets, GeometryCache& cache,
                         Progress& progress) {
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
    const auto model = assets.model(product->model, progress);
    if (!model) {
      if (model.error().kind == ErrorKind::cancelled) return model.error();
      out.notes.push_back(model.error().message);
      continue;
    }
    instances.push_back(
        {cache.get(*model, product->hiddenParts), worldFromModel(*product, placement, **model)});
    auto& materials = scene.materials.emplace_back();
    for (const Part& part : (*model)->parts) {
      const auto given = product->surfaceOfPart.find(part.path);
      const Surface* surface =
          given == product->surfaceOfPart.end() ? nullptr : byId(project.surfaces, given->second);
      materials.push_back(
          std::make_shared<PlainMaterial>(parametersOf(surface ? *surface : surfaceFromFile(part))));
    }
  }
  scene.geometry = std::make_shared<PlacedGeometry>(cache.device(), std::move(instances));
  return out;
}

}  // namespace dusk
