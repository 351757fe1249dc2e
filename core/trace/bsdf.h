#pragma once
#include "core/base/maths.h"

namespace dusk {

/// A surface at one point, ready for light. All shares 0..1.
struct BsdfParameters {
  Rgb base{0.5f, 0.5f, 0.5f}, emission{0, 0, 0};
  float metalness = 0, roughness = 0.5f, ior = 1.5f, transmission = 0, clearcoat = 0,
        clearcoatRoughness = 0.05f;
};

/// Reflectance of a clean dielectric boundary, unpolarised; `cosine` on the side the light comes from, `eta`
/// = index there over index beyond. 1 at total reflection.
float dielectricReflectance(float cosine, float eta);

/// What an opaque or transmitting surface does with light, seen from outside. Directions point away from the
/// surface, in the local frame (z = shading normal). Layers: clearcoat over (metal | dielectric specular over
/// diffuse). The diffuse below a specular layer gets what that lets through, reciprocally (Kelemen &
/// Szirmay-Kalos 2001, "A Microfacet Based Coupled Specular-Matte BRDF Model"); metals get back what single
/// scattering loses (Turquin 2019, "Practical multiple scattering compensation for microfacet models").
/// Transmission is not in `value`: light that goes through is followed by the integrator.
class Bsdf {
 public:
  Bsdf(const BsdfParameters& parameters, const Vec3f& wo);

  /// BSDF times |cos| for reflection towards `wi`.
  Rgb value(const Vec3f& wi) const;
  /// Density of `sample` per steradian, given that a reflection was drawn.
  float pdf(const Vec3f& wi) const;

  struct Sample {
    Vec3f wi;
    Rgb weight;  ///< value / pdf
    float pdf;
    bool wide;  ///< from the diffuse lobe, or from one drawn so seldom that sharp light beyond it would only
                ///< be noise
  };
  /// Draws a reflected direction; pdf 0 when the draw fell below the surface.
  Sample sample(const Vec2f& u, float lobe) const;

  /// Share of light that passes into the body (before its colour), for transmitting surfaces.
  float passes() const { return passes_; }
  /// Diffuse and specular colour together, for the albedo pass.
  Rgb albedo() const;

 private:
  float pdfSpecular(const Vec3f& wi, float alpha) const;

  Vec3f wo_;
  Rgb diffuse_, metal_, compensation_;
  float dielectricF0_, alpha_, coat_, coatAlpha_;
  float belowCoat_;   ///< share that the clearcoat lets through towards wo
  float dielectric_;  ///< share of the dielectric
  float metalness_;
  float coupling_;  ///< (1 - S(wo)) / (1 - mean S)
  float passes_;
  float coatChance_, specularChance_;  ///< of drawing each lobe; the rest is diffuse
};

}  // namespace dusk
