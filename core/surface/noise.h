#pragma once
#include <cstdint>

#include "core/base/maths.h"

/// The random ground that patterns are made of: functions of place and seed alone.
namespace dusk {

/// Even bits of three whole numbers and a seed.
uint32_t scrambled(int x, int y, int z, uint32_t seed);
/// Even in [0, 1), by the same.
inline float evenAt(int x, int y, int z, uint32_t seed) {
  return float(scrambled(x, y, z, seed) >> 8) * 0x1p-24f;
}

/// Even in [0, 1), by three words of bits: by a spot's own numbers, so that every thread sees the same.
float evenBy(uint32_t a, uint32_t b, uint32_t c);

/// Gradient noise, about -1 to 1, of features about 1 in size. Perlin 2002, "Improving Noise".
float gradientNoise(const Vec3f& p, uint32_t seed);

/// Octaves of it, each of half the size and `persistence` times the strength; about -1 to 1. Octaves finer
/// than `width` are left out, softly: what they would average to is 0.
float octaves(const Vec3f& p, int count, float persistence, float width, uint32_t seed);

/// One point in each unit cell of space: the distances to the nearest and the next, and the nearest's number.
/// Worley 1996, "A Cellular Texture Basis Function".
struct CellPoint {
  float nearest = 0, next = 0;
  uint32_t id = 0;
  float tone() const { return float(id >> 8) * 0x1p-24f; }
};
CellPoint cellPoint(const Vec3f& p, uint32_t seed);

inline float smoothStep(float from, float to, float x) {
  const float t = std::clamp((x - from) / (to - from), 0.0f, 1.0f);
  return t * t * (3 - 2 * t);
}

/// Share of [x - width/2, x + width/2] that lies where a wave of period 1 is on: for the first `duty` of each
/// period.
float pulse(float x, float width, float duty);

}  // namespace dusk
