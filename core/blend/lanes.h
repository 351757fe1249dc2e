#pragma once
#include <bit>
#include <cmath>
#include <cstdint>

/// For loops over rows that the compiler turns into vector code: once for any machine and once for those with
/// wider lanes, with the same results to the last bit (no fused multiply-add).
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__SANITIZE_ADDRESS__) && \
    !defined(__SANITIZE_THREAD__)
#define DUSK_LANES __attribute__((target_clones("avx2", "default")))
#else
#define DUSK_LANES
#endif

namespace dusk {

// Unlike the library's, these are one instruction each.
inline float lower(float a, float b) { return a < b ? a : b; }
inline float higher(float a, float b) { return a > b ? a : b; }

/// to += from * w
void addScaled(float* to, const float* from, int count, float w);

/// log2 of a positive number, within 2e-7 and 1e-7 relative, by the series of atanh after the mantissa was
/// brought about 1.
inline float quickLog2(float x) {
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
inline float quickExp2(float x) {
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
inline float where(bool holds) { return holds ? 1.0f : 0.0f; }
inline float choose(bool holds, float a, float b) {
  const float w = where(holds);
  return w * a + (1 - w) * b;
}

/// x^power; 0 for what is not above 0.
inline float quickPow(float x, float power) {
  return quickExp2(power * quickLog2(higher(x, 1e-30f))) * where(x > 1e-30f);
}

/// The sRGB curve as in base/srgb.h, within 1e-6, going on below 0 as its mirror image.
inline float quickEncoded(float light) {
  const float a = std::fabs(light);
  const float bent = 1.055f * quickPow(a, 1 / 2.4f) - 0.055f, straight = a * 12.92f;
  return std::copysign(choose(a <= 0.0031308f, straight, bent), light);
}
inline float quickDecoded(float code) {
  const float a = std::fabs(code);
  const float bent = quickPow((a + 0.055f) / 1.055f, 2.4f), straight = a / 12.92f;
  return std::copysign(choose(a <= 0.04045f, straight, bent), code);
}

}  // namespace dusk
