// Large photographs: `dusk-bench-large [MEGAPIXELS] [SAMPLES]` (0 samples: nothing is delivered). The demo's
// quay, its photo made so large, is opened as the window does and delivered with every pass; and a panorama
// of 16,384 x 8,192 is loaded. Each in a process of its own, whose largest memory is told.
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>

#include "core/deliver/deliver.h"
#include "core/picture/read.h"
#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/vantage/camera.h"
#include "demo/photography.h"

namespace dusk::bench {
namespace {

namespace fs = std::filesystem;

const fs::path demoProject = fs::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk";

/// Runs `work`, which gives the seconds it took itself, in a process of its own.
template <typename Work>
void measured(const char* what, const Work& work) {
  std::fflush(stdout);
  const pid_t child = ::fork();
  if (child == 0) {
    const double seconds = work();
    rusage use{};
    ::getrusage(RUSAGE_SELF, &use);
    std::printf("%-34s %8.2f s %8.2f GB\n", what, seconds, double(use.ru_maxrss) / 1048576);
    std::fflush(stdout);
    ::_exit(0);
  }
  int status = 0;
  ::waitpid(child, &status, 0);
  if (status != 0) std::printf("%-34s failed\n", what);
}

double now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

fs::path projectOf(const fs::path& folder, double megapixels) {
  auto project = *loadProject(demoProject);
  AssetStore from(demoProject.parent_path());
  Shot& shot = project.shots[0];
  const double s = std::sqrt(megapixels * 1e6 / (1920.0 * 1280));
  const int w = int(1920 * s) / 16 * 16, h = w * 2 / 3;
  (void)demo::writePhotograph(folder / "plate.jpg", resized((*from.photo(shot.plate))->picture, w, h),
                              {"bench", 30, 30, 8, 0.01});
  shot.vantage.camera = resized(shot.vantage.camera, w, h);
  shot.plate = {(folder / "plate.jpg").string(), ""};
  shot.surroundings.panorama.path = from.pathOf(shot.surroundings.panorama).string();
  for (Product& p : project.products) p.model.path = from.pathOf(p.model).string();
  (void)saveProject(project, folder / "large.dusk");
  return folder / "large.dusk";
}

}  // namespace
}  // namespace dusk::bench

int main(int argc, char** argv) {
  using namespace dusk;
  using namespace dusk::bench;
  const double megapixels = argc > 1 ? std::atof(argv[1]) : 24;
  const int samples = argc > 2 ? std::atoi(argv[2]) : 16;
  const fs::path folder = fs::temp_directory_path() / ("dusk-large-" + std::to_string(::getpid()));
  fs::create_directories(folder);
  measured("(made)", [&] {
    const double begun = now();
    (void)projectOf(folder, megapixels);
    Picture sky = Picture::rgb(16384, 8192);
    for (size_t i = 0; i < sky.pixels.size(); ++i) sky.pixels[i] = float(i % 1024) / 1024;
    (void)writeExr(folder / "sky.exr", {{"panorama", &sky}});
    return now() - begun;
  });
  measured("photo read and shown at 1280 x 853", [&] {
    const auto project = loadProject(folder / "large.dusk");
    AssetStore assets(folder);
    const double begun = now();
    (void)*assets.plate(project->shots[0]);
    (void)*assets.plateArea(project->shots[0], 1280, 853, {0, 0, 1280, 853});
    return now() - begun;
  });
  measured("panorama of 16,384 x 8,192", [&] {
    AssetStore assets(folder);
    const double begun = now();
    (void)*assets.panorama({(folder / "sky.exr").string(), ""});
    return now() - begun;
  });
  if (samples > 0)
    measured("delivered, PNG and EXR", [&] {
      const auto project = loadProject(folder / "large.dusk");
      AssetStore assets(folder);
      GeometryCache cache;
      Progress progress;
      const double begun = now();
      const auto report = deliver(*project, 0, assets, cache, {folder / "out", {}, samples}, progress);
      if (!report) std::printf("%s\n", report.error().message.c_str());
      return now() - begun;
    });
  std::error_code ignored;
  fs::remove_all(folder, ignored);
}
