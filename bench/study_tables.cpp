#include "bench/study_tables.h"

#include "core/picture/write.h"
#include "core/project/file.h"
#include "core/vantage/camera.h"
#include "demo/more_sets.h"
#include "demo/noise.h"
#include "demo/photography.h"
#include "demo/set_geometry.h"
#include "demo/set_materials.h"

namespace dusk::bench {
namespace {

using Top = StudyTable::Top;
constexpr float tableHalfX = 0.9f, tableFront = -0.5f, tableBack = 0.8f;
constexpr float roomX = 1.9f, roomFront = -2.4f, roomBack = 1.7f, floorZ = -0.75f, ceilingZ = 1.9f;

std::shared_ptr<const Material> even(const Rgb& colour) {
  BsdfParameters paint;
  paint.base = colour, paint.roughness = 0.8f;
  return std::make_shared<PlainMaterial>(paint);
}

std::shared_ptr<const Material> topOf(Top top) {
  return demo::made([top](const SurfacePoint& at, BsdfParameters& out, Vec3f&) {
    const Vec3f& p = at.position;
    if (top == Top::lacquer) {
      out.base = Rgb(0.012f, 0.011f, 0.012f), out.roughness = 0.04f, out.ior = 1.55f;
    } else if (top == Top::varnish) {
      const float grain = demo::layeredNoise({p.x * 3, p.y * 70, 0}, 4),
                  ring = demo::layeredNoise({p.x, p.y * 9, 4}, 3);
      out.base = demo::mix({0.26f, 0.15f, 0.07f}, {0.15f, 0.08f, 0.04f}, 0.5f + grain + ring);
      out.roughness = 0.6f, out.clearcoat = 1, out.clearcoatRoughness = 0.1f;
    } else if (top == Top::paper) {
      const bool ruled = std::abs(p.x / 0.05f - std::round(p.x / 0.05f)) < 0.02f ||
                         std::abs(p.y / 0.05f - std::round(p.y / 0.05f)) < 0.02f;
      out.base = ruled ? Rgb(0.20f, 0.28f, 0.42f) : Rgb(0.62f, 0.60f, 0.54f);
      out.roughness = 1, out.specular = 0;
    } else {
      const float cloud = demo::layeredNoise(p * 7.0f, 5), speck = demo::layeredNoise(p * 160.0f, 2);
      out.base = Rgb(0.12f, 0.125f, 0.13f) * (1 + 0.7f * cloud + 0.5f * speck);
      out.roughness = 0.8f, out.clearcoat = 1, out.clearcoatRoughness = 0.3f;
    }
  });
}

void addBox(Mesh& mesh, const Vec3f& low, const Vec3f& high) {
  const Vec3f size = high - low;
  demo::addSheet(mesh, {low.x, low.y, high.z}, {size.x, 0, 0}, {0, size.y, 0});
  demo::addSheet(mesh, low, {size.x, 0, 0}, {0, 0, size.z});
  demo::addSheet(mesh, {high.x, high.y, low.z}, {-size.x, 0, 0}, {0, 0, size.z});
  demo::addSheet(mesh, {low.x, high.y, low.z}, {0, -size.y, 0}, {0, 0, size.z});
  demo::addSheet(mesh, {high.x, low.y, low.z}, {0, size.y, 0}, {0, 0, size.z});
}

struct Crate {
  const char* name;
  Vec3f low, high;
  Rgb colour;
};
const Crate crates[] = {{"Red crate", {-0.22f, 0.34f, 0}, {0.16f, 0.58f, 0.30f}, {0.42f, 0.05f, 0.035f}},
                        {"Pale crate", {0.34f, 0.12f, 0}, {0.62f, 0.34f, 0.16f}, {0.62f, 0.58f, 0.46f}},
                        {"Blue crate", {-0.66f, 0.05f, 0}, {-0.42f, 0.25f, 0.22f}, {0.05f, 0.13f, 0.30f}}};

Camera cameraOfTable() {
  constexpr int width = 1200, height = 800;
  return lookAt(width, height, focalPxFromMm35(38, width, height), {0.12, -1.32, 0.60}, {0.02, 0.12, 0.08});
}
const Vec3f captureM{0.05f, 0.02f, 0.22f};

Scene builtTable(Top top, GeometryCache& cache) {
  auto m = std::make_shared<Model>();
  Scene scene;
  scene.materials.emplace_back();
  const auto add = [&](const char* name, Mesh mesh, std::shared_ptr<const Material> material) {
    m->add({name, name}, std::move(mesh));
    scene.materials.back().push_back(std::move(material));
  };
  Mesh board;
  demo::addSheet(board, {-tableHalfX, tableFront, 0}, {2 * tableHalfX, 0, 0}, {0, tableBack - tableFront, 0});
  add("table", std::move(board), topOf(top));
  for (const Crate& crate : crates) {
    Mesh mesh;
    addBox(mesh, crate.low, crate.high);
    add(crate.name, std::move(mesh), even(crate.colour));
  }
  const float deep = roomBack - roomFront, tall = ceilingZ - floorZ;
  Mesh floor, ceiling, back, front, left, right;
  demo::addSheet(floor, {-roomX, roomFront, floorZ}, {2 * roomX, 0, 0}, {0, deep, 0});
  demo::addSheet(ceiling, {-roomX, roomBack, ceilingZ}, {2 * roomX, 0, 0}, {0, -deep, 0});
  demo::addSheet(back, {-roomX, roomBack, floorZ}, {2 * roomX, 0, 0}, {0, 0, tall});
  demo::addSheet(front, {roomX, roomFront, floorZ}, {-2 * roomX, 0, 0}, {0, 0, tall});
  demo::addSheet(left, {-roomX, roomFront, floorZ}, {0, deep, 0}, {0, 0, tall});
  demo::addSheet(right, {roomX, roomBack, floorZ}, {0, -deep, 0}, {0, 0, tall});
  add("floor", std::move(floor), even({0.16f, 0.12f, 0.09f}));
  add("ceiling", std::move(ceiling), even({0.70f, 0.69f, 0.66f}));
  add("back", std::move(back), even({0.36f, 0.40f, 0.36f}));
  add("front", std::move(front), even({0.50f, 0.47f, 0.42f}));
  add("left", std::move(left), even({0.55f, 0.52f, 0.45f}));
  add("right", std::move(right), even({0.30f, 0.33f, 0.38f}));
  scene.geometry = std::make_shared<PlacedGeometry>(
      cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(m, {}), Similarity{}}});
  scene.lights = std::make_shared<Lights>(
      nullptr, Surroundings{},
      std::vector<Lamp>{
          demo::windowLamp("left", {-roomX + 0.02, -0.5, 0.75}, {0, -0.5, 0.75}, 1.1, 1.0, 6800, 4.6),
          demo::windowLamp("front", {0.9, roomFront + 0.02, 0.9}, {0.9, 0, 0.9}, 0.8, 0.8, 6800, 3.4)},
      Rgb(0));
  scene.place.ground = false;
  scene.bounces = 7;
  return scene;
}

}  // namespace

std::string nameOf(const StudyTable& table) {
  const char* names[] = {"lacquer", "varnish", "wet stone", "paper"};
  return names[int(table.top)] + std::string(table.jar ? ", jar in soft focus" : "") +
         (table.cratesTold ? ", crates told" : "");
}

Result<demo::TruthSet> studyTable(const StudyTable& table, const std::filesystem::path& demo,
                                  const std::filesystem::path& scratch) {
  const std::filesystem::path products =
      table.jar ? demo / "jar" / "jar.dusk" : demo / "boathouse" / "boathouse.dusk";
  auto project = loadProject(products);
  if (!project) return project.error();
  demo::TruthSet set{nameOf(table),
                     std::move(*project),
                     products.parent_path(),
                     cameraOfTable(),
                     false,
                     [top = table.top](GeometryCache& cache) { return builtTable(top, cache); }};
  GeometryCache cache;
  Progress progress;
  const Picture light = demo::photographedAllRound(builtTable(table.top, cache), captureM, 512, 64, progress);
  const auto file = scratch / ("panorama " + nameOf(table) + ".exr");
  if (const auto written = writeExr(file, {{"panorama", &light, false}}); !written) return written.error();
  AssetStore assets(set.folder);
  const auto panorama = assets.refer(file);
  if (!panorama) return panorama.error();

  Shot shot;
  shot.id = shot.name = "table";
  shot.vantage.camera = set.camera, shot.vantage.solved = true;
  shot.surroundings.panorama = *panorama;
  shot.surroundings.captureM = toDouble(captureM), shot.surroundings.captureFound = true;
  shot.placements = {{"gauge-1", "gauge", 0.02, 0.02, 0, 12}, {"mini-1", "mini", 0.32, -0.14, 0, -20}};
  if (table.jar) {
    const Vec3d stands(0.06, 0.04, 0);
    shot.placements = {{"jar-1", "jar", stands.x, stands.y, 0, 25}};
    shot.focus.on = true, shot.focus.fNumber = 1.4;
    shot.focus.distanceM = (stands + Vec3d(0, -0.04, 0.06) - set.camera.position).dot(set.camera.axes.z);
  }
  shot.contact.gloss = table.top == Top::paper ? 0 : 1;
  shot.contact.glossIor = table.top == Top::lacquer ? 1.55 : 1.5;
  shot.contact.glossRoughness = table.top == Top::lacquer ? 0.04 : table.top == Top::varnish ? 0.1 : 0.3;
  shot.render = set.project.shots[0].render;
  if (table.cratesTold)
    for (const Crate& crate : crates) {
      StandIn box;
      box.id = box.name = crate.name, box.kind = StandInKind::box;
      const Vec3f middle = (crate.low + crate.high) / 2, size = crate.high - crate.low;
      box.positionM = {middle.x, middle.y, 0}, box.sizeM = {size.x, size.y, size.z};
      shot.standIns.push_back(box);
    }
  set.project.shots = {shot};
  return set;
}

}  // namespace dusk::bench
