#include <benchmark/benchmark.h>
#include <embree3/rtcore.h>

#include <cstring>

#include "bench/demo_scene.h"
#include "core/trace/mirrored_side.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace dusk::bench {

namespace {

DemoScene& demo() {
  static DemoScene scene(480);
  return scene;
}

/// Camera rays over the middle of the picture, where the product is.
std::vector<Ray> cameraRays() {
  const Scene& scene = demo().scene;
  const Integrator integrator(scene);
  std::vector<Ray> rays;
  for (int y = scene.camera.height / 3; y < scene.camera.height * 9 / 10; ++y)
    for (int x = scene.camera.width * 3 / 10; x < scene.camera.width * 7 / 10; ++x)
      rays.push_back(integrator.cameraRay({x + 0.5, y + 0.5}));
  return rays;
}

/// One thread, nearest hit, Embree called with nothing in between, on one scene of all triangles in world
/// space.
void rawEmbreeRays(benchmark::State& state) {
  const auto rays = cameraRays();
  const auto& instance = demo().scene.geometry->instances()[0];
  RTCDevice device = rtcNewDevice(nullptr);
  RTCScene flat = rtcNewScene(device);
  const Model& model = instance.geometry->model();
  for (const Part& part : model.parts) {
    const Mesh& mesh = model.meshOf(part);
    const Similarity world = instance.worldFromModel.after(part.place);
    RTCGeometry g = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* positions = static_cast<Vec3f*>(rtcSetNewGeometryBuffer(
        g, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(Vec3f), mesh.positions.size()));
    for (size_t i = 0; i < mesh.positions.size(); ++i)
      positions[i] = toFloat(world.point(toDouble(mesh.positions[i])));
    void* indices =
        rtcSetNewGeometryBuffer(g, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, mesh.triangles());
    std::memcpy(indices, mesh.indices.data(), mesh.indices.size() * 4);
    rtcCommitGeometry(g);
    rtcAttachGeometry(flat, g);
    rtcReleaseGeometry(g);
  }
  rtcSetSceneFlags(flat, RTC_SCENE_FLAG_ROBUST);
  rtcCommitScene(flat);
  for (auto _ : state)
    for (const Ray& ray : rays) {
      RTCRayHit q{};
      q.ray = {ray.origin.x,
               ray.origin.y,
               ray.origin.z,
               0,
               ray.direction.x,
               ray.direction.y,
               ray.direction.z,
               0,
               1e30f,
               ~0u,
               0,
               0};
      q.hit.geomID = q.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
      RTCIntersectContext context;
      rtcInitIntersectContext(&context);
      rtcIntersect1(flat, &context, &q);
      benchmark::DoNotOptimize(q);
    }
  state.counters["Mrays/s"] =
      benchmark::Counter(double(rays.size()) * double(state.iterations()) / 1e6, benchmark::Counter::kIsRate);
  rtcReleaseScene(flat);
  rtcReleaseDevice(device);
}
BENCHMARK(rawEmbreeRays)->Unit(benchmark::kMillisecond);

/// The same rays through our instanced scene.
void ourRays(benchmark::State& state) {
  const auto rays = cameraRays();
  for (auto _ : state)
    for (const Ray& ray : rays) {
      Hit hit = demo().scene.geometry->closest(ray);
      benchmark::DoNotOptimize(hit);
    }
  state.counters["Mrays/s"] =
      benchmark::Counter(double(rays.size()) * double(state.iterations()) / 1e6, benchmark::Counter::kIsRate);
}
BENCHMARK(ourRays)->Unit(benchmark::kMillisecond);

/// Whole samples: paths with light sampling, shadows and bounces, one thread.
void wholeSamples(benchmark::State& state) {
  const Scene& scene = demo().scene;
  const Integrator integrator(scene);
  uint32_t index = 0;
  int count = 0;
  for (auto _ : state) {
    for (int y = scene.camera.height / 3; y < scene.camera.height * 9 / 10; y += 2)
      for (int x = scene.camera.width * 3 / 10; x < scene.camera.width * 7 / 10; x += 2, ++count) {
        PixelSample s = integrator.sample(x, y, index);
        benchmark::DoNotOptimize(s);
      }
    ++index;
  }
  state.counters["Msamples/s"] = benchmark::Counter(double(count) / 1e6, benchmark::Counter::kIsRate);
}
BENCHMARK(wholeSamples)->Unit(benchmark::kMillisecond);

/// What the photo of a wet place mirrors: found anew whenever its light is changed.
void mirroredSides(benchmark::State& state) {
  const DemoScene wet(480, "slipway/slipway.dusk");
  for (auto _ : state) benchmark::DoNotOptimize(findMirroredSide(wet.scene));
}
BENCHMARK(mirroredSides)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
}  // namespace dusk::bench
