#pragma once
#include "core/trace/media.h"
#include "core/trace/mirrored_side.h"
#include "core/trace/sample.h"
#include "core/trace/sampler.h"
#include "core/trace/scene.h"

namespace dusk {

/// Unidirectional path tracing with next-event estimation and multiple importance sampling by the balance
/// heuristic (Veach 1997, "Robust Monte Carlo Methods for Light Transport Simulation"). The place is lit
/// twice with the same random numbers, without and with the product (Debevec 1998, "Rendering Synthetic
/// Objects into Real Scenes", as a ratio instead of a difference; what a glossy ground mirrors as a
/// difference). After a bounce, mirror-like surfaces count as a little rougher (Kaplanyan & Dachsbacher 2013,
/// "Path Space Regularization"), and glass lets light through straight.
class Integrator {
 public:
  explicit Integrator(const Scene& scene);

  /// One sample of pixel (x, y) of the scene's camera.
  PixelSample sample(int x, int y, uint32_t index) const;
  /// Number of light groups in its samples.
  int groups() const { return int(scene_.lights->groups().size()); }

  /// All light that comes back along `ray`, straight from lights too.
  Rgb radiance(const Ray& ray, Sampler& sampler) const;

  /// What shows of the place where a ray meets it: by the photo, else by the panorama.
  Rgb placeRadiance(const Ray& ray, const PlaceHit& hit) const;

  /// A ray through a point of the picture, in pixels, through the middle of the lens.
  Ray cameraRay(const Vec2d& pixel) const;
  /// The same through a point of the lens that `u` in [0, 1)² draws.
  Ray lensRay(const Vec2d& pixel, const Vec2f& u) const;

 private:
  struct Shading;
  struct Path;
  float spread() const;
  Shading shade(const Ray& ray, const Hit& hit, float leastRoughness) const;
  /// Whose ray it is, as far as parts tell: `catcher` are those of the place's own light.
  enum class Look { camera, mirror, bounce, catcher };
  /// The nearest part that is there for such a ray; what lets rays by does so by chance.
  Hit closest(const Ray& ray, float limit, Look look, Sampler& sampler) const;
  bool isThereFor(const Hit& hit, Look look) const;
  /// What a part does beside; nullptr: everything.
  const PartRole* roleOf(uint64_t part) const {
    return scene_.roles.empty() ? nullptr : &scene_.roles[part >> 32][part & 0xffffffff];
  }
  /// Share of light that reaches `to`-wards along a ray of length `limit` past products (glass lets through),
  /// which begins in the air or in those media.
  Rgb transmittance(Ray ray, float limit, Media media = {}) const;

  /// Follows `path` from its ray until it ends; what it meets first may be given, and that shaded.
  void follow(Path& path, Sampler& sampler, PixelSample& out, const Hit* first = nullptr,
              const Shading* firstAt = nullptr) const;
  void addEnvironmentHit(const Path& path, PixelSample& out) const;
  void addEmitterHit(const Path& path, const Shading& at, PixelSample& out) const;
  bool scatterAtPlace(Path& path, const PlaceHit& hit, Sampler& sampler, PixelSample& out) const;
  bool changeAtPlace(Path& path, const Vec3f& point, const Vec3f& n, Sampler& sampler,
                     PixelSample& out) const;
  bool mirrorAtPlace(Path& path, const Vec3f& point, const PlaceHit& hit, Sampler& sampler,
                     PixelSample& out) const;
  /// What a surface that a path meets next counts as at least.
  float leastRoughness(const Path& path) const;
  bool scatterAtSurface(Path& path, const Shading& at, float distance, Sampler& sampler,
                        PixelSample& out) const;
  /// Into the body, out of it, or straight through, where a surface transmits; false: it ends here.
  enum class Glass { passed, absorbed, reflects };
  Glass scatterThroughGlass(Path& path, const Shading& at, Sampler& sampler) const;
  /// In from the air.
  bool enterGlass(Path& path, const Shading& at, const Vec2f& u, Sampler& sampler) const;
  /// Before a boundary that bends: which colour the path is of, where bodies part them.
  static void partColours(Path& path, const Medium& body, Sampler& sampler);
  /// On the way through a cloudy body: whether the path was scattered within `distance`. If so, it goes on
  /// from there; if not, its throughput knows.
  enum class Cloud { clear, scattered, lost };
  Cloud scatterInBody(Path& path, float distance, Sampler& sampler, PixelSample& out) const;
  /// Out of a spot as from a matte white that lets all out; `at` becomes that.
  bool leaveMatte(Path& path, Shading& at, Sampler& sampler, PixelSample& out) const;
  /// Below the surface and out again somewhere else.
  bool wanderBelow(Path& path, const Shading& at, Sampler& sampler, PixelSample& out) const;
  void addDirectLighting(const Path& path, const Shading& at, const Bsdf& bsdf, Sampler& sampler,
                         PixelSample& out) const;

  Vec3f placePoint(const Ray& ray, const PlaceHit& hit) const;
  std::optional<Rgb> photographed(const Vec3f& point) const;
  void shadeCatcher(const Ray& ray, const PlaceHit& hit, Sampler& sampler, PixelSample& out) const;
  /// The same whatever the reach, of all that shows as if it lay on the place.
  void shadeCatcherFully(const Ray& ray, const Vec3f& point, const PlaceHit& hit, const MirroredSpot* spot,
                         Sampler& sampler, PixelSample& out) const;
  void gatherFromPlace(const Ray& ray, const Vec3f& normal, float pdf, const PlaceHit& other,
                       Sampler& sampler, PixelSample& out) const;
  void gatherFromProduct(const Ray& ray, const Vec3f& normal, float pdf, Sampler& sampler,
                         PixelSample& out) const;
  /// `spot`: what is known of what the photo mirrors there; may be nullptr.
  void reflectAtCatcher(const Vec3f& point, const PlaceHit& on, const Vec3f& from, const MirroredSpot* spot,
                        Sampler& sampler, PixelSample& out) const;
  /// A spot of the place in a mirror: what it shows there, and how much of that is mirrored.
  struct MirroredPlace {
    Vec3f point, normal;
    Rgb shown, weight;
  };
  void addMirroredChange(const MirroredPlace& at, Sampler& sampler, PixelSample& out) const;
  float occlusion(const Shading& at, Sampler& sampler) const;
  /// What an emitting part really gives off where light sampling drew it.
  Rgb drawnRadiance(const Ray& towards, float distance, const Rgb& believed) const;

  const Scene& scene_;
  int blockBits_;
};

}  // namespace dusk
