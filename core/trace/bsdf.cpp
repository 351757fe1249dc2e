#include "core/trace/bsdf.h"

#include "core/light/lights.h"
#include "core/trace/ggx.h"
#include "core/trace/sampler.h"
#include "core/trace/sheen.h"
#include "core/trace/thin_film.h"

namespace dusk {
namespace {

constexpr float coatIor = 1.5f;
float alphaOf(float roughness) { return std::max(1e-3f, roughness * roughness); }

/// GGX value times cos without Fresnel.
float lobe(const Vec3f& wo, const Vec3f& wi, const Vec3f& h, float alphaX, float alphaY) {
  return ggx::d(h, alphaX, alphaY) * ggx::g2(wo, wi, alphaX, alphaY) / (4 * std::max(wo.z, 1e-6f));
}

}  // namespace

Bsdf::Bsdf(const BsdfParameters& p, const Vec3f& wo)
    : wo_(wo.x, wo.y, std::max(wo.z, 1e-4f)),
      metal_(p.base),
      ior_(std::max(1.0f, p.ior)),
      dielectricF0_(normalReflectance(ior_) * p.specular),
      edge_(p.specular),
      alpha_(alphaOf(p.roughness)),
      coat_(p.clearcoat),
      coatAlpha_(alphaOf(p.clearcoatRoughness)),
      sheenAlpha_(alphaOf(std::max(0.1f, p.sheenRoughness))),
      dielectric_(1 - p.metalness),
      metalness_(p.metalness),
      rise_(dielectricTerms(ior_)) {
  // Burley 2012, "Physically Based Shading at Disney": how much longer than wide the highlight gets.
  const float aspect = p.anisotropy > 0 ? std::sqrt(1 - 0.9f * p.anisotropy) : 1.0f;
  alphaX_ = std::min(1.0f, alpha_ / aspect), alphaY_ = std::max(1e-3f, alpha_ * aspect);
  const ggx::Albedo e = ggx::albedo(wo_.z, alpha_, rise_), mean = ggx::meanAlbedo(alpha_, rise_);
  dielectricColour_ = Rgb(dielectricF0_);
  if (p.filmNm > 0) {
    const float cosine = std::min(1.0f, wo_.z);
    metal_ = filmedReflectance(p.base, p.filmNm, p.filmIor, cosine, schlickRise(cosine));
    dielectricColour_ =
        filmedReflectance(dielectricColour_, p.filmNm, p.filmIor, cosine, dielectricRise(cosine, ior_));
    dielectricF0_ = maxComponent(dielectricColour_);  // so that no channel gives more than it gets
  }
  compensation_ = Rgb(1) + metal_ * ((1 - e.whole()) / std::max(e.whole(), 1e-3f));
  const float s = dielectricF0_ * e.scale + edge_ * e.bias,
              meanS = dielectricF0_ * mean.scale + edge_ * mean.bias;
  coupling_ = (1 - s) / std::max(1 - meanS, 1e-4f);
  tint_ = Rgb(1) + (p.coatColour - Rgb(1)) * coat_;
  diffuse_ = p.base * (dielectric_ * (1 - p.transmission) * (1 - p.subsurface));
  coatLeans_ = coat_ > 0 && p.coatNormal != Vec3f(0);
  if (coatLeans_) coatFrame_ = triadAround(p.coatNormal);
  coatWo_ = onCoat(wo_);
  coatWo_.z = std::max(coatWo_.z, 1e-4f);
  float coatS = 0;
  if (coat_ > 0) {
    const ggx::Albedo c = ggx::albedo(coatWo_.z, coatAlpha_, dielectricTerms(coatIor));
    coatS = coat_ * (normalReflectance(coatIor) * c.scale + c.bias);
  }
  overSheen_ = belowCoat_ = 1 - coatS;
  sheen_ = p.sheenColour * p.sheen;
  float sheenS = 0;
  if (p.sheen > 0) {
    sheenS = sheen::albedo(wo_.z, sheenAlpha_);
    belowCoat_ *= 1 - maxComponent(sheen_) * sheenS;
  }
  passes_ = belowCoat_ * dielectric_ * p.transmission * (1 - s);
  wanders_ = belowCoat_ * dielectric_ * (1 - p.transmission) * (1 - s) * p.subsurface;

  albedo_.diffuse = diffuse_ * tint_ * (belowCoat_ * (1 - s)) + sheen_ * (overSheen_ * sheenS);
  albedo_.specular = ((dielectricColour_ * e.scale + Rgb(edge_ * e.bias)) * dielectric_ +
                      schlickReflectance(metal_, wo_.z) * metalness_) *
                         tint_ * belowCoat_ +
                     Rgb(coatS);
  const float specular = luminance(albedo_.specular) - coatS;
  const float sum = std::max(coatS + specular + luminance(albedo_.diffuse), 1e-6f);
  coatChance_ = coatS / sum;
  specularChance_ = specular / sum;
  // What the passes show as diffuse is all that comes back so, however far it went below.
  albedo_.diffuse += p.base * tint_ * wanders_;
}

Bsdf::Value Bsdf::value(const Vec3f& wi) const {
  Value v;
  if (coat_ > 0) {
    const Vec3f coatWi = onCoat(wi), coatH = (coatWo_ + coatWi).normalized();
    if (coatWi.z > 0)
      v.specular = Rgb(coat_ * dielectricReflectance(std::min(1.0f, coatWi.dot(coatH)), 1 / coatIor) *
                       lobe(coatWo_, coatWi, coatH, coatAlpha_, coatAlpha_));
  }
  if (wi.z <= 0) return v;
  const Vec3f h = (wo_ + wi).normalized();
  const float cosine = wi.dot(h);
  const ggx::Albedo e = ggx::albedo(wi.z, alpha_, rise_);
  const float s = dielectricF0_ * e.scale + edge_ * e.bias;
  v.diffuse = diffuse_ * tint_ * (belowCoat_ * coupling_ * (1 - s) * wi.z / pif);
  const float rise = dielectricRise(cosine, ior_);
  const Rgb fresnel = (dielectricColour_ + (Rgb(edge_) - dielectricColour_) * rise) * dielectric_ +
                      schlickReflectance(metal_, cosine) * compensation_ * metalness_;
  v.specular += fresnel * tint_ * (belowCoat_ * lobe(wo_, wi, h, alphaX_, alphaY_));
  if (maxComponent(sheen_) > 0) v.diffuse += sheen_ * (overSheen_ * sheen::value(wo_, wi, h, sheenAlpha_));
  return v;
}

float Bsdf::pdfSpecular(const Vec3f& wo, const Vec3f& wi, float alphaX, float alphaY) {
  const Vec3f h = (wo + wi).normalized();
  return ggx::pdfVisible(wo, h, alphaX, alphaY) / (4 * std::max(wo.dot(h), 1e-6f));
}

float Bsdf::pdf(const Vec3f& wi) const {
  float sum = 0;
  if (const Vec3f coatWi = onCoat(wi); coatChance_ > 0 && coatWi.z > 0)
    sum += coatChance_ * pdfSpecular(coatWo_, coatWi, coatAlpha_, coatAlpha_);
  if (wi.z <= 0) return sum;
  sum += (1 - coatChance_ - specularChance_) * wi.z / pif;
  if (specularChance_ > 0) sum += specularChance_ * pdfSpecular(wo_, wi, alphaX_, alphaY_);
  return sum;
}

Bsdf::Sample Bsdf::sample(const Vec2f& u, float lobeChoice) const {
  Vec3f wi;
  const bool diffuse = lobeChoice >= coatChance_ + specularChance_, coat = lobeChoice < coatChance_;
  if (!diffuse) {
    const Vec3f& from = coat ? coatWo_ : wo_;
    const Vec3f h = coat ? ggx::sampleVisible(from, coatAlpha_, coatAlpha_, u)
                         : ggx::sampleVisible(from, alphaX_, alphaY_, u);
    wi = h * (2 * from.dot(h)) - from;
    if (coat && coatLeans_) wi = coatFrame_.toWorld(wi);
  } else {
    wi = cosineDirection(u);
  }
  const bool wide = diffuse || (coat ? coatChance_ : specularChance_) < 0.35f;
  const float drawnPdf = pdf(wi);
  if ((wi.z <= 1e-6f && !coatLeans_) || drawnPdf <= 1e-9f) return {wi, {}, 0, wide};
  Value weight = value(wi);
  weight.diffuse /= drawnPdf, weight.specular /= drawnPdf;
  return {wi, weight, drawnPdf, wide};
}

}  // namespace dusk
