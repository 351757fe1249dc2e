// The made-up set "Wet slipway": after rain, under an even grey sky.
#include "core/picture/write.h"
#include "core/vantage/camera.h"
#include "demo/more_sets.h"
#include "demo/noise.h"
#include "demo/photography.h"
#include "demo/set_geometry.h"
#include "demo/set_materials.h"

namespace dusk::demo {
namespace {

constexpr float slabX = 1.2f, slabY = 1.5f, edgeY = 5.2f, kerbX = -1.65f;

Mesh apron() {
  Mesh mesh;
  for (int i = -6; i < 8; ++i)
    for (int k = -3; k < 4; ++k) {
      const float y1 = std::min((k + 1) * slabY, edgeY);
      if (y1 - k * slabY < 0.1f) continue;
      const int number = (i + 20) * 31 + k + 10;
      addBlock(mesh, {{i * slabX + 0.006f, k * slabY + 0.006f, 0.002f * (random01(number, 7) - 0.5f)}, {}},
               {slabX - 0.012f, y1 - k * slabY - 0.012f, 0.05f, 0.006f, 0.002f, number});
    }
  addSheet(mesh, {-12, -8, -0.012f}, {26, 0, 0}, {0, 8 + edgeY, 0});
  addSheet(mesh, {-12, edgeY, -3}, {26, 0, 0}, {0, 0, 2.97f});
  return mesh;
}

/// A kerb of cast blocks at the left, facing +X.
Mesh kerb() {
  Mesh mesh;
  const Triadf side{{0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  for (int k = -5; k < 6; ++k) {
    const float y = k * 0.9f, length = std::min(0.9f, edgeY - y) - 0.012f;
    if (length < 0.1f) continue;
    addBlock(mesh, {{kerbX, y, 0}, side}, {length, 0.32f, 0.2f, 0.012f, 0.003f, 900 + k});
    addBlock(mesh, {{kerbX - 0.4f, y, 0.32f}, {}}, {0.4f, length, 0.05f, 0.012f, 0.003f, 950 + k});
  }
  return mesh;
}

Mesh timber() {
  Mesh mesh;
  const Triadf facing{{1, 0, 0}, {0, 0, 1}, {0, -1, 0}}, side{{0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  const auto baulk = [&](float x, float y, float z, float length, int number) {
    constexpr float w = 0.2f;
    addBlock(mesh, {{x, y, z}, facing}, {length, w, 0.02f, 0.006f, 0.002f, number});
    addBlock(mesh, {{x + length, y, z}, side}, {w, w, 0.02f, 0.006f, 0.002f, number + 2});
    addBlock(mesh, {{x, y, z + w}, {}}, {length, w, 0.02f, 0.006f, 0.002f, number + 4});
  };
  baulk(1.0f, 2.4f, 0, 1.9f, 3000), baulk(1.1f, 2.63f, 0, 1.9f, 3010), baulk(1.02f, 2.5f, 0.2f, 1.8f, 3020);
  return mesh;
}

Mesh bollard() {
  Mesh mesh;
  addTurned(mesh, {-0.55f, 3.9f, 0},
            {{0.19f, 0},
             {0.19f, 0.03f},
             {0.13f, 0.06f},
             {0.115f, 0.2f},
             {0.115f, 0.34f},
             {0.16f, 0.4f},
             {0.17f, 0.43f},
             {0.15f, 0.47f},
             {0.07f, 0.5f},
             {0.0005f, 0.505f}},
            1);
  return mesh;
}

/// An overcast sky (CIE standard overcast, Moon & Spencer 1942) with faint banks of cloud and a far shore.
Picture overcastSky(int width) {
  Picture sky = Picture::rgb(width, width / 2);
  for (int y = 0; y < sky.height; ++y)
    for (int x = 0; x < width; ++x) {
      const Vec3f d = panoramaDirection({(x + 0.5f) / width, (y + 0.5f) / sky.height});
      const Vec3f at = Vec3f(d.x, d.y, 0) / (std::abs(d.z) + 0.15f);
      const float cloud = 1 + 0.35f * layeredNoise({at.x * 0.7f, at.y * 1.2f, 2.0f}, 5);
      Rgb c = Rgb(0.86f, 0.92f, 1.0f) * ((1 + 2 * std::max(0.0f, d.z)) / 3 * cloud * 1.75f);
      const float ridge = 0.02f + 0.02f * layeredNoise({std::atan2(d.x, d.y) * 4, 3, 0}, 4);
      if (d.z < ridge) c = c * 0.45f + Rgb(0.18f, 0.205f, 0.22f);
      if (d.z < 0) c = Rgb(0.16f, 0.17f, 0.18f);
      std::copy_n(&c.x, 3, sky.at(x, y));
    }
  return sky;
}

}  // namespace

Scene builtSlipway(GeometryCache& cache) {
  auto m = std::make_shared<Model>();
  m->add({"apron", "apron"}, apron()), m->add({"kerb", "kerb"}, kerb());
  m->add({"timber", "timber"}, timber()), m->add({"bollard", "bollard"}, bollard());
  Mesh water;
  addSheet(water, {-300, edgeY - 0.4f, -0.9f}, {600, 0, 0}, {0, 700, 0});
  m->add({"water", "water"}, std::move(water));
  Scene scene;
  scene.materials.push_back({wetConcrete(), wetConcrete(), crateWood(), castIron(), harbourWater()});
  scene.geometry = std::make_shared<PlacedGeometry>(
      cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(m, {}), Similarity{}}});
  scene.camera = slipway().camera;
  scene.lights = std::make_shared<Lights>(Panorama::make(overcastSky(2048)), Surroundings{},
                                          std::vector<Lamp>{}, Rgb(0));
  scene.place.ground = false;
  scene.bounces = 5;
  return scene;
}

MadeSet slipway() {
  MadeSet set;
  constexpr int width = 1440, height = 960;
  set.camera =
      lookAt(width, height, focalPxFromMm35(24, width, height), {0.15, -1.25, 0.78}, {0.05, 1.0, 0.12});
  set.camera.k1 = -0.06;
  set.captureM = {0.1, 0.25, 0.5};
  std::mt19937 random(17);
  const auto at = [&](double x, double y, double z) { return drawn(set.camera, {x, y, z}, random); };
  set.evidence.footprint =
      Footprint{{at(0, 0, 0), at(slabX, 0, 0), at(slabX, slabY, 0), at(0, slabY, 0)}, Vec2d(slabX, slabY)};
  set.evidence.solveK1 = true;
  const auto stroke = [&](Run run, const Vec3d& from, const Vec3d& to) {
    addDrawnStroke(set.evidence.strokes, set.camera, run, from, to, 4, random);
  };
  stroke(Run::b, {0, 0.1, 0}, {0, 4.4, 0}), stroke(Run::b, {slabX, 0.3, 0}, {slabX, 2.3, 0});
  stroke(Run::b, {-slabX, 0.9, 0}, {-slabX, 4.4, 0});
  stroke(Run::a, {-1.1, slabY, 0}, {1.6, slabY, 0}),
      stroke(Run::a, {-1.4, 2 * slabY, 0}, {0.8, 2 * slabY, 0});
  stroke(Run::up, {1.0, 2.4, 0.02}, {1.0, 2.4, 0.19});
  return set;
}

Outcome writeSlipway(const std::filesystem::path& folder, int samples, Progress& progress) {
  GeometryCache cache;
  const Scene scene = builtSlipway(cache);
  if (const auto written = takePhotograph(scene, samples, folder / "slipway-plate.jpg",
                                          {"Saltmarsh 16 mm", 16, 24, 5.6f, 1 / 100.0}, progress);
      !written)
    return written;
  const Picture light = photographedAllRound(scene, toFloat(slipway().captureM), 1024, samples, progress);
  return writeExr(folder / "slipway-panorama.exr", {{"panorama", &light, false}});
}

}  // namespace dusk::demo
