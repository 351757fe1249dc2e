#pragma once
#include <cstdint>

#include "core/base/maths.h"

namespace dusk {

/// Owen-scrambled Sobol points, padded: every call draws from the first two Sobol dimensions with its own
/// shuffle and scramble. Burley 2020, "Practical Hash-based Owen Scrambling", with the Laine-Karras
/// permutation. Pixels of a tile take consecutive blocks of one sequence along the Morton curve, so that
/// neighbours share the plane between them and the error left is of high frequency (Ahmed & Wonka 2020,
/// "Screen-Space Blue-Noise Diffusion of Monte Carlo Sampling Error via Hierarchical Ordering of Pixels").
/// The same (seed, pixel, index, call number) always gives the same point, whatever thread asks.
class Sampler {
 public:
  /// `block`: as many samples as are wanted a pixel, rounded up to a power of two; more begin a new one.
  Sampler(uint32_t seed, int x, int y, uint32_t index, int blockBits = 7)
      : key_(mix(mix(mix(seed) ^ (uint32_t(y) >> tileBits << 16 | uint32_t(x) >> tileBits)) +
                 (index >> blockBits))),
        index_((spread(uint32_t(x) & tileMask) | spread(uint32_t(y) & tileMask) << 1) << blockBits |
               (index & ((1u << blockBits) - 1))) {}
  /// Bits of a block that holds `samples`.
  static int bitsFor(int samples) {
    int bits = 0;
    while (bits < 18 && (1 << bits) < samples) ++bits;
    return bits;
  }

  Vec2f next2() {
    const uint32_t key = mix(key_ + 0x9e3779b9u * ++calls_);
    const uint32_t index = owen(reverse(index_), key);
    return {toUnit(owen(index, mix(key ^ 0xa511e9b3u))), toUnit(owen(pascal(index), mix(key ^ 0x63d83595u)))};
  }
  float next1() { return next2().x; }

 private:
  static constexpr int tileBits = 7;
  static constexpr uint32_t tileMask = (1u << tileBits) - 1;
  /// Bits of `v` with a gap after each: one axis of the Morton order.
  static uint32_t spread(uint32_t v) {
    v = (v | v << 8) & 0x00ff00ffu;
    v = (v | v << 4) & 0x0f0f0f0fu;
    v = (v | v << 2) & 0x33333333u;
    return (v | v << 1) & 0x55555555u;
  }
  static float toUnit(uint32_t v) { return float(v >> 8) * 0x1p-24f; }
  static uint32_t mix(uint32_t x) {  // Wellons' low-bias 32-bit hash
    x ^= x >> 16, x *= 0x21f0aaadu;
    x ^= x >> 15, x *= 0x735a2d97u;
    return x ^ (x >> 15);
  }
  static uint32_t reverse(uint32_t v) {
    v = __builtin_bswap32(v);
    v = ((v >> 4) & 0x0f0f0f0fu) | ((v & 0x0f0f0f0fu) << 4);
    v = ((v >> 2) & 0x33333333u) | ((v & 0x33333333u) << 2);
    return ((v >> 1) & 0x55555555u) | ((v & 0x55555555u) << 1);
  }
  /// Nested uniform (Owen) scramble of the number whose bits, reversed, are `v`. (The first Sobol dimension
  /// of an index is its bits reversed, so this takes the index itself.)
  static uint32_t owen(uint32_t v, uint32_t key) {
    v += key;
    v ^= v * 0x6c50b47cu;
    v ^= v * 0xb82f1e52u;
    v ^= v * 0xc7afe638u;
    v ^= v * 0x8d22f6e6u;
    return reverse(v);
  }
  /// Second Sobol dimension of an index, bits reversed: a product with Pascal's triangle modulo 2, which
  /// factors into five half-word steps (Lucas' theorem).
  static uint32_t pascal(uint32_t v) {
    v ^= (v >> 1) & 0x55555555u;
    v ^= (v >> 2) & 0x33333333u;
    v ^= (v >> 4) & 0x0f0f0f0fu;
    v ^= (v >> 8) & 0x00ff00ffu;
    return v ^ ((v >> 16) & 0x0000ffffu);
  }

  uint32_t key_, index_, calls_ = 0;
};

}  // namespace dusk
