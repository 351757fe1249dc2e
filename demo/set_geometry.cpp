#include "demo/set_geometry.h"

#include "demo/noise.h"

namespace dusk::demo {
namespace {

void addVertex(Mesh& mesh, const Vec3f& p, const Vec3f& n, const Vec2f& uv) {
  mesh.positions.push_back(p), mesh.normals.push_back(n), mesh.uvs.push_back(uv);
}
void addQuad(Mesh& mesh, uint32_t a, uint32_t b, uint32_t c, uint32_t d) {
  for (uint32_t i : {a, b, c, a, c, d}) mesh.indices.push_back(i);
}

}  // namespace

void addBlock(Mesh& mesh, const Placed& place, const BlockShape& s) {
  constexpr int perSide = 14, around = perSide * 4;
  struct Ring {
    float inset, z, edge;
    float outward, lift;  // of the normal
  };
  const Ring rings[] = {{0, -s.depth, 1, 1, 0},
                        {0, -s.bevel, 1, 1, 0.05f},
                        {s.bevel * 0.3f, -s.bevel * 0.3f, 1, 0.7f, 0.7f},
                        {s.bevel, 0, 0.6f, 0.08f, 1},
                        {s.bevel * 4, 0, 0, 0, 1}};
  const auto first = uint32_t(mesh.positions.size());
  for (const Ring& ring : rings)
    for (int i = 0; i < around; ++i) {
      const int side = i / perSide;
      const float t = float(i % perSide) / perSide;
      const Vec2f corners[5] = {{0, 0}, {s.width, 0}, {s.width, s.height}, {0, s.height}, {0, 0}};
      Vec2f p = corners[side] * (1 - t) + corners[side + 1] * t;
      const Vec2f middle(s.width / 2, s.height / 2);
      // Corners wear round; edges wander.
      const float corner = std::pow(std::abs(t - 0.5f) * 2, 8.0f);
      const float wander = s.wobble * (noise({p.x * 14 + s.number * 7.3f, p.y * 14, s.number * 3.1f}) +
                                       0.6f * noise({p.x * 45 + s.number * 7.3f, p.y * 45, 5.0f}));
      Vec2f inwards = middle - p;
      inwards.x = std::clamp(inwards.x / (s.width / 2), -1.0f, 1.0f),
      inwards.y = std::clamp(inwards.y / (s.height / 2), -1.0f, 1.0f);
      Vec2f side2 = side % 2 ? Vec2f(inwards.x > 0 ? 1.f : -1.f, 0) : Vec2f(0, inwards.y > 0 ? 1.f : -1.f);
      if (corner > 0.3f) side2 = Vec2f(inwards.x, inwards.y).normalized();
      p += side2 * (ring.inset + std::abs(wander) + corner * s.bevel * 0.5f);
      const Vec3f n = place.frame.toWorld(
          Vec3f(-side2.x * ring.outward, -side2.y * ring.outward, ring.lift).normalized());
      const float z =
          ring.z + (ring.z > -s.depth ? 0.3f * s.wobble * noise({p.x * 9 + s.number, p.y * 9, 2.5f}) : 0);
      addVertex(mesh, place.point(p.x, p.y, z), n, {float(s.number), ring.edge});
    }
  for (uint32_t r = 0; r + 1 < std::size(rings); ++r)
    for (uint32_t i = 0; i < around; ++i) {
      const uint32_t j = (i + 1) % around, a = first + r * around, b = a + around;
      addQuad(mesh, a + i, a + j, b + j, b + i);
    }
  const auto centre = uint32_t(mesh.positions.size());
  addVertex(mesh, place.point(s.width / 2, s.height / 2, 0), place.frame.z, {float(s.number), 0});
  const uint32_t last = centre - around;
  for (uint32_t i = 0; i < around; ++i)
    for (uint32_t k : {last + i, last + (i + 1) % around, centre}) mesh.indices.push_back(k);
}

void addTurned(Mesh& mesh, const Vec3f& foot, const std::vector<Vec2f>& profile, int number) {
  constexpr int around = 72;
  const auto first = uint32_t(mesh.positions.size());
  for (size_t k = 0; k < profile.size(); ++k) {
    const Vec2f before = profile[k ? k - 1 : 0], after = profile[std::min(k + 1, profile.size() - 1)];
    const Vec2f along = after - before;
    const Vec2f n = Vec2f(along.y, -along.x).normalized();
    for (int i = 0; i < around; ++i) {
      const float a = 2 * pif * i / around, c = std::cos(a), s = std::sin(a);
      addVertex(mesh, foot + Vec3f(profile[k].x * c, profile[k].x * s, profile[k].y), {n.x * c, n.x * s, n.y},
                {float(number), 0});
    }
  }
  for (uint32_t k = 0; k + 1 < profile.size(); ++k)
    for (uint32_t i = 0; i < around; ++i) {
      const uint32_t j = (i + 1) % around, a = first + k * around, b = a + around;
      addQuad(mesh, a + i, a + j, b + j, b + i);
    }
}

void addTube(Mesh& mesh, const std::vector<Vec3f>& along, float radius, int number) {
  constexpr int around = 12;
  const auto first = uint32_t(mesh.positions.size());
  for (size_t k = 0; k < along.size(); ++k) {
    const Vec3f direction = (along[std::min(k + 1, along.size() - 1)] - along[k ? k - 1 : 0]).normalized();
    const Vec3f side = direction.cross(Vec3f(0, 0, 1)).normalized(), upwards = side.cross(direction);
    for (int i = 0; i < around; ++i) {
      // The strands of a laid rope: a three-lobed section that turns as it goes.
      const float a = 2 * pif * i / around, lobes = 1 + 0.12f * std::cos(3 * a + k * 0.55f);
      const Vec3f n = side * std::cos(a) + upwards * std::sin(a);
      addVertex(mesh, along[k] + n * (radius * lobes), n, {float(number), 0});
    }
  }
  for (uint32_t k = 0; k + 1 < along.size(); ++k)
    for (uint32_t i = 0; i < around; ++i) {
      const uint32_t j = (i + 1) % around, a = first + k * around, b = a + around;
      addQuad(mesh, a + i, a + j, b + j, b + i);
    }
}

void addSheet(Mesh& mesh, const Vec3f& corner, const Vec3f& x, const Vec3f& y) {
  const auto first = uint32_t(mesh.positions.size());
  const Vec3f n = x.cross(y).normalized();
  addVertex(mesh, corner, n, {0, 0}), addVertex(mesh, corner + x, n, {1, 0});
  addVertex(mesh, corner + x + y, n, {1, 1}), addVertex(mesh, corner + y, n, {0, 1});
  addQuad(mesh, first, first + 1, first + 2, first + 3);
}

}  // namespace dusk::demo
