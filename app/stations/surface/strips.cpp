#include "app/stations/surface/strips.h"

#include "app/widgets/colours.h"
#include "core/project/json.h"
#include "core/surface/made_surface.h"
#include "core/surface/values.h"

namespace dusk {
namespace {

/// Values whose strip goes from nothing to the most there is on the part.
bool isOpenEnded(SurfaceValue value) {
  return value == SurfaceValue::bump || value == SurfaceValue::emission || value == SurfaceValue::film;
}

struct Found {
  unsigned instance = 0, part = 0;
  Box world;
};

std::optional<Found> find(const Scene& scene, const std::string& placement, const std::string& path) {
  for (unsigned i = 0; i < scene.placementIds.size() && i < scene.geometry->instances().size(); ++i) {
    const Model& model = scene.geometry->instances()[i].geometry->model();
    for (unsigned p = 0; p < model.parts.size(); ++p) {
      if (model.parts[p].path != path || (!placement.empty() && scene.placementIds[i] != placement)) continue;
      Found found{i, p, {}};
      const Similarity world = scene.geometry->worldFromMesh(i, p);
      const Mesh& mesh = model.meshOf(model.parts[p]);
      const size_t step = std::max<size_t>(1, mesh.positions.size() / 2000);
      for (size_t v = 0; v < mesh.positions.size(); v += step)
        found.world.add(world.point(toDouble(mesh.positions[v])));
      return found;
    }
  }
  return {};
}

/// A number as a grey, a colour as it is shown.
QRgb shade(SurfaceValue value, const Vec3f& v, float most) {
  if (const ValuePlace* place = placeOf(value); place && place->colour)
    return shownColour(toDouble(isOpenEnded(value) ? v / std::max(1.0f, most) : v)).rgb();
  const auto code = [&](float x) {
    return int(std::lround(std::clamp(most > 0 ? x / most : 0.0f, 0.0f, 1.0f) * 235 + 12));
  };
  return value == SurfaceValue::normal || value == SurfaceValue::coatNormal
             ? qRgb(code(v.x), code(v.y), code(v.z))
             : qRgb(code(v.x), code(v.x), code(v.x));
}

}  // namespace

std::map<SurfaceValue, QImage> stripsOf(const Scene& scene, const std::string& placement,
                                        const std::string& part, int width, int height) {
  std::map<SurfaceValue, QImage> strips;
  const auto found = find(scene, placement, part);
  if (!found || found->world.empty()) return strips;
  const auto* made = dynamic_cast<const MadeSurface*>(scene.materials[found->instance][found->part].get());
  if (!made) return strips;
  const Vec3f middle = toFloat(found->world.middle());
  const Vec3f eye = toFloat(scene.camera.position), towards = (middle - eye).normalized();
  const Vec3f right = towards.cross(Vec3f(0, 0, 1)).length2() > 1e-6f
                          ? towards.cross(Vec3f(0, 0, 1)).normalized()
                          : Vec3f(1, 0, 0);
  const Vec3f down = towards.cross(right);
  const float half = float(found->world.size().length()) / 2;
  const float across =
      float(std::abs(right.x) * found->world.size().x + std::abs(right.y) * found->world.size().y) / 2;
  std::vector<std::optional<SurfacePoint>> points(size_t(width) * size_t(height));
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      const float u = (2 * (float(x) + 0.5f) / float(width) - 1) * across,
                  v = (float(y) - float(height) / 2) * 2 * across / float(width);
      Ray ray{middle + right * u + down * v - towards * half * 1.5f, towards};
      Hit hit;
      for (int layer = 0; layer < 12; ++layer) {  // what is in front of the part is looked through
        hit = scene.geometry->closest(ray);
        if (!hit.found() || (hit.instance == found->instance && hit.part == found->part)) break;
        ray.origin += ray.direction * (hit.distance + 1e-5f);
      }
      if (!hit.found() || hit.part != found->part || hit.instance != found->instance) continue;
      const auto d = scene.geometry->detail(hit);
      const Vec3f n = d.geometricNormal.dot(towards) > 0 ? -d.geometricNormal : d.geometricNormal;
      points[size_t(y) * size_t(width) + size_t(x)] = SurfacePoint{ray.origin + towards * hit.distance,
                                                                   n,
                                                                   d.uv,
                                                                   d.alongU,
                                                                   d.alongV,
                                                                   d.perUv,
                                                                   d.onMesh,
                                                                   d.worldFromMesh,
                                                                   -towards,
                                                                   2 * across / float(width),
                                                                   false,
                                                                   scene.probe.get(),
                                                                   d.colour};
    }
  for (size_t v = 0; v < std::size(Words<SurfaceValue>::all); ++v) {
    const auto value = SurfaceValue(v);
    std::vector<Vec3f> seen(points.size(), Vec3f(0));
    float most = isOpenEnded(value) ? 0.0f : 1.0f;
    for (size_t i = 0; i < points.size(); ++i)
      if (points[i]) {
        seen[i] = made->valueAt(value, *points[i]);
        if (isOpenEnded(value)) most = std::max(most, maxComponent(seen[i]));
      }
    QImage image(width, height, QImage::Format_ARGB32);
    image.fill(Qt::transparent);
    for (size_t i = 0; i < points.size(); ++i)
      if (points[i]) image.setPixel(int(i) % width, int(i) / width, shade(value, seen[i], most));
    strips[value] = image;
  }
  return strips;
}

}  // namespace dusk
