#pragma once
#include <cmath>

namespace dusk {

/// The transfer curve of IEC 61966-2-1 (sRGB): code value of scene-linear light, both with 1 as white. Values
/// outside [0, 1] go on along the curve's own pieces.
template <typename T>
T srgbEncoded(T light) {
  return light <= T(0.0031308) ? light * T(12.92) : T(1.055) * std::pow(light, T(1 / 2.4)) - T(0.055);
}

/// Its inverse: scene-linear light of a code value.
template <typename T>
T srgbDecoded(T code) {
  return code <= T(0.04045) ? code / T(12.92) : std::pow((code + T(0.055)) / T(1.055), T(2.4));
}

/// By how much light changes with the code value, at a light of 0 or more: the slope of `srgbDecoded`.
template <typename T>
T srgbSlope(T light) {
  return light <= T(0.0031308) ? T(1 / 12.92) : T(2.4 / 1.055) * std::pow(light, T(1.4 / 2.4));
}

}  // namespace dusk
