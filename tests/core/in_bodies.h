#pragma once
#include "core/trace/integrator.h"
#include "core/vantage/camera.h"
#include "tests/stage.h"

/// Bodies that light goes into, and what comes back.
namespace dusk {

/// Parts made of one mesh each, in the air before an even sky of one.
struct Bodies {
  GeometryCache cache;
  std::shared_ptr<Model> model = std::make_shared<Model>();
  Scene scene;
  Bodies() {
    scene.materials.emplace_back();
    scene.lights = evenSky();
    scene.place.ground = false;
    scene.bounces = scene.diffuseBounces = 64;
  }
  Bodies& add(Mesh mesh, const BsdfParameters& p) {
    const std::string name = "body " + std::to_string(model->parts.size());
    model->add({name, name}, std::move(mesh));
    scene.materials[0].push_back(std::make_shared<PlainMaterial>(p));
    scene.gaps |= p.opacity < 1;
    return *this;
  }
  /// What comes back along a ray, on average.
  Vec3d seen(const Vec3f& from, const Vec3f& towards, int samples) {
    scene.geometry = std::make_shared<PlacedGeometry>(
        cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(model, {}), Similarity{}}});
    const Integrator integrator(scene);
    Vec3d sum(0);
    for (int i = 0; i < samples; ++i) {
      Sampler sampler(11, 3, 5, uint32_t(i), 16);
      sum += toDouble(integrator.radiance({from, (towards - from).normalized()}, sampler));
    }
    return sum / samples;
  }
};

inline BsdfParameters glass(float ior, int priority = 0) {
  BsdfParameters p;
  p.base = Rgb(1), p.transmission = 1, p.roughness = 0, p.ior = ior, p.priority = priority;
  return p;
}

/// A slab between two heights of z, much wider than high.
inline Mesh slab(float low, float high, float half = 50) {
  Mesh m;
  const auto side = [&](float z, bool up) {
    const auto first = uint32_t(m.positions.size());
    for (const Vec2f& c : {Vec2f(-1, -1), Vec2f(1, -1), Vec2f(1, 1), Vec2f(-1, 1)})
      m.positions.push_back({c.x * half, c.y * half, z}), m.normals.push_back({0, 0, up ? 1.0f : -1.0f});
    for (uint32_t i :
         up ? std::array<uint32_t, 6>{0, 1, 2, 0, 2, 3} : std::array<uint32_t, 6>{0, 2, 1, 0, 3, 2})
      m.indices.push_back(first + i);
  };
  side(low, false), side(high, true);
  return m;
}

inline Mesh movedBy(Mesh mesh, const Vec3f& by) {
  for (Vec3f& p : mesh.positions) p += by;
  return mesh;
}

}  // namespace dusk
