#pragma once
#include "core/surface/parameters.h"
#include "core/trace/fresnel.h"

namespace dusk {

/// What an opaque or transmitting surface does with light, seen from outside. Directions point away from the
/// surface, in the local frame (z = shading normal, x = along the brushing). Layers from above: clearcoat,
/// sheen, (metal | dielectric specular over diffuse). The diffuse below a specular layer gets what that lets
/// through, reciprocally (Kelemen & Szirmay-Kalos 2001, "A Microfacet Based Coupled Specular-Matte BRDF
/// Model"); metals get back what single scattering loses (Turquin 2019, "Practical multiple scattering
/// compensation for microfacet models"); sheen is that of the glTF 2.0 extension KHR_materials_sheen (Estevez
/// & Kulla 2017, "Production Friendly Microfacet Sheen BRDF"). Transmission is not in `value`: light that
/// goes through is followed by the integrator.
class Bsdf {
 public:
  Bsdf(const BsdfParameters& parameters, const Vec3f& wo);

  /// What scatters widely (diffuse and sheen), and what mirrors (specular, metal and coat).
  struct Value {
    Rgb diffuse{0, 0, 0}, specular{0, 0, 0};
    Rgb sum() const { return diffuse + specular; }
  };
  /// BSDF times |cos| for reflection towards `wi`.
  Value value(const Vec3f& wi) const;
  /// Density of `sample` per steradian, given that a reflection was drawn.
  float pdf(const Vec3f& wi) const;

  struct Sample {
    Vec3f wi;
    Value weight;  ///< value / pdf
    float pdf;
    bool wide;  ///< from the diffuse lobe, or from one drawn so seldom that sharp light beyond it would only
                ///< be noise
  };
  /// Draws a reflected direction; pdf 0 when the draw fell below the surface.
  Sample sample(const Vec2f& u, float lobe) const;

  /// Share of light that passes into the body (before its colour), for transmitting surfaces.
  float passes() const { return passes_; }
  /// Share that goes in to wander below the surface.
  float wanders() const { return wanders_; }
  /// Share of light that comes back widely and mirror-like towards the viewer, for the albedo passes.
  Value albedo() const { return albedo_; }

 private:
  static float pdfSpecular(const Vec3f& wo, const Vec3f& wi, float alphaX, float alphaY);
  /// In the coat's own frame, where that leans otherwise than what is below it.
  Vec3f onCoat(const Vec3f& w) const { return coatLeans_ ? coatFrame_.toLocal(w) : w; }

  Vec3f wo_;
  Rgb diffuse_, metal_, dielectricColour_, compensation_, sheen_;
  Value albedo_;
  float ior_, dielectricF0_, edge_, alpha_, alphaX_, alphaY_, coat_, coatAlpha_, sheenAlpha_;
  float belowCoat_;   ///< share that clearcoat and sheen let through towards wo
  float overSheen_;   ///< share that the clearcoat lets through
  float dielectric_;  ///< share of the dielectric
  float metalness_;
  float coupling_;  ///< (1 - S(wo)) / (1 - mean S)
  float passes_, wanders_;
  bool coatLeans_ = false;
  RiseTerms rise_;  ///< of the dielectric
  Triadf coatFrame_;
  Vec3f coatWo_;
  Rgb tint_;                           ///< what the coat's colour leaves of all below it
  float coatChance_, specularChance_;  ///< of drawing each lobe; the rest is diffuse
};

}  // namespace dusk
