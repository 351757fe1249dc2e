#include "core/surface/noise.h"

namespace dusk {

uint32_t scrambled(int x, int y, int z, uint32_t seed) {
  uint32_t h = uint32_t(x) * 0x8da6b343u ^ uint32_t(y) * 0xd8163841u ^ uint32_t(z) * 0xcb1ab31fu ^
               (seed + 1) * 0x9e3779b9u;
  h = (h ^ h >> 16) * 0x7feb352du;
  h = (h ^ h >> 15) * 0x846ca68bu;
  return h ^ h >> 16;
}

float evenBy(uint32_t a, uint32_t b, uint32_t c) {
  uint32_t h = a * 0x9e3779b9u ^ b * 0x85ebca6bu ^ c * 0xc2b2ae35u;
  h = (h ^ h >> 16) * 0x7feb352du;
  h = (h ^ h >> 15) * 0x846ca68bu;
  return float((h ^ h >> 16) >> 8) * 0x1p-24f;
}

namespace {

/// One of the twelve edges of a cube, times the offset.
float slope(uint32_t h, float x, float y, float z) {
  const uint32_t e = h & 15;
  const float u = e < 8 ? x : y, v = e < 4 ? y : (e == 12 || e == 14) ? x : z;
  return (e & 1 ? -u : u) + (e & 2 ? -v : v);
}

float eased(float t) { return t * t * t * (t * (t * 6 - 15) + 10); }
float mixed(float a, float b, float t) { return a + (b - a) * t; }

}  // namespace

float gradientNoise(const Vec3f& p, uint32_t seed) {
  const float fx = std::floor(p.x), fy = std::floor(p.y), fz = std::floor(p.z);
  const int ix = int(fx), iy = int(fy), iz = int(fz);
  const float x = p.x - fx, y = p.y - fy, z = p.z - fz, u = eased(x), v = eased(y), w = eased(z);
  const auto corner = [&](int a, int b, int c) {
    return slope(scrambled(ix + a, iy + b, iz + c, seed), x - float(a), y - float(b), z - float(c));
  };
  const auto layer = [&](int c) {
    return mixed(mixed(corner(0, 0, c), corner(1, 0, c), u), mixed(corner(0, 1, c), corner(1, 1, c), u), v);
  };
  return mixed(layer(0), layer(1), w);
}

float octaves(const Vec3f& p, int count, float persistence, float width, uint32_t seed) {
  float sum = 0, strength = 1, whole = 0, scale = 1;
  for (int i = 0; i < count; ++i) {
    whole += strength;
    const float shows = 1 - smoothStep(0.4f, 1.2f, width * scale);
    if (shows > 0) sum += strength * shows * gradientNoise(p * scale, seed + uint32_t(i) * 131);
    strength *= persistence, scale *= 2;
  }
  return sum / whole * 1.5f;
}

CellPoint cellPoint(const Vec3f& p, uint32_t seed) {
  const int ix = int(std::floor(p.x)), iy = int(std::floor(p.y)), iz = int(std::floor(p.z));
  CellPoint found{1e9f, 1e9f, 0};
  for (int dz = -1; dz <= 1; ++dz)
    for (int dy = -1; dy <= 1; ++dy)
      for (int dx = -1; dx <= 1; ++dx) {
        const int x = ix + dx, y = iy + dy, z = iz + dz;
        const uint32_t h = scrambled(x, y, z, seed);
        const Vec3f at(float(x) + float(h & 1023) / 1024, float(y) + float(h >> 10 & 1023) / 1024,
                       float(z) + float(h >> 20 & 1023) / 1024);
        const float away = (at - p).length2();
        if (away < found.nearest)
          found.next = found.nearest, found.nearest = away, found.id = scrambled(x, y, z, seed + 77);
        else if (away < found.next)
          found.next = away;
      }
  found.nearest = std::sqrt(found.nearest), found.next = std::sqrt(found.next);
  return found;
}

float pulse(float x, float width, float duty) {
  const auto on = [&](float t) {  // how long it was on from 0 to t
    const float periods = std::floor(t);
    return periods * duty + std::min(t - periods, duty);
  };
  if (width < 1e-5f) return x - std::floor(x) < duty ? 1.0f : 0.0f;
  return (on(x + width / 2) - on(x - width / 2)) / width;
}

}  // namespace dusk
