#pragma once
#include <cstdint>

#include "core/base/maths.h"

/// Noise for the made-up places: gradient noise after Perlin 2002, "Improving Noise", on hashed lattice
/// points.
namespace dusk::demo {

inline uint32_t hashOf(int x, int y, int z) {
  uint32_t h = uint32_t(x) * 0x8da6b343u ^ uint32_t(y) * 0xd8163841u ^ uint32_t(z) * 0xcb1ab31fu;
  h ^= h >> 15, h *= 0x2c1b3c6du, h ^= h >> 12, h *= 0x297a2d39u;
  return h ^ (h >> 15);
}
/// Uniform in [0, 1) by integer key.
inline float random01(int a, int b = 0, int c = 0) { return float(hashOf(a, b, c) >> 8) * 0x1p-24f; }

/// About -1..1, mean 0, features of about unit size.
inline float noise(const Vec3f& p) {
  const float fx = std::floor(p.x), fy = std::floor(p.y), fz = std::floor(p.z);
  const int X = int(fx), Y = int(fy), Z = int(fz);
  const float x = p.x - fx, y = p.y - fy, z = p.z - fz;
  const auto fade = [](float t) { return t * t * t * (t * (t * 6 - 15) + 10); };
  const auto corner = [&](int i, int j, int k) {
    const uint32_t h = hashOf(X + i, Y + j, Z + k) & 15;
    const float a = x - i, b = y - j, c = z - k;
    const float u = h < 8 ? a : b, v = h < 4 ? b : (h == 12 || h == 14) ? a : c;
    return ((h & 1) ? -u : u) + ((h & 2) ? -v : v);
  };
  const float u = fade(x), v = fade(y), w = fade(z);
  const auto mix = [](float a, float b, float t) { return a + (b - a) * t; };
  return mix(mix(mix(corner(0, 0, 0), corner(1, 0, 0), u), mix(corner(0, 1, 0), corner(1, 1, 0), u), v),
             mix(mix(corner(0, 0, 1), corner(1, 0, 1), u), mix(corner(0, 1, 1), corner(1, 1, 1), u), v), w);
}

/// Octaves of it, each half as large and half as strong.
inline float layeredNoise(Vec3f p, int octaves) {
  float sum = 0, strength = 0.5f;
  for (int i = 0; i < octaves; ++i, p *= 2.03f, strength *= 0.5f) sum += strength * noise(p);
  return sum;
}

inline float smoothStep(float low, float high, float x) {
  const float t = std::clamp((x - low) / (high - low), 0.0f, 1.0f);
  return t * t * (3 - 2 * t);
}

}  // namespace dusk::demo
