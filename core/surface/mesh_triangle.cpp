#include "core/surface/mesh_triangle.h"

namespace dusk {

MeshTriangle::MeshTriangle(const Mesh& mesh, size_t index) {
  for (size_t k = 0; k < 3; ++k) {
    const uint32_t i = mesh.indices[3 * index + k];
    corner[k] = mesh.positions[i], smooth[k] = mesh.normals.empty() ? Vec3f(0) : mesh.normals[i];
    if (!mesh.uvs.empty()) uv[k] = mesh.uvs[i];
    if (!mesh.colours.empty()) colour[k] = mesh.colours[i];
  }
  const Vec3f e = corner[1] - corner[0], f = corner[2] - corner[0], n = e.cross(f);
  area = n.length() / 2;
  if (area > 0) out = n.normalized();
  const Vec2f a = uv[1] - uv[0], b = uv[2] - uv[0];
  const float whole = a.x * b.y - a.y * b.x;
  if (std::abs(whole) < 1e-20f) return;
  const Vec3f u = (e * b.y - f * a.y) / whole, v = (f * a.x - e * b.x) / whole;
  perUv = {u.length(), v.length()};
  if (perUv.x > 0 && perUv.y > 0) alongU = u / perUv.x, alongV = v / perUv.y;
}

SurfacePoint MeshTriangle::spot(const Vec3f& w, float unitM) const {
  static const Triadf straight;
  SurfacePoint p{};
  p.onMesh = corner[0] * w.x + corner[1] * w.y + corner[2] * w.z;
  p.position = p.onMesh * unitM;
  p.geometricNormal = p.view = out;
  p.uv = uv[0] * w.x + uv[1] * w.y + uv[2] * w.z;
  p.alongU = alongU, p.alongV = alongV, p.perUv = perUv;
  p.colour = colour[0] * w.x + colour[1] * w.y + colour[2] * w.z;
  p.worldFromMesh = &straight;
  return p;
}

Vec3f MeshTriangle::smoothNormal(const Vec3f& w) const {
  const Vec3f normal = smooth[0] * w.x + smooth[1] * w.y + smooth[2] * w.z;
  return normal.length2() > 1e-12f ? normal.normalized() : out;
}

TrianglesByArea::TrianglesByArea(const Mesh& mesh) : mesh_(mesh) {
  float sum = 0;
  for (size_t t = 0; t < mesh.triangles(); ++t) upTo_.push_back(sum += MeshTriangle(mesh, t).area);
}

MeshTriangle TrianglesByArea::at(float share) const {
  const auto found = std::lower_bound(upTo_.begin(), upTo_.end() - 1, share * area());
  return {mesh_, size_t(found - upTo_.begin())};
}

}  // namespace dusk
