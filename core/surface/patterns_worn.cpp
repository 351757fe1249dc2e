// What work and use leave behind.
#include "core/surface/noise.h"
#include "core/surface/patterns.h"

namespace dusk::patterns {

float brushing(const PatternPoint& at, const Feed& f) {
  const float width = float(f.sizeMm), length = width * float(f.stretch);
  const Vec3f p(at.mm.x / length, at.mm.y / width, 0);
  const float look = std::max(at.width.y / width, at.width.x / length);
  return unit(octaves(p, 3, 0.7f, look, seedOf(f)) * 2 * float(f.share));
}

float turning(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const float r = std::sqrt(p.x * p.x + p.y * p.y);
  const float off = float(f.share) * gradientNoise(Vec3f(r * 0.31f, p.z * 0.05f, 0), seedOf(f)) * 2;
  const float fine = gradientNoise(Vec3f(r * 2.7f, p.z * 2.7f, 0.5f), seedOf(f) + 3);
  return unit(0.7f * std::sin(2 * pif * (r + p.z + off)) + 0.3f * float(f.share) * fine);
}

namespace {

/// Most that a stroke near the place gives; strokes begin in cells of their length, `count` in each.
float strokes(const Vec2f& p, float look, float cover, float halfWidth, float bend, int count,
              uint32_t seed) {
  float most = 0;
  const int ix = int(std::floor(p.x)), iy = int(std::floor(p.y));
  for (int dy = -1; dy <= 1; ++dy)
    for (int dx = -1; dx <= 1; ++dx)
      for (int k = 0; k < count; ++k) {
        const uint32_t h = scrambled(ix + dx, iy + dy, k, seed);
        if (float(h & 1023) / 1024 > cover) continue;
        const float turn = float(h >> 10 & 1023) / 1024 * 2 * pif,
                    length = 0.3f + 0.7f * float(h >> 20 & 255) / 255;
        const Vec2f start(float(ix + dx) + evenAt(ix + dx, iy + dy, k, seed + 1),
                          float(iy + dy) + evenAt(ix + dx, iy + dy, k, seed + 2));
        const Vec2f way(std::cos(turn), std::sin(turn)), to = p - start;
        const float along = to.dot(way);
        if (along < 0 || along > length) continue;
        const float across = std::abs(to.x * way.y - to.y * way.x + bend * along * (length - along));
        const float deep = 0.4f + 0.6f * float(h >> 28) / 15, half = halfWidth * deep;
        const float soft = std::max(look, half * 0.6f);
        const float shows =
            std::clamp((half - across) / soft + 0.5f, 0.0f, 1.0f) * std::min(1.0f, 2 * half / soft);
        most = std::max(most, shows * deep);
      }
  return most;
}

/// Round grains, one at most in each cell of one size; dome-shaped towards 1 in their middle.
float grains(const Vec3f& p, float cover, float look, uint32_t seed) {
  const CellPoint c = cellPoint(p, seed);
  if (c.tone() > cover) return 0;
  const float radius = 0.12f + 0.33f * float(c.id & 255) / 255, soft = std::max(look, 0.05f);
  const float in = std::clamp((radius - c.nearest) / soft + 0.5f, 0.0f, 1.0f);
  const float t = std::min(1.0f, c.nearest / radius);
  return in * std::sqrt(std::max(0.05f, 1 - t * t));
}

}  // namespace

float scratches(const PatternPoint& at, const Feed& f) {
  const float size = float(f.sizeMm), look = std::max(at.width.x, at.width.y) / size;
  return strokes(Vec2f(at.mm.x, at.mm.y) / size, look, float(f.share), 0.008f, 0.15f, 3, seedOf(f));
}

float smudges(const PatternPoint& at, const Feed& f) {
  Vec3f p = scaled(at, f);
  const uint32_t seed = seedOf(f);
  p += Vec3f(gradientNoise(p * 0.6f, seed), gradientNoise(p * 0.6f, seed + 1),
             gradientNoise(p * 0.6f, seed + 2)) *
       0.8f;
  const Vec3f wiped(p.x / float(f.stretch), p.y, p.z);
  const float v = 0.5f + 0.5f * octaves(wiped, 5, 0.55f, widest(at, f), seed + 3);
  const float edge = 1 - float(f.share);
  return smoothStep(edge - 0.25f, edge + 0.25f, v);
}

float fingerprints(const PatternPoint& at, const Feed& f) {
  const float tip = float(f.sizeMm), cell = tip * 2.2f;
  const Vec2f p(at.mm.x, at.mm.y);
  float most = 0;
  const int ix = int(std::floor(p.x / cell)), iy = int(std::floor(p.y / cell));
  for (int dy = -1; dy <= 1; ++dy)
    for (int dx = -1; dx <= 1; ++dx) {
      const int x = ix + dx, y = iy + dy;
      const uint32_t h = scrambled(x, y, 0, seedOf(f));
      if (float(h & 1023) / 1024 > float(f.share)) continue;
      const Vec2f middle((float(x) + 0.25f + 0.5f * float(h >> 10 & 255) / 255) * cell,
                         (float(y) + 0.25f + 0.5f * float(h >> 18 & 255) / 255) * cell);
      const float turn = (float(h >> 26) / 63 - 0.5f) * 2.2f, c = std::cos(turn), s = std::sin(turn);
      const Vec2f d((p.x - middle.x) * c + (p.y - middle.y) * s, (p.y - middle.y) * c - (p.x - middle.x) * s);
      const float away = Vec2f(d.x / (tip * 0.42f), d.y / (tip * 0.56f)).length();
      if (away > 1) continue;
      // A whorl: rings about a core that lies a little off, bent by slow noise.
      const Vec2f core(d.x, d.y - tip * 0.1f);
      const float bent = gradientNoise(Vec3f(d.x, d.y, 0) * (1.2f / tip), h) * tip * 0.16f;
      const float pitch = 0.032f * tip, rings = std::sqrt(core.x * core.x * 1.6f + core.y * core.y) + bent;
      const float ridge = smoothStep(-0.2f, 0.6f, std::sin(2 * pif * rings / pitch));
      const float blurred = smoothStep(0.5f, 1.2f, std::max(at.width.x, at.width.y) / pitch);
      const float pressed = (1 - smoothStep(0.6f, 1, away)) *
                            (0.6f + 0.4f * gradientNoise(Vec3f(d.x, d.y, 3) * (3 / tip), h + 1));
      most = std::max(most, pressed * (ridge * (1 - blurred) + 0.55f * blurred));
    }
  return std::clamp(most, 0.0f, 1.0f);
}

float specks(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  const float look = widest(at, f), cover = float(f.share);
  float most = 0;
  for (int i = 0; i < 3; ++i) {
    const float by = float(1 << i);
    most = std::max(most, grains(p * by, cover, look * by, seedOf(f) + uint32_t(i) * 17));
  }
  return most;
}

float droplets(const PatternPoint& at, const Feed& f) {
  const Vec3f p = scaled(at, f);
  float most = 0;
  for (int i = 0; i < 3; ++i) {
    const float by = i == 0 ? 1.0f : i == 1 ? 2.3f : 5.1f;
    most = std::max(most, grains(p * by, float(f.share), widest(at, f) * by, seedOf(f) + uint32_t(i) * 29) /
                              std::sqrt(by));
  }
  return most;
}

}  // namespace dusk::patterns
