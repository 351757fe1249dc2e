#pragma once
#include <filesystem>
#include <random>

#include "core/light/lights.h"
#include "core/picture/write.h"
#include "core/vantage/camera.h"
#include "core/vantage/levels.h"

/// A photo of a flat place with a post in the sun, and a panorama of its sky, both by closed forms.
namespace dusk {

struct LitPost {
  double azimuth = -70, elevation = 40;  ///< of the sun, degrees
  Rgb strength{6, 6, 6};                 ///< irradiance of what faces it
  float clippedAt = 1e9f;                ///< what the panorama holds at most
  float grain = 0.02f;                   ///< of the photo, one sigma as a share
  double discDegrees = 0;                ///< how wide the sun looks in the photo; in the panorama it is 1
  bool withTop = true;
  static constexpr double heightM = 0.9, halfWidthM = 0.03;
};

/// The shot, and irradiance of the ground by sky and sun.
struct LitPlace {
  Shot shot;
  Rgb sky, sun;
};

/// Share of a disc of radius 1 that lies left of x.
inline double discLeftOf(double x) {
  x = std::clamp(x, -1.0, 1.0);
  return 0.5 + (x * std::sqrt(1 - x * x) + std::asin(x)) / pi;
}

/// Share of the sun that the post hides from a place on the ground.
inline double hiddenByPost(const LitPost& post, const Vec3d& shadowWay, const Vec3d& p) {
  const double along = p.dot(shadowWay), across = p.x * shadowWay.y - p.y * shadowWay.x,
               length = LitPost::heightM / std::tan(radians(post.elevation));
  if (along <= 0 || along >= length) return 0;
  const double radius =
      along / std::cos(radians(post.elevation)) * std::tan(radians(post.discDegrees) / 2) + 1e-9;
  return discLeftOf((across + LitPost::halfWidthM) / radius) -
         discLeftOf((across - LitPost::halfWidthM) / radius);
}

/// Writes "sky.exr" and "photo.exr" into the folder.
inline LitPlace makeLitPlace(const LitPost& post, const std::filesystem::path& folder) {
  LitPlace place;
  Shot& shot = place.shot;
  shot.id = "shot";
  Lamp where;
  where.azimuthDegrees = post.azimuth, where.elevationDegrees = post.elevation;
  const Vec3f towards = sunDirection(where);
  // The sky: bluer and darker upwards, a disc of half a degree that shines as `strength` on what faces it.
  Picture sky = Picture::rgb(1024, 512);
  const float disc = float(radians(0.5));
  std::vector<size_t> sun;
  double solid = 0;
  for (int y = 0; y < 512; ++y)
    for (int x = 0; x < 1024; ++x) {
      const Vec3f d = panoramaDirection({(float(x) + 0.5f) / 1024, (float(y) + 0.5f) / 512});
      const Rgb light = d.z > 0 ? Rgb(0.5f, 0.6f, 0.8f) * (1.2f - 0.6f * d.z) : Rgb(0.2f);
      std::copy_n(&light.x, 3, sky.at(x, y));
      if (std::acos(std::clamp(d.dot(towards), -1.0f, 1.0f)) > disc) continue;
      sun.push_back((size_t(y) * 1024 + size_t(x)) * 3);
      solid += 2 * pi / 1024 * pi / 512 * std::sin((y + 0.5) / 512 * pi);
    }
  place.sky = Lights(Panorama::make(sky), {}, {}, Rgb(0)).groundIrradiance({0, 0, 0});
  place.sun = post.strength * towards.z;
  for (const size_t i : sun)
    for (int c = 0; c < 3; ++c) sky.pixels[i + size_t(c)] += post.strength[c] / float(solid);
  for (float& v : sky.pixels) v = std::min(v, post.clippedAt);
  (void)writeExr(folder / "sky.exr", {{"panorama", &sky, true}});
  // The photo: ground of two tones, a post's shadow 6 cm wide.
  Camera& camera = shot.vantage.camera;
  camera = lookAt(900, 600, 800, {0.6, -3.4, 1.5}, {0, 0, 0.1});
  const Vec3d shadowWay = -Vec3d(towards.x, towards.y, 0).normalized();
  const double length = LitPost::heightM / std::tan(radians(post.elevation));
  std::mt19937 any(7);
  std::normal_distribution<float> noise(0, post.grain);
  Picture photo = Picture::rgb(900, 600);
  for (int y = 0; y < 600; ++y)
    for (int x = 0; x < 900; ++x) {
      const auto p = levelPoint(camera, {x + 0.5, y + 0.5});
      Rgb light(0.4f);
      if (p) {
        const auto kept = float(1 - hiddenByPost(post, shadowWay, *p));
        const float tone = 0.25f + 0.03f * float(int(std::floor(p->x * 3) + std::floor(p->y * 3)) & 1);
        light = (place.sky + place.sun * kept) * (tone / pif);
      }
      for (int c = 0; c < 3; ++c) photo.at(x, y)[c] = std::max(0.0f, light[c] * (1 + noise(any)));
    }
  (void)writeExr(folder / "photo.exr", {{"photo", &photo, true}});
  shot.vantage.solved = true;
  shot.plate = {"photo.exr", ""}, shot.surroundings.panorama = {"sky.exr", ""};
  shot.gnomon = Gnomon{*projected(camera, {0, 0, 0}), *projected(camera, shadowWay * length)};
  if (post.withTop) shot.gnomon->top = projected(camera, {0, 0, LitPost::heightM});
  return place;
}

}  // namespace dusk
