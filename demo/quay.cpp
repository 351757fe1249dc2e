#include "demo/quay.h"

#include <random>

#include "core/picture/write.h"
#include "core/trace/integrator.h"
#include "core/vantage/camera.h"
#include "demo/noise.h"
#include "demo/photography.h"
#include "demo/set_geometry.h"
#include "demo/set_materials.h"
#include "demo/sky.h"

namespace dusk::demo {
namespace {

constexpr float slabX = 0.5f, slabY = 0.8f, joint = 0.008f;
constexpr float quayEdge = 5.6f, wallY = 3.1f, wallEnd = 0.95f;
const Vec3f bollardAt(1.55f, 2.55f, 0), otherBollardAt(3.1f, 4.9f, 0), ropeAt(0.98f, 1.62f, 0);
constexpr float bollardHeight = 0.46f;

void addPart(Model& m, const char* name, Mesh mesh) { m.add({name, name}, std::move(mesh)); }

Mesh paving() {
  Mesh mesh;
  for (int i = -14; i < 16; ++i)
    for (int k = -6; k < 7; ++k) {
      const float y0 = k * slabY + (i % 2 ? slabY / 2 : 0.0f), y1 = std::min(y0 + slabY, quayEdge);
      if (y1 - y0 < 0.1f) continue;
      const int number = (i + 40) * 97 + k + 20;
      Placed place{{i * slabX + joint / 2, y0 + joint / 2, 0.0025f * (random01(number, 7) - 0.5f)}, {}};
      const float leanX = 0.004f * (random01(number, 8) - 0.5f),
                  leanY = 0.004f * (random01(number, 9) - 0.5f);
      place.frame.z = Vec3f(-leanX, -leanY, 1).normalized();
      place.frame.x = Vec3f(1, 0, leanX).normalized();
      place.frame.y = place.frame.z.cross(place.frame.x);
      addBlock(mesh, place, {slabX - joint, y1 - y0 - joint, 0.05f, 0.005f, 0.0022f, number});
    }
  return mesh;
}

/// Courses of stone facing -Y from far left to `wallEnd`, the end facing +X, and a coping on top.
Mesh wall() {
  Mesh mesh;
  const Triadf facing{{1, 0, 0}, {0, 0, 1}, {0, -1, 0}}, side{{0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  int number = 20000;
  constexpr float course = 0.24f, thickness = 0.5f;
  for (int row = 0; row < 4; ++row) {
    for (float x = wallEnd; x > -9;) {
      const float width = 0.38f + 0.42f * random01(row, number), x0 = x - width;
      const float out = 0.012f * random01(number, 1);
      addBlock(mesh, {{x0 + 0.005f, wallY - out, row * course + 0.005f}, facing},
               {width - 0.01f, course - 0.01f, 0.12f, 0.012f, 0.004f, ++number});
      x = x0;
    }
    const float split = 0.18f + 0.14f * random01(row, 3);
    addBlock(mesh, {{wallEnd + 0.004f, wallY + 0.002f, row * course + 0.005f}, side},
             {split, course - 0.01f, 0.1f, 0.012f, 0.004f, ++number});
    addBlock(mesh, {{wallEnd + 0.004f, wallY + split + 0.012f, row * course + 0.005f}, side},
             {thickness - split - 0.012f, course - 0.01f, 0.1f, 0.012f, 0.004f, ++number});
  }
  for (float x = wallEnd + 0.05f; x > -9; x -= 0.92f) {
    const float top = 4 * course + 0.09f;
    addBlock(mesh, {{x - 0.915f, wallY - 0.05f, top}, {}},
             {0.91f, thickness + 0.1f, 0.09f, 0.014f, 0.003f, ++number});
    addBlock(mesh, {{x - 0.915f, wallY - 0.05f, top - 0.088f}, facing},
             {0.91f, 0.088f, 0.05f, 0.012f, 0.003f, number});
    if (x > wallEnd)
      addBlock(mesh, {{x, wallY - 0.05f, top - 0.088f}, side},
               {thickness + 0.1f, 0.088f, 0.05f, 0.012f, 0.003f, number});
  }
  return mesh;
}

Mesh sandBed() {
  Mesh mesh;
  addSheet(mesh, {-12, -8, -0.0065f}, {24, 0, 0}, {0, 8 + quayEdge, 0});
  addSheet(mesh, {-12, quayEdge, -3}, {24, 0, 0}, {0, 0, 2.98f});
  return mesh;
}

Mesh mortar() {
  Mesh mesh;
  addSheet(mesh, {-12, wallY + 0.007f, -0.1f}, {12 + wallEnd - 0.007f, 0, 0}, {0, 0, 1.08f});
  addSheet(mesh, {wallEnd - 0.007f, wallY + 0.007f, -0.1f}, {0, 0.48f, 0}, {0, 0, 1.08f});
  return mesh;
}

Mesh bollards() {
  std::vector<Vec2f> profile = {{0.17f, 0},       {0.17f, 0.03f},  {0.165f, 0.04f},         {0.12f, 0.055f},
                                {0.105f, 0.08f},  {0.097f, 0.16f}, {0.097f, 0.28f},         {0.104f, 0.33f},
                                {0.13f, 0.365f},  {0.143f, 0.39f}, {0.143f, 0.41f},         {0.13f, 0.435f},
                                {0.095f, 0.452f}, {0.05f, 0.459f}, {0.0005f, bollardHeight}};
  Mesh mesh;
  addTurned(mesh, bollardAt, profile, 1);
  addTurned(mesh, otherBollardAt, profile, 2);
  return mesh;
}

/// A crate of planks on corner posts; `turn` in radians about the upright.
void addCrate(Mesh& mesh, const Vec3f& foot, float width, float height, float turn, int number) {
  const float c = std::cos(turn), s = std::sin(turn);
  const Vec3f x(c, s, 0), y(-s, c, 0), z(0, 0, 1);
  const struct { Vec3f along, out; } sides[] = {{x, -y}, {y, x}, {-x, y}, {-y, -x}};
  int plank = number * 1000;
  for (const auto& side : sides) {
    const Vec3f corner = foot + side.out * (width / 2) - side.along * (width / 2);
    constexpr int planks = 4;
    const float each = height / planks;
    for (int i = 0; i < planks; ++i)
      addBlock(mesh, {corner + z * (each * i + 0.004f) + side.along * 0.002f, {side.along, z, side.out}},
               {width - 0.004f, each - 0.008f, 0.016f, 0.003f, 0.0012f, plank += 2});
    for (float at : {0.006f, width - 0.056f})
      addBlock(mesh, {corner + side.along * at + side.out * 0.016f, {side.along, z, side.out}},
               {0.05f, height, 0.016f, 0.003f, 0.0012f, (plank += 2) + 1});
  }
  for (int i = 0; i < 5; ++i)
    addBlock(
        mesh,
        {foot - x * (width / 2) - y * (width / 2) + y * (i * width / 5 + 0.003f) + z * height, {x, y, z}},
        {width, width / 5 - 0.006f, 0.014f, 0.003f, 0.0012f, plank += 2});
}

Mesh crates() {
  Mesh mesh;
  addCrate(mesh, {-1.28f, 1.95f, 0}, 0.62f, 0.46f, 0.0f, 1);
  addCrate(mesh, {-1.20f, 2.0f, 0.462f}, 0.46f, 0.34f, 0.16f, 2);
  addCrate(mesh, {-2.15f, 2.35f, 0}, 0.62f, 0.46f, -0.22f, 3);
  return mesh;
}

Mesh rope() {
  std::vector<Vec3f> line;
  constexpr float radius = 0.017f;
  for (int layer = 0; layer < 3; ++layer)
    for (int i = 0; i < 560; ++i) {
      const float t = i / 559.0f, turns = t * 4, a = 2 * pif * turns + layer * 0.4f;
      const float r = 0.135f + (layer % 2 ? 1 - t : t) * 0.125f;
      line.push_back(ropeAt +
                     Vec3f(r * std::cos(a), r * std::sin(a),
                           radius + layer * 1.72f * radius + 0.002f * noise({a * 2, float(layer), 0})));
    }
  // A loose end over the paving.
  const Vec3f last = line.back();
  for (int i = 1; i < 140; ++i) {
    const float t = i / 139.0f;
    line.push_back({last.x + 0.5f * t, last.y - 0.25f * t + 0.08f * std::sin(t * 7),
                    radius + (last.z - radius) * std::pow(1 - t, 3.0f)});
  }
  Mesh mesh;
  addTube(mesh, line, radius, 1);
  return mesh;
}

}  // namespace

Scene builtQuay(GeometryCache& cache) {
  auto m = std::make_shared<Model>();
  addPart(*m, "paving", paving());
  addPart(*m, "wall", wall());
  addPart(*m, "sand", sandBed());
  addPart(*m, "mortar", mortar());
  addPart(*m, "bollards", bollards());
  addPart(*m, "crates", crates());
  addPart(*m, "rope", rope());
  Mesh water;
  addSheet(water, {-400, quayEdge - 0.5f, -1.6f}, {800, 0, 0}, {0, 900, 0});
  addPart(*m, "water", std::move(water));
  Scene scene;
  scene.materials.push_back({pavingStone(), wallStone(), jointSand(), limeMortar(), castIron(), crateWood(),
                             hempRope(), harbourWater()});
  scene.geometry = std::make_shared<PlacedGeometry>(
      cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(m, {}), Similarity{}}});
  const Quay q = quay();
  scene.camera = q.camera;
  scene.lights = std::make_shared<Lights>(Panorama::make(eveningSky(4096, sunDirection(q.sun))),
                                          Surroundings{}, std::vector<Lamp>{q.sun}, Rgb(0));
  scene.place.ground = false;
  scene.bounces = 5;
  return scene;
}

Quay quay() {
  Quay q;
  constexpr int width = 1920, height = 1280;
  q.camera =
      lookAt(width, height, focalPxFromMm35(30, width, height), {0.32, -1.22, 0.74}, {0.10, 0.62, 0.20});
  // A hand-held camera: slightly rolled, its lens bending lines outwards.
  const double lean = radians(0.6);
  const Triadd a = q.camera.axes;
  q.camera.axes.x = a.x * std::cos(lean) + a.y * std::sin(lean);
  q.camera.axes.y = a.y * std::cos(lean) - a.x * std::sin(lean);
  q.camera.k1 = -0.052;

  q.sun.id = "set-sun", q.sun.name = "Evening sun";
  q.sun.kelvin = 4300, q.sun.powerEv = 1.5;
  q.sun.azimuthDegrees = -112, q.sun.elevationDegrees = 25, q.sun.discDegrees = 0.62;

  std::mt19937 random(5);
  const auto at = [&](double x, double y, double z) { return drawn(q.camera, {x, y, z}, random); };
  const auto stroke = [&](Run run, const Vec3d& from, const Vec3d& to, int points) {
    addDrawnStroke(q.edges, q.camera, run, from, to, points, random);
  };
  stroke(Run::b, {-0.5, -0.15, 0}, {-0.5, 2.9, 0}, 4);
  stroke(Run::b, {1.0, 0.05, 0}, {1.0, 1.3, 0}, 3);
  stroke(Run::b, {0.5, -0.1, 0}, {0.5, 2.9, 0}, 4);
  stroke(Run::a, {-0.85, wallY, 0.24}, {0.9, wallY, 0.24}, 4);
  stroke(Run::a, {-0.9, wallY, 0.48}, {0.9, wallY, 0.48}, 4);
  stroke(Run::a, {-1.575, 1.64, 0.0}, {-0.985, 1.64, 0.0}, 3);
  stroke(Run::up, {wallEnd, wallY, 0.05}, {wallEnd, wallY, 0.9}, 3);
  stroke(Run::up, {-0.975, 1.625, 0.02}, {-0.975, 1.625, 0.44}, 3);
  q.slab.corners = {at(0, 0, 0), at(slabX, 0, 0), at(slabX, slabY, 0), at(0, slabY, 0)};
  q.slab.sizeM = Vec2d(slabX, slabY);

  // The near crate's corner post and the corner of its shadow.
  const Vec3d post(-0.94, 1.61, 0);
  const double run = 0.46 / std::tan(radians(q.sun.elevationDegrees)),
               azimuth = radians(q.sun.azimuthDegrees);
  q.post.base = at(post.x, post.y, 0);
  q.post.shadowTip = at(post.x - run * std::sin(azimuth), post.y - run * std::cos(azimuth), 0);

  const auto standIn = [&](const char* id, const char* name, StandInKind kind, Vec3d foot, Vec3d size,
                           double turn) {
    StandIn s;
    s.id = id, s.name = name, s.kind = kind, s.positionM = foot, s.sizeM = size, s.turnDegrees = turn;
    q.standIns.push_back(s);
  };
  standIn("crate", "Near crate", StandInKind::box, {-1.28, 1.95, 0}, {0.65, 0.65, 0.47}, 0);
  standIn("upper-crate", "Upper crate", StandInKind::box, {-1.20, 2.0, 0.47}, {0.49, 0.49, 0.35}, 9);
  standIn("wall", "Wall", StandInKind::box, {-4.0, 3.35, 0}, {9.9, 0.55, 1.05}, 0);
  standIn("bollard", "Bollard", StandInKind::cylinder, {1.55, 2.55, 0}, {0.28, 0.28, 0.46}, 0);
  return q;
}

Outcome writePlate(const std::filesystem::path& file, int samples, Progress& progress) {
  GeometryCache cache;
  return takePhotograph(builtQuay(cache), samples, file, {"Saltmarsh 20 mm", 20, 30, 8, 1 / 125.0}, progress);
}

Outcome writePanorama(const std::filesystem::path& file, int width, int samples, Progress& progress) {
  GeometryCache cache;
  Picture picture = photographedAllRound(builtQuay(cache), {0.1f, 0.2f, 0.5f}, width, samples, progress);
  for (float& v : picture.pixels) v *= float(std::exp2(panoramaEv));
  return writeExr(file, {{"panorama", &picture, false}});
}

}  // namespace dusk::demo
