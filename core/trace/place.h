#pragma once
#include <optional>
#include <vector>

#include "core/project/project.h"
#include "core/trace/geometry.h"

namespace dusk {

/// The mirror-like side of a surface of the photographed place.
struct PlaceGloss {
  float strength = 0, roughness = 0.15f, ior = 1.33f;
};

/// Where a ray meets the photographed place.
struct PlaceHit {
  float distance = 1e30f;
  Vec3f normal{0, 0, 1};  ///< on the side the ray comes from
  bool catches = true, ground = false;
  PlaceGloss gloss;
  bool found() const { return distance < 1e30f; }
};

/// The photographed place as far as it takes part: the level it stands on, stand-ins, and the sweep of a
/// studio. Few shapes, met by closed forms, so that round things are round and an edit costs nothing.
class Place {
 public:
  bool ground = true;  ///< whether the level catches
  float groundM = 0;   ///< its height
  PlaceGloss gloss;    ///< of the ground

  void add(const StandIn& standIn);
  /// The bend and the wall behind it, `behindM` behind the origin as seen along `azimuth` (radians clockwise
  /// from +Y). The floor before them is the ground.
  void addSweep(float azimuth, float radiusM, float behindM);

  /// The nearest surface nearer than `limit`. What only catches is there for the camera alone; what does
  /// nothing is never met. A ray that begins inside a shape leaves it unmet.
  PlaceHit closest(const Ray& ray, float limit, bool fromCamera = false) const;
  bool blocks(const Ray& ray, float limit) const { return closest(ray, limit).found(); }
  /// Whether it is one level plane, which cannot stand in its own light.
  bool isPlain() const { return shapes_.empty() && !sweep_; }

 private:
  struct Shape {
    StandInKind kind;
    Vec3f centre;
    Triadf frame;
    Vec3f half;   ///< extents to each side
    float reach;  ///< radius of the ball around it
    bool catches, blocks;
    PlaceGloss gloss;
    /// Distance along the local ray and the outward normal, local; negative when missed.
    float hit(const Vec3f& origin, const Vec3f& direction, Vec3f& normal) const;
  };
  struct Sweep {
    Vec2f away;  ///< unit
    float radius, behind;
  };
  void meetGround(const Ray& ray, PlaceHit& hit) const;
  void meetSweep(const Ray& ray, PlaceHit& hit) const;

  std::vector<Shape> shapes_;
  std::optional<Sweep> sweep_;
};

/// The place of a shot: what catches, where its products stand first of all.
Place placeOf(const Shot& shot);

}  // namespace dusk
