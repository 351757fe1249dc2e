#pragma once
#include <bit>
#include <cmath>
#include <cstdint>

/// For loops over rows that the compiler turns into vector code: once for any machine and once for those with
/// wider lanes, with the same results to the last bit (no fused multiply-add).
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__SANITIZE_ADDRESS__) && \
    !defined(__SANITIZE_THREAD__)
#define DUSK_LANES __attribute__((target_clones("arch=x86-64-v4", "avx2", "default")))
#else
#define DUSK_LANES
#endif

/// What such a loop calls is part of it: one call of a function that stayed outside makes a loop of single
/// numbers of it, several times as slow. The compiler alone thinks some of these too long.
#define DUSK_IN_LANES [[gnu::always_inline]] inline

namespace dusk {

// Unlike the library's, these are one instruction each.
DUSK_IN_LANES float lower(float a, float b) { return a < b ? a : b; }
DUSK_IN_LANES float higher(float a, float b) { return a > b ? a : b; }

/// to += from * w
void addScaled(float* to, const float* from, int count, float w);

/// log2 of a positive number, within 2e-7 and 1e-7 relative, by the series of atanh after the mantissa was
/// brought about 1.
DUSK_IN_LANES float quickLog2(float x) {
  const auto bits = std::bit_cast<int32_t>(x);
  const int32_t shifted = bits - 0x3f3504f3;  // of sqrt(1/2)
  const int32_t exponent = shifted >> 23;
  const float m = std::bit_cast<float>(bits - (exponent << 23));
  const float t = (m - 1) / (m + 1), t2 = t * t;
  const float series =
      2.8853900818f + t2 * (0.9617966939f + t2 * (0.5770780164f + t2 * (0.4121985831f + t2 * 0.3205989779f)));
  return float(exponent) + t * series;
}

/// 2^x within 2e-7 relative, for -126 < x < 127; beyond, the end's value.
DUSK_IN_LANES float quickExp2(float x) {
  const float bounded = lower(higher(x, -125.0f), 126.0f);
  const int32_t whole = int32_t(bounded + 512.5f) - 512;
  const float f = bounded - float(whole);
  const float p =
      1 +
      f * (0.69314718056f +
           f * (0.24022650696f +
                f * (0.05550410866f + f * (0.00961812911f + f * (0.00133335581f + f * 0.000154035304f)))));
  return p * std::bit_cast<float>((whole + 127) << 23);
}

/// 1 where it holds, else 0: both sides of a choice are worked out and weighed, as lanes cannot branch.
DUSK_IN_LANES float where(bool holds) { return holds ? 1.0f : 0.0f; }
DUSK_IN_LANES float choose(bool holds, float a, float b) {
  const float w = where(holds);
  return w * a + (1 - w) * b;
}

/// x^power; 0 for what is not above 0.
DUSK_IN_LANES float quickPow(float x, float power) {
  return quickExp2(power * quickLog2(higher(x, 1e-30f))) * where(x > 1e-30f);
}

/// The sRGB curve as in base/srgb.h, within 1e-6, going on below 0 as its mirror image.
DUSK_IN_LANES float quickEncoded(float light) {
  const float a = std::fabs(light);
  const float bent = 1.055f * quickPow(a, 1 / 2.4f) - 0.055f, straight = a * 12.92f;
  return std::copysign(choose(a <= 0.0031308f, straight, bent), light);
}
DUSK_IN_LANES float quickDecoded(float code) {
  const float a = std::fabs(code);
  const float bent = quickPow((a + 0.055f) / 1.055f, 2.4f), straight = a / 12.92f;
  return std::copysign(choose(a <= 0.04045f, straight, bent), code);
}

// Both bends are smooth powers of a root, which a short polynomial follows: by Chebyshev's interpolation from
// where the straight part ends up to 1.

/// quickEncoded() of what lies within 0 and 1, in a third of the time; within 1e-6, too.
DUSK_IN_LANES float unitEncoded(float light) {
  const float t = std::sqrt(std::sqrt(light));
  const float bent =
      -0.0585134138f +
      t * (0.1245370328f +
           t * (1.4558688531f +
                t * (-1.1382080886f +
                     t * (1.1773361604f + t * (-0.8653897853f + t * (0.3763348390f + t * -0.0719658426f))))));
  return choose(light <= 0.0031308f, light * 12.92f, bent);
}
/// quickDecoded() of what lies within 0 and 1, likewise.
DUSK_IN_LANES float unitDecoded(float code) {
  const float t = std::sqrt((code + 0.055f) * (1 / 1.055f));
  const float bent =
      0.0003851416f +
      t * (-0.0052986338f +
           t * (0.0316290893f +
                t * (-0.1119455300f + t * (0.3130579494f + t * (0.8073983953f + t * -0.0352265014f)))));
  return choose(code <= 0.04045f, code * (1 / 12.92f), bent);
}

}  // namespace dusk
