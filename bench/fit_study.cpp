// Surfaces found by photographs of them: `dusk-bench-fit [CASES [FIRST]]`. Made-up balls and blocks in
// surfaces drawn at random, photographed in the light sets with a sensor's grain, and fitted. What is found
// against the truth.
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <random>

#include "core/colour/difference.h"
#include "core/picture/read.h"
#include "core/trace/fit.h"
#include "tests/stage.h"

namespace {

using namespace dusk;

Mesh roundedBlock() {
  // A superellipsoid: nearly flat sides, round edges.
  Mesh mesh = sphere(1);
  for (size_t i = 0; i < mesh.positions.size(); ++i) {
    const Vec3f d = mesh.positions[i].normalized();
    const auto fourth = [](float v) { return v * v * v * v; };
    const float r = 0.42f / std::pow(fourth(d.x) + fourth(d.y) + fourth(d.z), 0.25f);
    mesh.positions[i] = d * r;
    const Vec3f n(d.x * d.x * d.x, d.y * d.y * d.y, d.z * d.z * d.z);
    mesh.normals[i] = n.normalized();
  }
  return mesh;
}

struct Drawn {
  BsdfParameters p;
  bool coated = false;
};

Drawn drawSurface(std::mt19937& random) {
  const auto between = [&](double low, double high) {
    return float(std::uniform_real_distribution<double>(low, high)(random));
  };
  Drawn d;
  d.p.metalness = between(0, 1) < 0.35f ? 1 : 0;
  const float grey = d.p.metalness > 0 ? between(0.35, 0.85) : between(0.04, 0.7);
  for (int c = 0; c < 3; ++c) d.p.base[c] = std::clamp(grey * between(0.6, 1.3), 0.02f, 0.95f);
  d.p.roughness = between(0.12, 0.8);
  d.coated = d.p.metalness == 0 && d.p.roughness > 0.45f && between(0, 1) < 0.5f;
  if (d.coated) d.p.clearcoat = 1, d.p.clearcoatRoughness = between(0.04, 0.15);
  return d;
}

}  // namespace

int main(int argc, char** argv) {
  const int cases = argc > 1 ? std::atoi(argv[1]) : 40, first = argc > 2 ? std::atoi(argv[2]) : 0;
  const char* const sets[] = {"two-soft-boxes", "north-window", "low-sun", "cove", "strip-lights"};
  std::mt19937 random(4);
  int colourRight = 0, bare = 0, roughRight = 0, coatRight = 0, coatUnsure = 0, coatWrong = 0, metalRight = 0,
      metalWrong = 0, covered = 0, done = 0;
  double seconds = 0;
  for (int i = 0; i < cases; ++i) {
    const Drawn truth = drawSurface(random);
    if (i < first) {
      (void)random();
      continue;
    }
    auto light = readLight(std::filesystem::path(DUSK_SOURCE) / "app/light-sets" /
                           (std::string(sets[size_t(i) % std::size(sets)]) + ".exr"));
    if (!light) return std::puts(light.error().message.c_str()), 1;
    Surroundings turn;
    turn.turnDegrees = double(random() % 360);
    auto lights =
        std::make_shared<Lights>(Panorama::make(std::move(*light)), turn, std::vector<Lamp>{}, Rgb(0));
    Stage stage(i % 2 ? roundedBlock() : sphere(0.5f), truth.p, lights,
                lookAt(72, 72, 110, {0.8, -2.2, 0.9}, {0, 0, 0}), false);
    stage.scene.seed = 100 + uint32_t(i);
    Picture photo = traced(stage, 72, 400).beauty;
    // Exposed so that little clips, as a photographer would.
    std::vector<float> sorted(photo.pixels);
    std::nth_element(sorted.begin(), sorted.begin() + long(sorted.size() * 98 / 100), sorted.end());
    const float gain = 0.8f / std::max(1e-3f, sorted[sorted.size() * 98 / 100]);
    turn.gainEv = std::log2(double(gain));
    auto again = readLight(std::filesystem::path(DUSK_SOURCE) / "app/light-sets" /
                           (std::string(sets[size_t(i) % std::size(sets)]) + ".exr"));
    stage.scene.lights =
        std::make_shared<Lights>(Panorama::make(std::move(*again)), turn, std::vector<Lamp>{}, Rgb(0));
    std::normal_distribution<float> grain(0, 0.006f);
    for (float& v : photo.pixels)
      v = std::clamp(v * gain * (1 + 2 * grain(random)) + grain(random), 0.0f, 1.0f);
    stage.scene.plate = std::make_shared<Picture>(std::move(photo));
    stage.scene.seed = 1;
    const auto patch = fitPatchOf(stage.scene, {6, 6}, {66, 66});
    if (!patch) return std::puts(patch.error().message.c_str()), 1;
    Progress progress;
    const auto begun = std::chrono::steady_clock::now();
    const auto fit = fitSurface(stage.scene, *patch, {}, progress);
    seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    if (!fit) return std::puts(fit.error().message.c_str()), 1;
    ++done;
    const double difference =
        ciede2000(labOfLinear(fit->surface.baseColour), labOfLinear(toDouble(truth.p.base)));
    const bool coatFound = fit->clearcoat.value > 0.3, metalFound = fit->metalness.value > 0.5;
    colourRight += difference <= 2;
    coatRight += coatFound == truth.coated, metalRight += metalFound == (truth.p.metalness > 0);
    coatUnsure += !fit->coatIsSure, coatWrong += coatFound != truth.coated && fit->coatIsSure;
    metalWrong += metalFound != (truth.p.metalness > 0) && fit->metalIsSure;
    if (!truth.coated) {
      const double off = std::abs(fit->roughness.value - double(truth.p.roughness));
      ++bare, roughRight += off <= 0.05, covered += off <= 2 * fit->roughness.sigma + 0.01;
    }
    std::printf("%2d %-15s metal %d/%d coat %d/%d rough %.2f/%.2f +- %.3f colour off %.1f left %.1f%s\n", i,
                sets[size_t(i) % std::size(sets)], int(metalFound), int(truth.p.metalness > 0),
                int(coatFound), int(truth.coated), fit->roughness.value, double(truth.p.roughness),
                fit->roughness.sigma, difference, fit->error, fit->doubts.empty() ? "" : " (doubts)");
    std::fflush(stdout);
  }
  std::printf(
      "colour within CIEDE2000 2: %d of %d; roughness within 0.05: %d of %d bare (margin holds in %d)\n",
      colourRight, done, roughRight, bare, covered);
  std::printf(
      "coat or not right: %d of %d (unsure %d, wrong and sure %d); metal or not: %d (wrong and sure %d)\n",
      coatRight, done, coatUnsure, coatWrong, metalRight, metalWrong);
  std::printf("%.1f s each\n", seconds / std::max(1, done));
  return 0;
}
