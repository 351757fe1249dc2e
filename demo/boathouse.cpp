// The made-up set "Boathouse bench": indoors, lit by two windows.
#include "core/light/bracket.h"
#include "core/picture/write.h"
#include "core/vantage/camera.h"
#include "demo/more_sets.h"
#include "demo/noise.h"
#include "demo/photography.h"
#include "demo/set_geometry.h"
#include "demo/set_materials.h"

namespace dusk::demo {
namespace {

constexpr float chartX = 0.594f, chartY = 0.420f;
// The bench top is Z = 0; the room around it.
constexpr float benchLeft = -0.75f, benchRight = 1.35f, benchFront = -0.16f, benchBack = 0.58f,
                floorZ = -0.86f;
constexpr float roomLeft = -1.7f, roomRight = 2.3f, roomFront = -2.6f, roomBack = 0.62f, roomTop = 1.7f;

void planks(Mesh& mesh, const Vec3f& corner, const Triadf& frame, float width, float height, float each,
            int number) {
  // Along x, one above the other in y.
  for (float y = 0; y < height - 0.01f; y += each)
    addBlock(mesh, {corner + frame.y * (y + 0.002f), frame},
             {width, std::min(each, height - y) - 0.004f, 0.02f, 0.003f, 0.0008f, number += 2});
}

Mesh bench() {
  Mesh mesh;
  planks(mesh, {benchLeft, benchFront, 0}, {}, benchRight - benchLeft, benchBack - benchFront, 0.148f, 10);
  const Triadf facing{{1, 0, 0}, {0, 0, 1}, {0, -1, 0}};
  addBlock(mesh, {{benchLeft, benchFront + 0.004f, -0.12f}, facing},
           {benchRight - benchLeft, 0.112f, 0.03f, 0.004f, 0.001f, 50});
  for (const float x : {benchLeft + 0.05f, benchRight - 0.15f})
    addBlock(mesh, {{x, benchFront + 0.02f, floorZ}, facing},
             {0.1f, -floorZ - 0.1f, 0.1f, 0.004f, 0.001f, 60});
  return mesh;
}

Mesh room() {
  Mesh mesh;
  // Boards upright on the walls.
  const auto wall = [&](const Vec3f& corner, const Vec3f& along, const Vec3f& out, float width, int number) {
    int k = number;
    for (float x = 0; x < width - 0.01f; x += 0.16f) {
      const float w = std::min(0.16f, width - x) - 0.006f;
      addBlock(mesh,
               {corner + along * (x + 0.003f) + out * (0.004f * random01(k, 3)), {along, {0, 0, 1}, out}},
               {w, roomTop - floorZ, 0.02f, 0.004f, 0.0015f, k += 2});
    }
  };
  wall({roomLeft, roomBack, floorZ}, {1, 0, 0}, {0, -1, 0}, roomRight - roomLeft, 300);
  wall({roomLeft, roomFront, floorZ}, {0, 1, 0}, {1, 0, 0}, roomBack - roomFront, 500);
  wall({roomRight, roomBack, floorZ}, {0, -1, 0}, {-1, 0, 0}, roomBack - roomFront, 700);
  wall({roomRight, roomFront, floorZ}, {-1, 0, 0}, {0, 1, 0}, roomRight - roomLeft, 900);
  return mesh;
}

Mesh floorAndRoof() {
  Mesh mesh;
  planks(mesh, {roomLeft, roomFront, floorZ}, {}, roomRight - roomLeft, roomBack - roomFront, 0.19f, 1200);
  const Triadf down{{1, 0, 0}, {0, -1, 0}, {0, 0, -1}};
  planks(mesh, {roomLeft, roomBack, roomTop}, down, roomRight - roomLeft, roomBack - roomFront, 0.22f, 1400);
  return mesh;
}

Mesh chart() {
  Mesh mesh;
  addSheet(mesh, {0, 0, 0.0006f}, {chartX, 0, 0}, {0, chartY, 0});
  return mesh;
}

/// A tin of brushes, a block and a coil of line: what stands on a bench.
Mesh tin() {
  Mesh mesh;
  addTurned(mesh, {-0.42f, 0.30f, 0},
            {{0.055f, 0},
             {0.056f, 0.004f},
             {0.0545f, 0.008f},
             {0.0545f, 0.128f},
             {0.0565f, 0.132f},
             {0.0545f, 0.134f},
             {0.052f, 0.13f},
             {0.052f, 0.012f},
             {0.0005f, 0.012f}},
            1);
  return mesh;
}
Mesh blocks() {
  Mesh mesh;
  const Triadf sides[] = {{{1, 0, 0}, {0, 0, 1}, {0, -1, 0}},
                          {{0, 1, 0}, {0, 0, 1}, {1, 0, 0}},
                          {{-1, 0, 0}, {0, 0, 1}, {0, 1, 0}},
                          {{0, -1, 0}, {0, 0, 1}, {-1, 0, 0}}};
  const auto box = [&](const Vec3f& at, float w, float d, float h, int number) {
    const Vec3f corners[] = {at, at + Vec3f(w, 0, 0), at + Vec3f(w, d, 0), at + Vec3f(0, d, 0)};
    for (int i = 0; i < 4; ++i)
      addBlock(mesh, {corners[i], sides[i]}, {i % 2 ? d : w, h, 0.01f, 0.003f, 0.001f, number + 2 * i});
    addBlock(mesh, {at + Vec3f(0, 0, h), {}}, {w, d, 0.01f, 0.003f, 0.001f, number + 9});
  };
  box({0.88f, 0.24f, 0}, 0.26f, 0.14f, 0.09f, 2000);
  box({0.93f, 0.26f, 0.09f}, 0.18f, 0.11f, 0.07f, 2100);
  return mesh;
}
Mesh line() {
  std::vector<Vec3f> along;
  for (int i = 0; i < 520; ++i) {
    const float t = i / 519.0f, a = t * 2 * pif * 6.5f,
                r = 0.05f + 0.035f * std::abs(std::fmod(t * 3, 2.0f) - 1);
    along.push_back({-0.5f + r * std::cos(a), 0.02f + r * std::sin(a), 0.008f + 0.045f * t});
  }
  Mesh mesh;
  addTube(mesh, along, 0.007f, 1);
  return mesh;
}

}  // namespace

Lamp windowLamp(const char* id, const Vec3d& at, const Vec3d& to, double width, double height, double kelvin,
                double ev) {
  Lamp lamp;
  lamp.id = lamp.name = id, lamp.kind = LampKind::area, lamp.positionM = at, lamp.targetM = to;
  lamp.widthM = width, lamp.heightM = height, lamp.kelvin = kelvin, lamp.powerEv = ev;
  lamp.seenByCamera = true;
  return lamp;
}

Scene builtBoathouse(GeometryCache& cache) {
  auto m = std::make_shared<Model>();
  m->add({"bench", "bench"}, bench()), m->add({"room", "room"}, room());
  m->add({"floor", "floor"}, floorAndRoof()), m->add({"chart", "chart"}, chart());
  m->add({"tin", "tin"}, tin()), m->add({"blocks", "blocks"}, blocks()), m->add({"line", "line"}, line());
  Scene scene;
  scene.materials.push_back(
      {benchWood(), limeWash(), crateWood(), chartPaper(), castIron(), crateWood(), hempRope()});
  scene.geometry = std::make_shared<PlacedGeometry>(
      cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(m, {}), Similarity{}}});
  scene.camera = boathouse().camera;
  const std::vector<Lamp> windows{
      windowLamp("left window", {roomLeft + 0.03, -0.35, 0.72}, {0, -0.35, 0.72}, 1.0, 1.1, 7200, 3.4 + 1.3),
      windowLamp("far window", {1.2, roomFront + 0.03, 0.9}, {1.2, 0, 0.9}, 0.7, 0.8, 7200, 2.2 + 1.3)};
  scene.lights = std::make_shared<Lights>(nullptr, Surroundings{}, windows, Rgb(0));
  scene.place.ground = false;
  scene.bounces = 7;
  return scene;
}

MadeSet boathouse() {
  MadeSet set;
  constexpr int width = 1280, height = 853;
  set.camera =
      lookAt(width, height, focalPxFromMm35(38, width, height), {0.52, -1.12, 0.62}, {0.30, 0.28, 0.06});
  set.camera.k1 = -0.03;
  set.captureM = {0.3, 0.16, 0.3};
  std::mt19937 random(11);
  const auto at = [&](double x, double y, double z) { return drawn(set.camera, {x, y, z}, random); };
  set.evidence.footprint = Footprint{{at(0, 0, 0), at(chartX, 0, 0), at(chartX, chartY, 0), at(0, chartY, 0)},
                                     Vec2d(chartX, chartY)};
  const auto stroke = [&](Run run, const Vec3d& from, const Vec3d& to) {
    addDrawnStroke(set.evidence.strokes, set.camera, run, from, to, 4, random);
  };
  stroke(Run::a, {-0.3, benchFront, 0}, {1.1, benchFront, 0});
  stroke(Run::a, {-0.3, benchFront + 4 * 0.148, 0}, {1.1, benchFront + 4 * 0.148, 0});
  for (const double x : {-0.26, 0.54, 0.86}) stroke(Run::up, {x, roomBack, 0.03}, {x, roomBack, 0.45});
  StandIn top, wall;
  top.id = "bench", top.name = "Bench", top.kind = StandInKind::box;
  top.positionM = {(benchLeft + benchRight) / 2, (benchFront + roomBack) / 2, -0.12};
  top.sizeM = {benchRight - benchLeft, roomBack - benchFront, 0.12};
  top.gloss = 0.25, top.glossRoughness = 0.35;
  wall.id = "wall", wall.name = "Back wall", wall.kind = StandInKind::sheet, wall.leanDegrees = 90;
  wall.positionM = {0.3, roomBack, 0.85}, wall.sizeM = {4, 1.7, 0};
  StandIn block;
  block.id = "block", block.name = "Wood block";
  block.positionM = {1.01, 0.31, 0}, block.sizeM = {0.26, 0.14, 0.09};
  set.standIns = {top, wall, block};
  return set;
}

Outcome writeBoathouse(const std::filesystem::path& folder, int samples, Progress& progress) {
  GeometryCache cache;
  const Scene scene = builtBoathouse(cache);
  if (const auto written = takePhotograph(scene, samples, folder / "boathouse-plate.jpg",
                                          {"Saltmarsh 25 mm", 25, 38, 4, 1 / 30.0}, progress);
      !written)
    return written;
  const Picture light = photographedAllRound(scene, toFloat(boathouse().captureM), 1024, samples, progress);
  // Nine exposures, two stops apart, as a camera writes them.
  std::vector<std::filesystem::path> files;
  for (int i = 0; i < 9; ++i) {
    Picture shot = light;
    const double ev = 6 - 2 * i;
    for (float& v : shot.pixels) v *= float(std::exp2(ev));
    encodeSrgb(shot);
    files.push_back(folder / ("boathouse-panorama-" + std::to_string(i + 1) + ".jpg"));
    if (const auto written =
            writePhotograph(files.back(), shot, {"Saltmarsh all round", 8, 12, 8, std::exp2(ev) / 60});
        !written)
      return written;
  }
  const auto merged = mergeFiles(files, {}, progress);
  if (!merged) return merged.error();
  return writeExr(folder / "boathouse-panorama.exr", {{"panorama", &merged->light, false}});
}

}  // namespace dusk::demo
