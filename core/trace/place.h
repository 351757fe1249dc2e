#pragma once
#include <optional>
#include <vector>

#include "core/assets/asset_store.h"
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
  bool cutOut = false;  ///< of a thing that the blend draws in front of what is behind it
  PlaceGloss gloss;
  bool found() const { return distance < 1e30f; }
};

/// Where the photo shows a thing that is cut out of it, as seen from the camera that took it.
struct Silhouette {
  std::shared_ptr<const CutOutPicture> thing;
  Camera camera;
  /// Whether more of it than a share is there, at a point of the world.
  bool shows(const Vec3f& point, float share) const;
};

/// What meets the place: light on its way, a look at what the photo shows, or the film's camera, which looks
/// past what is cut out (see `inFront`).
enum class PlaceRay { light, photo, film };

/// The photographed place as far as it takes part: the level it stands on, stand-ins, and the sweep of a
/// studio. Few shapes, met by closed forms, so that round things are round and an edit costs nothing. Beside
/// them, parts of models that only catch.
class Place {
 public:
  bool ground = true;  ///< whether the level catches
  float groundM = 0;   ///< its height
  PlaceGloss gloss;    ///< of the ground

  /// `cutOut`: it stands for a thing that is cut out of the photo; `silhouette`, where known: to light it is
  /// there only where that shows.
  void add(const StandIn& standIn, bool cutOut = false, std::optional<Silhouette> silhouette = {});
  /// Parts that only catch, where they stand; nullptr: none.
  void take(std::shared_ptr<const PlacedGeometry> catchers) { catchers_ = std::move(catchers); }
  const std::shared_ptr<const PlacedGeometry>& catchers() const { return catchers_; }
  /// The bend and the wall behind it, `behindM` behind the origin as seen along `azimuth` (radians clockwise
  /// from +Y). The floor before them is the ground.
  void addSweep(float azimuth, float radiusM, float behindM);

  /// The nearest surface nearer than `limit`. What only catches is there for the camera alone; what does
  /// nothing is never met. A ray that begins inside a shape leaves it unmet.
  PlaceHit closest(const Ray& ray, float limit, PlaceRay of = PlaceRay::light) const;
  /// The nearest that catches among what is cut out, wherever the faintest of it shows.
  PlaceHit inFront(const Ray& ray, float limit) const;
  bool blocks(const Ray& ray, float limit) const { return closest(ray, limit).found(); }
  /// Whether anything of it mirrors.
  bool isGlossy() const;
  /// Whether it is one level plane, which cannot stand in its own light.
  bool isPlain() const { return shapes_.empty() && !sweep_ && !catchers_; }

 private:
  struct Shape {
    StandInKind kind;
    Vec3f centre;
    Triadf frame;
    Vec3f half;   ///< extents to each side
    float reach;  ///< radius of the ball around it
    bool catches, blocks, cutOut;
    std::optional<Silhouette> silhouette;
    PlaceGloss gloss;
    /// Distance along the local ray and the outward normal, local; negative when missed.
    float hit(const Vec3f& origin, const Vec3f& direction, Vec3f& normal) const;
  };
  struct Sweep {
    Vec2f away;  ///< unit
    float radius, behind;
  };
  /// Makes it the hit where it is nearer, and more of it than a share is there.
  static void meetShape(const Shape& shape, const Ray& ray, float share, PlaceHit& hit);
  void meetGround(const Ray& ray, PlaceHit& hit) const;
  void meetSweep(const Ray& ray, PlaceHit& hit) const;
  void meetCatchers(const Ray& ray, PlaceHit& hit) const;

  std::vector<Shape> shapes_;
  std::shared_ptr<const PlacedGeometry> catchers_;
  std::optional<Sweep> sweep_;
};

/// The place of a shot: what catches, where its products stand first of all.
Place placeOf(const Shot& shot);
/// The same with the silhouettes of what is cut out; one that cannot be found is told in `notes` (may be
/// nullptr), and its stand-in is there whole.
Place placeOf(const Shot& shot, AssetStore& assets, std::vector<std::string>* notes);

}  // namespace dusk
