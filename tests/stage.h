#pragma once
#include "core/trace/render.h"
#include "core/vantage/camera.h"

/// Small scenes with a known answer.
namespace dusk {

/// A part from corner points and triangles, with flat or given normals.
inline std::shared_ptr<const Model> modelOf(Mesh mesh) {
  auto model = std::make_shared<Model>();
  model->add({"part", "part"}, std::move(mesh));
  return model;
}

inline Mesh sphere(float radius) {
  Mesh mesh;
  constexpr int rows = 128, columns = 256;
  for (int y = 0; y <= rows; ++y)
    for (int x = 0; x <= columns; ++x) {
      const Vec3f n = panoramaDirection({float(x) / columns, float(y) / rows});
      mesh.positions.push_back(n * radius), mesh.normals.push_back(n);
    }
  for (uint32_t y = 0; y < rows; ++y)
    for (uint32_t x = 0; x < columns; ++x) {
      const uint32_t a = y * (columns + 1) + x, b = a + columns + 1;
      for (uint32_t i : {a, a + 1, b, b, a + 1, b + 1}) mesh.indices.push_back(i);
    }
  return mesh;
}

/// A level disc at `height`.
inline Mesh disc(float radius, float height) {
  Mesh mesh;
  constexpr int n = 512;
  mesh.positions.push_back({0, 0, height});
  for (int i = 0; i < n; ++i)
    mesh.positions.push_back(
        {radius * std::cos(2 * pif * i / n), radius * std::sin(2 * pif * i / n), height});
  mesh.normals.assign(n + 1, Vec3f(0, 0, 1));
  for (uint32_t i = 0; i < n; ++i)
    for (uint32_t k : {0u, 1 + i, 1 + (i + 1) % n}) mesh.indices.push_back(k);
  return mesh;
}

/// A rectangle that stands on the ground at y, looking towards -Y.
inline Mesh uprightSheet(float x0, float x1, float y, float height) {
  Mesh mesh;
  mesh.positions = {{x0, y, 0}, {x1, y, 0}, {x1, y, height}, {x0, y, height}};
  mesh.normals.assign(4, Vec3f(0, -1, 0));
  mesh.indices = {0, 1, 2, 0, 2, 3};
  return mesh;
}

struct Stage {
  GeometryCache cache;
  Scene scene;
  Stage(Mesh mesh, const BsdfParameters& surface, std::shared_ptr<const Lights> lights, const Camera& camera,
        bool ground) {
    scene.geometry = std::make_shared<PlacedGeometry>(
        cache.device(),
        std::vector<PlacedGeometry::Instance>{{cache.get(modelOf(std::move(mesh)), {}), Similarity{}}});
    scene.materials = {{std::make_shared<PlainMaterial>(surface)}};
    scene.lights = std::move(lights);
    scene.camera = camera;
    scene.place.ground = ground;
  }
};

inline std::shared_ptr<const Lights> evenSky() {
  return std::make_shared<Lights>(nullptr, Surroundings{}, std::vector<Lamp>{}, Rgb(1));
}

inline BsdfParameters black() {
  BsdfParameters p;
  p.base = {0, 0, 0}, p.ior = 1;
  return p;
}

inline Passes traced(const Stage& stage, const Camera& camera, int samples) {
  Film film(camera.width, camera.height, stage.scene.lights->groups());
  Progress progress;
  (void)render(stage.scene, film, samples, progress);
  return film.resolve();
}
inline Passes traced(const Stage& stage, int size, int samples) {
  Camera square;
  square.width = square.height = size;
  return traced(stage, square, samples);
}

}  // namespace dusk
