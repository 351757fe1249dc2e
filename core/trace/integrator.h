#pragma once
#include "core/trace/sampler.h"
#include "core/trace/scene.h"

namespace dusk {

/// What one camera sample saw. Sums over samples make a film's pixel.
struct PixelSample {
  Rgb beauty{0, 0, 0};  ///< light from the product, premultiplied by its cover
  float alpha = 0;      ///< cover by the product
  Rgb with{0, 0, 0},
      without{0, 0, 0};  ///< light on the ground with and without the product, by the same random numbers
  Rgb albedo{0, 0, 0};
  Vec3f normal{0, 0, 0};
  float depth = 0;  ///< along the optical axis, metres; times alpha
};

/// Unidirectional path tracing with next-event estimation and multiple importance sampling by the balance
/// heuristic (Veach 1997, "Robust Monte Carlo Methods for Light Transport Simulation"). The ground is lit
/// twice with the same random numbers, without and with the product (Debevec 1998, "Rendering Synthetic
/// Objects into Real Scenes", as a ratio instead of a difference). After a bounce, mirror-like surfaces count
/// as a little rougher (Kaplanyan & Dachsbacher 2013, "Path Space Regularization"), and glass lets light
/// through straight.
class Integrator {
 public:
  explicit Integrator(const Scene& scene) : scene_(scene) {}

  /// One sample of pixel (x, y) of the scene's camera.
  PixelSample sample(int x, int y, uint32_t index) const;

  /// Radiance that comes back along `ray`. `density`: of the draw that chose it, per steradian; negative when
  /// it was not drawn by chance or cannot be met by light sampling. `rough`: whether a diffuse bounce came
  /// before.
  Rgb radiance(Ray ray, Sampler& sampler, float density, bool rough) const;

  /// A ray through a point of the picture, in pixels.
  Ray cameraRay(const Vec2d& pixel) const;

 private:
  struct Shading;
  Shading shade(const Ray& ray, const Hit& hit, float leastRoughness) const;
  /// Share of light that reaches `to`-wards along a ray of length `limit` past products (glass lets through).
  Rgb clearness(Ray ray, float limit) const;
  /// What becomes of a ray that meets glass from inside, or after the path has scattered.
  struct Passage {
    enum Kind { onwards, reflects, absorbed } kind;
    Vec3f direction;
    Rgb weight;
  };
  static Passage throughGlass(const Shading& at, const Vec3f& direction, float through, bool scattered,
                              float choice);
  static Vec3f refracted(const Shading& at, const Vec3f& direction, const Vec2f& u);
  Rgb directLight(const Shading& at, const Bsdf& bsdf, Sampler& sampler) const;
  Rgb groundAlbedo(const Vec3f& point, const Vec3f& from) const;
  void lightGround(const Vec3f& point, Sampler& sampler, PixelSample& out) const;
  float groundDistance(const Ray& ray) const;

  const Scene& scene_;
};

}  // namespace dusk
