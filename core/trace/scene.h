#pragma once
#include <memory>
#include <vector>

#include "core/light/lights.h"
#include "core/trace/bsdf.h"
#include "core/trace/geometry.h"

namespace dusk {

/// A point on a product about to be lit.
struct SurfacePoint {
  Vec3f position, geometricNormal;
  Vec2f uv{0, 0};
  Vec3f alongU{0, 0, 0}, alongV{0, 0, 0};  ///< where the texture coordinates grow; zero without
};

/// What a part is made of. Implementations must be safe to call from many threads.
class Material {
 public:
  virtual ~Material() = default;
  /// Fills `out`; may bend `normal` (unit, world, on the viewer's side).
  virtual void at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const = 0;
};

/// One surface all over.
class PlainMaterial : public Material {
 public:
  explicit PlainMaterial(const BsdfParameters& parameters) : parameters_(parameters) {}
  void at(const SurfacePoint&, BsdfParameters& out, Vec3f&) const override { out = parameters_; }

 private:
  BsdfParameters parameters_;
};

/// Everything a render needs, as immutable values: what `compile` makes of a shot.
struct Scene {
  Camera camera;
  std::shared_ptr<const PlacedGeometry> geometry;
  std::vector<std::vector<std::shared_ptr<const Material>>> materials;  ///< [instance][part]
  std::vector<std::string> placementIds;                                ///< [instance]
  std::shared_ptr<const Lights> lights;
  std::shared_ptr<const Picture> plate;  ///< scene-linear; may be absent
  bool groundCatches = true;             ///< the plane at `catcherM` is part of the photographed place
  float catcherM = 0;                    ///< height of the plane the products stand on
  int bounces = 6;
  uint32_t seed = 1;
};

}  // namespace dusk
