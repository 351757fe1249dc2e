#pragma once
#include <algorithm>
#include <utility>

namespace dusk {

/// Index of the interval of a cumulative list (`count` + 1 values, rising) that holds `x`, and how far into
/// it.
inline std::pair<int, float> intervalAt(const float* cumulative, int count, float x) {
  const float* end = cumulative + count + 1;
  const int i = std::clamp(int(std::upper_bound(cumulative, end, x) - cumulative) - 1, 0, count - 1);
  const float width = cumulative[i + 1] - cumulative[i];
  return {i, width > 0 ? std::min((x - cumulative[i]) / width, 0.999999f) : 0.5f};
}

}  // namespace dusk
