#pragma once
#include "core/surface/parameters.h"

namespace dusk {

/// What the shape can tell about a spot by looking around from it. Asked only where a surface wants to know.
class ShapeProbe {
 public:
  virtual ~ShapeProbe() = default;
  /// Share of the directions outwards, weighed by their cosine, in which something is met within `metres`.
  virtual float covered(const Vec3f& position, const Vec3f& normal, float metres) const = 0;
  /// Share of the directions inwards in which the body ends within `metres`: 0 in the middle of a plane, more
  /// the nearer an edge is that stands out.
  virtual float exposed(const Vec3f& position, const Vec3f& normal, float metres) const = 0;
  /// How far the body goes on behind the spot; at most `metres`.
  virtual float thickness(const Vec3f& position, const Vec3f& normal, float metres) const = 0;
};

/// A point on a product about to be lit.
struct SurfacePoint {
  Vec3f position, geometricNormal;  ///< world; the normal on the viewer's side
  Vec2f uv{0, 0};
  Vec3f alongU{0, 0, 0}, alongV{0, 0, 0};  ///< where the texture coordinates grow; zero without
  Vec2f perUv{0, 0};                       ///< units of the mesh per texture coordinate along those
  Vec3f onMesh{0, 0, 0};
  const Triadf* worldFromMesh = nullptr;  ///< for directions
  Vec3f view{0, 0, 0};                    ///< towards the viewer, unit
  float width = 0;                        ///< metres across what one look at it stands for
  bool inside = false;                    ///< met from within the body
  const ShapeProbe* probe = nullptr;
  Vec3f colour{1, 1, 1};  ///< of the vertices around it; white where they have none
};

/// What a part is made of, as the tracer asks for it. Implementations must be safe to call from many threads.
class Material {
 public:
  virtual ~Material() = default;
  /// Fills `out`; may bend `normal` (unit, world, on the viewer's side).
  virtual void at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const = 0;
  /// Radiance it is drawn by as a light: what it gives off everywhere, or on average.
  virtual Rgb emission() const { return Rgb(0, 0, 0); }
  /// Whether no light goes through it anywhere: shadows need not ask what it is at the spot.
  virtual bool isOpaque() const { return false; }
  /// Whether rays may go by as if it were not there at all.
  virtual bool hasGaps() const { return false; }
  /// Whether what it gives off differs from that from spot to spot.
  virtual bool emitsUnevenly() const { return false; }
};

/// One surface all over.
class PlainMaterial : public Material {
 public:
  explicit PlainMaterial(const BsdfParameters& parameters) : parameters_(parameters) {}
  void at(const SurfacePoint&, BsdfParameters& out, Vec3f&) const override { out = parameters_; }
  Rgb emission() const override { return parameters_.emission; }
  bool isOpaque() const override {
    return (parameters_.transmission <= 0 || parameters_.metalness >= 1) && !hasGaps();
  }
  bool hasGaps() const override { return parameters_.opacity < 1; }

 private:
  BsdfParameters parameters_;
};

}  // namespace dusk
