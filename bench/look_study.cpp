// How calm the picture is while people try things: `dusk-bench-look [SAMPLES] [REFERENCE SAMPLES] [WIDTH]`.
// Each demo's error after few samples, plain and with the noise taken out, against many of another seed, on
// the product and where it changes the place: relative mean squares. `dusk-bench-look window [REFERENCE
// SAMPLES] [WIDTH]`: the window's own pictures in the seconds after a surface was changed.
#include <chrono>
#include <cstdio>
#include <cstdlib>

#include "bench/look_errors.h"
#include "core/blend/blend.h"
#include "core/project/file.h"
#include "core/trace/compile.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace dusk::bench {
Errors errors(const Picture& is, const Picture& truth, const Passes& passes) {
  Errors e;
  size_t covered = 0, changed = 0;
  for (size_t i = 0; i < passes.alpha.pixels.size(); ++i) {
    const float alpha = passes.alpha.pixels[i];
    const bool on = alpha > 0.5f;
    if (!on && (alpha > 0 || passes.ratio.pixels[i * 3 + 1] == 1)) continue;
    double sum = 0;
    for (size_t c = 0; c < 3; ++c) {
      const double t = double(truth.pixels[i * 3 + c]), d = double(is.pixels[i * 3 + c]) - t;
      sum += d * d / (t * t + 0.01) / 3;
    }
    (on ? e.product : e.place) += sum;
    ++(on ? covered : changed);
  }
  e.product /= double(std::max<size_t>(covered, 1)), e.place /= double(std::max<size_t>(changed, 1));
  return e;
}

namespace {

void study(const char* name, int samples, int many, int width) {
  const auto file = std::filesystem::path(DUSK_SOURCE) / "demo" / name;
  const auto project = loadProject(file);
  AssetStore assets(file.parent_path());
  GeometryCache cache;
  Progress progress;
  auto compiled = compile(*project, 0, assets, cache, progress);
  Scene& scene = compiled->scene;
  const int height = width * scene.camera.height / scene.camera.width;
  scene.camera = resized(scene.camera, width, height), scene.noiseTarget = 0, scene.samples = samples;
  const Picture plate = resized(*scene.plate, width, height);
  const Shot& shot = project->shots[0];
  Film film(width, height, scene.lights->groups());
  const auto begun = std::chrono::steady_clock::now();
  (void)render(scene, film, samples, progress);
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
  Scene other = scene;
  other.seed = 77, other.samples = many;
  Film reference(width, height, scene.lights->groups());
  (void)render(other, reference, many, progress);
  const Passes truth = reference.resolve();
  const Picture goal = blend(shot, truth, &plate);
  const Errors plain = errors(blend(shot, film.resolve(), &plate), goal, truth),
               calm = errors(blend(shot, denoised(film, 1, progress), &plate), goal, truth);
  std::printf("%-12s %3d samples %6.2f s   product %.4f, denoised %.4f   place %.5f, denoised %.5f\n",
              file.stem().c_str(), samples, seconds, plain.product, calm.product, plain.place, calm.place);
  std::fflush(stdout);
}

}  // namespace
}  // namespace dusk::bench

int main(int argc, char** argv) {
  const bool window = argc > 1 && std::string(argv[1]) == "window";
  const auto number = [&](int at, int otherwise) { return argc > at ? std::atoi(argv[at]) : otherwise; };
  for (const char* name :
       {"brackwater/brackwater.dusk", "boathouse/boathouse.dusk", "slipway/slipway.dusk", "table/table.dusk"})
    if (window)
      dusk::bench::lookInWindow(std::filesystem::path(DUSK_SOURCE) / "demo" / name, number(2, 1024),
                                number(3, 732), 6);
    else
      dusk::bench::study(name, number(1, 8), number(2, 2048), number(3, 320));
}
