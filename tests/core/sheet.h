#pragma once
#include "core/surface/made_surface.h"

/// A square to look at surfaces on, and pictures to print on it.
namespace dusk {

/// A texture that is red on its left half and green on its right, clear in its lower quarter.
class Halves : public Texture {
 public:
  Halves() { width = 200, height = 100; }
  Texel at(const Vec2f& uv, const Vec2f&, const Vec2f&, bool repeats) const override {
    const float u = repeats ? uv.x - std::floor(uv.x) : uv.x, v = repeats ? uv.y - std::floor(uv.y) : uv.y;
    if (u < 0 || u > 1 || v < 0.25f || v > 1) return {Rgb(0), 0};
    return {u < 0.5f ? Rgb(1, 0, 0) : Rgb(0, 1, 0), 1};
  }
};
inline std::shared_ptr<const Texture> halves(const AssetRef&, bool, int, int) {
  return std::make_shared<Halves>();
}

/// A level square of 100 mm about the origin in a model of that unit.
struct LitSheet {
  Model model;
  Product product;
  explicit LitSheet(double metresPerUnit = 0.001) {
    const float half = float(0.05 / metresPerUnit);
    Mesh mesh;
    for (const Vec2f& c : {Vec2f(-1, -1), Vec2f(1, -1), Vec2f(1, 1), Vec2f(-1, 1)}) {
      mesh.positions.push_back({c.x * half, c.y * half, 0}), mesh.normals.push_back({0, 0, 1});
      mesh.uvs.push_back((c + Vec2f(1)) / 2);
    }
    mesh.indices = {0, 1, 2, 0, 2, 3};
    model.add({"sheet", "sheet"}, std::move(mesh));
    product.metresPerUnit = metresPerUnit;
  }
  MadeSurface made(const Surface& surface, const std::vector<Decal>& decals = {}) const {
    const auto shapes = shapesOf(model);
    return MadeSurface(layerOf(surface, halves), decals, model.meshes[0],
                       factsOf(model.parts[0], shapes[0], product, model.box(), 0),
                       product.metresPerUnit * 1000, halves);
  }
  /// Millimetres from the middle.
  SurfacePoint at(double x, double y) const {
    const float unit = float(product.metresPerUnit * 1000);
    SurfacePoint p{};
    p.onMesh = Vec3f(float(x), float(y), 0) / unit;
    p.position = p.onMesh * float(product.metresPerUnit);
    p.geometricNormal = p.view = {0, 0, 1};
    p.uv = {float(x / 100 + 0.5), float(y / 100 + 0.5)};
    p.alongU = {1, 0, 0}, p.alongV = {0, 1, 0};
    p.perUv = Vec2f(100 / unit);
    static const Triadf straight;
    p.worldFromMesh = &straight;
    return p;
  }
  float value(const Surface& s, double x, double y, SurfaceValue of = SurfaceValue::roughness) const {
    return made(s).valueAt(of, at(x, y)).x;
  }
};

inline Feed plain(double value, FeedJoin join = FeedJoin::mix) {
  Feed f;
  f.high = Vec3d(value), f.join = join;
  return f;
}
inline Surface withFeeds(std::vector<Feed> feeds, double ground = 0.5) {
  Surface s;
  s.roughness = ground;
  s.feeds[SurfaceValue::roughness] = std::move(feeds);
  return s;
}
inline bool close(double a, double b, double by = 1e-5) { return std::abs(a - b) <= by; }

}  // namespace dusk
