#pragma once
#include <utility>

#include "core/trace/ggx.h"
#include "core/trace/integrator.h"

/// What the integrator's parts share.
namespace dusk {

/// A start just off the surface, on the side `direction` leaves to.
inline Vec3f offset(const Vec3f& point, const Vec3f& normal, const Vec3f& direction) {
  const float size = 2e-5f * std::max({1.0f, std::abs(point.x), std::abs(point.y), std::abs(point.z)});
  return point + normal * (normal.dot(direction) >= 0 ? size : -size);
}

inline float balance(float mine, float other) { return mine / (mine + other); }

/// A part of an instance as one number.
inline uint64_t partOf(const Hit& hit) { return uint64_t(hit.instance) << 32 | hit.part; }

/// The mirror-like side of a place alone.
inline BsdfParameters glossParameters(const PlaceGloss& gloss) {
  BsdfParameters p;
  p.base = Rgb(0), p.roughness = gloss.roughness, p.ior = gloss.ior;
  return p;
}

struct Integrator::Shading {
  Vec3f position, geometricNormal;
  Triadf frame;  ///< z = shading normal on the viewer's side, x along the brushing
  Vec3f wo;      ///< local
  BsdfParameters parameters;
  bool inside;                 ///< met from within the body
  float width = 0;             ///< metres across what the path stands for here
  Rgb drawnEmission{0, 0, 0};  ///< what light sampling takes its glow for
  bool bent;                   ///< the normal is not that of the shape
  uint32_t lightMask = 0;      ///< groups whose light it does not get, by bit
  /// A ray on from here, after scattering that spreads it by so much.
  Ray onward(const Vec3f& direction, float spread) const {
    return {offset(position, geometricNormal, direction), direction, width, spread};
  }
  uint64_t part = 0;  ///< which one, of which instance
  bool inBody() const { return inside && !parameters.thinWalled; }
  /// Whether light can be in it.
  bool hasBody() const { return through() > 0 && !parameters.thinWalled; }
  Medium medium() const {
    return {part,
            parameters.ior,
            parameters.abbe,
            parameters.forward,
            parameters.priority,
            parameters.absorption,
            parameters.scattering};
  }
  /// Light that comes from within a body nobody was seen to enter was in it all the same.
  void correct(Media& media) const {
    if (inBody() && hasBody() && !media.holds(part)) media.enter(medium());
  }
  /// What light meets here: the skin of its body among those it is in, or a sheet.
  Media::Boundary boundary(const Media& media, float nm = 0) const {
    return hasBody() ? media.meets(medium(), !inside, nm) : Media::Boundary{true, 1 / parameters.ior};
  }
  /// Into the body, or out of it.
  void cross(Media& media) const {
    if (hasBody()) inside ? media.leave(part) : media.enter(medium());
  }
  /// Share that goes straight through a boundary: through a slab both sides reflect alike, without total
  /// reflection.
  float straightThrough(const Media::Boundary& skin) const {
    return through() *
           (1 - dielectricReflectance(std::min(1.0f, std::abs(wo.z)), std::min(skin.eta, 1 / skin.eta)));
  }
  /// The same spot from its other side.
  void turnOver() {
    inside = !inside, geometricNormal = -geometricNormal;
    frame = triadAround(-frame.z);
  }
  /// A facet as it shows from `wo`, local; the normal itself where the surface is smooth.
  Vec3f facet(const Vec2f& u) const {
    const float alpha = parameters.roughness * parameters.roughness;
    return alpha < 0.0025f ? Vec3f(0, 0, 1) : ggx::sampleVisible(wo, alpha, alpha, u);
  }
  float facing(const Vec3f& facet) const { return std::max(1e-4f, wo.dot(facet)); }
  Vec3f mirroredAt(const Vec3f& facet) const { return facet * (2 * facing(facet)) - wo; }
  /// `eta`: index on this side over index beyond.
  Vec3f refractedAt(const Vec3f& facet, float eta) const {
    const float cosine = facing(facet);
    return facet * (eta * cosine - std::sqrt(std::max(0.0f, 1 - eta * eta * (1 - cosine * cosine)))) -
           wo * eta;
  }
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
  Rgb throughput{1, 1, 1};
  /// How `throughput` is shared by what the first surface did; the rest of one is transmission. Before it,
  /// all 0.
  Rgb firstDiffuse{0, 0, 0}, firstSpecular{0, 0, 0};
  Rgb lastDiffuse{0, 0, 0};  ///< share that the last scattering sent widely
  int depth = 0;             ///< surfaces that scattered it or, first of all, let it in
  int scatterings = 0, diffuseScatterings = 0, mirrorings = 0, glassSides = 0;
  bool throughGlassOnly = false;
  bool tells = false;  ///< what it comes to next, but for glass, shows in its pixel through glass or mirrored
  /// Of the draw that chose the ray, per steradian; negative when it was not drawn by chance or cannot be met
  /// by light sampling.
  float pdf = -1;
  /// Where, on a surface of which normal: the ray may have gone straight through glass since.
  Vec3f drawnAt{0, 0, 0}, drawnNormal{0, 0, 0};
  bool rough = false;        ///< whether it has scattered widely
  bool scattered = false;    ///< once it has, light sampling looks straight through glass, and so must it
  bool offPlace = false;     ///< it left the place, whose own shadows on itself the photo has already
  bool fromCatcher = false;  ///< it left the place to see what the product sends there
  bool lightsOnly = false;   ///< the last surface gets no light that others send back
  Media media;               ///< what it is in
  float nm = 0;              ///< wavelength, once colours have parted; 0: all
  int bodyScatterings = 0;
  uint32_t lightMask = 0;  ///< groups whose light the last surface does not get
  /// Whose ray it is now.
  Look look() const {
    if (fromCatcher) return Look::catcher;
    return !scattered || maxComponent(lastDiffuse) < 0.5f ? Look::mirror : Look::bounce;
  }
  /// It was scattered by a surface that does without those lights.
  /// What it has come to, if that is to be told.
  void tellBehind(PixelSample& out, const Rgb& albedo) {
    if (!std::exchange(tells, false)) return;
    out.passed = 1;
    for (int c = 0; c < 3; ++c) out.behind[c] = std::clamp(albedo[c], 0.0f, 1.0f);
  }
  void goOn(uint32_t mask) {
    scattered = true, throughGlassOnly = offPlace = tells = false;
    lightMask = mask;
  }
  /// Goes on along a ray that was drawn with `pdf` from a surface of that normal.
  void continueAlong(const Ray& along, const Vec3f& normal, float drawnPdf) {
    ray = along, pdf = drawnPdf, drawnAt = along.origin, drawnNormal = normal;
  }
  /// Adds light of a group, arriving along the path and weighed by `weight`, to the components.
  void deposit(PixelSample& out, const Glow& light, float weight, float clamp) const;
};

}  // namespace dusk
