// The window's own pictures after a surface was changed, as they come: seconds and the product's error.
#include <QCoreApplication>
#include <cstdio>
#include <mutex>
#include <thread>

#include "app/preview/preview.h"
#include "bench/look_errors.h"
#include "core/blend/blend.h"
#include "core/project/file.h"
#include "core/trace/compile.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace dusk::bench {

void lookInWindow(const std::filesystem::path& file, int many, int width, double longest) {
  Project project = *loadProject(file);
  const auto assets = std::make_shared<AssetStore>(file.parent_path());
  const auto cache = std::make_shared<GeometryCache>();
  Progress progress;
  const auto begin = compile(project, 0, *assets, *cache, progress);
  const int height = width * begin->scene.camera.height / begin->scene.camera.width;
  // What the product is made of most: another roughness and colour.
  for (Surface& s : project.surfaces)
    s.roughness = std::clamp(s.roughness + 0.1, 0.05, 1.0), s.baseColour = s.baseColour * 0.8;
  auto compiled = compile(project, 0, *assets, *cache, progress);
  Scene truth = compiled->scene;
  truth.camera = resized(truth.camera, width, height), truth.noiseTarget = 0, truth.seed = 77;
  truth.samples = many;
  const Picture plate = resized(*truth.plate, width, height);
  Film first(width, height, truth.lights->groups()), reference(width, height, truth.lights->groups());
  (void)render(truth, first, 4, progress);
  std::vector<unsigned char> mask;
  for (const float a : first.resolve().alpha.pixels) mask.push_back(a > 0);
  (void)renderAhead(truth, reference, mask, many, progress);
  const Passes goal = reference.resolve();
  const Picture light = blend(project.shots[0], goal, &plate);

  std::mutex mutex;
  std::vector<std::pair<double, std::shared_ptr<const Frame>>> frames;
  Preview preview;
  QObject::connect(
      &preview, &Preview::frameReady, &preview,
      [&](const std::shared_ptr<const Frame>& frame) {
        const std::lock_guard lock(mutex);
        frames.emplace_back(frame->secondsSinceEdit, frame);
      },
      Qt::DirectConnection);
  preview.request(*loadProject(file), 0, assets, cache, QSize(width, height));
  std::this_thread::sleep_for(std::chrono::seconds(12));  // a calm picture is there
  {
    const std::lock_guard lock(mutex);
    frames.clear();
  }
  preview.request(project, 0, assets, cache, QSize(width, height));
  std::this_thread::sleep_for(std::chrono::duration<double>(longest));
  preview.stop();
  const std::lock_guard lock(mutex);
  std::printf("%s\n", file.stem().c_str());
  for (const auto& [seconds, frame] : frames) {
    const Picture shown = blend(project.shots[0], *frame->passes, &plate);
    std::printf("  %6.2f s  %3d samples   product %.4f\n", seconds, frame->samples,
                errors(shown, light, goal).product);
  }
  std::fflush(stdout);
}

}  // namespace dusk::bench
