#pragma once
#include <memory>
#include <vector>

#include "core/light/panorama.h"
#include "core/project/project.h"

namespace dusk {

/// A light drawn from: where it comes from, how bright, and how likely it was.
struct LightSample {
  Vec3f direction{0, 0, 1};  ///< from the lit point, unit
  float distance = 1e30f;
  Rgb radiance{0, 0, 0};
  float pdf = 0;  ///< per steradian; 0 = nothing drawn
};

/// Panorama and lamps as the tracer asks for them. Immutable.
class Lights {
 public:
  /// Without a panorama and with `evenSky`, the sky is an even `evenSky` all round.
  Lights(std::shared_ptr<const Panorama> panorama, const Surroundings& surroundings,
         const std::vector<Lamp>& lamps, const Rgb& evenSky);

  /// Draws one light and a direction to it, seen from `point`. `u` uniform in [0, 1)^2, `choice` in [0, 1).
  LightSample sample(const Vec3f& point, const Vec2f& u, float choice) const;

  /// What a ray that meets nothing else sees (the nearest area lamp in its way, or dome and suns), and how
  /// likely `sample` was to draw that direction from `origin`, all lights together.
  struct Seen {
    Rgb radiance{0, 0, 0};
    float pdf = 0;  ///< per steradian
  };
  Seen seen(const Vec3f& origin, const Vec3f& direction) const;
  /// Distance to the nearest area lamp the ray meets from its shining side; 1e30 when none.
  float lampDistance(const Vec3f& origin, const Vec3f& direction) const;

  /// The dome alone.
  Rgb sky(const Vec3f& direction) const;
  /// Irradiance of everything on level ground at `point` with nothing in the way; lamps to first order.
  Rgb groundIrradiance(const Vec3f& point) const;

 private:
  struct Sun {
    Triadf frame;  ///< z towards the sun
    float cosine;  ///< of the disc's angular radius
    Rgb radiance;
  };
  struct Area {
    Vec3f centre;
    Triadf frame;  ///< z the way it shines
    float halfWidth, halfHeight;
    Rgb radiance;
    /// Distance along the ray, negative when missed or met from behind.
    float hit(const Vec3f& origin, const Vec3f& direction) const;
  };
  static float conePdf(const Sun& sun) { return 1 / (2 * pif * (1 - sun.cosine)); }
  Vec3f toPanorama(const Vec3f& world) const;
  Vec3f toWorld(const Vec3f& panorama) const;

  std::shared_ptr<const Panorama> panorama_;
  Rgb evenSky_, gain_;
  float turnSine_ = 0, turnCosine_ = 1;
  bool mirrored_ = false;
  std::vector<Sun> suns_;
  std::vector<Area> areas_;
  Rgb distantIrradiance_{0, 0, 0};
  float skyShare_ = 1, sunShare_ = 0, areaShare_ = 0;  ///< chance of one light of each kind
};

/// World direction of a panorama direction under `surroundings` (mirror, then turn).
Vec3f worldFromPanorama(const Surroundings& surroundings, const Vec3f& direction);
/// Unit vector towards a sun lamp.
Vec3f sunDirection(const Lamp& lamp);

}  // namespace dusk
