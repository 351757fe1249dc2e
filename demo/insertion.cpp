#include "demo/insertion.h"

#include <unistd.h>

#include "core/colour/difference.h"
#include "core/deliver/deliver.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/vantage/camera.h"
#include "demo/more_sets.h"
#include "demo/photography.h"
#include "demo/quay.h"

namespace dusk::demo {

void addProducts(Scene& scene, GeometryCache& cache, const Scene& with) {
  auto instances = scene.geometry->instances();
  const auto& products = with.geometry->instances();
  instances.insert(instances.end(), products.begin(), products.end());
  scene.materials.insert(scene.materials.end(), with.materials.begin(), with.materials.end());
  scene.geometry = std::make_shared<PlacedGeometry>(cache.device(), std::move(instances));
}

Result<std::vector<TruthSet>> demoTruthSets(const std::filesystem::path& demo) {
  std::vector<TruthSet> sets;
  const auto add = [&](const char* name, const char* file, const Camera& camera,
                       std::function<Scene(GeometryCache&)> place) -> Outcome {
    auto project = loadProject(demo / file);
    if (!project) return project.error();
    sets.push_back({name, std::move(*project), (demo / file).parent_path(), camera, true, std::move(place)});
    return done();
  };
  if (const auto a = add("quay", "brackwater/brackwater.dusk", quay().camera, &builtQuay); !a)
    return a.error();
  if (const auto a = add("boathouse", "boathouse/boathouse.dusk", boathouse().camera, &builtBoathouse); !a)
    return a.error();
  if (const auto a = add("slipway", "slipway/slipway.dusk", slipway().camera, &builtSlipway); !a)
    return a.error();
  return sets;
}

namespace {

Picture photoOf(Scene scene, const TruthSet& set, int width, int samples, Progress& progress) {
  scene.camera = resized(set.camera, width, width * set.camera.height / set.camera.width);
  Picture picture = photographed(scene, samples, progress);
  if (set.vignetted) developed(picture, scene.camera, 0);
  encodeSrgb(picture);
  return picture;
}

/// Sorts the pixels by what the product does to them.
void compare(Insertion& out, const Picture& plate, const Passes& passes) {
  out.difference = Picture(plate.width, plate.height, {"Y"});
  for (size_t i = 0; i < out.difference.pixels.size(); ++i) {
    const auto lab = [&](const Picture& p) {
      // Both as eight bits, as files are.
      const auto code = [&](size_t c) { return std::round(double(p.pixels[i * 3 + c]) * 255) / 255; };
      return labOfSrgb({code(0), code(1), code(2)});
    };
    const double off = ciede2000(lab(out.truth), lab(out.composite));
    out.difference.pixels[i] = float(off);
    const float alpha = passes.alpha.pixels[i];
    const float* r = &passes.ratio.pixels[i * 3];
    float influence = std::max({std::abs(r[0] - 1), std::abs(r[1] - 1), std::abs(r[2] - 1)});
    if (!passes.reflection.empty())
      influence = std::max(influence, std::abs(passes.reflection.pixels[i * 3 + 1]));
    const auto where = alpha > 0.98f                    ? Insertion::product
                       : alpha > 0.02f                  ? Insertion::edge
                       : influence > 0.01f || alpha > 0 ? Insertion::influence
                                                        : Insertion::outside;
    out.off[where].add(off);
    if (where == Insertion::influence) out.untouched.add(ciede2000(lab(out.truth), lab(plate)));
  }
}

}  // namespace

Result<Insertion> insertionTruth(TruthSet set, int width, int samples, int calm, bool trueCamera) {
  namespace fs = std::filesystem;
  AssetStore assets(set.folder);
  GeometryCache cache;
  Progress progress;
  auto compiled = compile(set.project, 0, assets, cache, progress, Models::fine);
  if (!compiled) return compiled.error();
  Insertion out;
  Scene place = set.place(cache);
  place.aperture = compiled->scene.aperture;
  const Picture plate = photoOf(place, set, width, samples * calm, progress);
  addProducts(place, cache, compiled->scene);
  out.truth = photoOf(std::move(place), set, width, samples * calm, progress);

  // What a person has: the photo, the panorama, and the vantage solved from lines drawn on the photo.
  const fs::path folder = fs::temp_directory_path() / ("gentle-dusk-truth-" + std::to_string(::getpid()));
  fs::create_directories(folder);
  if (const auto written = writePng8(folder / "plate.png", plate); !written) return written.error();
  const auto ref = assets.refer(folder / "plate.png");
  if (!ref) return ref.error();
  Shot& shot = set.project.shots[0];
  shot.plate = {(folder / "plate.png").string(), ref->hash};
  shot.vantage.camera = resized(trueCamera ? set.camera : shot.vantage.camera, plate.width, plate.height);
  shot.render.samples = samples;
  shot.blend = {}, shot.cleanUps.clear(), shot.frames.clear();
  shot.deliverables = {{DeliverableKind::png, "composite.png"}};
  DeliverOptions options;
  options.folder = folder;
  const auto report = deliver(set.project, 0, assets, cache, options, progress);
  if (!report) return report.error();
  const auto composite = readPhoto(folder / "composite.png");
  if (!composite) return composite.error();
  out.composite = composite->picture.whole(), out.alpha = report->passes.alpha;
  std::error_code ignored;
  fs::remove_all(folder, ignored);
  compare(out, plate, report->passes);
  return out;
}

}  // namespace dusk::demo
