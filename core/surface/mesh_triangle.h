#pragma once
#include "core/product/model.h"
#include "core/surface/material.h"

namespace dusk {

/// A triangle of a mesh with what a look at its surface needs, where there is no scene around it. Units of
/// the mesh.
struct MeshTriangle {
  MeshTriangle(const Mesh& mesh, size_t index);
  Vec3f corner[3], smooth[3];  ///< places, and the normals there
  Vec2f uv[3]{Vec2f(0), Vec2f(0), Vec2f(0)};
  Vec3f colour[3]{Vec3f(1), Vec3f(1), Vec3f(1)};
  Vec3f out{0, 0, 1};                      ///< its own normal
  Vec3f alongU{0, 0, 0}, alongV{0, 0, 0};  ///< where the texture coordinates grow; zero without
  Vec2f perUv{0, 0};                       ///< units per texture coordinate along those
  float area = 0;
  /// A spot by its barycentric weights, seen from straight above. `unitM`: metres in a unit.
  SurfacePoint spot(const Vec3f& weights, float unitM) const;
  Vec3f smoothNormal(const Vec3f& weights) const;
};

/// Triangles drawn by their area.
class TrianglesByArea {
 public:
  explicit TrianglesByArea(const Mesh& mesh);
  float area() const { return upTo_.empty() ? 0.0f : upTo_.back(); }
  /// The one at a share of the whole area, in [0, 1); only of a mesh that has any.
  MeshTriangle at(float share) const;

 private:
  const Mesh& mesh_;
  std::vector<float> upTo_;  // cumulative
};

}  // namespace dusk
