#include "app/stations/surface/swatches.h"

#include "app/preview/images.h"
#include "core/colour/view.h"
#include "core/trace/compile.h"
#include "core/trace/integrator.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

std::shared_ptr<const Model> ball() {
  auto model = std::make_shared<Model>();
  Mesh mesh;
  constexpr int rows = 48, columns = 96;
  for (int y = 0; y <= rows; ++y)
    for (int x = 0; x <= columns; ++x) {
      const Vec3f n = panoramaDirection({float(x) / columns, float(y) / rows});
      mesh.positions.push_back(n), mesh.normals.push_back(n);
    }
  for (uint32_t y = 0; y < rows; ++y)
    for (uint32_t x = 0; x < columns; ++x) {
      const uint32_t a = y * (columns + 1) + x, b = a + columns + 1;
      for (uint32_t i : {a, a + 1, b, b, a + 1, b + 1}) mesh.indices.push_back(i);
    }
  model->add({"ball", "ball"}, std::move(mesh));
  return model;
}

/// Grey surroundings with a large window at the left, a small one at the right, and a dark floor.
std::shared_ptr<const Panorama> studio() {
  Picture p = Picture::rgb(128, 64);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      float v = y < 32 ? 0.22f : 0.10f;
      if (x > 8 && x < 30 && y > 10 && y < 30) v = 7.0f;
      if (x > 100 && x < 108 && y > 14 && y < 34) v = 4.0f;
      for (int c = 0; c < 3; ++c) p.at(x, y)[c] = v;
    }
  return Panorama::make(std::move(p));
}

}  // namespace

QImage tracedSwatch(const Surface& surface, int size, int samples) {
  static GeometryCache cache;
  static const auto geometry = std::make_shared<PlacedGeometry>(
      cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(ball(), {}), Similarity{}}});
  static const auto lights = std::make_shared<Lights>(studio(), Surroundings{}, std::vector<Lamp>{}, Rgb(0));
  static const auto view = ColourView::make("plain sRGB");
  if (!view) return {};
  Scene scene;
  scene.camera = lookAt(size, size, size * 1.75, {0, -3.9, 0.9}, {0, 0, 0});
  scene.geometry = geometry;
  scene.lights = lights;
  scene.place.ground = false;
  scene.materials = {{std::make_shared<PlainMaterial>(parametersOf(surface))}};
  const Integrator integrator(scene);
  Picture codes = Picture::rgb(size, size);
  std::vector<float> cover(size_t(size) * size);
  for (int y = 0; y < size; ++y)
    for (int x = 0; x < size; ++x) {
      Rgb sum(0);
      for (int i = 0; i < samples; ++i) {
        const PixelSample s = integrator.sample(x, y, uint32_t(i));
        sum += s.beauty();
        cover[size_t(y) * size + x] += s.alpha / float(samples);
      }
      const float alpha = std::max(cover[size_t(y) * size + x], 1e-3f);
      sum /= float(samples) * alpha;
      std::copy_n(&sum.x, 3, codes.at(x, y));
    }
  (*view)->toDisplay(codes.pixels.data(), size_t(size) * size);
  QImage image = toImage(codes).convertToFormat(QImage::Format_ARGB32);
  for (int y = 0; y < size; ++y)
    for (int x = 0; x < size; ++x) {
      const QRgb c = image.pixel(x, y);
      image.setPixel(
          x, y, qRgba(qRed(c), qGreen(c), qBlue(c), int(255 * std::min(1.0f, cover[size_t(y) * size + x]))));
    }
  return image;
}

}  // namespace dusk
