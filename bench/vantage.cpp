#include <benchmark/benchmark.h>

#include <random>

#include "core/project/file.h"
#include "core/vantage/camera.h"
#include "core/vantage/solve.h"

namespace dusk {
namespace {

/// Fifteen strokes, five a run, drawn with 0.7 px noise.
void solveFifteenStrokes(benchmark::State& state) {
  std::mt19937 random(1);
  std::normal_distribution<double> bell(0, 0.7);
  const Camera camera = lookAt(1920, 1280, 1700, {0.2, -1.5, 1.2}, {0, 3, 0.4});
  Evidence e;
  const Vec3d axes[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  for (int run = 0; run < 3; ++run)
    for (int i = 0; i < 5; ++i) {
      const Vec3d from(-1.0 + 0.45 * i, 2.0 + 0.3 * i, 0.15 * i);
      Stroke s{"s" + std::to_string(e.strokes.size()), Run(run), {}};
      for (double t : {0.0, 0.5, 1.0})
        s.points.push_back(*projected(camera, from + axes[run] * t) + Vec2d(bell(random), bell(random)));
      e.strokes.push_back(s);
    }
  for (auto _ : state) {
    VantageAnswer answer = solve(e, 1920, 1280);
    benchmark::DoNotOptimize(answer);
  }
}
BENCHMARK(solveFifteenStrokes)->Unit(benchmark::kMillisecond);

void solveDemoEvidence(benchmark::State& state) {
  const auto project = loadProject(std::filesystem::path(DUSK_SOURCE) / "demo/brackwater/brackwater.dusk");
  for (auto _ : state) {
    VantageAnswer answer = solve(project->shots[0].evidence, 1920, 1280);
    benchmark::DoNotOptimize(answer);
  }
}
BENCHMARK(solveDemoEvidence)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace dusk
