#include "app/stations/surface/swatches.h"

#include "app/preview/images.h"
#include "core/base/background.h"
#include "core/base/cache_folder.h"
#include "core/base/hash.h"
#include "core/colour/view.h"
#include "core/project/clip.h"
#include "core/surface/made_surface.h"
#include "core/trace/geometry_probe.h"
#include "core/trace/integrator.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// Raise it when swatches come out otherwise.
constexpr int generation = 3;

/// The outline that is turned about the upright, in metres: radius and height, from the head to the foot.
std::vector<Vec2f> outline() {
  std::vector<Vec2f> line;
  for (int i = 0; i <= 40; ++i) {  // the head
    const float a = pif * 0.78f * float(i) / 40;
    line.push_back({0.0225f * std::sin(a), 0.0125f + 0.0225f * std::cos(a)});
  }
  for (const Vec2f& p : {Vec2f(0.0145f, -0.0075f), Vec2f(0.0145f, -0.0095f), Vec2f(0.023f, -0.0105f),
                         Vec2f(0.0235f, -0.0112f), Vec2f(0.0235f, -0.0215f), Vec2f(0.029f, -0.0235f),
                         Vec2f(0.0295f, -0.0242f), Vec2f(0.0295f, -0.03f), Vec2f(0, -0.03f)})
    line.push_back(p);
  return line;
}

std::shared_ptr<const Model> testShape() {
  auto model = std::make_shared<Model>();
  model->metresPerUnit = 1;
  Mesh mesh;
  constexpr uint32_t columns = 96;
  const std::vector<Vec2f> line = outline();
  for (size_t i = 0; i + 1 < line.size(); ++i) {
    const Vec2f along = line[i + 1] - line[i];
    const bool round = i < 40;
    const uint32_t first = uint32_t(mesh.positions.size());
    for (const size_t end : {i, i + 1})
      for (uint32_t c = 0; c <= columns; ++c) {
        const float a = 2 * pif * float(c) / columns, x = std::sin(a), y = -std::cos(a);
        Vec2f out = Vec2f(-along.y, along.x).normalized();
        if (round) out = Vec2f(line[end].x, line[end].y - 0.0125f).normalized();
        mesh.positions.push_back({line[end].x * x, line[end].x * y, line[end].y});
        mesh.normals.push_back(Vec3f(out.x * x, out.x * y, out.y).normalized());
        mesh.uvs.push_back({float(c) / columns, 0.5f + line[end].y / 0.06f});
      }
    for (uint32_t c = 0; c < columns; ++c)
      for (const uint32_t k : {0u, columns + 1, 1u, 1u, columns + 1, columns + 2})
        mesh.indices.push_back(first + c + k);
  }
  model->add({"shape", "shape"}, std::move(mesh));
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

/// Whether a mean of `n` samples with that sum and sum of squares is known to about two code values.
bool isCalm(double sum, double squares, int n) {
  const double mean = sum / n, variance = std::max(0.0, squares / n - mean * mean) / (n - 1);
  // A code's slope at that light, by the curve's exponent.
  return std::sqrt(variance) < 0.018 * std::pow(mean + 1e-3, 1 - 1 / 2.2);
}

}  // namespace

QImage tracedSwatch(const Surface& surface, int size, int samples) {
  static GeometryCache cache;
  static const auto model = testShape();
  static const auto geometry = std::make_shared<PlacedGeometry>(
      cache.device(), std::vector<PlacedGeometry::Instance>{{cache.get(model, {}), Similarity{}}});
  static const auto lights = std::make_shared<Lights>(studio(), Surroundings{}, std::vector<Lamp>{}, Rgb(0));
  static const auto view = ColourView::make("plain sRGB");
  static const auto probe = std::make_shared<GeometryProbe>(geometry);
  if (!view) return {};
  Scene scene;
  scene.camera = lookAt(size, size, size * 3.55, {0, -0.24, 0.085}, {0, 0, 0.001});
  scene.geometry = geometry, scene.lights = lights, scene.probe = probe, scene.samples = samples;
  scene.bounces = scene.diffuseBounces = scene.mirrorBounces = 3, scene.glassSides = 8;
  scene.place.ground = false;
  Product product;
  product.metresPerUnit = 1;
  const auto shapes = cache.shapes(model);
  scene.materials = {{std::make_shared<MadeSurface>(
      layerOf(surface, {}), std::vector<Decal>{}, model->meshes[0],
      factsOf(model->parts[0], shapes->parts[0], product, shapes->whole, -0.03), 1000, FindTexture{})}};
  scene.gaps = scene.materials[0][0]->hasGaps();
  const Integrator integrator(scene);
  Picture codes = Picture::rgb(size, size);
  std::vector<float> cover(size_t(size) * size);
  // Not in the interface's pool: threads there that wait for others of it would wait for ever.
  eachInBackground(size, [&](int y) {
    for (int x = 0; x < size; ++x) {
      Rgb sum(0);
      float& shown = cover[size_t(y) * size + x];
      double squares = 0;
      int n = 0;
      while (n < samples) {
        const PixelSample s = integrator.sample(x, y, uint32_t(n++));
        const Rgb light = s.beauty();
        sum += light, shown += s.alpha;
        squares += double(luminance(light)) * double(luminance(light));
        if (n >= samples / 3 && isCalm(double(luminance(sum)), squares, n)) break;
      }
      shown /= float(n);
      sum /= float(n) * std::max(shown, 1e-3f);
      std::copy_n(&sum.x, 3, codes.at(x, y));
    }
  });
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

QImage keptSwatch(const Surface& surface, int size, int samples) {
  Clip clip;
  clip.surfaces.push_back(surface);
  const std::string text =
      toText(clip) + std::to_string(generation) + " " + std::to_string(size) + " " + std::to_string(samples);
  const std::filesystem::path folder = cacheFolder() / "swatches",
                              file = folder / (hashBytes(text.data(), text.size()) + ".png");
  const QString name = QString::fromStdString(file.string());
  if (QImage kept(name); !kept.isNull()) return kept;
  const QImage traced = tracedSwatch(surface, size, samples);
  std::error_code ignored;
  std::filesystem::create_directories(folder, ignored);
  const QString half = name + QString(".%1").arg(quintptr(&traced), 0, 16);
  if (traced.save(half, "PNG")) std::filesystem::rename(half.toStdString(), file, ignored);
  return traced;
}

}  // namespace dusk
