#include "core/deliver/baked.h"

#include <tbb/parallel_for.h>

#include "core/base/srgb.h"
#include "core/surface/mesh_triangle.h"

namespace dusk {
namespace {

/// The look at a spot. `width`: metres it stands for.
BsdfParameters lookAt(const Material& material, const MeshTriangle& tri, const Vec3f& weights, double unitM,
                      float width, Vec3f& normal) {
  SurfacePoint p = tri.spot(weights, float(unitM));
  p.width = width;
  normal = tri.smoothNormal(weights);
  BsdfParameters out;
  material.at(p, out, normal);
  return out;
}

float code(float linear) { return std::clamp(srgbEncoded(std::clamp(linear, 0.0f, 1.0f)), 0.0f, 1.0f); }

class Baker {
 public:
  Baker(const Material& material, const Mesh& mesh, int side, double unitM, Baked& out)
      : material_(material), side_(side), unitM_(unitM), out_(out), glow_(size_t(side) * side, Rgb(0)) {
    for (size_t t = 0; t < mesh.triangles(); ++t) triangles_.emplace_back(mesh, t);
    out_.colour = Picture(side, side, {"R", "G", "B", "A"});
    out_.metalRough = Picture::rgb(side, side), out_.normal = Picture::rgb(side, side);
    owner_.assign(size_t(side) * side, -1);
  }
  void run() {
    for (size_t t = 0; t < triangles_.size(); ++t) own(t);
    grow();
    tbb::parallel_for(0, side_, [&](int y) {
      for (int x = 0; x < side_; ++x) bake(x, y);
    });
    for (const Rgb& g : glow_) out_.brightest = std::max(out_.brightest, maxComponent(g));
    if (out_.brightest <= 0) return;
    out_.glow = Picture::rgb(side_, side_);
    for (int y = 0; y < side_; ++y)
      for (int x = 0; x < side_; ++x)
        for (int c = 0; c < 3; ++c)
          out_.glow.at(x, y)[c] = code(glow_[size_t(y) * side_ + x][c] / out_.brightest);
  }

 private:
  Vec2f pixelOf(const Vec2f& uv) const {
    const Vec2f span = out_.high - out_.low;
    return {(uv.x - out_.low.x) / span.x * float(side_), (1 - (uv.y - out_.low.y) / span.y) * float(side_)};
  }
  Vec3f weights(const MeshTriangle& t, const Vec2f& at) const {
    const Vec2f a = pixelOf(t.uv[0]), b = pixelOf(t.uv[1]) - a, c = pixelOf(t.uv[2]) - a, p = at - a;
    const float whole = b.x * c.y - b.y * c.x;
    if (std::abs(whole) < 1e-12f) return {1, 0, 0};
    const float v = (p.x * c.y - p.y * c.x) / whole, w = (b.x * p.y - b.y * p.x) / whole;
    return {1 - v - w, v, w};
  }
  void own(size_t t) {
    Vec2f low(1e30f), high(-1e30f);
    for (const Vec2f& uv : triangles_[t].uv) {
      const Vec2f p = pixelOf(uv);
      for (int i = 0; i < 2; ++i) low[i] = std::min(low[i], p[i]), high[i] = std::max(high[i], p[i]);
    }
    const auto within = [&](float v) { return std::clamp(int(std::floor(v)), 0, side_ - 1); };
    for (int y = within(low.y); y <= within(high.y); ++y)
      for (int x = within(low.x); x <= within(high.x); ++x) {
        const Vec3f w = weights(triangles_[t], {float(x) + 0.5f, float(y) + 0.5f});
        if (std::min({w.x, w.y, w.z}) >= -1e-4f) owner_[size_t(y) * side_ + x] = int(t);
      }
  }
  /// Spots nobody owns take their neighbour's triangle, so that what is filtered across a border is not
  /// black.
  void grow() {
    for (int pass = 0; pass < 8; ++pass) {
      const std::vector<int> before = owner_;
      for (int y = 0; y < side_; ++y)
        for (int x = 0; x < side_; ++x) {
          if (before[size_t(y) * side_ + x] >= 0) continue;
          for (const auto& [dx, dy] : {std::pair(1, 0), {-1, 0}, {0, 1}, {0, -1}})
            if (const int u = x + dx, v = y + dy; u >= 0 && v >= 0 && u < side_ && v < side_)
              if (const int t = before[size_t(v) * side_ + u]; t >= 0) owner_[size_t(y) * side_ + x] = t;
        }
    }
  }
  void bake(int x, int y) {
    const int owner = owner_[size_t(y) * side_ + x];
    float* normalOut = out_.normal.at(x, y);
    normalOut[0] = normalOut[1] = 0.5f, normalOut[2] = 1;
    if (owner < 0) return;
    const MeshTriangle& t = triangles_[size_t(owner)];
    Vec3f w = weights(t, {float(x) + 0.5f, float(y) + 0.5f});
    for (int i = 0; i < 3; ++i) w[i] = std::max(0.0f, w[i]);
    w /= w.x + w.y + w.z;
    const Vec2f span = out_.high - out_.low;
    const float width = float(unitM_) * std::max(t.perUv.x * span.x, t.perUv.y * span.y) / float(side_);
    Vec3f normal;
    const BsdfParameters p = lookAt(material_, t, w, unitM_, width, normal);
    float *colour = out_.colour.at(x, y), *mr = out_.metalRough.at(x, y);
    for (int c = 0; c < 3; ++c) colour[c] = code(p.base[c]);
    colour[3] = p.opacity, mr[0] = 1, mr[1] = p.roughness, mr[2] = p.metalness;
    glow_[size_t(y) * side_ + x] = p.emission;
    // The shape's own smooth normal is not in the picture: the mesh brings it.
    const Vec3f smooth = t.smoothNormal(w);
    const Vec3f along = t.alongU - smooth * smooth.dot(t.alongU);
    if (along.length2() < 1e-12f) return;
    const Vec3f u = along.normalized(),
                v = smooth.cross(u) * (smooth.cross(u).dot(t.alongV) < 0 ? -1.0f : 1.0f);
    const Vec3f bent(normal.dot(u), normal.dot(v), std::max(0.01f, normal.dot(smooth)));
    for (int c = 0; c < 3; ++c) normalOut[c] = bent.normalized()[c] * 0.5f + 0.5f;
  }

  const Material& material_;
  int side_;
  double unitM_;
  Baked& out_;
  std::vector<MeshTriangle> triangles_;
  std::vector<int> owner_;
  std::vector<Rgb> glow_;
};

/// Over triangles of equal shares of the area.
BsdfParameters meanOf(const Material& material, const Mesh& mesh, double unitM) {
  constexpr int looks = 256;
  const TrianglesByArea triangles(mesh);
  const float width = float(unitM) * std::sqrt(triangles.area() / looks);
  BsdfParameters mean;
  for (int i = 0; i < looks && triangles.area() > 0; ++i) {
    Vec3f normal;
    const BsdfParameters p =
        lookAt(material, triangles.at((float(i) + 0.5f) / looks), Vec3f(1 / 3.0f), unitM, width, normal);
    if (i == 0)
      mean = p, mean.base = mean.emission = Rgb(0), mean.roughness = mean.metalness = mean.opacity = 0;
    mean.base += p.base / looks, mean.emission += p.emission / looks;
    mean.roughness += p.roughness / looks, mean.metalness += p.metalness / looks,
        mean.opacity += p.opacity / looks;
  }
  return mean;
}

}  // namespace

Baked baked(const Material& material, const Mesh& mesh, int side, double unitM) {
  Baked out;
  out.mean = meanOf(material, mesh, unitM);
  if (mesh.uvs.empty() || side <= 0) return out;
  out.low = Vec2f(1e30f), out.high = Vec2f(-1e30f);
  for (const Vec2f& uv : mesh.uvs)
    for (int i = 0; i < 2; ++i)
      out.low[i] = std::min(out.low[i], uv[i]), out.high[i] = std::max(out.high[i], uv[i]);
  for (int i = 0; i < 2; ++i)
    if (!(out.high[i] - out.low[i] > 1e-6f) || !std::isfinite(out.high[i] - out.low[i])) return out;
  Baker(material, mesh, side, unitM, out).run();
  return out;
}

}  // namespace dusk
