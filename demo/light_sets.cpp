// Made-up panoramas to light with: small studios and places.
#include <functional>

#include "core/light/panorama.h"
#include "core/picture/write.h"
#include "demo/more_sets.h"
#include "demo/noise.h"
#include "demo/sky.h"

namespace dusk::demo {
namespace {

/// A glowing rectangle seen from the middle of a room: its place, the way it looks is to the middle.
struct Glowing {
  Vec3f at;
  float halfWidth, halfHeight;
  Rgb light;
  float soft = 0.06f;  ///< share of its half size over which it fades at the rim

  Rgb seen(const Vec3f& d) const {
    const Vec3f n = -at.normalized();
    const float facing = -d.dot(n);
    if (facing <= 1e-4f) return Rgb(0);
    const Vec3f on = d * (at.length() / facing) - at;
    Vec3f x = Vec3f(0, 0, 1).cross(n);
    x = x.length() > 1e-3f ? x.normalized() : Vec3f(1, 0, 0);
    const Vec3f y = n.cross(x);
    const float u = std::abs(on.dot(x)) / halfWidth, v = std::abs(on.dot(y)) / halfHeight;
    return light * (smoothStep(1, 1 - soft, u) * smoothStep(1, 1 - soft, v));
  }
};

using Room = std::function<Rgb(const Vec3f&)>;

/// Walls, floor and what glows in them.
Room studio(const Rgb& walls, const Rgb& floor, std::vector<Glowing> lights) {
  return [=](const Vec3f& d) {
    const float t = smoothStep(-0.12f, 0.05f, d.z);
    Rgb c = floor * (1 - t) + walls * (t * (0.75f + 0.25f * d.z));
    for (const Glowing& g : lights) {
      const Rgb glow = g.seen(d);
      if (maxComponent(glow) > 0) c += glow;
    }
    return c;
  };
}

Picture painted(int width, const Room& room) {
  Picture p = Picture::rgb(width, width / 2);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < width; ++x) {
      Rgb sum(0);
      for (int i = 0; i < 9; ++i)
        sum +=
            room(panoramaDirection({(x + (i % 3 + 0.5f) / 3) / width, (y + (i / 3 + 0.5f) / 3) / p.height}));
      sum /= 9;
      std::copy_n(&sum.x, 3, p.at(x, y));
    }
  return p;
}

Rgb grey(float v) { return Rgb(v); }

Picture skyWithSun(const Vec3f& towards, float strength, const Rgb& colour) {
  constexpr int width = 1024;
  Picture sky = eveningSky(width, towards);
  for (int y = 0; y < sky.height; ++y)
    for (int x = 0; x < width; ++x) {
      const Vec3f d = panoramaDirection({(x + 0.5f) / width, (y + 0.5f) / sky.height});
      const float off = std::acos(std::clamp(d.dot(towards), -1.0f, 1.0f));
      Rgb c = d.z < -0.01f ? Rgb(0.16f, 0.14f, 0.12f) * (1 - 0.3f * d.z) : sky.rgbAt(x, y);
      c += colour * (strength * std::exp(-0.5f * off * off / (0.0055f * 0.0055f)));
      std::copy_n(&c.x, 3, sky.at(x, y));
    }
  return sky;
}

}  // namespace

Outcome writeLightSets(const std::filesystem::path& folder) {
  std::vector<std::pair<const char*, Picture>> sets;
  sets.emplace_back("two-soft-boxes", painted(512, studio(grey(0.10f), grey(0.08f),
                                                          {{{-2.2f, -1.1f, 1.5f}, 0.8f, 0.6f, grey(9)},
                                                           {{2.4f, -0.3f, 1.0f}, 0.5f, 0.7f, grey(3.2f)}})));
  sets.emplace_back("north-window", painted(512, [](const Vec3f& d) {
                      const Glowing pane{{-2.4f, -0.4f, 0.9f}, 0.95f, 0.85f, Rgb(5.2f, 6.1f, 7.4f), 0.02f};
                      Rgb c =
                          Rgb(0.16f, 0.145f, 0.13f) * (0.7f + 0.3f * d.z) + Rgb(0.05f) * std::max(0.0f, -d.x);
                      if (d.z < -0.25f) c = Rgb(0.11f, 0.08f, 0.055f);
                      const Rgb light = pane.seen(d);
                      if (maxComponent(light) <= 0) return c;
                      // Bars across the panes, and the sky brighter than the far shore.
                      const Vec3f on = d * (2.4f / std::max(0.05f, -d.x));
                      const bool bar = std::abs(std::fmod(std::abs(on.y + 0.4f), 0.63f) - 0.315f) > 0.29f ||
                                       std::abs(std::fmod(std::abs(on.z - 0.9f), 0.57f) - 0.285f) > 0.262f;
                      return bar ? Rgb(0.2f) : light * (d.z < 0.06f ? 0.35f : 1.0f);
                    }));
  sets.emplace_back(
      "overcast", painted(512, [](const Vec3f& d) {
        const float cloud = 1 + 0.3f * layeredNoise(Vec3f(d.x, d.y, 2) / (std::abs(d.z) + 0.2f), 4);
        return d.z < 0 ? Rgb(0.2f, 0.2f, 0.19f) : Rgb(0.9f, 0.95f, 1.0f) * ((1 + 2 * d.z) / 3 * cloud);
      }));
  sets.emplace_back("low-sun",
                    skyWithSun(Vec3f(-0.83f, -0.35f, 0.42f).normalized(), 22000, {1.0f, 0.78f, 0.52f}));
  sets.emplace_back(
      "dusk", painted(512, [](const Vec3f& d) {
        const float west = 0.5f + 0.5f * Vec3f(d.x, d.y, 0).dot(Vec3f(-0.8f, 0.6f, 0)),
                    up = std::max(0.0f, d.z);
        const Rgb zenith(0.045f, 0.065f, 0.13f), glow(1.5f, 0.62f, 0.28f), far(0.22f, 0.2f, 0.27f);
        Rgb c = zenith + far * std::exp(-3.5f * up) + glow * (std::exp(-9 * up) * std::pow(west, 3.0f));
        if (d.z < 0) c = Rgb(0.035f, 0.03f, 0.035f);
        return c + Glowing{{1.5f, 1.4f, 0.9f}, 0.12f, 0.16f, Rgb(9, 5.6f, 2.6f)}.seen(d);
      }));
  sets.emplace_back("strip-lights", painted(512, studio(grey(0.035f), grey(0.03f),
                                                        {{{-1.6f, -0.9f, 0.6f}, 0.09f, 1.5f, grey(16), 0.2f},
                                                         {{1.6f, -0.9f, 0.6f}, 0.09f, 1.5f, grey(16), 0.2f},
                                                         {{0, 1.4f, 1.9f}, 1.5f, 0.08f, grey(10), 0.2f}})));
  sets.emplace_back(
      "light-tent", painted(512, [](const Vec3f& d) {
        // White cloth all round, brighter where lamps stand behind it, and a slit for the lens.
        float v = 0.75f + 0.25f * d.z;
        for (const Vec3f& lamp : {Vec3f(-0.9f, -0.2f, 0.4f), Vec3f(0.9f, -0.2f, 0.4f), Vec3f(0, 0.2f, 1)})
          v += 1.1f * std::pow(std::max(0.0f, d.dot(lamp.normalized())), 6.0f);
        if (std::abs(d.x) < 0.05f && d.y < 0 && std::abs(d.z) < 0.45f) v = 0.06f;
        return d.z < -0.3f ? grey(0.85f) : grey(v);
      }));
  sets.emplace_back("cove", painted(512, [](const Vec3f& d) {
                      // A bent white wall behind, washed from above; dark where the camera stands.
                      const float behind = smoothStep(-0.5f, 0.4f, d.y),
                                  wash = 0.35f + 1.5f * smoothStep(-0.3f, 0.9f, d.z);
                      Rgb c = grey(0.05f) * (1 - behind) + Rgb(1.0f, 0.98f, 0.95f) * (behind * wash * 0.7f);
                      return c + Glowing{{-0.3f, -0.9f, 2.0f}, 1.0f, 0.5f, grey(5)}.seen(d);
                    }));
  for (const auto& [name, picture] : sets)
    if (const auto written = writeExr(folder / (std::string(name) + ".exr"), {{"panorama", &picture, false}});
        !written)
      return written;
  return done();
}

}  // namespace dusk::demo
