#pragma once
#include "core/trace/integrator.h"

/// What the integrator's parts share.
namespace dusk {

/// A start just off the surface, on the side `direction` leaves to.
inline Vec3f offset(const Vec3f& point, const Vec3f& normal, const Vec3f& direction) {
  const float size = 2e-5f * std::max({1.0f, std::abs(point.x), std::abs(point.y), std::abs(point.z)});
  return point + normal * (normal.dot(direction) >= 0 ? size : -size);
}

inline float balance(float mine, float other) { return mine / (mine + other); }

inline Vec3f cosineDirection(const Vec2f& u) {
  const float r = std::sqrt(u.x), phi = 2 * pif * u.y;
  return {r * std::cos(phi), r * std::sin(phi), std::sqrt(std::max(0.0f, 1 - u.x))};
}

struct Integrator::Shading {
  Vec3f position, geometricNormal;
  Triadf frame;  ///< z = shading normal on the viewer's side, x along the brushing
  Vec3f wo;      ///< local
  BsdfParameters parameters;
  bool inside;  ///< met from within the body
  bool bent;    ///< the normal is not that of the shape
  float through() const { return parameters.transmission * (1 - parameters.metalness); }
  /// What keeps light from ending in a hard line where a bent normal looks at it and the shape does not.
  /// Chiang, Li & Burley 2019, "Taming the Shadow Terminator".
  float terminator(const Vec3f& direction) const {
    if (!bent) return 1;
    const float g = geometricNormal.dot(direction) /
                    std::max(1e-4f, frame.z.dot(direction) * frame.z.dot(geometricNormal));
    return g >= 1 ? 1.0f : std::max(0.0f, -g * g * g + g * g + g);
  }
};

struct Integrator::Path {
  Ray ray;
  Rgb carried{1, 1, 1};
  /// How `carried` is shared by what the first surface did; the rest of one is transmission. Before it, all
  /// 0.
  Rgb diffuse{0, 0, 0}, specular{0, 0, 0};
  Rgb lastDiffuse{0, 0, 0};  ///< share that the last scattering sent widely
  int vertices = 0;          ///< surfaces that scattered it or, first of all, let it in
  int scatterings = 0, diffuseScatterings = 0, mirrorings = 0, glassSides = 0;
  bool throughGlassOnly = false;
  /// Of the draw that chose the ray, per steradian; negative when it was not drawn by chance or cannot be met
  /// by light sampling.
  float density = -1;
  bool rough = false;      ///< whether it has scattered widely
  bool scattered = false;  ///< once it has, light sampling looks straight through glass, and so must it
  /// Adds light of a group, arriving along the path and weighed by `weight`, to the components.
  void deposit(PixelSample& out, const Glow& light, float weight, float clamp) const;
};

}  // namespace dusk
