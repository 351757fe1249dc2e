#include "core/deliver/thumbnail.h"

#include "core/base/words.h"
#include "core/blend/cut_out.h"
#include "core/blend/stack.h"
#include "core/trace/compile.h"
#include "core/trace/denoise.h"
#include "core/trace/film.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace dusk {

Result<Thumbnail> thumbnailOf(const Project& project, size_t index, AssetStore& assets, GeometryCache& cache,
                              int width, int height, Progress& progress, Models models) {
  const Shot& shot = project.shots.at(index);
  const Camera& full = shot.vantage.camera;
  if (full.width <= 0) return Error{words("There is no photo yet.")};
  auto compiled = compile(project, index, assets, cache, progress, models);
  if (!compiled) return compiled.error();
  const auto view = assets.view(shot.blend);
  if (!view) return view.error();
  const double scale = std::min(double(width) / full.width, double(height) / full.height);
  const int w = std::max(8, int(full.width * scale)), h = std::max(8, int(full.height * scale));
  Scene& scene = compiled->scene;
  std::shared_ptr<const Picture> plate, shown;
  if (scene.plate) {
    plate = std::make_shared<Picture>(resized(*scene.plate, w, h));
    shown = std::make_shared<Picture>(displayed(*plate, **view));
  }
  if (!shot.vantage.solved || scene.geometry->empty())
    return shown ? Result(Thumbnail{*shown})
                 : Result<Thumbnail>(Error{words("There is nothing to see yet.")});
  scene.camera = resized(scene.camera, w, h);
  scene.noiseTarget = 0;
  Film film(w, h, scene.lights->groups());
  if (!render(scene, film, 12, progress)) return cancelledError();
  auto passes = std::make_shared<Passes>(denoised(film, 1, progress, needsAllPasses(shot.blend)));
  if (progress.cancelled()) return cancelledError();
  CutOutStore cutOuts(assets);
  BlendSources sources{.passes = std::move(passes), .plate = plate, .shownPlate = shown};
  sources.width = w, sources.height = h, sources.plateWidth = full.width;
  sources.assets = &assets, sources.cutOuts = &cutOuts;
  tellOfScene(sources, scene, shot);
  BlendFrame frame;
  frame.whole = {0, 0, w, h}, frame.width = w, frame.height = h;
  const auto seen = productSeen(*sources.passes, frame);
  Evaluator evaluator;
  return Thumbnail{codesOf(buildStack(shot, sources), **view, evaluator), seen};
}

}  // namespace dusk
