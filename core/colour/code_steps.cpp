#include "core/colour/code_steps.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

namespace dusk {
namespace {

// Buckets of floats by their exponent and the first 11 bits of their fraction, from 2^-14 to 4.
constexpr int shift = 12;
constexpr uint32_t lowest = 0x38800000u, highest = 0x40800000u;
constexpr uint32_t buckets = (highest - lowest) >> shift;

}  // namespace

uint8_t nearestCode(float value) { return uint8_t(std::lround(std::clamp(value, 0.0f, 1.0f) * 255.0f)); }

CodeSteps::CodeSteps(const std::function<void(float*, size_t)>& curve) : curve_(curve) {
  // Floats above 0 are ordered as their bits are: all 255 steps are found by halving, at once.
  std::vector<uint32_t> low(256, 0), high(256, 0x7f000000u);
  std::vector<float> rgb(256 * 3);
  for (int round = 0; round < 32; ++round) {
    for (size_t k = 1; k < 256; ++k)
      for (size_t c = 0; c < 3; ++c) rgb[k * 3 + c] = std::bit_cast<float>(low[k] + (high[k] - low[k]) / 2);
    curve(rgb.data(), 256);
    for (size_t k = 1; k < 256; ++k) {
      const uint32_t middle = low[k] + (high[k] - low[k]) / 2;
      if (nearestCode(rgb[k * 3]) >= k)
        high[k] = middle;
      else
        low[k] = std::min(middle + 1, high[k]);
    }
  }
  from_.assign(257, std::numeric_limits<float>::infinity());
  from_[0] = -from_[256];
  for (size_t k = 1; k < 256; ++k)
    if (high[k] < 0x7f000000u) from_[k] = std::bit_cast<float>(high[k]);
  uint8_t code = 0;
  for (uint32_t i = 0; i < buckets; ++i) {
    while (std::bit_cast<float>(lowest + (i << shift)) >= from_[size_t(code) + 1]) ++code;
    first_.push_back(code);
  }
}

void CodeSteps::find(const float* light, int count, uint8_t* codes, int step) const {
  for (int i = 0; i < count; ++i) {
    const float x = light[i];
    const auto bits = std::bit_cast<uint32_t>(x);
    if (x < 0) {  // seldom: below nothing a curve need not rise
      float rgb[3] = {x, x, x};
      curve_(rgb, 1);
      codes[i * step] = nearestCode(rgb[0]);
      continue;
    }
    unsigned code = 0;
    if (bits - lowest < highest - lowest) code = first_[(bits - lowest) >> shift];
    if (x >= std::bit_cast<float>(highest)) code = first_.back();
    while (x >= from_[code + 1]) ++code;
    codes[i * step] = uint8_t(code);
  }
}

}  // namespace dusk
