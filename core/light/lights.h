#pragma once
#include <array>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/light/panorama.h"
#include "core/project/lamp_kinds.h"
#include "core/project/project.h"

namespace dusk {

/// Light of one group from one direction. Groups are mixed after rendering: 0 is the surroundings, then one a
/// lamp, and last the glow of emitting parts.
struct Glow {
  int group = 0;
  Rgb radiance{0, 0, 0};
  bool onDiffuse = true, onSpecular = true;  ///< a lamp kept out of reflections lets what is behind it show
  bool shadows = true;
};

/// What comes from one direction: few things can lie in it.
struct Glows {
  std::array<Glow, 6> list;
  int count = 0;
  void add(const Glow& g) {
    if (count < int(list.size())) list[size_t(count++)] = g;
  }
  const Glow* begin() const { return list.data(); }
  const Glow* end() const { return list.data() + count; }
  /// All that a matte surface gets.
  Rgb sum() const {
    Rgb all(0, 0, 0);
    for (const Glow& g : *this)
      if (g.onDiffuse) all += g.radiance;
    return all;
  }
};

/// A light drawn from: where it comes from, how bright, and how likely it was.
struct LightSample {
  Vec3f direction{0, 0, 1};  ///< from the lit point, unit
  float distance = 1e30f;
  Glows light;
  float pdf = 0;  ///< per steradian; 0 = nothing drawn
  Rgb radiance() const { return light.sum(); }
};

/// A triangle of a part that gives off light.
struct EmittingTriangle {
  Vec3f a, b, c;
  Rgb radiance;
};

/// What lamps that shine with a picture show, scene-linear, by the lamp's id.
using LampPictures = std::map<std::string, std::shared_ptr<const Picture>>;

/// A sun taken out of the panorama: a light of its own, group "sun". In the world, before the gain.
struct SunApart {
  Vec3f direction{0, 0, 1};
  Rgb irradiance{0, 0, 0};  ///< of a surface that faces it
  double discDegrees = 0.53;
};

/// Panorama, lamps and emitting parts as the tracer asks for them. Immutable. Lamps are chosen by what they
/// can do at the lit point, triangles by their power.
class Lights {
 public:
  /// Without a panorama, the sky is an even `evenSky` all round. `mirrored`: what reflections show in its
  /// place; may be absent. A lamp with a picture that is not among `pictures` is dark.
  Lights(std::shared_ptr<const Panorama> panorama, const Surroundings& surroundings,
         const std::vector<Lamp>& lamps, const Rgb& evenSky, std::vector<EmittingTriangle> emitters = {},
         const std::optional<SunApart>& sunApart = {}, const LampPictures& pictures = {},
         std::shared_ptr<const Panorama> mirrored = nullptr);

  /// Draws one light and a direction to it, seen from `point`. `u` uniform in [0, 1)^2, `choice` in [0, 1).
  /// With the normal of the surface there (else 0), the dome by what it does to that.
  LightSample sample(const Vec3f& point, const Vec3f& normal, const Vec2f& u, float choice) const;
  LightSample sample(const Vec3f& point, const Vec2f& u, float choice) const {
    return sample(point, Vec3f(0), u, choice);
  }

  /// What a ray that meets nothing else sees (the nearest lamp in its way, or dome and suns), and how likely
  /// `sample` was to draw that direction from `origin`, where the surface has that normal, all lights
  /// together.
  struct Seen {
    Glows light;
    float pdf = 0;  ///< per steradian
    Rgb radiance() const { return light.sum(); }
  };
  Seen seen(const Vec3f& origin, const Vec3f& direction, const Vec3f& normal = Vec3f(0)) const;
  /// How likely `sample` was to draw a point of an emitting part that is met at `distance`, leaning by
  /// `cosine`. Per steradian.
  float emitterPdf(const Rgb& radiance, float distance, float cosine) const;
  /// Distance to the nearest lamp with a body that the ray meets from its shining side; 1e30 when none.
  float lampDistance(const Vec3f& origin, const Vec3f& direction) const;
  /// The nearest such lamp that the camera may see, if any.
  struct Shown {
    float distance = 1e30f;
    Glow light;
  };
  Shown shown(const Vec3f& origin, const Vec3f& direction) const;

  /// The dome alone.
  Rgb sky(const Vec3f& direction) const;
  /// What the dome shows of the ground at `point`, looked at along `direction`: from where it was taken,
  /// where that is known.
  Rgb floor(const Vec3f& point, const Vec3f& direction) const {
    return sky(capture_ && (point - *capture_).length2() > 1e-6f ? (point - *capture_).normalized()
                                                                 : direction);
  }
  /// What the dome shows from `point` along `direction`, its walls being as far away as they are.
  Rgb wall(const Vec3f& point, const Vec3f& direction) const {
    return sky(onDome(point, direction).direction);
  }
  /// Whether a point lies within the walls; those that are far away hold all.
  bool isWithinWalls(const Vec3f& point) const {
    return domeRadius_ <= 0 || (point - *capture_).length2() < domeRadius_ * domeRadius_;
  }
  /// Irradiance of everything on a surface at `point` with nothing in the way; lamps to first order.
  Rgb irradiance(const Vec3f& point, const Vec3f& normal) const {
    Rgb sum(0);
    eachIrradiance(point, normal, [&](int, const Rgb& light) { sum += light; });
    return sum;
  }
  /// The same, a group at a time: `act(group, light)`, perhaps several times for one.
  template <typename Act>
  void eachIrradiance(const Vec3f& point, const Vec3f& normal, const Act& act) const;
  Rgb groundIrradiance(const Vec3f& point) const { return irradiance(point, {0, 0, 1}); }

  /// The groups' names: "surroundings", the lamps' ids, "glow" where a part emits.
  const std::vector<std::string>& groups() const { return groups_; }
  int glowGroup() const { return glowGroup_; }
  /// Whether light of this group is there with the products only.
  bool isGlow(int group) const { return !emitters_.empty() && group == glowGroup_; }
  static constexpr int maxGroups = 12;  ///< lamps beyond share the last

 private:
  struct Sun {
    Triadf frame;       ///< z towards the sun
    double sine2, dip;  ///< of the disc's angular radius: its sine squared, and one less its cosine
    Glow light;
  };
  struct Body {
    LampBody shape;
    bool lights, hasCone, hasPicture;
    Vec3f centre;
    Triadf frame;  ///< z the way it shines
    float halfWidth, halfHeight, radius, innerCosine, outerCosine;
    Glow light;
    bool camera;
    std::shared_ptr<const Picture> picture{};
    std::array<float, 4> crop{};
    float brightness = 1;  ///< mean luminance of that
    float meanBrightness() const;
    float surface() const;
    /// Distance along the ray, negative when missed or met from behind.
    float hit(const Vec3f& origin, const Vec3f& direction) const;
    /// A ball: one less the cosine of the angle it fills half of.
    double coneDip(const Vec3f& point) const;
    Vec3f directionFrom(const Vec3f& point, const Vec2f& u) const;
    /// Per steradian, of `directionFrom` where the lamp is met at `distance`.
    float pdf(const Vec3f& origin, const Vec3f& direction, float distance) const;
    /// Share of its radiance that goes along `direction`.
    float towards(const Vec3f& direction) const;
    /// What comes back along a ray that meets it at `distance`.
    Rgb shines(const Vec3f& origin, const Vec3f& direction, float distance) const;
    bool isFlat() const { return shape == LampBody::rectangle; }
    /// About what it does at `point`: irradiance of a surface that faces it.
    float reach(const Vec3f& point) const;
  };
  static float conePdf(const Sun& sun) { return float(1 / (2 * pi * sun.dip)); }
  Vec3f toPanorama(const Vec3f& world) const;
  Vec3f toWorld(const Vec3f& panorama) const;
  /// Sum of the reaches of all lamps with a body.
  float bodiesReach(const Vec3f& point) const;
  LightSample sampleEmitter(const Vec3f& point, const Vec2f& u, float choice) const;
  /// Where on the dome a ray ends, as seen from its middle, and how much denser directions lie there than at
  /// the ray's origin.
  struct OnDome {
    Vec3f direction;
    float jacobian = 1;
  };
  /// The panorama's table for a normal.
  int facing(const Vec3f& normal) const;
  OnDome onDome(const Vec3f& origin, const Vec3f& direction) const;

  std::shared_ptr<const Panorama> panorama_, mirroredPanorama_;
  float domeRadius_ = 0;
  Rgb evenSky_, gain_;
  Triadf turn_;
  std::optional<Vec3f> capture_;
  bool mirrored_ = false;
  std::vector<Sun> suns_;
  std::vector<Body> bodies_;
  std::vector<EmittingTriangle> emitters_;
  std::vector<float> emitterPower_;  // cumulative
  std::vector<std::string> groups_;
  int glowGroup_ = 0;
  Rgb skyIrradiance_{0, 0, 0};  ///< of level ground
  float sunReach_ = 0;
  float skyShare_ = 1, emitterShare_ = 0;  ///< chance of the dome, and of an emitting part
  /// Chances where all lamps are seen from behind, or too far: the dome has theirs.
  struct Chances {
    float sky, lamps, reach;
  };
  Chances chancesAt(const Vec3f& point) const;
};

template <typename Act>
void Lights::eachIrradiance(const Vec3f& point, const Vec3f& normal, const Act& act) const {
  act(0,
      normal.z > 0.9999f || !panorama_ ? skyIrradiance_ : panorama_->irradiance(toPanorama(normal)) * gain_);
  for (const Sun& sun : suns_)
    act(sun.light.group,
        sun.light.radiance * (pif * float(sun.sine2) * std::max(0.0f, sun.frame.z.dot(normal))));
  for (const Body& body : bodies_) {
    const Vec3f to = body.centre - point;
    act(body.light.group,
        body.light.radiance * (body.reach(point) / std::max(1e-9f, luminance(body.light.radiance)) *
                               std::max(0.0f, to.dot(normal)) / std::max(1e-6f, to.length())));
  }
}

/// A direction about z, drawn by its cosine.
inline Vec3f cosineDirection(const Vec2f& u) {
  const float r = std::sqrt(u.x), phi = 2 * pif * u.y;
  return {r * std::cos(phi), r * std::sin(phi), std::sqrt(std::max(0.0f, 1 - u.x))};
}

/// A direction about +Z, even over the cone of angles whose cosine is at least `1 - dip`: for a dip too small
/// for a cosine to tell.
Vec3f directionInCone(double dip, const Vec2f& u);

/// World direction of a panorama direction under `surroundings` (mirror, then turn).
Vec3f worldFromPanorama(const Surroundings& surroundings, const Vec3f& direction);
/// Unit vector towards a sun lamp.
Vec3f sunDirection(const Lamp& lamp);
/// World from a lamp's own axes: z the way it shines, x level and to the right of who looks at it.
Triadf lampFrame(const Vec3f& shines);
/// What a lamp is coloured, luminance 1, and its strength: radiance, or for a sun irradiance over pi.
Rgb lampLight(const Lamp& lamp);
/// The other way round: a sun lamp gets the strength and colour that give what faces it this irradiance.
void setIrradiance(Lamp& sun, const Rgb& irradiance);

}  // namespace dusk
